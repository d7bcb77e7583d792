/** Ends of neighbouring rows that are this many lines apart, or less, are joined. */
const JOIN_LINES = 2.5;
/** Rows shorter than this many lines are left to the lines that fill gaps. */
const LEAST_LINES = 0.3;

/** A row within an outline, in coordinates along and across the rows. */
interface Stretch {
  readonly row: number;
  readonly from: number;
  readonly to: number;
  joined: boolean;
}

/**
 * Straight rows within outlines, on one grid for the whole piece, joined to longer lines where their ends are close.
 * @param inner outlines that the middle of a row stays within, mm
 * @param degrees direction of the rows, counter-clockwise from x
 * @param isInside whether a place may be drawn over, for the joints
 * @returns lines of corners, mm
 */
export function rowsWithin(
  inner: readonly Float64Array[],
  lineMm: number,
  degrees: number,
  isInside: (x: number, y: number) => boolean,
): Float64Array[] {
  const cos = Math.cos((degrees * Math.PI) / 180);
  const sin = Math.sin((degrees * Math.PI) / 180);
  const rows = crossings(inner, lineMm, cos, sin);
  const joinMm = JOIN_LINES * lineMm;
  const stretches = new Map<number, Stretch[]>();
  for (const [row, ends] of rows) {
    ends.sort((a, b) => a - b);
    const own: Stretch[] = [];
    for (let n = 0; n + 1 < ends.length; n += 2) {
      const from = ends[n] as number;
      const to = ends[n + 1] as number;
      if (to - from >= LEAST_LINES * lineMm) own.push({ row, from, to, joined: false });
    }
    if (own.length > 0) stretches.set(row, own);
  }
  const lines: Float64Array[] = [];
  for (const row of [...stretches.keys()].sort((a, b) => a - b))
    for (const first of stretches.get(row) ?? []) {
      if (first.joined) continue;
      first.joined = true;
      // Along a chain every other row runs back.
      const chain = [first.from, (first.row + 0.5) * lineMm, first.to, (first.row + 0.5) * lineMm];
      let end = first.to;
      let atRow = first.row;
      for (;;) {
        const v = (atRow + 0.5) * lineMm;
        const next = nearest(stretches.get(atRow + 1) ?? [], end);
        if (!next) break;
        const [near, far] =
          Math.abs(next.from - end) <= Math.abs(next.to - end)
            ? [next.from, next.to]
            : [next.to, next.from];
        if (Math.hypot(near - end, lineMm) > joinMm) break;
        const clear = [0.25, 0.5, 0.75].every((share) => {
          const u = end + share * (near - end);
          const across = v + share * lineMm;
          return isInside(u * cos - across * sin, u * sin + across * cos);
        });
        if (!clear) break;
        next.joined = true;
        chain.push(near, v + lineMm, far, v + lineMm);
        end = far;
        atRow += 1;
      }
      const line = new Float64Array(chain.length);
      for (let n = 0; n < chain.length; n += 2) {
        const u = chain[n] as number;
        const v = chain[n + 1] as number;
        line[n] = u * cos - v * sin;
        line[n + 1] = u * sin + v * cos;
      }
      lines.push(line);
    }
  return lines;
}

/** The stretch of a row that is free and has an end nearest to a place. */
function nearest(row: readonly Stretch[], end: number): Stretch | null {
  let best: Stretch | null = null;
  let least = Infinity;
  for (const one of row) {
    if (one.joined) continue;
    const distance = Math.min(Math.abs(one.from - end), Math.abs(one.to - end));
    if (distance < least) {
      least = distance;
      best = one;
    }
  }
  return best;
}

/** Where outlines cross the middles of the rows: places along each row, an even number of them. */
function crossings(
  inner: readonly Float64Array[],
  lineMm: number,
  cos: number,
  sin: number,
): Map<number, number[]> {
  const rows = new Map<number, number[]>();
  for (const line of inner) {
    const count = line.length / 2;
    let before = count - 1;
    for (let n = 0; n < count; before = n, n += 1) {
      const x0 = line[2 * before] as number;
      const y0 = line[2 * before + 1] as number;
      const x1 = line[2 * n] as number;
      const y1 = line[2 * n + 1] as number;
      const u0 = x0 * cos + y0 * sin;
      const u1 = x1 * cos + y1 * sin;
      const v0 = (y0 * cos - x0 * sin) / lineMm - 0.5;
      const v1 = (y1 * cos - x1 * sin) / lineMm - 0.5;
      // A corner on a row belongs to the side above it alone.
      const first = Math.ceil(Math.min(v0, v1));
      const last = Math.ceil(Math.max(v0, v1)) - 1;
      for (let row = first; row <= last; row += 1) {
        const u = u0 + ((row - v0) / (v1 - v0)) * (u1 - u0);
        const own = rows.get(row);
        if (own) own.push(u);
        else rows.set(row, [u]);
      }
    }
  }
  return rows;
}
