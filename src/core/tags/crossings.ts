import type { Contour } from './rings.ts';

/** Cells of the grid along its longer side at most. */
const MOST_CELLS = 512;

/**
 * How often lines cross themselves and each other, counted no further than `most`: segments that share a cell of a grid are
 * tried, and a pair counts in the cell where it crosses. Ends that touch are no crossing.
 * @param contours closed lines in one unit
 * @returns 0..`most`; `most` means that many or more
 */
export function countCrossings(contours: readonly Contour[], most: number): number {
  const from: number[] = [];
  for (const line of contours)
    for (let n = 0; n < line.length; n += 2) {
      const next = (n + 2) % line.length;
      from.push(
        line[n] as number,
        line[n + 1] as number,
        line[next] as number,
        line[next + 1] as number,
      );
    }
  const at = Float64Array.from(from);
  const count = at.length / 4;
  let [left, right, low, high] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < at.length; i += 2) {
    left = Math.min(left, at[i] as number);
    right = Math.max(right, at[i] as number);
    low = Math.min(low, at[i + 1] as number);
    high = Math.max(high, at[i + 1] as number);
  }
  const side = Math.max(right - left, high - low);
  if (!(side > 0)) return 0;
  const cells = Math.min(MOST_CELLS, Math.max(1, Math.ceil(Math.sqrt(count))));
  const size = (1.000001 * side) / cells;
  const heads = new Int32Array(cells * cells).fill(-1);
  /** Segment and the next entry of its cell, in turn. */
  const entries: number[] = [];
  let crossings = 0;
  for (let i = 0; i < count; i += 1) {
    const [x0, y0] = [at[4 * i] as number, at[4 * i + 1] as number];
    const [x1, y1] = [at[4 * i + 2] as number, at[4 * i + 3] as number];
    const down = Math.min(y0, y1);
    const up = Math.max(y0, y1);
    const lastRow = Math.floor((up - low) / size);
    for (let row = Math.floor((down - low) / size); row <= lastRow; row += 1) {
      // What of the segment lies in this row of cells.
      const [bottom, top] = [low + row * size, low + (row + 1) * size];
      const along = (y: number): number => (y1 === y0 ? 0 : (y - y0) / (y1 - y0));
      const flat = up - down < 1e-12 * side;
      const xa = flat ? x0 : x0 + (x1 - x0) * along(Math.max(down, bottom));
      const xb = flat ? x1 : x0 + (x1 - x0) * along(Math.min(up, top));
      const first = Math.max(0, Math.floor((Math.min(xa, xb) - left) / size));
      const last = Math.min(cells - 1, Math.floor((Math.max(xa, xb) - left) / size));
      for (let column = first; column <= last; column += 1) {
        const cell = row * cells + column;
        for (let e = heads[cell] as number; e >= 0; e = entries[e + 1] as number) {
          const j = entries[e] as number;
          const where = crossingOf(at, i, j);
          if (!where) continue;
          // The pair meets in other cells too: it counts in the one where it crosses.
          const own =
            Math.floor((where[1] - low) / size) === row &&
            Math.floor((where[0] - left) / size) === column;
          if (own && (crossings += 1) >= most) return most;
        }
        entries.push(i, heads[cell] as number);
        heads[cell] = entries.length - 2;
      }
    }
  }
  return crossings;
}

/** Where two segments properly cross; undefined where they do not, or only touch. */
function crossingOf(at: Float64Array, i: number, j: number): readonly [number, number] | undefined {
  const [ax, ay] = [at[4 * i] as number, at[4 * i + 1] as number];
  const [bx, by] = [at[4 * i + 2] as number, at[4 * i + 3] as number];
  const [cx, cy] = [at[4 * j] as number, at[4 * j + 1] as number];
  const [dx, dy] = [at[4 * j + 2] as number, at[4 * j + 3] as number];
  const turn = (bx - ax) * (dy - cy) - (by - ay) * (dx - cx);
  if (turn === 0) return undefined;
  const s = ((cx - ax) * (dy - cy) - (cy - ay) * (dx - cx)) / turn;
  const t = ((cx - ax) * (by - ay) - (cy - ay) * (bx - ax)) / turn;
  return s > 0 && s < 1 && t > 0 && t < 1 ? [ax + s * (bx - ax), ay + s * (by - ay)] : undefined;
}
