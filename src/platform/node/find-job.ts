import type { ColourCells } from '#core/artwork/colour-cells.ts';
import { importanceOfCells, importanceOfGreys } from '#core/artwork/importance.ts';
import { sampleArtwork } from '#core/artwork/sample-artwork.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import { succeed } from '#core/base/result.ts';
import { NO_EDITS, type Recipe } from '#core/edit/artwork-edit.ts';
import { frameOfEdits } from '#core/edit/frame.ts';
import { ReliefPlan } from '#core/plan/relief-plan.ts';
import { findInSteps } from '#core/find/find-in-steps.ts';
import { MOST_FIND_LAYERS, MOST_SWAPS, type FindRequest } from '#core/find/request.ts';
import { risingCurve } from '#core/find/tone-curve.ts';
import { readRackCsv } from '#core/formats/rack/rack-csv.ts';
import { coloursOfRamp } from '#core/heights/closest.ts';
import { MOST_LEAN } from '#core/stack/lean.ts';
import { cellsOfFlat, flatOnStack, reducedColours } from '#core/heights/flat.ts';
import {
  GREATEST_CURVE_POINTS,
  LEAST_LAYERS,
  PLAIN_TONE,
  placesOfTone,
  placesOfCurve,
} from '#core/heights/tone.ts';
import { fitZones } from '#core/heights/fit-zones.ts';
import { cellsOfZones, USUAL_ZONES_LEAN, type Zone } from '#core/heights/zones.ts';
import { USUAL_GRID } from '#core/stack/layer-grid.ts';
import type { Band } from '#core/stack/stack.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { BadInput, numberOption } from '../bad-input.ts';
import { describeFindFault, describePictureFault, describeRackFault } from '../fault-words.ts';
import { decodePicture } from './decode-picture.ts';
import { findForZones } from './find-for-zones.ts';
import { readZonesOption, zonesOf } from './zones-option.ts';

/** Samples that the picture is looked at with: its colours, not its detail, decide. */
const SAMPLES = 250_000;

/** Options of a search as text, by the names that they have on the command line. */
export type FindOptions = Readonly<
  Partial<
    Record<
      | 'max-swaps'
      | 'max-layers'
      | 'least-layers'
      | 'least-per-band'
      | 'rule'
      | 'rare'
      | 'lean'
      | 'zones'
      | 'care'
      | 'seconds'
      | 'seed'
      | 'bottom'
      | 'top',
      string
    >
  >
> & {
  readonly must?: readonly string[] | undefined;
  /** Also filaments that are not on hand. */
  readonly all?: boolean | undefined;
  readonly sturdy?: boolean | undefined;
};

/** A picture and a rack, with what they are called in messages. */
export interface FindSource {
  readonly image: Uint8Array;
  readonly imageName: string;
  readonly rackCsv: string;
  readonly rackName: string;
  /** A grey picture over the first one: white matters more, black less. */
  readonly mask?: { readonly bytes: Uint8Array; readonly name: string } | undefined;
  /** What the file of zones is called in messages, where there is one. */
  readonly zonesName?: string | undefined;
  /** Edits that are made of the picture first. */
  readonly recipe?: Recipe | undefined;
}

/** Proportions of picture and mask may differ by so much: sizes are whole pixels. */
const PROPORTIONS = 0.02;

const round = (value: number): number => Number(value.toFixed(4));

/**
 * Looks for the best stack for a picture from the filaments on hand: what the verb `find` and `POST /api/find` share.
 * @throws BadInput with what is wrong and where
 */
