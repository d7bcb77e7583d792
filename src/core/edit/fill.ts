/** Pixels that are filled to a share, 0..255. */
export interface FillTarget {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

/** Lines a pixel is looked at on, so that slanted sides come out smooth. */
const LINES = 4;

/**
 * Fills a polygon (even-odd), with the covered share of each pixel.
 * @param points x and y in turn, in pixels of the target
 */
export function fillPolygon({ width, height, data }: FillTarget, points: readonly number[]): void {
  const count = Math.floor(points.length / 2);
  if (count < 3) return;
  const ys = points.filter((_, i) => i % 2 === 1);
  const top = Math.max(0, Math.floor(Math.min(...ys)));
  const bottom = Math.min(height - 1, Math.floor(Math.max(...ys)));
  const row = new Float32Array(width);
  for (let y = top; y <= bottom; y += 1) {
    row.fill(0);
    for (let line = 0; line < LINES; line += 1) {
      const at = y + (line + 0.5) / LINES;
      const crossings: number[] = [];
      for (let i = 0; i < count; i += 1) {
        const k = (i + 1) % count;
        const [x0, y0] = [points[2 * i] as number, points[2 * i + 1] as number];
        const [x1, y1] = [points[2 * k] as number, points[2 * k + 1] as number];
        if (y0 <= at === y1 <= at) continue;
        crossings.push(x0 + ((at - y0) / (y1 - y0)) * (x1 - x0));
      }
      crossings.sort((a, b) => a - b);
      for (let i = 0; i + 1 < crossings.length; i += 2)
        addSpan(row, crossings[i] as number, crossings[i + 1] as number, 1 / LINES);
    }
    for (let x = 0; x < width; x += 1) {
      const share = Math.round(255 * Math.min(1, row[x] as number));
      const i = y * width + x;
      if (share > (data[i] as number)) data[i] = share;
    }
  }
}

/** Adds the covered share of a span to the pixels of a row. */
function addSpan(row: Float32Array, from: number, to: number, weight: number): void {
  const left = Math.max(0, from);
  const right = Math.min(row.length, to);
  for (let x = Math.floor(left); x < right; x += 1)
    row[x] = (row[x] as number) + weight * (Math.min(right, x + 1) - Math.max(left, x));
}

/**
 * Fills all within a radius of a line, with a border one pixel soft.
 * @param points x and y in turn, in pixels of the target
 */
export function fillLine(
  { width, height, data }: FillTarget,
  points: readonly number[],
  radius: number,
): void {
  const count = Math.floor(points.length / 2);
  for (let i = 0; i < count; i += 1) {
    const from = Math.max(0, i - 1);
    const [x0, y0] = [points[2 * from] as number, points[2 * from + 1] as number];
    const [x1, y1] = [points[2 * i] as number, points[2 * i + 1] as number];
    const [dx, dy] = [x1 - x0, y1 - y0];
    const square = dx * dx + dy * dy;
    const reach = radius + 0.5;
    const left = Math.max(0, Math.floor(Math.min(x0, x1) - reach));
    const right = Math.min(width - 1, Math.ceil(Math.max(x0, x1) + reach));
    const top = Math.max(0, Math.floor(Math.min(y0, y1) - reach));
    const bottom = Math.min(height - 1, Math.ceil(Math.max(y0, y1) + reach));
    for (let y = top; y <= bottom; y += 1)
      for (let x = left; x <= right; x += 1) {
        const [px, py] = [x + 0.5 - x0, y + 0.5 - y0];
        const along = square === 0 ? 0 : Math.min(1, Math.max(0, (px * dx + py * dy) / square));
        const off = Math.hypot(px - along * dx, py - along * dy);
        const share = Math.round(255 * Math.min(1, Math.max(0, radius - off + 0.5)));
        const at = y * width + x;
        if (share > (data[at] as number)) data[at] = share;
      }
  }
}
