import { useMemo } from 'react';

const BARS = 100;

/** A histogram of brightness as bars of 0..1, drawn behind points and curves. */
export function useBars(histogram: Uint32Array): readonly number[] {
  return useMemo(() => {
    const sums = new Float64Array(BARS);
    histogram.forEach((count, step) => {
      const bar = Math.min(BARS - 1, Math.floor((step * BARS) / histogram.length));
      sums[bar] = (sums[bar] ?? 0) + count;
    });
    // Square root: a large even background must not flatten everything else.
    const most = Math.sqrt(Math.max(1, ...sums));
    return Array.from(sums, (sum) => Math.sqrt(sum) / most);
  }, [histogram]);
}