export async function runFindJob(source: FindSource, options: FindOptions) {
  const rule = options.rule ?? 'closest';
  if (!isRule(rule)) throw new BadInput(`--rule is "${rule}". Give closest, tone, zones or flat.`);
  if (options.zones !== undefined && rule !== 'zones')
    throw new BadInput('--zones is for the rule of that name. Add --rule zones, or leave it out.');
  const zonesOption = readZonesOption(options.zones, source.zonesName);
  const whole = (
    name: 'max-swaps' | 'max-layers' | 'least-layers' | 'least-per-band' | 'seed',
    fallback: number,
    least: number,
    most: number,
  ): number => Math.round(numberOption(options[name], name, fallback, least, most));
  const lean = numberOption(options.lean, 'lean', 0, 0, MOST_LEAN);
  if (lean > 0 && (rule === 'tone' || rule === 'flat'))
    throw new BadInput(
      '--lean is for closest blend and zones. Add --rule closest or --rule zones, or leave it out.',
    );
  const mostLayers = whole('max-layers', 30, 1, MOST_FIND_LAYERS);
  const leastLayers = whole('least-layers', LEAST_LAYERS, 1, mostLayers);
  const rack = readRackCsv(source.rackCsv);
  if (!rack.ok) throw new BadInput(`${source.rackName}: ${describeRackFault(rack.fault)}`);
  const decoded = await decodePicture(source.image);
  if (!decoded.ok)
    throw new BadInput(`${source.imageName}: ${describePictureFault(decoded.fault)}`);
  const { recipe = NO_EDITS } = source;
  const edited = frameOfEdits(decoded.value.width, decoded.value.height, recipe.edits);
  const factor = Math.min(1, Math.sqrt(SAMPLES / (edited.width * edited.height)));
  const plan = new ReliefPlan(decoded.value);
  await plan.prepare({ recipe });
  const artwork = plan.artwork({
    columns: Math.max(1, Math.round(edited.width * factor)),
    rows: Math.max(1, Math.round(edited.height * factor)),
    recipe,
  });
  const zones = rule === 'zones' ? zonesOf(zonesOption, artwork.cells()) : undefined;
  const mostSwaps = whole('max-swaps', 4, 0, MOST_SWAPS);
  // As many colours as there may be bands: `relief --rule flat` reduces to those of the stack.
  const flat = rule === 'flat' ? reducedColours(artwork.cells(), mostSwaps + 1) : undefined;
  const zonesLean = options.lean === undefined ? (zones?.lean ?? USUAL_ZONES_LEAN) : lean;
  const mask = source.mask ? await readMask(source.mask, edited, artwork.samples) : undefined;
  const filaments = rack.value.filter(({ onHand }) => onHand || options.all === true);
  const weighed = <Cells extends Pick<ColourCells, 'cell' | 'count'>>(own: Cells) =>
    mask ? { ...own, importance: importanceOfCells(own, mask) } : own;
  const cells = artwork.cells();
  const request: FindRequest = {
    cells: flat ? cellsOfFlat(weighed(cells), flat) : weighed(cells),
    filaments,
    grid: USUAL_GRID,
    // Each flat colour goes to what is nearest to it.
    rule: rule === 'flat' ? 'closest' : rule,
    mostSwaps,
    mostLayers,
    leastLayers,
    leastPerBand: whole('least-per-band', 1, 1, mostLayers),
    must: options.must ?? [],
    bottom: options.bottom ?? null,
    top: options.top ?? null,
    ...(rule === 'closest' && lean > 0
      ? { lean: { price: lean, places: placesOfTone(PLAIN_TONE) } }
      : {}),
    care: numberOption(options.care, 'care', 1, 1, 3),
    rare: numberOption(options.rare, 'rare', 0, 0, 1),
    sturdy: options.sturdy === true,
    seconds: numberOption(options.seconds, 'seconds', 1, 0.01, 3600),
    seed: whole('seed', 1, 0, 2 ** 31),
  };
  const zoned = (parts: readonly Zone[], share = 1): FindRequest => ({
    ...request,
    seconds: share * request.seconds,
    cells: weighed(cellsOfZones(artwork, { zones: parts, painted: [] })),
    zones: {
      zones: parts.map(({ reversed, curve }, place) => ({
        id: String(place),
        reversed,
        ...(curve ? { places: placesOfCurve(curve) } : {}),
      })),
      shared: zones?.shared ?? null,
      price: zonesLean < MOST_LEAN ? zonesLean : null,
      anyOrder: zones?.anyOrder ?? false,
    },
  });
  const table = Object.fromEntries(filaments.map((one) => [one.id, one]));
  const rampOf = (bands: readonly Band[]) => rampOfStack({ grid: USUAL_GRID, bands }, table);
  const found = zones?.anyOrder
    ? findForZones(zones.zones, zoned, (parts, bands) => {
        const ramp = rampOf(bands);
        const fitted = {
          ...zones,
          zones: parts,
          painted: [],
          lean: zonesLean,
          colours: coloursOfRamp(ramp),
        };
        return fitZones(artwork, fitted, { layers: ramp.length, leastLayers, sampleMm: 1 }, true);
      })
    : foundFor(zones ? zoned(zones.zones) : request, zones?.zones ?? []);
  if (!found.ok) throw new BadInput(describeFindFault(found.fault));
  const { curve } = found.value.answer;
  const best = curve.at(-1);
  if (!best) throw new BadInput('No stack was found. Allow more layers.');
  const bandsOf = (bands: typeof best.bands) =>
    bands.map(({ filamentId, layers }) => ({ filament: filamentId, layers }));
  const ramp = rampOf(best.bands);
  return {
    answer: {
      meanDeltaE: round(best.meanDeltaE),
      swaps: best.bands.length - 1,
      whenTransmissionIsOff: best.whenOff.map(round),
      curve: curve.map(({ bands, meanDeltaE, mostSwaps }) => ({
        swaps: mostSwaps,
        meanDeltaE: round(meanDeltaE),
        bands: bandsOf(bands),
      })),
      ...(rule === 'tone'
        ? { tone: risingCurve(cells, ramp, leastLayers, GREATEST_CURVE_POINTS) }
        : {}),
      ...(flat ? { flat: flatOnStack(flat, request.cells, coloursOfRamp(ramp), leastLayers) } : {}),
      // As `relief --zones` reads them, the lowest first.
      ...(zones
        ? {
            zones: (best.zoneIds ?? []).flatMap((id) => {
              const own = found.value.zones[Number(id)];
              return own
                ? [
                    {
                      colours: own.colours,
                      ...(own.reversed ? { reversed: true } : {}),
                      ...(own.curve
                        ? {
                            curve: own.curve.map(({ lightness, position }) => [
                              lightness,
                              position,
                            ]),
                          }
                        : {}),
                    },
                  ]
                : [];
            }),
          }
        : {}),
    },
    stack: { layerGrid: USUAL_GRID, bands: bandsOf(best.bands) },
  };
}

