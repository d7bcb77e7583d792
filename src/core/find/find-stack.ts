import { fail, succeed, type Result } from '../base/result.ts';
import { beamStacks } from './beam.ts';
import { Judge } from './judge.ts';
import { keepsTo, type Limits } from './limits.ts';
import { otherStacks } from './other-stacks.ts';
import { makeRandom } from '../base/random.ts';
import {
  draftOfBands,
  firstDraft,
  limitsOf,
  type FindFault,
  type FindRequest,
  type FoundStack,
} from './request.ts';
import { annealInRounds } from './rounds.ts';
import { settle } from './settle.ts';
import { anneal, draftOf, Elite, hotFor, polish, type Found, type SearchTools } from './search.ts';
import type { Draft } from './evaluator.ts';

export interface FindAnswer {
  /** The best stack for each number of swaps with which there is one; more swaps are never worse. */
  readonly curve: readonly FoundStack[];
  /** Others that come close with as many swaps, of other filaments; best first. */
  readonly others: readonly FoundStack[];
  /** Stacks that were looked at. */
  readonly looked: number;
}

/**
 * Work done in a second on the machine that this was tuned on (two cores of 2.5 GHz), pauses included, in looks at a stack by
 * 64 colours; and what a look by many colours costs, and one of the beam, whose stacks differ at the top alone.
 */
const LOOKS_PER_SECOND = 70_000;
const FINE_COST = 6;
const BEAM_COST = 0.4;

/** How warm a search begins that is to improve a stack: hot enough to swap filaments, not to forget it. */
const IMPROVE_WARMTH = 0.25;

/** Parts of the work: going on from a given stack, and once more from the best; fewer swaps; and a look by many colours. */
const SHARES = { improve: 0.5, again: 0.2, fewer: 0.1, fine: 0.2 };

/** Looks of one run of annealing from a given stack, about. */
const RUN = 20_000;

/** A shorter search has no time for a beam. */
const LEAST_FOR_BEAM = 3000;

/** Heat of the annealing that begins before the landscape is known, as a share of the price. */
const USUAL_HEAT = 0.05;

export interface FindHooks {
  /** Called a few hundred times a second with the share that is done; throws when the search is to end. */
  readonly onPause?: (fraction: number) => void;
  /** A better stack than before. */
  readonly onBest?: (best: FoundStack) => void;
}

/**
 * Looks for the stacks that come closest to a picture, one for each number of swaps: annealing over 64 clusters of its
 * colours from several beginnings, then a closer look at the best over 256, then the price, and last steps, over its colours
 * as they are.
 * The same request always gives the same answer.
 * @throws whatever `onPause` throws
 */
