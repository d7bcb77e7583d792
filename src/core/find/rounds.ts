import { firstDraft, type FindRequest } from './request.ts';
import type { Random } from '../base/random.ts';
import type { Draft } from './evaluator.ts';
import { keepsTo, type Limits } from './limits.ts';
import { anneal, draftOf, polish, type Found, type SearchTools } from './search.ts';

/** One round of annealing: how many runs, which share of all looks they have, and how warm they begin. */
interface Round {
  readonly runs: number;
  readonly share: number;
  readonly warmth: number;
}

/**
 * Rounds that halve: many runs find many basins, and what is best and unlike goes on, cooler. One long run would stay in the basin
 * that it fell into.
 */
export const ROUNDS: readonly Round[] = [
  { runs: 8, share: 0.35, warmth: 1 },
  { runs: 4, share: 0.2, warmth: 0.5 },
  { runs: 2, share: 0.15, warmth: 0.25 },
];

/** Looks that a run has at least: with less it never cools. */
const LEAST_RUN = 2500;

/** Beginnings that are taken from the beam, and how warm annealing begins from them. */
const SEEDED = 3;
const SEED_WARMTH = 0.6;

/** Stacks that share so many filaments with a better one are in the same basin. */
const ALIKE = 5;

/** Good stacks among which those that go on are chosen. */
const POOL = 24;

/**
 * Anneals in rounds; all that is found goes into the elite of the tools. Starts of later rounds are the best that are unlike
 * each other, and as many children of two of them.
 * @param seeds beginnings of the first round, before random ones
 * @param report called after every run
 */
export function annealInRounds(
  request: FindRequest,
  limits: Limits,
  tools: SearchTools,
  looks: number,
  seeds: readonly Draft[],
  report: () => void,
): void {
  const { random, elite } = tools;
  ROUNDS.forEach(({ runs, share, warmth }, round) => {
    const each = looks * share;
    const count = Math.max(1, Math.min(runs, Math.round(each / LEAST_RUN)));
    const last = round === ROUNDS.length - 1;
    const starts =
      round === 0
        ? firstStarts(request, limits, random, seeds, count)
        : laterStarts(elite.best(limits.mostBands).slice(0, POOL), limits, random, count);
    for (const [run, { draft, warm = warmth }] of starts.entries()) {
      // Each order of zones has basins of its own.
      if (round === 0 && run > 0) tools.zones?.shuffle(random);
      else tools.zones?.stand(draft);
      const found = anneal(tools, draft, limits.mostBands, Math.round(each / count), warm);
      if (last || count === 1) polish(tools, found);
      report();
    }
  });
}

interface Start {
  readonly draft: Draft;
  readonly warm?: number;
}

function firstStarts(
  request: FindRequest,
  limits: Limits,
  random: Random,
  seeds: readonly Draft[],
  count: number,
): Start[] {
  return Array.from({ length: count }, (_, run): Start => {
    const seed = run < SEEDED ? seeds[run] : undefined;
    return seed
      ? { draft: seed, warm: SEED_WARMTH }
      : { draft: firstDraft(request, limits, random) };
  }).filter(({ draft }) => keepsTo(draft, limits));
}

function laterStarts(
  pool: readonly Found[],
  limits: Limits,
  random: Random,
  count: number,
): Start[] {
  const room = limits.mostBands + 2;
  const unlike: Found[] = [];
  for (const one of pool)
    if (unlike.every((other) => common(one, other) < Math.min(ALIKE, other.filament.length)))
      unlike.push(one);
  const parents = unlike.length > 1 ? unlike : pool;
  const best = parents.slice(0, Math.ceil(count / 2)).map((one) => draftOf(one, room));
  const children: Draft[] = [];
  for (let tries = 0; best.length + children.length < count && tries < 60; tries += 1) {
    const one = parents[random.below(Math.min(4, parents.length))];
    const other = parents[random.below(parents.length)];
    const child = one && other && one !== other ? childOf(one, other, limits, random) : undefined;
    if (child) children.push(child);
  }
  // Where too few are unlike, the next best go on.
  const more = pool.filter((one) => !parents.slice(0, best.length).includes(one));
  for (const one of more) {
    if (best.length + children.length >= count) break;
    children.push(draftOf(one, room));
  }
  return [...best, ...children].map((draft) => ({ draft }));
}

/** How many filaments two stacks have in common, each as often as both have it. */
function common({ filament }: Found, other: Found): number {
  const left = [...other.filament];
  return filament.filter((one) => {
    const at = left.indexOf(one);
    if (at >= 0) left.splice(at, 1);
    return at >= 0;
  }).length;
}

/** The lower bands of one and following bands of another, with the thickest thinned until they fit; undefined where that breaks the limits. */
function childOf(one: Found, other: Found, limits: Limits, random: Random): Draft | undefined {
  if (one.filament.length < 2 || other.filament.length < 2) return undefined;
  const below = 1 + random.below(one.filament.length - 1);
  const from = 1 + random.below(other.filament.length - 1);
  const filament = [...one.filament.slice(0, below), ...other.filament.slice(from)].slice(
    0,
    limits.mostBands,
  );
  const layers = [...one.layers.slice(0, below), ...other.layers.slice(from)].slice(
    0,
    limits.mostBands,
  );
  const total = (): number => layers.reduce((sum, own) => sum + own, 0);
  const wanted = Math.min(
    limits.mostLayers,
    one.layers.reduce((sum, own) => sum + own, 0),
  );
  while (total() > limits.mostLayers) {
    const thickest = layers.indexOf(Math.max(...layers));
    layers[thickest] = (layers[thickest] ?? 1) - 1;
  }
  while (total() < wanted) {
    const thickest = layers.indexOf(Math.max(...layers));
    layers[thickest] = (layers[thickest] ?? 1) + 1;
  }
  const draft = draftOf({ filament, layers, price: 0 }, limits.mostBands + 2);
  return keepsTo(draft, limits) ? draft : undefined;
}