const RULES = ['closest', 'tone', 'zones', 'flat'] as const;

function isRule(text: string): text is (typeof RULES)[number] {
  return RULES.some((rule) => rule === text);
}

/** How much each colour matters by a mask. */
async function readMask(
  { bytes, name }: NonNullable<FindSource['mask']>,
  picture: Pick<RgbaRaster, 'width' | 'height'>,
  samples: Pick<RgbaRaster, 'width' | 'height'>,
): Promise<ReturnType<typeof importanceOfGreys>> {
  const decoded = await decodePicture(bytes);
  if (!decoded.ok) throw new BadInput(`${name}: ${describePictureFault(decoded.fault)}`);
  const { width, height } = decoded.value;
  if (Math.abs((width * picture.height) / (height * picture.width) - 1) > PROPORTIONS)
    throw new BadInput(
      `${name}: it is ${width} x ${height} pixels and the picture ${picture.width} x ${picture.height}. Give a mask of the same proportions.`,
    );
  return importanceOfGreys(sampleArtwork(decoded.value, samples.width, samples.height));
}

/** What is found for zones, or none, as they are. */
function foundFor(request: FindRequest, zones: readonly Zone[]): ReturnType<typeof findForZones> {
  const found = findInSteps(request);
  return found.ok ? succeed({ answer: found.value, zones }) : found;
}

export type FindJobAnswer = Awaited<ReturnType<typeof runFindJob>>;
