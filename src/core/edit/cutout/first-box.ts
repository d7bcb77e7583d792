import type { RgbaRaster } from '../../base/raster.ts';
import type { PixelBox } from '../artwork-edit.ts';
import { ruleScaleOf } from '../similar.ts';

const BORDER_COLOURS = 6;
const PASSES = 3;

/**
 * Guesses where the subject of a picture is: unlike the border's colours, behind barriers from it, near the middle.
 * Source of the barrier distance: J. Zhang et al., "Minimum barrier salient object detection at 80 fps" (2015), by raster scans.
 * @param raster a small copy will do, some 10,000 to 60,000 pixels
 * @returns in pixels of that picture; nearly all of it where nothing stands out
 */
export function guessBox(raster: RgbaRaster): PixelBox {
  const { width, height } = raster;
  const area = width * height;
  const colours = ruleScaleOf(raster);
  const centres = borderColours(colours, width, height);
  const barrier = barrierDistance(colours, width, height);
  const score = new Float32Array(area);
  let mostColour = 1e-6;
  let mostBarrier = 1e-6;
  const unlike = Float32Array.from({ length: area }, (_, i) => {
    const least = Math.min(
      ...centres.map((centre) => {
        let square = 0;
        for (let c = 0; c < 3; c += 1)
          square += ((colours[3 * i + c] as number) - (centre[c] as number)) ** 2;
        return Math.sqrt(square);
      }),
    );
    mostColour = Math.max(mostColour, least);
    mostBarrier = Math.max(mostBarrier, barrier[i] as number);
    return least;
  });
  for (let i = 0; i < area; i += 1) {
    const dx = (i % width) / width - 0.5;
    const dy = Math.floor(i / width) / height - 0.5;
    const middle = Math.exp(-(dx * dx + dy * dy) / (2 * 0.3 * 0.3));
    score[i] =
      ((unlike[i] as number) / mostColour + (barrier[i] as number) / mostBarrier) * 0.5 * middle;
  }
  const limit = otsu(score);
  return boxOf(score, limit, width, height);
}

/** Means of cells of the border, the most different ones. */
function borderColours(colours: Float32Array, width: number, height: number): number[][] {
  const border: number[] = [];
  const rim = Math.max(1, Math.round(Math.min(width, height) / 40));
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1)
      if (x < rim || y < rim || x >= width - rim || y >= height - rim) border.push(y * width + x);
  const at = (i: number): number[] => Array.from(colours.subarray(3 * i, 3 * i + 3));
  const distance = (a: readonly number[], b: readonly number[]): number =>
    a.reduce((sum, one, c) => sum + (one - (b[c] as number)) ** 2, 0);
  const centres = [at(border[0] as number)];
  while (centres.length < BORDER_COLOURS) {
    let [far, most] = [border[0] as number, -1];
    for (const i of border) {
      const least = Math.min(...centres.map((centre) => distance(centre, at(i))));
      if (least > most) [far, most] = [i, least];
    }
    centres.push(at(far));
  }
  for (let round = 0; round < 4; round += 1) {
    const sums = centres.map(() => [0, 0, 0, 0]);
    for (const i of border) {
      const own = at(i);
      let best = 0;
      centres.forEach((centre, k) => {
        if (distance(centre, own) < distance(centres[best] as number[], own)) best = k;
      });
      const sum = sums[best] as number[];
      own.forEach((one, c) => {
        sum[c] = (sum[c] as number) + one;
      });
      sum[3] = (sum[3] as number) + 1;
    }
    sums.forEach((sum, k) => {
      const count = sum[3] as number;
      if (count > 0) centres[k] = sum.slice(0, 3).map((one) => one / count);
    });
  }
  // A few pixels of the subject may touch the border: rare colours are no background.
  return centres.filter((centre) => {
    const own = border.filter((i) =>
      centres.every((other) => distance(centre, at(i)) <= distance(other, at(i))),
    );
    return own.length >= 0.03 * border.length;
  });
}

/** Greatest minus least lightness on the best way from the border. */
function barrierDistance(colours: Float32Array, width: number, height: number): Float32Array {
  const area = width * height;
  const distance = new Float32Array(area).fill(1e9);
  const high = new Float32Array(area);
  const low = new Float32Array(area);
  for (let i = 0; i < area; i += 1) {
    const l = colours[3 * i] as number;
    high[i] = l;
    low[i] = l;
    const x = i % width;
    if (x === 0 || x === width - 1 || i < width || i >= area - width) distance[i] = 0;
  }
  const relax = (i: number, from: number): void => {
    const l = colours[3 * i] as number;
    const [up, down] = [Math.max(high[from] as number, l), Math.min(low[from] as number, l)];
    if (up - down >= (distance[i] as number)) return;
    distance[i] = up - down;
    high[i] = up;
    low[i] = down;
  };
  for (let pass = 0; pass < PASSES; pass += 1) {
    for (let i = width + 1; i < area; i += 1) {
      relax(i, i - width);
      if (i % width !== 0) relax(i, i - 1);
    }
    for (let i = area - width - 2; i >= 0; i -= 1) {
      relax(i, i + width);
      if (i % width !== width - 1) relax(i, i + 1);
    }
  }
  return distance;
}

/** The threshold that parts values best in two. Source: N. Otsu, "A threshold selection method" (1979). */
function otsu(values: Float32Array): number {
  const bins = new Float64Array(128);
  let most = 1e-9;
  for (const one of values) most = Math.max(most, one);
  for (const one of values) {
    const bin = Math.min(127, Math.floor((one / most) * 128));
    bins[bin] = (bins[bin] as number) + 1;
  }
  const all = values.length;
  const total = bins.reduce((sum, count, i) => sum + i * count, 0);
  let [below, sum, best, at] = [0, 0, -1, 64];
  bins.forEach((count, i) => {
    below += count;
    sum += i * count;
    if (below === 0 || below === all) return;
    const gap = sum / below - (total - sum) / (all - below);
    const between = below * (all - below) * gap * gap;
    if (between > best) [best, at] = [between, i];
  });
  return ((at + 1) / 128) * most;
}

/** The box that holds all but the outermost hundredths of what lies above a limit. */
function boxOf(score: Float32Array, limit: number, width: number, height: number): PixelBox {
  const columns = new Float64Array(width);
  const rows = new Float64Array(height);
  let all = 0;
  score.forEach((one, i) => {
    if (one < limit) return;
    columns[i % width] = (columns[i % width] as number) + 1;
    const y = Math.floor(i / width);
    rows[y] = (rows[y] as number) + 1;
    all += 1;
  });
  const ends = (counts: Float64Array): readonly [number, number] => {
    let [first, last, seen] = [0, counts.length - 1, 0];
    while (first < last && (seen += counts[first] as number) < 0.01 * all) first += 1;
    seen = 0;
    while (last > first && (seen += counts[last] as number) < 0.01 * all) last -= 1;
    const margin = Math.ceil(0.03 * counts.length);
    return [Math.max(1, first - margin), Math.min(counts.length - 2, last + margin)];
  };
  const [left, right] = ends(columns);
  const [top, bottom] = ends(rows);
  return { left, top, width: Math.max(1, right - left + 1), height: Math.max(1, bottom - top + 1) };
}
