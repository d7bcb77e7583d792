import { clamp } from '../base/numbers.ts';
import { copyDraft, makeDraft, type Draft, type StackEvaluator } from './evaluator.ts';
import { keepsTo, layersOf, type Limits } from './limits.ts';
import { proposeMove } from './moves.ts';
import type { Random } from '../base/random.ts';

/** A stack that was found, with its price by the search's own clusters. */
export interface Found {
  readonly filament: readonly number[];
  readonly layers: readonly number[];
  readonly price: number;
}

/** How hot annealing begins, in steps that go up; between which shares of the best price; and how cold it ends. */
const HOT_STEPS = 4;
const HOT = [0.04, 0.4] as const;
const COLD = 0.0012;

/** Neighbours that are priced to see how rough a landscape is. */
const SOUNDINGS = 250;

/** Good stacks that are kept for the second look, in each number of bands. */
const ELITE = 24;

/** Collects the best stacks, each once, apart for every number of bands. */
export class Elite {
  private readonly byBands = new Map<number, Map<string, Found>>();
  private readonly worst = new Map<number, number>();

  /** @param layerings of one order of filaments that are kept: one, since layers are polished later, or all */
  constructor(private readonly layerings: 'one' | 'all' = 'one') {}

  offer(draft: Draft, price: number): void {
    if (price >= (this.worst.get(draft.count) ?? Infinity)) return;
    let kept = this.byBands.get(draft.count);
    if (!kept) this.byBands.set(draft.count, (kept = new Map<string, Found>()));
    const found = foundOf(draft, price);
    const key = this.keyOf(found);
    const before = kept.get(key);
    if (before && before.price <= price) return;
    kept.set(key, found);
    if (kept.size < 2 * ELITE) return;
    const sorted = this.best(draft.count);
    this.byBands.set(draft.count, new Map(sorted.map((one) => [this.keyOf(one), one])));
    this.worst.set(draft.count, sorted.at(-1)?.price ?? Infinity);
  }

  private keyOf({ filament, layers }: Found): string {
    return this.layerings === 'one' ? filament.join() : `${filament.join()} ${layers.join()}`;
  }

  /** The best with just so many bands, cheapest first. */
  best(bands: number): Found[] {
    return [...(this.byBands.get(bands)?.values() ?? [])]
      .sort((a, b) => a.price - b.price)
      .slice(0, ELITE);
  }

  /** The best with at most so many bands. */
  bestUpTo(bands: number): Found | undefined {
    let found: Found | undefined;
    for (let count = 1; count <= bands; count += 1) {
      const [first] = this.best(count);
      if (first && (!found || first.price < found.price)) found = first;
    }
    return found;
  }
}

/** A draft as it is kept, with its price. */
export function foundOf({ filament, layers, count }: Draft, price: number): Found {
  return {
    filament: [...filament.subarray(0, count)],
    layers: [...layers.subarray(0, count)],
    price,
  };
}

export function draftOf({ filament, layers }: Found, room: number): Draft {
  const draft = makeDraft(room);
  draft.filament.set(filament);
  draft.layers.set(layers);
  draft.count = filament.length;
  return draft;
}

/** Tells what a stack costs. */
export type Pricer = Pick<StackEvaluator, 'price'>;

/** Zones in an order of their own, beside the stack. */
export interface ZoneMoves {
  /** Lets two zones change places; what comes back undoes it. */
  readonly swap: (random: Random) => () => void;
  /** Puts them in some order. */
  readonly shuffle: (random: Random) => void;
  /** Puts them in the order that serves a stack best. */
  readonly stand: (draft: Draft) => void;
}

/** One in so many moves lets two zones change places. */
const ZONE_MOVES = 12;

/** What a search works with. */
export interface SearchTools {
  readonly evaluator: Pricer;
  readonly limits: Limits;
  readonly random: Random;
  readonly elite: Elite;
  /** Heat that annealing begins with, as a share of the best price: see {@link hotFor}. */
  readonly hot: number;
  /** Zones that may change places, where there are some. */
  readonly zones?: ZoneMoves | undefined;
  /** Called now and then with the stacks priced since; throws when the search is to end. */
  readonly pause: (priced: number) => void;
}

/**
 * How hot annealing is to begin around a good stack: some times the lower quartile of the steps that make it dearer. Flat
 * art of few colours is rough, since a layer more spoils a whole colour; in a photo most steps are small.
 * @returns share of the stack's price
 */
