import type { HeightMap } from '../base/raster.ts';

/** A closed outline: column and row of each corner of the sample grid at which it turns, one after the other. */
export type Outline = readonly number[];

/** Steps along x and y of the four directions: right, down, left, up the picture. */
const STEPS_X = [1, 0, -1, 0];
const STEPS_Y = [0, 1, 0, -1];

/**
 * The outlines of everything at least `level` layers tall, along the edges of samples: outer ones clockwise as seen in the
 * picture, holes the other way. The map must be free of diagonal contacts, so that at every corner it is clear where an
 * outline goes on (see `partDiagonals`).
 */
export function traceOutlines({ width, height, data }: HeightMap, level: number): Outline[] {
  const columns = width + 1;
  // Direction in which the outline leaves each corner, plus one; 0 where none does. What is tall lies on its right hand.
  const leaves = new Uint8Array(columns * (height + 1));
  const tall = (x: number, y: number): boolean =>
    x >= 0 && x < width && y >= 0 && y < height && (data[y * width + x] as number) >= level;
  for (let y = 0; y <= height; y += 1)
    for (let x = 0; x <= width; x += 1) {
      const here = tall(x, y);
      if (x < width && here !== tall(x, y - 1)) {
        if (here) leaves[y * columns + x] = 1;
        else leaves[y * columns + x + 1] = 3;
      }
      if (y < height && here !== tall(x - 1, y)) {
        if (here) leaves[(y + 1) * columns + x] = 4;
        else leaves[y * columns + x] = 2;
      }
    }
  const outlines: Outline[] = [];
  for (let start = 0; start < leaves.length; start += 1) {
    if (leaves[start] === 0) continue;
    const corners: number[] = [];
    let at = start;
    let before = 0;
    for (let next = leaves[at] as number; next !== 0; next = leaves[at] as number) {
      if (next !== before) corners.push(at % columns, Math.floor(at / columns));
      leaves[at] = 0;
      at += (STEPS_X[next - 1] as number) + (STEPS_Y[next - 1] as number) * columns;
      before = next;
    }
    outlines.push(corners);
  }
  return outlines;
}

/** Area within outlines in samples: holes count against it. By the shoelace formula (A. L. F. Meister, 1769). */
export function outlineArea(outlines: readonly Outline[]): number {
  let twice = 0;
  for (const corners of outlines)
    for (let i = 0; i < corners.length; i += 2) {
      const next = (i + 2) % corners.length;
      twice +=
        (corners[i] as number) * (corners[next + 1] as number) -
        (corners[next] as number) * (corners[i + 1] as number);
    }
  return twice / 2;
}
