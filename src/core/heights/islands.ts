import type { HeightMap } from '../base/raster.ts';

/** Least area of an island, samples: one square of `smallestMm`. */
export function islandSamples(smallestMm: number, sampleMm: number): number {
  return Math.ceil((smallestMm / sampleMm) ** 2 - 1e-9);
}

/**
 * Takes away what is too small to be printed: at every height, raised spots of fewer than `least` samples are lowered to
 * what is around them, and then sunken ones are filled. Heights only take values that are beside the spot; cut-away parts
 * stay as they are, and pieces that are smaller as a whole stay too.
 * Source: L. Vincent, "Grayscale area openings and closings, their efficient implementation and applications", EURASIP
 * Workshop on Mathematical Morphology (1993); with union-find as in A. Meijster, M. Wilkinson, "A comparison of algorithms
 * for connected set openings and closings", IEEE PAMI 24 (2002).
 */
export function withoutIslands(heights: HeightMap, least: number): HeightMap {
  if (least <= 1) return heights;
  const { width, height } = heights;
  const opened = areaFilter(heights.data, width, least, false);
  return { width, height, data: areaFilter(opened, width, least, true) };
}

/**
 * Fills what is sunken and too small, and lowers nothing: what {@link withoutIslands} does second. Where no raised spot was too
 * small before, none is after.
 */
export function withoutPits(heights: HeightMap, least: number): HeightMap {
  if (least <= 1) return heights;
  const { width, height } = heights;
  return { width, height, data: areaFilter(heights.data, width, least, true) };
}

const UNSEEN = -2147483648;

/** One opening (from the top down), or closing (from the bottom up). Parents are indices; a root holds minus its area. */
function areaFilter(
  source: Uint8Array,
  width: number,
  least: number,
  closing: boolean,
): Uint8Array {
  const total = source.length;
  const order = sortByHeight(source, closing);
  const parent = new Int32Array(total).fill(UNSEEN);
  const find = (start: number): number => {
    let root = start;
    while ((parent[root] as number) >= 0) root = parent[root] as number;
    let at = start;
    while (at !== root) {
      const next = parent[at] as number;
      parent[at] = root;
      at = next;
    }
    return root;
  };
  for (const i of order) {
    parent[i] = -1;
    const own = source[i] as number;
    const x = i % width;
    for (let side = 0; side < 4; side += 1) {
      const beside =
        side === 0
          ? x > 0
            ? i - 1
            : -1
          : side === 1
            ? x + 1 < width
              ? i + 1
              : -1
            : side === 2
              ? i - width
              : i + width;
      if (beside < 0 || beside >= total || (parent[beside] as number) === UNSEEN) continue;
      const root = find(beside);
      if (root === i) continue;
      // A spot that is still too small is taken in at this height; a larger one keeps its own.
      if ((source[root] as number) === own || -(parent[root] as number) < least) {
        parent[i] = parent[i] + (parent[root] as number);
        parent[root] = i;
      } else parent[i] = -least;
    }
  }
  const out = new Uint8Array(total);
  for (let k = order.length - 1; k >= 0; k -= 1) {
    const i = order[k] as number;
    const up = parent[i] as number;
    out[i] = up >= 0 ? (out[up] as number) : (source[i] as number);
  }
  return out;
}

/** Indices of all printed samples, highest first, or lowest first; counting sort. */
function sortByHeight(source: Uint8Array, ascending: boolean): Uint32Array {
  const starts = new Uint32Array(257);
  for (const value of source) if (value > 0) starts[value + 1] = (starts[value + 1] as number) + 1;
  for (let value = 1; value <= 256; value += 1)
    starts[value] = (starts[value] as number) + (starts[value - 1] as number);
  const printed = starts[256] as number;
  const order = new Uint32Array(printed);
  for (let i = 0; i < source.length; i += 1) {
    const value = source[i] as number;
    if (value === 0) continue;
    const place = starts[value] as number;
    starts[value] = place + 1;
    order[ascending ? place : printed - 1 - place] = i;
  }
  return order;
}
