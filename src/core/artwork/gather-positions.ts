/** Positions gathered around centres. */
export interface GatheredPositions {
  /** Three numbers each. */
  readonly centres: Float64Array;
  /** Centre of each position, as of the last round. */
  readonly owner: Int32Array;
  /** Weight of each centre, and the weighted sums of its positions: four numbers each. */
  readonly sums: Float64Array;
}

/**
 * Gathers positions of a colour scale around at most `most` centres: k-means (S. P. Lloyd, "Least squares quantization in
 * PCM", IEEE Transactions on Information Theory 28 (1982)), begun with the heaviest position and then always with the one that
 * is worst served so far. The same positions always give the same centres.
 * @param colour three numbers a position
 * @param weights how much each position counts
 */
export function gatherPositions(
  colour: Float32Array,
  weights: ArrayLike<number>,
  most: number,
  rounds: number,
): GatheredPositions {
  const count = Math.min(most, weights.length);
  const centres = firstCentres(colour, weights, count);
  const found = centres.length / 3;
  const owner = new Int32Array(weights.length);
  const sums = new Float64Array(4 * found);
  for (let round = 0; round < rounds; round += 1) {
    assignCells(colour, centres, owner);
    sums.fill(0);
    for (let n = 0; n < weights.length; n += 1) {
      const at = 4 * (owner[n] as number);
      const weight = weights[n] as number;
      sums[at] = (sums[at] as number) + weight;
      for (let i = 0; i < 3; i += 1)
        sums[at + 1 + i] = (sums[at + 1 + i] as number) + weight * (colour[3 * n + i] as number);
    }
    for (let k = 0; k < found; k += 1) {
      const weight = sums[4 * k] as number;
      if (weight === 0) continue;
      for (let i = 0; i < 3; i += 1) centres[3 * k + i] = (sums[4 * k + 1 + i] as number) / weight;
    }
  }
  return { centres, owner, sums };
}

/** Nearest centre of each cell. */
function assignCells(colour: Float32Array, centres: Float64Array, owner: Int32Array): void {
  const found = centres.length / 3;
  for (let n = 0; n < owner.length; n += 1) {
    const l = colour[3 * n] as number;
    const a = colour[3 * n + 1] as number;
    const b = colour[3 * n + 2] as number;
    let best = 0;
    let least = Infinity;
    for (let k = 0; k < found; k += 1) {
      const dl = l - (centres[3 * k] as number);
      const da = a - (centres[3 * k + 1] as number);
      const db = b - (centres[3 * k + 2] as number);
      const square = dl * dl + da * da + db * db;
      if (square < least) {
        least = square;
        best = k;
      }
    }
    owner[n] = best;
  }
}

function firstCentres(
  colour: Float32Array,
  weights: ArrayLike<number>,
  count: number,
): Float64Array {
  let next = 0;
  for (let n = 1; n < weights.length; n += 1)
    if ((weights[n] as number) > (weights[next] as number)) next = n;
  const centres = new Float64Array(3 * count);
  const served = new Float64Array(weights.length).fill(Infinity);
  let found = 0;
  while (found < count && next >= 0) {
    for (let i = 0; i < 3; i += 1) centres[3 * found + i] = colour[3 * next + i] as number;
    const l = centres[3 * found] as number;
    const a = centres[3 * found + 1] as number;
    const b = centres[3 * found + 2] as number;
    found += 1;
    next = -1;
    let worst = 0;
    for (let n = 0; n < weights.length; n += 1) {
      const dl = l - (colour[3 * n] as number);
      const da = a - (colour[3 * n + 1] as number);
      const db = b - (colour[3 * n + 2] as number);
      const square = dl * dl + da * da + db * db;
      if (square < (served[n] as number)) served[n] = square;
      const price = (served[n] as number) * Math.sqrt(weights[n] as number);
      if (price > worst) {
        worst = price;
        next = n;
      }
    }
  }
  return centres.slice(0, 3 * found);
}
