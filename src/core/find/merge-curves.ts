import type { FoundStack } from './request.ts';

/** The best of several searches for each number of swaps; more swaps are never worse. */
export function mergeCurves<Stack extends FoundStack>(
  curves: readonly (readonly Stack[])[],
): Stack[] {
  const all = curves.flat();
  const merged: Stack[] = [];
  const numbers = [...new Set(all.map(({ mostSwaps }) => mostSwaps))].sort((x, y) => x - y);
  for (const mostSwaps of numbers) {
    const [best] = all
      .filter((stack) => stack.mostSwaps <= mostSwaps)
      .sort((x, y) => x.price - y.price);
    if (best) merged.push({ ...best, mostSwaps });
  }
  return merged;
}
