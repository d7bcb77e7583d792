import type { HeightMap } from '../base/raster.ts';
import type { CalmInput } from './calm.ts';

/**
 * Keeps small details by price: a spot that is higher, or lower, than all that is around it and too small to be printed is grown
 * to one nozzle where that costs less than to level it. What costs less to level is left for `withoutIslands`, and what hangs at
 * the rim of the print grows as far as there is print.
 * @param input heights with the costs of their classes
 * @param side of what can be printed, samples; spots of fewer than its square are too small
 */
export function growDetails(input: CalmInput, side: number): HeightMap {
  const { width, height, data: source } = input.heights;
  const least = side * side;
  if (least <= 1) return input.heights;
  const data = source.slice();
  const { classes, costs, layers } = input;
  const stride = layers + 1;
  const costOf = (i: number, layer: number): number =>
    costs[(classes[i] as number) * stride + layer] as number;
  const seen = new Uint8Array(source.length);
  const stack: number[] = [];
  for (let start = 0; start < source.length; start += 1) {
    if (seen[start] === 1) continue;
    seen[start] = 1;
    const own = source[start] as number;
    if (own === 0) continue;
    // One level part of the relief, and what is beside it.
    const spot: number[] = [];
    let size = 0;
    let below = 0;
    let above = 256;
    stack.push(start);
    while (stack.length > 0) {
      const i = stack.pop() as number;
      size += 1;
      if (size < least) spot.push(i);
      const x = i % width;
      for (let turn = 0; turn < 4; turn += 1) {
        if (turn === 0 ? x === 0 : turn === 1 ? x + 1 === width : false) continue;
        const beside = turn === 0 ? i - 1 : turn === 1 ? i + 1 : turn === 2 ? i - width : i + width;
        if (beside < 0 || beside >= source.length) continue;
        const other = source[beside] as number;
        if (other === own) {
          if (seen[beside] === 1) continue;
          seen[beside] = 1;
          stack.push(beside);
        } else if (other === 0) continue;
        else if (other < own) below = Math.max(below, other);
        else above = Math.min(above, other);
      }
    }
    if (size >= least) continue;
    const isPeak = below > 0 && above === 256;
    const isPit = below === 0 && above < 256;
    if (!isPeak && !isPit) continue;
    const level = isPeak ? below : above;
    let levelled = 0;
    for (const i of spot) levelled += costOf(i, level) - costOf(i, own);
    const grown = squareOver(spot, width, height, side).filter((i) => {
      const there = data[i] as number;
      return there !== 0 && (isPeak ? there < own : there > own);
    });
    let price = 0;
    for (const i of grown) price += costOf(i, own) - costOf(i, data[i] as number);
    if (!(price < levelled)) continue;
    for (const i of grown) data[i] = own;
  }
  return { width, height, data };
}

/** Samples of a square around the middle of a spot, moved into the picture where it would reach beyond. */
function squareOver(
  spot: readonly number[],
  width: number,
  height: number,
  side: number,
): number[] {
  let sumX = 0;
  let sumY = 0;
  for (const i of spot) {
    sumX += i % width;
    sumY += Math.floor(i / width);
  }
  const begin = (sum: number, length: number): number =>
    Math.max(0, Math.min(length - side, Math.round(sum / spot.length - (side - 1) / 2)));
  const left = begin(sumX, width);
  const top = begin(sumY, height);
  const samples: number[] = [];
  for (let y = top; y < Math.min(height, top + side); y += 1)
    for (let x = left; x < Math.min(width, left + side); x += 1) samples.push(y * width + x);
  return samples;
}
