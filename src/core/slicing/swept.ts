/** A grid of small cells over the picture, fine enough to see what a line leaves open. */
export interface CellGrid {
  readonly width: number;
  readonly height: number;
  /** Side of a cell, mm. */
  readonly cellMm: number;
}

/**
 * Sets the cells whose middle lies within half a line of the ways of a nozzle.
 * @param points x and y of corners, mm
 */
export function sweep(
  cells: Uint8Array,
  grid: CellGrid,
  {
    points,
    closed,
    widthMm,
  }: { readonly points: Float64Array; readonly closed: boolean; readonly widthMm: number },
  value: number,
): void {
  const count = points.length / 2;
  const { cellMm } = grid;
  const reach = widthMm / 2 / cellMm + 1e-6;
  const at = (n: number): number => (points[n] as number) / cellMm - 0.5;
  if (count === 1) sweepOne(cells, grid, at(0), at(1), at(0), at(1), reach, value);
  for (let n = 1; n < count; n += 1)
    sweepOne(cells, grid, at(2 * n - 2), at(2 * n - 1), at(2 * n), at(2 * n + 1), reach, value);
  if (closed && count > 1)
    sweepOne(cells, grid, at(2 * count - 2), at(2 * count - 1), at(0), at(1), reach, value);
}

/** One straight way, in cells; a cell's middle is a whole number. */
function sweepOne(
  cells: Uint8Array,
  { width, height }: CellGrid,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  reach: number,
  value: number,
): void {
  const length = Math.hypot(x1 - x0, y1 - y0);
  const ux = length > 0 ? (x1 - x0) / length : 1;
  const uy = length > 0 ? (y1 - y0) / length : 0;
  const first = Math.max(0, Math.ceil(Math.min(y0, y1) - reach));
  const last = Math.min(height - 1, Math.floor(Math.max(y0, y1) + reach));
  for (let y = first; y <= last; y += 1) {
    let from = Infinity;
    let to = -Infinity;
    const a = y - y0;
    const b = y - y1;
    // The round ends.
    if (a <= reach && a >= -reach) {
      const half = Math.sqrt(reach * reach - a * a);
      from = x0 - half;
      to = x0 + half;
    }
    if (b <= reach && b >= -reach) {
      const half = Math.sqrt(reach * reach - b * b);
      from = Math.min(from, x1 - half);
      to = Math.max(to, x1 + half);
    }
    // And what lies between: within the reach across the way, and between its ends along it.
    let low = -Infinity;
    let high = Infinity;
    if (uy > 1e-12 || uy < -1e-12) {
      const middle = x0 + (a * ux) / uy;
      const half = reach / Math.abs(uy);
      low = middle - half;
      high = middle + half;
    } else if (a > reach || a < -reach) high = -Infinity;
    if (ux > 1e-12) {
      low = Math.max(low, x0 - (a * uy) / ux);
      high = Math.min(high, x0 + (length - a * uy) / ux);
    } else if (ux < -1e-12) {
      low = Math.max(low, x0 + (length - a * uy) / ux);
      high = Math.min(high, x0 - (a * uy) / ux);
    } else if (a * uy < 0 || a * uy > length) high = -Infinity;
    if (low <= high) {
      from = Math.min(from, low);
      to = Math.max(to, high);
    }
    const begin = Math.max(0, Math.ceil(from));
    const end = Math.min(width - 1, Math.floor(to));
    if (begin <= end) cells.fill(value, y * width + begin, y * width + end + 1);
  }
}

/** Sets the cells whose middle lies inside closed lines: where an odd number of them is crossed on the way there. */
export function fillInside(
  cells: Uint8Array,
  { width, height, cellMm }: CellGrid,
  lines: readonly { readonly points: Float64Array }[],
  value: number,
): void {
  const rows: number[][] = Array.from({ length: height }, () => []);
  for (const { points } of lines) {
    const count = points.length / 2;
    for (let n = 0, before = count - 1; n < count; before = n, n += 1) {
      const x0 = (points[2 * before] as number) / cellMm - 0.5;
      const y0 = (points[2 * before + 1] as number) / cellMm - 0.5;
      const x1 = (points[2 * n] as number) / cellMm - 0.5;
      const y1 = (points[2 * n + 1] as number) / cellMm - 0.5;
      const last = Math.min(height, Math.ceil(Math.max(y0, y1)));
      for (let y = Math.max(0, Math.ceil(Math.min(y0, y1))); y < last; y += 1)
        rows[y]?.push(x0 + ((y - y0) / (y1 - y0)) * (x1 - x0));
    }
  }
  rows.forEach((ends, y) => {
    ends.sort((a, b) => a - b);
    for (let n = 0; n + 1 < ends.length; n += 2) {
      const begin = Math.max(0, Math.ceil(ends[n] as number));
      const end = Math.min(width, Math.floor(ends[n + 1] as number) + 1);
      if (begin < end) cells.fill(value, y * width + begin, y * width + end);
    }
  });
}
