import { parseArgs } from 'node:util';
import { digestBytes } from '#core/base/stamp.ts';
import { editsDigest } from '#core/edit/edits-digest.ts';
import { frameOfEdits } from '#core/edit/frame.ts';
import { coloursOfRamp, type LayerColours } from '#core/heights/closest.ts';
import { MOST_LEAN } from '#core/stack/lean.ts';
import { bandTops, flatOfPicture } from '#core/heights/flat.ts';
import type { HeightRule } from '#core/heights/height-rules.ts';
import { USUAL_ZONES_LEAN, type ZoneLimits, type ZonesRule } from '#core/heights/zones.ts';
import { zoneOrders } from '#core/heights/zone-orders.ts';
import { LEAST_LAYERS, PLAIN_TONE } from '#core/heights/tone.ts';
import { ReliefPlan, type SampledArtwork } from '#core/plan/relief-plan.ts';
import { USUAL_PRINTER, type Printer } from '#core/printer/printer.ts';
import { smoothMmOf } from '#core/relief/relief-mesh.ts';
import { planSamples } from '#core/relief/sampling.ts';
import { padOfShape } from '#core/relief/shape.ts';
import { ONE_PIECE } from '#core/schedule/pieces.ts';
import { stampOfExport } from '#core/schedule/export-state.ts';
import { makeSwapSheet } from '#core/schedule/swap-sheet.ts';
import { evenTops } from '#core/stack/layer-grid.ts';
import { bandEnds, totalLayers, type Stack } from '#core/stack/stack.ts';
import { rampOfStack, type FilamentTable } from '#core/stack/stack-ramp.ts';
import { BadInput, numberOption, required } from '../platform/bad-input.ts';
import { looksLikeSvg } from '../platform/check-picture.ts';
import { describePictureFault } from '../platform/fault-words.ts';
import { decodePicture } from '../platform/node/decode-picture.ts';
import { loadShippedFaces } from '../platform/node/load-faces.ts';
import { readZonesOption, zonesOf, type ZonesOption } from '../platform/node/zones-option.ts';
import { longerPxOf, samplesOf } from '../state/document-facts.ts';
import { readyForTags } from '../state/ready-for-tags.ts';
import { exportRequest, printingOf, sheetOfDocument } from '../state/project-export.ts';
import { readEdits } from './edits.ts';
import { readInput, readPrinter, readProject, readStackAndRack, textOrFile } from './input.ts';
import { gridWithBase, PIECE_OPTIONS, shapeOf } from './piece-options.ts';
import { checkSamples, sampleOptions } from './samples.ts';
import { writeRelief, type ReliefJob } from './write-relief.ts';

/** What says how a picture is to become a relief; a project says all of it itself. */
const PICTURE_OPTIONS = {
  image: { type: 'string' },
  rack: { type: 'string' },
  stack: { type: 'string' },
  'width-mm': { type: 'string' },
  'sample-mm': { type: 'string' },
  'detail-mm': { type: 'string' },
  rule: { type: 'string' },
  zones: { type: 'string' },
  lean: { type: 'string' },
  'least-layers': { type: 'string' },
  calm: { type: 'string' },
  'nozzle-mm': { type: 'string' },
  smooth: { type: 'boolean' },
  edits: { type: 'string' },
  ...PIECE_OPTIONS,
} as const;

const OPTIONS = {
  ...PICTURE_OPTIONS,
  'all-formats': { type: 'boolean' },
  gcode: { type: 'boolean' },
  printer: { type: 'string' },
  out: { type: 'string' },
} as const;

type Values = ReturnType<typeof readOptions>['values'];

function readOptions(args: string[]) {
  return parseArgs({ args, options: OPTIONS, allowPositionals: true });
}

/** The rules that are to be had here; those that may lean, to tone or to zones. */
const RULES = ['tone', 'closest', 'zones', 'flat'] as const;
const LEANING: readonly string[] = ['closest', 'zones'];

