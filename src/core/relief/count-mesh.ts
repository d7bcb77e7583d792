import type { HeightMap } from '../base/raster.ts';

/** What a relief's files will hold, counted without making any of it. */
export interface MeshCounts {
  /** Corners and triangles of its terraced solid. */
  readonly corners: number;
  readonly triangles: number;
  /** Samples that differ from the one to the left or above: what pictures of it are made of. */
  readonly changes: number;
}

/**
 * Counts the solid that `buildTerraceMesh` makes, exactly, in one pass. A corner of the sample grid is a mesh corner for
 * each different height around it, but for those that a straight edge runs through. A closed surface of V corners and F
 * triangles has F = 2 (V - chi) (Euler 1758, Poincare 1895); this one is two copies of what is printed, joined along its
 * rim, so its chi is twice that of what is printed: grid corners - grid edges + samples.
 * @param heights free of diagonal contacts
 */
export function countMesh({ width, height, data }: HeightMap): MeshCounts {
  let corners = 0;
  let chi = 0;
  let changes = 0;
  for (let j = 0; j <= height; j += 1) {
    const above = (j - 1) * width;
    const below = j * width;
    for (let i = 0; i <= width; i += 1) {
      const hasLeft = i > 0;
      const hasRight = i < width;
      const a = j > 0 && hasLeft ? (data[above + i - 1] as number) : 0;
      const b = j > 0 && hasRight ? (data[above + i] as number) : 0;
      const c = j < height && hasLeft ? (data[below + i - 1] as number) : 0;
      const d = j < height && hasRight ? (data[below + i] as number) : 0;
      if (hasRight && j < height && (d !== c || d !== b)) changes += 1;
      if ((a | b | c | d) === 0) continue;
      // The grid corner itself, the edges to its right and below it, and the sample between them.
      chi += 1 - ((b | d) === 0 ? 0 : 1) - ((c | d) === 0 ? 0 : 1) + (d === 0 ? 0 : 1);
      if (a === b && c === d) continue;
      corners +=
        1 +
        (b === a ? 0 : 1) +
        (c === a || c === b ? 0 : 1) +
        (d === a || d === b || d === c ? 0 : 1);
    }
  }
  return { corners, triangles: 2 * (corners - 2 * chi), changes };
}

/**
 * Corners of the outlines of everything at least n layers tall, for each n from 1 (element n): where exactly one or exactly
 * three of the four samples around a grid corner are as tall.
 */
export function countOutlineCorners({ width, height, data }: HeightMap): Uint32Array {
  const counts = new Uint32Array(257);
  const around = [0, 0, 0, 0];
  for (let j = 0; j <= height; j += 1)
    for (let i = 0; i <= width; i += 1) {
      let same = true;
      for (let k = 0; k < 4; k += 1) {
        const x = i - 1 + (k & 1);
        const y = j - 1 + (k >> 1);
        const inside = x >= 0 && x < width && y >= 0 && y < height;
        around[k] = inside ? (data[y * width + x] as number) : 0;
        same &&= around[k] === around[0];
      }
      if (same) continue;
      const [low = 0, second = 0, third = 0, high = 0] = [...around].sort((p, q) => p - q);
      for (let level = low + 1; level <= second; level += 1)
        counts[level] = (counts[level] as number) + 1;
      for (let level = third + 1; level <= high; level += 1)
        counts[level] = (counts[level] as number) + 1;
    }
  return counts;
}
