import type { HeightMap } from '../base/raster.ts';

/** A height map whose solid has clean edges, and how many samples had to be raised or lowered for it. */
export interface PartedHeights {
  readonly heights: HeightMap;
  readonly raisedSamples: number;
  readonly loweredSamples: number;
}

/** What heights cost the samples of a picture; see `CalmInput`. */
export interface HeightPrices {
  /** Class of each sample; beyond the last one where it is cut away. */
  readonly classes: Uint32Array | Uint16Array;
  /** Price of each height for each class, `layers + 1` numbers a class. */
  readonly costs: Float32Array;
  readonly layers: number;
  /** Heights as the rule has them: what a border or a plate made of a sample is not the picture's, and is never lowered. */
  readonly own: HeightMap;
  /** Nothing is lowered below this. */
  readonly leastLayers: number;
}

/** Price of raising what is not the picture's own, CIEDE2000 a layer: a spot of another colour in a plain border. Set by eye. */
const FOREIGN_PRICE = 1;

/**
 * Where two samples touch only diagonally above their neighbours, four wall faces would share one edge and the solid
 * would not be well formed. Either the higher of the two neighbours is raised to the lower of the two samples (a cut-away
 * neighbour thereby gets printed), or that sample is lowered to the neighbour, whichever costs less; again and again until no such
 * place is left. What was changed once is only raised from then on, and heights never pass the tallest sample, so it ends. The input
 * is not changed.
 * @param pricesOf asked when there is such a place; without prices samples are only raised
 */
export function partDiagonals(
  source: HeightMap,
  pricesOf?: () => HeightPrices | undefined,
): PartedHeights {
  const { width, height } = source;
  const data = source.data.slice();
  let [raisedSamples, loweredSamples] = [0, 0];
  let prices: HeightPrices | undefined;
  let asked = false;
  const changed = new Uint8Array(pricesOf ? data.length : 0);
  /** What another height costs a sample more than its own. */
  const priceOf = (sample: number, layers: number): number => {
    const { classes, costs, own, layers: most } = prices as HeightPrices;
    const now = data[sample] as number;
    const first = (classes[sample] as number) * (most + 1);
    if ((own.data[sample] as number) === 0 || first >= costs.length)
      return FOREIGN_PRICE * (layers - now);
    return (costs[first + layers] as number) - (costs[first + now] as number);
  };
  const isLowerable = (sample: number, layers: number): boolean =>
    prices !== undefined &&
    changed[sample] === 0 &&
    layers >= prices.leastLayers &&
    layers > 0 &&
    // Neither border nor plate.
    data[sample] === prices.own.data[sample];
  const waiting: number[] = [];
  /** Parts two samples that stand above both others at a corner; tells which sample was changed. */
  const part = (one: number, two: number, left: number, right: number): number | undefined => {
    const level = Math.min(data[one] as number, data[two] as number);
    const [a, b] = [data[left] as number, data[right] as number];
    if (a >= level || b >= level) return undefined;
    if (pricesOf && !asked) {
      prices = pricesOf();
      asked = true;
    }
    const raised = a >= b ? left : right;
    const lowered = (data[one] as number) <= (data[two] as number) ? one : two;
    const down = Math.max(a, b);
    const lowers = isLowerable(lowered, down) && priceOf(lowered, down) < priceOf(raised, level);
    const sample = lowers ? lowered : raised;
    data[sample] = lowers ? down : level;
    if (lowers) loweredSamples += 1;
    else raisedSamples += 1;
    if (pricesOf) changed[sample] = 1;
    return sample;
  };
  const mend = (corner: number): void => {
    const [a, b, c] = [corner, corner + 1, corner + width];
    const d = c + 1;
    const sample = part(a, d, b, c) ?? part(b, c, a, d);
    if (sample === undefined) return;
    // It can only make new diagonals at its own four corners, so those are looked at again.
    const x = sample % width;
    const y = (sample - x) / width;
    for (let dy = -1; dy <= 0; dy += 1)
      for (let dx = -1; dx <= 0; dx += 1)
        if (x + dx >= 0 && x + dx < width - 1 && y + dy >= 0 && y + dy < height - 1)
          waiting.push((y + dy) * width + x + dx);
  };
  for (let y = 0; y < height - 1; y += 1) {
    for (let x = 0; x < width - 1; x += 1) {
      mend(y * width + x);
      for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) mend(next);
    }
  }
  return { heights: { width, height, data }, raisedSamples, loweredSamples };
}