/** The rule that was asked for, with what it takes from stack and picture. */
function ruleOf(
  kind: (typeof RULES)[number],
  stack: Stack,
  filaments: FilamentTable,
  artwork: SampledArtwork,
  calming: Pick<HeightRule, 'calm' | 'smallestMm'>,
  lean: number | undefined,
  zones: { readonly option: ZonesOption; readonly limits: ZoneLimits },
): HeightRule {
  const ramp = rampOfStack(stack, filaments);
  switch (kind) {
    case 'tone':
      return { kind, tone: PLAIN_TONE, ...calming };
    case 'closest':
      return {
        kind,
        colours: coloursOfRamp(ramp),
        ...(lean !== undefined && lean > 0 ? { lean: { price: lean, tone: PLAIN_TONE } } : {}),
        ...calming,
      };
    case 'zones':
      return { kind, ...zonesRuleOf(artwork, coloursOfRamp(ramp), lean, zones), ...calming };
    case 'flat': {
      const tops = bandTops(bandEnds(stack.bands), ramp);
      return { kind, flat: flatOfPicture(artwork.cells(), tops.length, tops), ...calming };
    }
  }
}

/** Zones as an option gives them; those found by colour in the order that serves the stack best. */
function zonesRuleOf(
  artwork: SampledArtwork,
  colours: LayerColours,
  lean: number | undefined,
  { option, limits }: { readonly option: ZonesOption; readonly limits: ZoneLimits },
): ZonesRule {
  const { anyOrder, ...file } = zonesOf(option, artwork.cells());
  const rule = { ...file, painted: [], colours, lean: lean ?? file.lean ?? USUAL_ZONES_LEAN };
  if (!anyOrder) return rule;
  const best = zoneOrders(artwork, rule, limits).find(({ by }) => by === 'found');
  return {
    ...rule,
    zones: best?.order.flatMap((zone) => rule.zones[zone] ?? []) ?? rule.zones,
  };
}

/**
 * Decodes a picture for a relief.
 * @param columns samples that it is to have across: a drawing that has fewer pixels is drawn finer. Undefined where places in its
 *   pixels are told, which are those of a drawing as large as usual
 */
async function decodeFor(
  bytes: Uint8Array,
  columns: number | undefined,
): ReturnType<typeof decodePicture> {
  const picture = await decodePicture(bytes);
  if (!picture.ok || columns === undefined || !looksLikeSvg(bytes)) return picture;
  const { width, height } = picture.value;
  return width >= columns
    ? picture
    : decodePicture(bytes, (Math.max(width, height) * columns) / width);
}

