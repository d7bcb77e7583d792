import type { Ring } from './rings.ts';

/** A rectangle: left, right, low, high. */
type Extent = readonly [number, number, number, number];

/** Does a border of some rings meet one of others? Lines that only touch count. */
export function bordersCross(rings: readonly Ring[], others: readonly Ring[]): boolean {
  const extents = rings.map(extent);
  for (const other of others) {
    const [left, right, low, high] = extent(other);
    for (const [i, ring] of rings.entries()) {
      const [l, r, b, t] = extents[i] as Extent;
      if (r < left || l > right || t < low || b > high) continue;
      // Only lines within what both take up can meet: of a letter within a rim there are none.
      const shared: Extent = [
        Math.max(left, l),
        Math.min(right, r),
        Math.max(low, b),
        Math.min(high, t),
      ];
      const own = linesWithin(ring, shared);
      if (own.length > 0 && meet(own, linesWithin(other, shared))) return true;
    }
  }
  return false;
}

/** The lines of a ring that come into a rectangle: four numbers each. */
function linesWithin(ring: Ring, [left, right, low, high]: Extent): number[] {
  const lines: number[] = [];
  let ax = ring.at(-2) as number;
  let ay = ring.at(-1) as number;
  for (let n = 0; n < ring.length; n += 2) {
    const bx = ring[n] as number;
    const by = ring[n + 1] as number;
    if (
      !(ax < left && bx < left) &&
      !(ax > right && bx > right) &&
      !(ay < low && by < low) &&
      !(ay > high && by > high)
    )
      lines.push(ax, ay, bx, by);
    ax = bx;
    ay = by;
  }
  return lines;
}

function meet(lines: readonly number[], others: readonly number[]): boolean {
  for (let n = 0; n < lines.length; n += 4) {
    const [ax, ay, bx, by] = lines.slice(n, n + 4) as [number, number, number, number];
    for (let k = 0; k < others.length; k += 4) {
      const [cx, cy, dx, dy] = [
        others[k] as number,
        others[k + 1] as number,
        others[k + 2] as number,
        others[k + 3] as number,
      ];
      if (Math.max(cx, dx) < Math.min(ax, bx) || Math.min(cx, dx) > Math.max(ax, bx)) continue;
      if (Math.max(cy, dy) < Math.min(ay, by) || Math.min(cy, dy) > Math.max(ay, by)) continue;
      const c = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
      const d = (bx - ax) * (dy - ay) - (by - ay) * (dx - ax);
      const a = (dx - cx) * (ay - cy) - (dy - cy) * (ax - cx);
      const b = (dx - cx) * (by - cy) - (dy - cy) * (bx - cx);
      if (c === 0 || d === 0 || a === 0 || b === 0) return true;
      if (c > 0 !== d > 0 && a > 0 !== b > 0) return true;
    }
  }
  return false;
}

function extent(ring: Ring): Extent {
  let [left, right, low, high] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let n = 0; n < ring.length; n += 2) {
    const [x, y] = [ring[n] as number, ring[n + 1] as number];
    if (x < left) left = x;
    if (x > right) right = x;
    if (y < low) low = y;
    if (y > high) high = y;
  }
  return [left, right, low, high];
}

/** Does the first corner of a ring lie in what others enclose? By the number of borders on its right. */
export function holds(rings: readonly Ring[], [x = 0, y = 0]: Ring): boolean {
  let inside = false;
  for (const ring of rings) {
    let cx = ring.at(-2) as number;
    let cy = ring.at(-1) as number;
    for (let n = 0; n < ring.length; n += 2) {
      const [dx, dy] = [ring[n] as number, ring[n + 1] as number];
      if (cy > y !== dy > y && x < cx + ((dx - cx) * (y - cy)) / (dy - cy)) inside = !inside;
      cx = dx;
      cy = dy;
    }
  }
  return inside;
}
