import { fail, succeed, type Fault, type Result } from '../base/result.ts';
import type { Filament } from '../stack/filament.ts';
import type { LayerGrid } from '../stack/layer-grid.ts';
import type { Band } from '../stack/stack.ts';
import type { FindCells } from './clusters.ts';
import { makeDraft, type Draft, type FindRule } from './evaluator.ts';
import type { Limits } from './limits.ts';
import type { FindLean } from './take-rows.ts';
import type { FindZones } from './zoned-price.ts';
import type { Random } from '../base/random.ts';

/** Limits of what can be asked for. */
export const MOST_SWAPS = 8;
export const MOST_FIND_LAYERS = 120;

/** What is wanted of a stack. */
export interface FindRequest {
  readonly cells: FindCells;
  /** Filaments to choose from. */
  readonly filaments: readonly Filament[];
  readonly grid: LayerGrid;
  readonly rule: FindRule;
  /** 0..{@link MOST_SWAPS} */
  readonly mostSwaps: number;
  /** Layers of the stack at most, 1..{@link MOST_FIND_LAYERS}. */
  readonly mostLayers: number;
  /** Layers that every spot has at least. */
  readonly leastLayers: number;
  /** Layers of each band at least. */
  readonly leastPerBand: number;
  /** Filaments that must be in the stack, by id. */
  readonly must: readonly string[];
  /** Filament of the lowest band, and of the highest one; null for any. */
  readonly bottom: string | null;
  readonly top: string | null;
  /** How strongly heights by colour lean to where tone would have them; nothing by default. */
  readonly lean?: FindLean | undefined;
  /** The zones that cells are of, where the rule is by zones. */
  readonly zones?: FindZones | undefined;
  /** Exponent of each colour's CIEDE2000 in the price, 1..3: 2 cares for small colours that are far off. 1 by default. */
  readonly care?: number | undefined;
  /** How much small and rare colours count: 0 counts pixels, 1 counts every colour alike. */
  readonly rare: number;
  /** Prefer stacks that bear it when transmissions are off by {@link TOLERANCE}. */
  readonly sturdy?: boolean;
  /** How long to look, in seconds of the machine that this was tuned on: the work is the same on every machine. */
  readonly seconds: number;
  readonly seed: number;
  /** A stack to go on from, and to stay near; null to begin anew. */
  readonly start?: readonly Band[] | null;
}

/** A stack for a picture. */
export interface FoundStack {
  readonly bands: readonly Band[];
  /** Swaps that were allowed; it has fewer where one more bought nothing. */
  readonly mostSwaps: number;
  /** Mean CIEDE2000 over all pixels. */
  readonly meanDeltaE: number;
  /** What was made small: the mean CIEDE2000, or another weighing of it where importance, rare colours or `sturdy` ask so. */
  readonly price: number;
  /** Zones in the order in which they stand best, lowest first; only where the rule is by zones. */
  readonly zoneIds?: readonly string[] | undefined;
  /** The mean CIEDE2000 where all transmissions are off by {@link TOLERANCE}, less and more. */
  readonly whenOff: readonly [number, number];
}

export type FindFault = Fault<
  | 'nothing-printed'
  | 'no-filaments'
  | 'unknown-filament'
  | 'too-many-pins'
  | 'too-few-layers'
  | 'same-ends'
  | 'no-stack'
>;

/** Share by which transmissions are taken to be uncertain. */
export const TOLERANCE = 0.1;

/** Is there a stack that keeps to what is wanted? The limits in numbers, or what stands against it. */
export function limitsOf(request: FindRequest): Result<Limits, FindFault> {
  const { filaments, must, bottom, top, mostSwaps, mostLayers, leastPerBand } = request;
  const printed = request.cells.count.some((count) => count > 0);
  if (!printed) return fail('nothing-printed');
  if (filaments.length === 0) return fail('no-filaments');
  const indexOf = (id: string): number => filaments.findIndex((filament) => filament.id === id);
  const present = (request.start ?? []).map(({ filamentId }) => filamentId);
  for (const id of [...must, bottom, top, ...present])
    if (id !== null && indexOf(id) < 0) return fail('unknown-filament', id);
  const mostBands = Math.min(mostSwaps, MOST_SWAPS) + 1;
  const wanted = new Set([...must, bottom, top].filter((id) => id !== null));
  if (wanted.size > mostBands) return fail('too-many-pins', String(wanted.size));
  if (bottom !== null && bottom === top && wanted.size > 1 && mostBands < wanted.size + 1)
    return fail('same-ends', bottom);
  if (mostLayers < Math.max(1, wanted.size) * leastPerBand)
    return fail('too-few-layers', String(Math.max(1, wanted.size) * leastPerBand));
  return succeed({
    filaments: filaments.length,
    mostBands,
    mostLayers: Math.min(mostLayers, MOST_FIND_LAYERS),
    leastLayers: request.leastLayers,
    leastPerBand,
    must: must.map(indexOf),
    bottom: bottom === null ? -1 : indexOf(bottom),
    top: top === null ? -1 : indexOf(top),
    locked: (request.start ?? [])
      .filter(({ locked }) => locked === true)
      .map(({ filamentId, layers }) => ({ filament: indexOf(filamentId), layers })),
  });
}

/** A stack to begin with that keeps to the limits: what must be in it, filled up with filaments drawn at random. */
export function firstDraft(
  { filaments }: Pick<FindRequest, 'filaments'>,
  limits: Limits,
  random: Random,
  mostBands = limits.mostBands,
): Draft {
  const wanted = limits.must.filter((id) => id !== limits.bottom && id !== limits.top);
  const chosen: number[] = [
    ...(limits.bottom >= 0 ? [limits.bottom] : []),
    ...wanted,
    ...(limits.top >= 0 && (limits.top !== limits.bottom || wanted.length > 0) ? [limits.top] : []),
  ];
  const room = Math.min(
    mostBands,
    Math.floor(limits.mostLayers / limits.leastPerBand),
    // Neighbours must differ.
    filaments.length === 1 ? 1 : mostBands,
  );
  const at = limits.bottom >= 0 ? 1 : 0;
  for (let tries = 0; chosen.length < room && tries < 200; tries += 1) {
    const one = random.below(filaments.length);
    const place = Math.min(chosen.length, at);
    if (place === chosen.length && limits.top >= 0 && chosen.length > 1) break;
    if (chosen[place - 1] === one || chosen[place] === one) continue;
    if (limits.bottom === limits.top && chosen.length === 1 && limits.top >= 0) break;
    chosen.splice(place, 0, one);
  }
  const draft = makeDraft(limits.mostBands + 2);
  const each = Math.floor(limits.mostLayers / chosen.length);
  chosen.forEach((filament, i) => {
    draft.filament[i] = filament;
    draft.layers[i] = i === 0 ? limits.mostLayers - each * (chosen.length - 1) : each;
  });
  draft.count = chosen.length;
  return draft;
}

/** A stack in the numbers of a search. */
export function draftOfBands(
  bands: readonly Band[],
  filaments: readonly Filament[],
  limits: Limits,
): Draft {
  const draft = makeDraft(Math.max(limits.mostBands, bands.length) + 2);
  bands.forEach(({ filamentId, layers }, i) => {
    draft.filament[i] = filaments.findIndex(({ id }) => id === filamentId);
    draft.layers[i] = layers;
  });
  draft.count = bands.length;
  return draft;
}
