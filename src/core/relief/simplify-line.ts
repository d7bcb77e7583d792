/**
 * An open line with as few corners as a tolerance allows (D. H. Douglas, T. K. Peucker, Cartographica 10 (1973)).
 * @param line x and y of each corner
 * @param tolerance how far a corner that is left out may lie from the straight line, in the unit of the corners
 */
export function simplifyLine(line: Float64Array, tolerance: number): Float64Array {
  const count = line.length / 2;
  const keep = new Uint8Array(count);
  keep[0] = 1;
  keep[count - 1] = 1;
  thin(line, 0, count - 1, tolerance, keep);
  return picked(line, keep);
}

/**
 * The same for a closed line, parted at its first corner and the one farthest from it. One that would keep fewer than three
 * corners stays as it is.
 */
export function simplifyClosed(line: Float64Array, tolerance: number): Float64Array {
  const count = line.length / 2;
  const keep = new Uint8Array(count);
  keep[0] = 1;
  let far = 0;
  let most = -1;
  for (let n = 1; n < count; n += 1) {
    const distance = Math.hypot(
      (line[2 * n] as number) - (line[0] as number),
      (line[2 * n + 1] as number) - (line[1] as number),
    );
    if (distance > most) {
      most = distance;
      far = n;
    }
  }
  keep[far] = 1;
  thin(line, 0, far, tolerance, keep);
  thin(line, far, count, tolerance, keep);
  const simple = picked(line, keep);
  return simple.length < 6 ? line : simple;
}

/** Marks the points between two that are farther from the straight line than the tolerance. `to` may be one past the end. */
function thin(
  line: Float64Array,
  from: number,
  to: number,
  tolerance: number,
  keep: Uint8Array,
): void {
  const count = line.length / 2;
  const waiting = [from, to];
  while (waiting.length > 0) {
    const last = waiting.pop() as number;
    const first = waiting.pop() as number;
    const end = last % count;
    const ax = line[2 * first] as number;
    const ay = line[2 * first + 1] as number;
    const dx = (line[2 * end] as number) - ax;
    const dy = (line[2 * end + 1] as number) - ay;
    const square = dx * dx + dy * dy;
    let worst = -1;
    let most = tolerance;
    for (let n = first + 1; n < last; n += 1) {
      const px = (line[2 * n] as number) - ax;
      const py = (line[2 * n + 1] as number) - ay;
      const along = square === 0 ? 0 : Math.max(0, Math.min(1, (px * dx + py * dy) / square));
      const distance = Math.hypot(px - along * dx, py - along * dy);
      if (distance > most + 1e-12) {
        most = distance;
        worst = n;
      }
    }
    if (worst < 0) continue;
    keep[worst] = 1;
    waiting.push(first, worst, worst, last);
  }
}

function picked(line: Float64Array, keep: Uint8Array): Float64Array {
  const out: number[] = [];
  for (let n = 0; n < keep.length; n += 1)
    if (keep[n] === 1) out.push(line[2 * n] as number, line[2 * n + 1] as number);
  return Float64Array.from(out);
}
