/** A grid of cells over a part of the plate. Row 0 is the one at the back, so it is drawn as it is seen from the front. */
export interface CellGrid {
  readonly width: number;
  readonly height: number;
  readonly cellMm: number;
  /** Left and back edge, mm. */
  readonly leftMm: number;
  readonly backMm: number;
}

/**
 * Covers the cells whose middles a laid line goes over: all that lie within half its width of the way, ends round. Those that are covered
 * already stay as they are.
 * @param radiusMm half the width of the line
 * @param cells one value for each, row by row; 0 where nothing lies
 * @param value what the line leaves there, above 0
 */
export function coverLine(
  { width, height, cellMm, leftMm, backMm }: CellGrid,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  radiusMm: number,
  cells: Uint32Array,
  value: number,
): void {
  // In cells from the middle of the first one, rows to the front.
  const scale = 1 / cellMm;
  const r = radiusMm * scale;
  const ax = (x0 - leftMm) * scale - 0.5;
  const bx = (x1 - leftMm) * scale - 0.5;
  const ay = (backMm - y0) * scale - 0.5;
  const by = (backMm - y1) * scale - 0.5;
  const dx = bx - ax;
  const dy = by - ay;
  const length = Math.sqrt(dx * dx + dy * dy);
  const nx = length > 0 ? (-dy / length) * r : 0;
  const ny = length > 0 ? (dx / length) * r : 0;
  const slope = dy === 0 ? 0 : 1 / dy;
  const firstRow = Math.max(0, Math.ceil(Math.min(ay, by) - r));
  const lastRow = Math.min(height - 1, Math.floor(Math.max(ay, by) + r));
  for (let row = firstRow; row <= lastRow; row += 1) {
    // The covered shape is convex: each row has one stretch, and its ends lie on a round end or on a long side.
    let least = Infinity;
    let most = -Infinity;
    const da = row - ay;
    if (da <= r && da >= -r) {
      const half = Math.sqrt(r * r - da * da);
      least = ax - half;
      most = ax + half;
    }
    const db = row - by;
    if (db <= r && db >= -r) {
      const half = Math.sqrt(r * r - db * db);
      if (bx - half < least) least = bx - half;
      if (bx + half > most) most = bx + half;
    }
    if (slope !== 0) {
      const one = (da - ny) * slope;
      if (one >= 0 && one <= 1) {
        const x = ax + nx + one * dx;
        if (x < least) least = x;
        if (x > most) most = x;
      }
      const other = (da + ny) * slope;
      if (other >= 0 && other <= 1) {
        const x = ax - nx + other * dx;
        if (x < least) least = x;
        if (x > most) most = x;
      }
    }
    if (least > most) continue;
    const from = row * width + Math.max(0, Math.ceil(least));
    const to = row * width + Math.min(width - 1, Math.floor(most));
    for (let i = from; i <= to; i += 1) if (cells[i] === 0) cells[i] = value;
  }
}