export function findStack(
  request: FindRequest,
  hooks: FindHooks = {},
): Result<FindAnswer, FindFault> {
  const checked = limitsOf(request);
  if (!checked.ok) return checked;
  const limits = checked.value;
  const judge = new Judge(request, limits);
  const random = makeRandom(request.seed);
  const looks = Math.max(600, Math.round(request.seconds * LOOKS_PER_SECOND));
  let best: FoundStack | undefined;
  const elite = new Elite();
  const room = limits.mostBands + 2;
  const report = (): void => {
    const found = elite.bestUpTo(limits.mostBands);
    if (!found) return;
    // Stack and order of zones are found in turn, each for the best of the other.
    judge.stand(draftOf(found, room));
    if (!hooks.onBest) return;
    const stack = judge.judge(found);
    if (best && stack.price >= best.price) return;
    best = stack;
    hooks.onBest(stack);
  };
  let counted = 0;
  const spend = (work: number): void => {
    counted += work;
    hooks.onPause?.(Math.min(0.99, counted / looks));
  };
  const coarse: SearchTools = {
    evaluator: judge.coarse,
    hot: USUAL_HEAT,
    limits,
    random,
    elite,
    zones: judge.moves(),
    pause: spend,
  };
  const given = request.start ? draftOfBands(request.start, request.filaments, limits) : undefined;
  const begin = given ?? firstDraft(request, limits, random);
  if (!keepsTo(begin, limits)) return fail('no-stack');
  // Something to look at at once.
  anneal(coarse, begin, limits.mostBands, 600, 0.3);
  report();
  const seeds: Draft[] = [];
  if (!given && looks > LEAST_FOR_BEAM) {
    const beams = beamStacks(judge.coarse, limits, (priced) => {
      spend(priced * BEAM_COST);
    });
    beams.forEach((beam, i) => {
      for (const { draft, price } of beam) {
        if (!keepsTo(draft, limits)) continue;
        elite.offer(draft, price);
        if (i === beams.length - 1) seeds.push(draft);
      }
    });
    report();
  }
  const [leading] = elite.best(limits.mostBands);
  const tools = { ...coarse, hot: hotFor(coarse, leading ? draftOf(leading, room) : begin) };
  if (given) improve(tools, limits, given, looks, report);
  else annealInRounds(request, limits, tools, looks, seeds, report);
  // Fewer swaps: from the best with one more, a band taken out.
  const parts = (limits.mostBands * (limits.mostBands - 1)) / 2;
  for (let bands = limits.mostBands - 1; bands >= 1; bands -= 1) {
    const share = Math.round((looks * SHARES.fewer * bands) / Math.max(1, parts));
    const start = fewerBands(elite, bands, limits) ?? firstDraft(request, limits, random, bands);
    if (keepsTo(start, limits, bands)) anneal(tools, start, bands, Math.max(300, share), 0.4);
  }
  report();

  // By many colours, layerings of one order apart: the last look decides between them by all colours.
  const fine = new Elite('all');
  const costs = (request.sturdy === true ? 3 : 1) * FINE_COST;
  const close: SearchTools = {
    ...coarse,
    evaluator: judge.close,
    elite: fine,
    pause: (priced) => {
      spend(costs * priced);
    },
  };
  if (given) {
    judge.stand(given);
    fine.offer(given, judge.close.price(given));
  }
  for (let bands = 1; bands <= limits.mostBands; bands += 1)
    for (const found of elite.best(bands)) {
      const draft = draftOf(found, room);
      judge.stand(draft);
      fine.offer(draft, judge.close.price(draft));
    }
  const finest = (looks * SHARES.fine) / costs;
  for (let bands = limits.mostBands; bands >= 1; bands -= 1) {
    // Going downhill takes about a thousand looks.
    const most = bands === limits.mostBands ? Math.round(finest / 900) : Math.round(finest / 3000);
    for (const found of fine.best(bands).slice(0, Math.min(4, most)))
      polish(close, draftOf(found, room));
  }
  const curve: FoundStack[] = [];
  let all: FoundStack[] = [];
  for (let bands = 1; bands <= limits.mostBands; bands += 1) {
    const most = bands === limits.mostBands ? 8 : 3;
    // The last look is by every colour: a short search cannot pay for many.
    const last = finalists(fine.best(bands), looks < LEAST_FOR_BEAM ? 1 : most);
    const judged = last.map((found) => judge.judge(found)).sort((a, b) => a.price - b.price);
    const leader = last.find((found) => judge.judge(found) === judged[0]);
    // Weighed prices are not those over all colours: there the closer look has the last word.
    if (leader && !judge.weighted) {
      const steps = bands === limits.mostBands ? 16 : 4;
      const exactly = (found: Found): number => judge.exactly(found);
      judge.stand(draftOf(leader, room));
      const settled = settle(leader, judge.close, exactly, limits, steps, close.pause);
      if (settled !== leader) judged.unshift(judge.judge(settled));
    }
    all = [...all, ...judged];
    const [first] = judged;
    const before = curve.at(-1);
    const winner = first && (!before || first.price < before.price) ? first : before;
    if (winner) curve.push({ ...winner, mostSwaps: bands - 1 });
  }
  hooks.onPause?.(1);
  const last = curve.at(-1);
  if (!last) return fail('no-stack');
  const asMany = all.filter(({ bands }) => bands.length >= last.bands.length);
  return succeed({ curve, others: otherStacks(last, asMany), looked: judge.looked() });
}

/** Goes on from a stack and stays near it. */
function improve(
  tools: SearchTools,
  limits: Limits,
  given: Draft,
  looks: number,
  report: () => void,
): void {
  const { mostBands } = limits;
  const part = looks * SHARES.improve;
  const runs = Math.max(1, Math.round(part / RUN));
  for (let run = 0; run < runs; run += 1) {
    polish(tools, anneal(tools, given, mostBands, Math.round(part / runs), IMPROVE_WARMTH));
    report();
  }
  for (const leader of tools.elite.best(mostBands).slice(0, 2)) {
    const share = Math.round((looks * SHARES.again) / 2);
    const start = draftOf(leader, mostBands + 2);
    polish(tools, anneal(tools, start, mostBands, share, IMPROVE_WARMTH));
  }
}

/** The first few, and as many more of other orders of filaments: layers alone make no alternative. */
function finalists(found: readonly Found[], most: number): readonly Found[] {
  const first = found.slice(0, most);
  const orders = new Set(first.map(({ filament }) => filament.join()));
  const others = found.filter(({ filament }) => {
    const order = filament.join();
    return !orders.has(order) && orders.add(order);
  });
  return [...first, ...others.slice(0, most)];
}

/** The best draft with one band more, without the lowest band that may go. */
function fewerBands(elite: Elite, bands: number, limits: Limits): Draft | undefined {
  const [from] = elite.best(bands + 1);
  if (!from) return undefined;
  for (let out = 0; out < from.filament.length; out += 1) {
    const filament = from.filament.filter((_, i) => i !== out);
    const layers = from.layers.filter((_, i) => i !== out);
    const heir = Math.min(out, layers.length - 1);
    layers[heir] = (layers[heir] ?? 0) + (from.layers[out] ?? 0);
    const draft = draftOf({ filament, layers, price: 0 }, limits.mostBands + 2);
    if (keepsTo(draft, limits, bands)) return draft;
  }
  return undefined;
}