/** A relief from a picture, a rack, a stack and options. */
async function jobOfPicture(values: Values, own: Printer | undefined): Promise<ReliefJob> {
  const imagePath = required(values.image, 'image');
  const kind = RULES.find((known) => known === (values.rule ?? 'tone'));
  if (!kind)
    throw new BadInput(`--rule is "${values.rule ?? ''}". Give one of ${RULES.join(', ')}.`);
  if (values.smooth === true && kind !== 'flat')
    throw new BadInput('--smooth is for flat areas alone. Add --rule flat, or leave it out.');
  const lean =
    values.lean === undefined ? undefined : numberOption(values.lean, 'lean', 0, 0, MOST_LEAN);
  if (lean !== undefined && lean > 0 && !LEANING.includes(kind))
    throw new BadInput(
      '--lean is for closest blend and zones. Add --rule closest or --rule zones, or leave it out.',
    );
  if (values.zones !== undefined && kind !== 'zones')
    throw new BadInput('--zones is for the rule of that name. Add --rule zones, or leave it out.');
  const zonesOption = readZonesOption(await textOrFile(values.zones), values.zones);
  const calm = numberOption(values.calm, 'calm', 0, 0, 1);
  const nozzleMm = numberOption(values['nozzle-mm'], 'nozzle-mm', 0.4, 0, 10);
  const { widthMm, sampleMm } = sampleOptions(values);
  const leastLayers = numberOption(values['least-layers'], 'least-layers', LEAST_LAYERS, 1, 250);
  const read = await readStackAndRack(
    required(values.rack, 'rack'),
    required(values.stack, 'stack'),
  );
  const { filaments } = read;
  const stack = { ...read.stack, grid: gridWithBase(read.stack.grid, values.base) };
  const layers = totalLayers(stack.bands);
  const shape = shapeOf(values, layers, Math.min(leastLayers, layers));
  const bytes = await readInput(imagePath);
  const recipe = await readEdits(values.edits);
  const drawnFor = recipe.edits.length > 0 ? undefined : widthMm / sampleMm;
  const picture = await decodeFor(bytes, drawnFor);
  if (!picture.ok) throw new BadInput(`${imagePath}: ${describePictureFault(picture.fault)}`);
  const original = picture.value;
  const { width, height } = frameOfEdits(original.width, original.height, recipe.edits);
  const samples = planSamples(widthMm, (widthMm * height) / width, sampleMm, padOfShape(shape));
  checkSamples(samples);
  const plan = new ReliefPlan(original);
  await plan.prepare({ recipe });
  // Without calm every sample gets just what the rule says, unless islands are asked away by naming the nozzle.
  const byNozzle = calm > 0 || values['nozzle-mm'] !== undefined;
  const calming = { calm, smallestMm: byNozzle ? nozzleMm : 0 };
  const limits = { layers, leastLayers, tops: evenTops(stack.grid, layers), sampleMm };
  const artwork = plan.artwork({ ...samples, recipe });
  const zones = { option: zonesOption, limits };
  const rule = ruleOf(kind, stack, filaments, artwork, calming, lean, zones);
  const smoothMm = values.smooth === true ? smoothMmOf(nozzleMm) : undefined;
  const stamp = stampOfExport({
    artworkDigest: digestBytes(bytes),
    edits: editsDigest(recipe),
    rule,
    leastLayers,
    samples,
    shape,
    smoothMm,
    stack,
    filaments,
  });
  const printer = own ?? USUAL_PRINTER;
  const title = imagePath.split(/[\\/]/).at(-1) ?? imagePath;
  return {
    plan,
    request: {
      ...samples,
      recipe,
      rule,
      layers,
      leastLayers,
      tops: evenTops(stack.grid, layers),
      shape,
    },
    stack,
    filaments,
    title,
    stamp,
    smoothMm,
    crop: false,
    printing: { printer, pieces: ONE_PIECE, ironing: null },
    sheetOf: ({ counts, edges, extent, middles }) =>
      makeSwapSheet({
        title,
        stamp,
        stack,
        filaments,
        counts,
        edges,
        extent,
        middles,
        sampleMm,
        printer,
        widthMm: samples.widthMm,
        heightMm: samples.heightMm,
      }),
  };
}

/** The relief of a project file, as the app makes it: the same shape, sheet and stamp. */
async function jobOfProject(
  path: string,
  values: Values,
  own: Printer | undefined,
): Promise<ReliefJob> {
  const given = Object.keys(PICTURE_OPTIONS).find((name) => name in values);
  if (given !== undefined)
    throw new BadInput(`--${given} is said by the project itself. Leave it out.`);
  const { document: read, artwork } = await readProject(path);
  const document = own
    ? { ...read, print: { ...read.print, printer: own, lineMm: own.lineMm } }
    : read;
  if (document.tag) await readyForTags(loadShippedFaces);
  checkSamples(samplesOf(document));
  const picture = await decodePicture(artwork, longerPxOf(document));
  if (!picture.ok) throw new BadInput(`${path}: ${describePictureFault(picture.fault)}`);
  const plan = new ReliefPlan(picture.value);
  const wanted = exportRequest(document);
  return {
    ...wanted,
    plan,
    printing: printingOf(document),
    sheetOf: (counted) => sheetOfDocument(document, counted),
  };
}

/** `relief ...`: a picture or a project to shape, sheet and pictures of the plan. Prints counts, mm, grams and the mean error. */
export async function runRelief(args: string[]): Promise<object> {
  const { values, positionals } = readOptions(args);
  const [project, ...more] = positionals;
  if (more.length > 0)
    throw new BadInput(`"${more[0] ?? ''}" is one file too many. Give one project.`);
  const out = required(values.out, 'out');
  const own = values.printer === undefined ? undefined : await readPrinter(values.printer);
  const job =
    project === undefined
      ? await jobOfPicture(values, own)
      : await jobOfProject(project, values, own);
  return writeRelief(job, out, {
    allFormats: values['all-formats'] === true,
    gcode: values.gcode === true,
  });
}