export function hotFor({ evaluator, limits, random }: SearchTools, around: Draft): number {
  const price = evaluator.price(around);
  const candidate = makeDraft(limits.mostBands + 2);
  const ups: number[] = [];
  for (let n = 0; n < SOUNDINGS; n += 1) {
    proposeMove(around, candidate, limits, limits.mostBands, random);
    if (!keepsTo(candidate, limits)) continue;
    const up = evaluator.price(candidate) - price;
    if (up > 0) ups.push(up);
  }
  ups.sort((one, other) => one - other);
  const step = (ups[Math.floor(ups.length / 4)] ?? 0) / Math.max(1e-9, price);
  return clamp(HOT_STEPS * step, ...HOT);
}

/**
 * Simulated annealing over whole stacks (S. Kirkpatrick, C. D. Gelatt, M. P. Vecchi, "Optimization by simulated annealing",
 * Science 220 (1983)): neighbours that are dearer are taken with a chance that falls from hot to cold.
 * @param trials neighbours that are priced
 * @param warmth 1 begins hot, less begins nearer to cold: for going on from something good
 */
export function anneal(
  tools: SearchTools,
  start: Draft,
  mostBands: number,
  trials: number,
  warmth = 1,
): Draft {
  const { evaluator, limits, random, elite, pause, zones } = tools;
  const room = limits.mostBands + 2;
  const present = makeDraft(room);
  const candidate = makeDraft(room);
  const best = makeDraft(room);
  copyDraft(start, present);
  copyDraft(start, best);
  let price = evaluator.price(present);
  let bestPrice = price;
  elite.offer(present, price);
  const hot = Math.max(COLD, tools.hot * warmth);
  for (let trial = 0; trial < trials; trial += 1) {
    if ((trial & 255) === 255) pause(256);
    const back = zones && random.below(ZONE_MOVES) === 0 ? zones.swap(random) : undefined;
    if (back) copyDraft(present, candidate);
    else {
      proposeMove(present, candidate, limits, mostBands, random);
      if (!keepsTo(candidate, limits, mostBands)) continue;
    }
    const next = evaluator.price(candidate);
    const heat = bestPrice * hot * (COLD / hot) ** (trial / trials);
    if (next > price && random.next() >= Math.exp((price - next) / heat)) {
      back?.();
      continue;
    }
    copyDraft(candidate, present);
    price = next;
    elite.offer(present, price);
    if (price < bestPrice) {
      bestPrice = price;
      copyDraft(present, best);
    }
  }
  return best;
}

/**
 * Goes downhill until no single step helps: one or two layers from any band to any other, any band in any filament, any two
 * bands swapped, a layer more or less.
 */
export function polish(tools: SearchTools, start: Draft): Draft {
  const { evaluator, limits, elite, pause } = tools;
  const room = limits.mostBands + 2;
  const best = makeDraft(room);
  copyDraft(start, best);
  tools.zones?.stand(best);
  let bestPrice = evaluator.price(best);
  elite.offer(best, bestPrice);
  const candidate = makeDraft(room);
  for (;;) {
    const before = bestPrice;
    let priced = 0;
    // What is better is taken at once: the neighbours that follow are those of the new best.
    forEachNeighbour(best, candidate, limits, () => {
      if (!keepsTo(candidate, limits)) return;
      priced += 1;
      const price = evaluator.price(candidate);
      elite.offer(candidate, price);
      if (price >= bestPrice - 1e-9) return;
      bestPrice = price;
      copyDraft(candidate, best);
    });
    pause(priced);
    elite.offer(best, bestPrice);
    if (bestPrice >= before - 1e-9) return best;
  }
}

/** Puts every neighbour of a draft into `to`, one after the other. */
export function forEachNeighbour(from: Draft, to: Draft, limits: Limits, look: () => void): void {
  const { count } = from;
  const free = limits.mostLayers - layersOf(from);
  for (let one = 0; one < count; one += 1) {
    for (let other = 0; other < count; other += 1) {
      if (other === one) continue;
      for (let layers = 1; layers <= 2; layers += 1) {
        if ((from.layers[one] as number) <= layers) continue;
        copyDraft(from, to);
        to.layers[one] = (to.layers[one] as number) - layers;
        to.layers[other] = (to.layers[other] as number) + layers;
        look();
      }
      if (other < one) continue;
      copyDraft(from, to);
      to.filament[one] = from.filament[other] as number;
      to.filament[other] = from.filament[one] as number;
      look();
      to.layers[one] = from.layers[other] as number;
      to.layers[other] = from.layers[one] as number;
      look();
    }
    for (let filament = 0; filament < limits.filaments; filament += 1) {
      if (filament === from.filament[one]) continue;
      copyDraft(from, to);
      to.filament[one] = filament;
      look();
    }
    copyDraft(from, to);
    to.layers[one] = (from.layers[one] as number) - 1;
    if ((to.layers[one] as number) > 0) look();
    if (free > 0) {
      to.layers[one] = (from.layers[one] as number) + 1;
      look();
    }
  }
}
