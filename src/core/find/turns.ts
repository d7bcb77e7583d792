/** Searches that run side by side in a turn, each from a seed of its own. */
export const SEARCHES = 2;

/** Turns at most: more would cost more than they find. */
export const MOST_TURNS = 2;

/** Prices that are within this share of each other are those of one stack, or as good as it. */
const AGREED = 0.0005;

/** Share of the work after which zones are fitted to what was found; the rest goes into that stack, for the zones as they are then. */
export const BEFORE_FITTING = 0.5;

/** The efforts that are offered, seconds of work each. */
export const EFFORTS = [1, 3, 10] as const;

/**
 * The searches that one of an effort is made of: the shorter ones that are offered, and then its own. So more effort never ends
 * in a dearer stack: what a shorter search finds is found again, and the better one is taken.
 */
export function stepsOf(seconds: number): number[] {
  return [...EFFORTS.filter((effort) => effort < seconds), seconds];
}

/** Seeds of the searches of a turn; turns are counted from 0. */
export function seedsOf(seed: number, turn: number): number[] {
  return Array.from({ length: SEARCHES }, (_, i) => seed + 1000 * (SEARCHES * turn + i));
}

/**
 * Did the searches of a turn end in the same place? Where they did not, at least one was in the wrong basin, and another turn
 * is worth its time: on six photos that nothing was tuned on it brings the mean gap from 0.4 to 0.2 %. They may agree
 * on what is not the best, which is rare (`docs/bench/find.md`).
 * @param prices of the best stack of each search
 */
export function agreed(prices: readonly number[]): boolean {
  return Math.max(...prices) <= Math.min(...prices) * (1 + AGREED);
}
