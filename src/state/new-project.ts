import { labOfBytes } from '#core/colour/lab.ts';
import { parseHex } from '#core/colour/srgb.ts';
import { USUAL_ZONES_LEAN } from '#core/heights/zones.ts';
import { USUAL_SHARED } from '#core/zones/zone.ts';
import { fitTone, LEAST_LAYERS, type ToneRule } from '#core/heights/tone.ts';
import { GREATEST_SIDE_MM, LEAST_SIDE_MM } from '#core/relief/sampling.ts';
import { clamp } from '#core/base/numbers.ts';
import { USUAL_PRINTER } from '#core/printer/printer.ts';
import { PLAIN_SHAPE } from '#core/relief/shape.ts';
import { ONE_PIECE } from '#core/schedule/pieces.ts';
import type { Filament } from '#core/stack/filament.ts';
import { USUAL_GRID } from '#core/stack/layer-grid.ts';
import { plannedFilament } from './document-facts.ts';
import {
  SCHEMA_VERSION,
  type ArtworkSlice,
  type PieceSlice,
  type ProjectDocument,
} from './project-document.ts';
import { groundsOf } from './rack-store.ts';

/** A picture as it comes in: what it is called and what it turned out to be. */
export interface IncomingArtwork {
  readonly name: string;
  readonly artwork: ArtworkSlice['file'];
  readonly histogram: Uint32Array;
}

/** A stack to begin with: filament ids and layers, from the plate up. */
export type StackRecipe = readonly (readonly [filamentId: string, layers: number])[];

/** Shares of the way from the darkest to the lightest filament at which a first stack is set up. */
const FIRST_STEPS = [0, 1 / 3, 2 / 3, 1] as const;
const FIRST_LAYERS = 6;

/**
 * A stack that shows any picture recognisably: the darkest and lightest filaments on hand and two between them, those
 * with the least colour of their own preferred, so that nothing is tinted before the maker has chosen.
 */
export function firstStack(rack: readonly Filament[]): StackRecipe {
  const onHand = rack.filter((filament) => filament.onHand);
  const choices = onHand.length > 0 ? onHand : rack;
  const measured = choices.map((filament) => {
    const [lightness, a, b] = labOfBytes(parseHex(filament.colour) ?? [0, 0, 0]);
    return {
      id: filament.id,
      lightness,
      chroma: Math.hypot(a, b),
      seeThrough: filament.transmissionMm,
    };
  });
  const least = Math.min(...measured.map(({ lightness }) => lightness));
  const greatest = Math.max(...measured.map(({ lightness }) => lightness));
  const picked: string[] = [];
  for (const step of FIRST_STEPS) {
    const wanted = least + (greatest - least) * step;
    const price = (f: (typeof measured)[number]): number =>
      Math.abs(f.lightness - wanted) + f.chroma + Math.max(0, f.seeThrough - 8) * 4;
    const best = measured
      .filter(({ id }) => !picked.includes(id))
      .sort((a, b) => price(a) - price(b))[0];
    if (best) picked.push(best.id);
  }
  const lightnessOf = new Map(measured.map(({ id, lightness }) => [id, lightness]));
  return picked
    .sort((a, b) => (lightnessOf.get(a) ?? 0) - (lightnessOf.get(b) ?? 0))
    .map((id) => [id, FIRST_LAYERS]);
}

/** Width of a common nozzle, mm: what is smaller cannot be printed. Common practice, no source. */
const NOZZLE_MM = 0.4;

/** The parts of a tone rule as the document keeps them. */
function rulePoints({ blackPoint, whitePoint, midpoint, reversed }: Omit<ToneRule, 'kind'>) {
  return { blackPoint, whitePoint, midpoint, reversed };
}

/** What a new project leans by, once it follows colours: the relief still follows the light. */
export const FIRST_LEAN = 15;

/** Longer side of a new piece, mm. */
const FIRST_SIDE_MM = 150;

/**
 * A project for a new picture.
 * @param recipe the stack to begin with
 * @param spare filaments that the recipe may name beside those of the rack; an id in neither is left out
 */
export function newProject(
  { name, artwork, histogram }: IncomingArtwork,
  rack: readonly Filament[],
  recipe: StackRecipe = firstStack(rack),
  rule: ToneRule = fitTone(histogram),
  spare: readonly Filament[] = [],
): ProjectDocument {
  const table = new Map([...spare, ...rack].map((filament) => [filament.id, filament]));
  let known = recipe.filter(([id]) => table.has(id));
  if (known.length === 0) {
    // A stack needs something: with nothing in the rack, a plain black under a plain white.
    const { black, white } = groundsOf(rack);
    for (const filament of [black, white]) table.set(filament.id, filament);
    known = [
      [black.id, FIRST_LAYERS],
      [white.id, FIRST_LAYERS],
    ];
  }
  const longer = Math.max(artwork.width, artwork.height);
  return {
    schema: SCHEMA_VERSION,
    name,
    artwork: {
      file: artwork,
      edits: [],
      selections: [],
      editedBox: null,
      masks: { importance: [], zones: [] },
    },
    stack: {
      grid: { ...USUAL_GRID },
      bands: known.map(([filamentId, layers]) => ({ id: crypto.randomUUID(), filamentId, layers })),
      holdTotal: false,
      filaments: Object.fromEntries(
        known.flatMap(([id]) => {
          const filament = table.get(id);
          return filament ? [[id, plannedFilament(filament)]] : [];
        }),
      ),
    },
    heights: {
      rule: 'tone',
      tone: { kind: 'tone', ...rulePoints(rule) },
      closest: { bandIds: null, aims: [], lean: FIRST_LEAN },
      found: null,
      zones: { list: [], shared: USUAL_SHARED, lean: USUAL_ZONES_LEAN, softMm: 0, order: 'found' },
      flat: { colours: [] },
      calm: 0,
      smallestMm: NOZZLE_MM,
      details: true,
      leastLayers: LEAST_LAYERS,
    },
    piece: {
      widthMm: clamp(
        Math.round((FIRST_SIDE_MM * artwork.width) / longer),
        LEAST_SIDE_MM,
        GREATEST_SIDE_MM,
      ),
      heightMm: null,
      trim: false,
      shape: structuredClone(PLAIN_SHAPE) as PieceSlice['shape'],
      fit: null,
      outlines: 'samples',
      sampleMm: 0.2,
    },
    print: {
      printer: structuredClone(USUAL_PRINTER),
      lineMm: USUAL_PRINTER.lineMm,
      pieces: { ...ONE_PIECE, own: [] },
      startsAt: null,
      slicedMinutes: null,
      slicedGrams: null,
      ironing: null,
      spliceMarginMm: 300,
    },
    tag: null,
  };
}

/** The name of a project for a file: without ending, never empty. */
export function nameFromFile(fileName: string): string {
  return (
    fileName
      .replace(/\.[^.]*$/, '')
      .trim()
      .slice(0, 120) || 'Untitled'
  );
}
