import { copyDraft, type Draft } from './evaluator.ts';
import { layersOf, type Limits } from './limits.ts';
import type { Random } from '../base/random.ts';

/** Kinds of moves, and how often each is tried out of the sum of all. */
const KINDS = [
  ['transfer', 34],
  ['edge', 20],
  ['replace', 20],
  ['swap', 8],
  ['height', 6],
  ['add', 6],
  ['drop', 3],
  ['shift', 3],
  ['block', 15],
] as const;
type Kind = (typeof KINDS)[number][0];
const ALL = KINDS.reduce((sum, [, share]) => sum + share, 0);

/** Bands that a move needs; with fewer the stack grows or shrinks instead. */
const LEAST_BANDS: Readonly<Record<Kind, number>> = {
  transfer: 2,
  edge: 2,
  replace: 1,
  swap: 2,
  height: 1,
  add: 1,
  drop: 2,
  shift: 3,
  block: 3,
};

function drawKind(count: number, random: Random): Kind {
  let dice = random.below(ALL);
  for (const [kind, share] of KINDS) {
    if (dice < share) return LEAST_BANDS[kind] <= count ? kind : 'height';
    dice -= share;
  }
  return 'height';
}

/** Another band than one. */
function otherBand(one: number, count: number, random: Random): number {
  const other = random.below(count - 1);
  return other >= one ? other + 1 : other;
}

/**
 * Makes a neighbour of a draft: layers go from one band to another, a filament is replaced, two change places, a band is
 * added, dropped or put elsewhere, two neighbouring runs of bands change places, or the stack grows or shrinks. What comes out may break the limits; the caller checks.
 */
export function proposeMove(
  from: Draft,
  to: Draft,
  limits: Limits,
  mostBands: number,
  random: Random,
): void {
  copyDraft(from, to);
  const { count } = to;
  const one = random.below(count);
  switch (drawKind(count, random)) {
    case 'transfer':
      move(to, one, otherBand(one, count, random), 1 + random.below(random.below(4) === 0 ? 4 : 2));
      break;
    case 'edge': {
      const lower = random.below(count - 1);
      if (random.below(2) === 0) move(to, lower, lower + 1, 1 + random.below(2));
      else move(to, lower + 1, lower, 1 + random.below(2));
      break;
    }
    case 'replace':
      to.filament[one] = random.below(limits.filaments);
      break;
    case 'swap':
      exchange(to, one, otherBand(one, count, random), random.below(2) === 0);
      break;
    case 'add':
      // No room for one more: a band is replaced by a new one elsewhere.
      if (count >= mostBands) drop(to, one);
      add(to, limits, random);
      break;
    case 'drop':
      drop(to, one);
      break;
    case 'shift': {
      const filament = to.filament[one] as number;
      const layers = to.layers[one] as number;
      remove(to, one);
      insert(to, random.below(to.count + 1), filament, layers);
      break;
    }
    case 'block':
      exchangeBlocks(to, random);
      break;
    default:
      grow(to, limits, random);
  }
}

function exchange(draft: Draft, one: number, other: number, withLayers: boolean): void {
  const filament = draft.filament[one] as number;
  draft.filament[one] = draft.filament[other] as number;
  draft.filament[other] = filament;
  if (!withLayers) return;
  const layers = draft.layers[one] as number;
  draft.layers[one] = draft.layers[other] as number;
  draft.layers[other] = layers;
}

/** Two neighbouring runs of bands change places with their layers: in the wrong place they would take many steps uphill. */
function exchangeBlocks(draft: Draft, random: Random): void {
  const { count } = draft;
  const from = random.below(count - 1);
  const middle = from + 1 + random.below(count - 1 - from);
  const to = middle + 1 + random.below(count - middle);
  const filament = [
    ...draft.filament.subarray(middle, to),
    ...draft.filament.subarray(from, middle),
  ];
  const layers = [...draft.layers.subarray(middle, to), ...draft.layers.subarray(from, middle)];
  draft.filament.set(filament, from);
  draft.layers.set(layers, from);
}

function move(draft: Draft, giver: number, taker: number, layers: number): void {
  const given = Math.min(layers, (draft.layers[giver] as number) - 1);
  draft.layers[giver] = (draft.layers[giver] as number) - given;
  draft.layers[taker] = (draft.layers[taker] as number) + given;
}

function grow(draft: Draft, limits: Limits, random: Random): void {
  const at = random.below(draft.count);
  const room = limits.mostLayers - layersOf(draft);
  const own = draft.layers[at] as number;
  if (room > 0 && random.below(3) > 0) draft.layers[at] = own + 1 + random.below(Math.min(room, 3));
  else draft.layers[at] = Math.max(1, own - 1);
}

function add(draft: Draft, limits: Limits, random: Random): void {
  const at = random.below(draft.count + 1);
  const layers = limits.leastPerBand + random.below(4);
  const room = limits.mostLayers - layersOf(draft);
  // What there is no room for is taken from the band that has most.
  let missing = layers - room;
  while (missing > 0) {
    let giver = 0;
    for (let i = 1; i < draft.count; i += 1)
      if ((draft.layers[i] as number) > (draft.layers[giver] as number)) giver = i;
    const own = draft.layers[giver] as number;
    if (own <= 1) break;
    draft.layers[giver] = own - 1;
    missing -= 1;
  }
  insert(draft, at, random.below(limits.filaments), layers);
}

/** Takes a band out and gives its layers to a neighbour. */
function drop(draft: Draft, at: number): void {
  const layers = draft.layers[at] as number;
  remove(draft, at);
  if (draft.count === 0) return;
  const heir = Math.min(at, draft.count - 1);
  draft.layers[heir] = (draft.layers[heir] as number) + layers;
}

function remove(draft: Draft, at: number): void {
  draft.filament.copyWithin(at, at + 1, draft.count);
  draft.layers.copyWithin(at, at + 1, draft.count);
  draft.count -= 1;
}

function insert(draft: Draft, at: number, filament: number, layers: number): void {
  draft.filament.copyWithin(at + 1, at, draft.count);
  draft.layers.copyWithin(at + 1, at, draft.count);
  draft.filament[at] = filament;
  draft.layers[at] = layers;
  draft.count += 1;
}
