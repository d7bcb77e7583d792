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
 * Visits the cells whose middles a laid line covers: all that lie within half its width of the way, ends round.
 * @param radiusMm half the width of the line
 * @param visit is told a row and its first and last column
 */
export function coverLine(
  grid: CellGrid,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  radiusMm: number,
  visit: (row: number, from: number, to: number) => void,
): void {
  const { width, height, cellMm, leftMm, backMm } = grid;
  const top = Math.max(y0, y1) + radiusMm;
  const bottom = Math.min(y0, y1) - radiusMm;
  const firstRow = Math.max(0, Math.ceil((backMm - top) / cellMm - 0.5));
  const lastRow = Math.min(height - 1, Math.floor((backMm - bottom) / cellMm - 0.5));
  const dx = x1 - x0;
  const dy = y1 - y0;
  const length = Math.hypot(dx, dy);
  const nx = length > 0 ? (-dy / length) * radiusMm : 0;
  const ny = length > 0 ? (dx / length) * radiusMm : 0;
  for (let row = firstRow; row <= lastRow; row += 1) {
    const y = backMm - (row + 0.5) * cellMm;
    // The covered shape is convex: each row has one stretch, and its ends lie on a round end or on a long side.
    let least = Infinity;
    let most = -Infinity;
    const d0 = y - y0;
    if (Math.abs(d0) <= radiusMm) {
      const half = Math.sqrt(radiusMm * radiusMm - d0 * d0);
      least = Math.min(least, x0 - half);
      most = Math.max(most, x0 + half);
    }
    const d1 = y - y1;
    if (Math.abs(d1) <= radiusMm) {
      const half = Math.sqrt(radiusMm * radiusMm - d1 * d1);
      least = Math.min(least, x1 - half);
      most = Math.max(most, x1 + half);
    }
    if (dy !== 0)
      for (let side = -1; side <= 1; side += 2) {
        const along = (y - (y0 + side * ny)) / dy;
        if (along < 0 || along > 1) continue;
        const x = x0 + side * nx + along * dx;
        least = Math.min(least, x);
        most = Math.max(most, x);
      }
    if (least > most) continue;
    const from = Math.max(0, Math.ceil((least - leftMm) / cellMm - 0.5));
    const to = Math.min(width - 1, Math.floor((most - leftMm) / cellMm - 0.5));
    if (from <= to) visit(row, from, to);
  }
}
