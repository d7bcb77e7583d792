import { makeRandom } from '../../base/random.ts';

/** Gaussians that stand for the colours of one side. */
const PARTS = 5;
/** Least variance along any axis, rule scale squared: flat colours must not become needles. */
const VARIANCE_FLOOR = 4;
const MOST_MEMBERS = 10_000;
const SEED = 7;
const ROUNDS = 6;

/** Weighted Gaussians over colours in the rule scale. */
export interface Mixture {
  /** Minus the logarithm of the density at a colour, without its constant. */
  cost(colour: Float32Array, at: number): number;
}

/** Numbers of one Gaussian: mean (3), inverse of its covariance (upper half, 6), -log of weight over root of determinant. */
const NUMBERS = 10;

/**
 * Fits five Gaussians with full covariance: cells by k-means, begun by k-means++ with a fixed seed.
 * Source: C. Rother, V. Kolmogorov, A. Blake, "GrabCut" (2004), section 3.1; D. Arthur and S. Vassilvitskii, "k-means++" (2007).
 * @param colours three numbers each in the rule scale
 * @param members which of them count; at most about {@link MOST_MEMBERS} are looked at, evenly spread
 */
export function fitMixture(
  colours: Float32Array,
  members: readonly number[] | Int32Array,
): Mixture {
  const step = Math.max(1, Math.floor(members.length / MOST_MEMBERS));
  const chosen: number[] = [];
  for (let i = 0; i < members.length; i += step) chosen.push(members[i] as number);
  if (chosen.length === 0) return { cost: () => 0 };
  const centres = spread(colours, chosen);
  const count = centres.length / 3;
  const label = new Uint8Array(chosen.length);
  const sums = new Float64Array(4 * count);
  for (let round = 0; round < ROUNDS; round += 1) {
    sums.fill(0);
    for (let i = 0; i < chosen.length; i += 1) {
      const at = 3 * (chosen[i] as number);
      const k = nearest(centres, colours, at);
      label[i] = k;
      for (let c = 0; c < 3; c += 1)
        sums[4 * k + c] = (sums[4 * k + c] as number) + (colours[at + c] as number);
      sums[4 * k + 3] = (sums[4 * k + 3] as number) + 1;
    }
    for (let k = 0; k < count; k += 1) {
      const own = sums[4 * k + 3] as number;
      if (own > 0)
        for (let c = 0; c < 3; c += 1) centres[3 * k + c] = (sums[4 * k + c] as number) / own;
    }
  }
  const parts: number[] = [];
  for (let k = 0; k < count; k += 1) {
    const own = chosen.filter((_, i) => label[i] === k);
    if (own.length > 0)
      parts.push(...partOf(colours, own, centres.subarray(3 * k), own.length / chosen.length));
  }
  const table = Float64Array.from(parts);
  return {
    cost: (colour, at) => {
      const r = colour[at] as number;
      const g = colour[at + 1] as number;
      const b = colour[at + 2] as number;
      let least = Infinity;
      for (let q = 0; q < table.length; q += NUMBERS) {
        const x = r - (table[q] as number);
        const y = g - (table[q + 1] as number);
        const z = b - (table[q + 2] as number);
        const cost =
          (table[q + 9] as number) +
          0.5 *
            ((table[q + 3] as number) * x * x +
              (table[q + 6] as number) * y * y +
              (table[q + 8] as number) * z * z) +
          (table[q + 4] as number) * x * y +
          (table[q + 5] as number) * x * z +
          (table[q + 7] as number) * y * z;
        if (cost < least) least = cost;
      }
      return least;
    },
  };
}

function squared(centres: Float64Array, k: number, colours: Float32Array, at: number): number {
  const x = (colours[at] as number) - (centres[3 * k] as number);
  const y = (colours[at + 1] as number) - (centres[3 * k + 1] as number);
  const z = (colours[at + 2] as number) - (centres[3 * k + 2] as number);
  return x * x + y * y + z * z;
}

function nearest(centres: Float64Array, colours: Float32Array, at: number): number {
  let best = 0;
  let least = Infinity;
  for (let k = 0; k < centres.length / 3; k += 1) {
    const d = squared(centres, k, colours, at);
    if (d < least) [best, least] = [k, d];
  }
  return best;
}

/** First centres far from each other, three numbers each. */
function spread(colours: Float32Array, chosen: readonly number[]): Float64Array {
  const random = makeRandom(SEED);
  const centres = new Float64Array(3 * PARTS);
  const put = (k: number, index: number): void => {
    centres.set(colours.subarray(3 * index, 3 * index + 3), 3 * k);
  };
  put(0, chosen[random.below(chosen.length)] as number);
  const least = new Float64Array(chosen.length).fill(Infinity);
  for (let k = 1; k < PARTS; k += 1) {
    let all = 0;
    for (let i = 0; i < chosen.length; i += 1) {
      const d = squared(centres, k - 1, colours, 3 * (chosen[i] as number));
      if (d < (least[i] as number)) least[i] = d;
      all += least[i] as number;
    }
    if (all === 0) return centres.slice(0, 3 * k);
    let left = random.next() * all;
    const found = least.findIndex((d) => (left -= d) <= 0);
    put(k, chosen[Math.max(0, found)] as number);
  }
  return centres;
}

function partOf(
  colours: Float32Array,
  own: readonly number[],
  centre: Float64Array,
  weight: number,
): number[] {
  const mean = [centre[0] as number, centre[1] as number, centre[2] as number] as const;
  const s = new Float64Array(6);
  for (const index of own) {
    const x = (colours[3 * index] as number) - mean[0];
    const y = (colours[3 * index + 1] as number) - mean[1];
    const z = (colours[3 * index + 2] as number) - mean[2];
    s[0] = (s[0] as number) + x * x;
    s[1] = (s[1] as number) + x * y;
    s[2] = (s[2] as number) + x * z;
    s[3] = (s[3] as number) + y * y;
    s[4] = (s[4] as number) + y * z;
    s[5] = (s[5] as number) + z * z;
  }
  const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0] = s.map(
    (one, i) => one / own.length + (i === 0 || i === 3 || i === 5 ? VARIANCE_FLOOR : 0),
  );
  const [A, B, C] = [d * f - e * e, c * e - b * f, b * e - c * d];
  const det = a * A + b * B + c * C;
  return [
    ...mean,
    A / det,
    B / det,
    C / det,
    (a * f - c * c) / det,
    (b * c - a * e) / det,
    (a * d - b * b) / det,
    -Math.log(weight) + 0.5 * Math.log(det),
  ];
}
