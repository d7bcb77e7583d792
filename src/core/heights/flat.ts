import { hexOfRuleColour, ruleColourOf, type ColourCells } from '../artwork/colour-cells.ts';
import type { Ramp } from '../optics/ramp.ts';
import { nearestLayersExactly, type LayerColours } from './closest.ts';
import { linearOfBytes, parseHex, type Triple } from '../colour/srgb.ts';

/** One colour of flat art and the height that all of it gets. */
export interface FlatColour {
  /** `#rrggbb` */
  readonly colour: string;
  /** Height in layers, counted from 1. */
  readonly layers: number;
}

/** Limits of how many colours flat art is reduced to. */
export const LEAST_FLAT_COLOURS = 1;
export const GREATEST_FLAT_COLOURS = 16;

/** Rounds of the clustering; it settles long before. */
const ROUNDS = 30;

/**
 * Reduces the colours of a picture to `count` at most: k-means over its cells, each counting as often as it occurs.
 * Source: S. P. Lloyd, "Least squares quantization in PCM", IEEE Transactions on Information Theory 28 (1982). It begins
 * with the commonest colour and then always the one that is worst served so far, so the same picture always gives the
 * same colours.
 * @returns positions on the rule's scale, three numbers a colour, commonest first
 */
export function reduceColours(
  { colour, count }: Pick<ColourCells, 'colour' | 'count'>,
  wanted: number,
): Float32Array {
  const cells = count.length;
  const distance = (n: number, centre: readonly number[]): number =>
    ((colour[3 * n] as number) - (centre[0] as number)) ** 2 +
    ((colour[3 * n + 1] as number) - (centre[1] as number)) ** 2 +
    ((colour[3 * n + 2] as number) - (centre[2] as number)) ** 2;
  const positionOf = (n: number): number[] => [...colour.subarray(3 * n, 3 * n + 3)];
  let commonest = 0;
  for (let n = 1; n < cells; n += 1)
    if ((count[n] as number) > (count[commonest] as number)) commonest = n;
  const centres = cells > 0 ? [positionOf(commonest)] : [];
  const served = new Float64Array(cells).fill(Infinity);
  while (centres.length < Math.min(wanted, cells)) {
    const newest = centres.at(-1) ?? [0, 0, 0];
    let worst = -1;
    let worstPrice = 0;
    for (let n = 0; n < cells; n += 1) {
      served[n] = Math.min(served[n] as number, distance(n, newest));
      // The root keeps the thin fringes of scaled art, which are far from everything but rare, from taking a colour.
      const price = (served[n] as number) * Math.sqrt(count[n] as number);
      if (price > worstPrice) {
        worstPrice = price;
        worst = n;
      }
    }
    if (worst < 0) break;
    centres.push(positionOf(worst));
  }
  const weights = new Float64Array(centres.length);
  for (let round = 0; round < ROUNDS; round += 1) {
    const sums = centres.map(() => [0, 0, 0]);
    weights.fill(0);
    for (let n = 0; n < cells; n += 1) {
      let best = 0;
      let bestDistance = Infinity;
      centres.forEach((centre, k) => {
        const d = distance(n, centre);
        if (d < bestDistance) {
          bestDistance = d;
          best = k;
        }
      });
      const weight = count[n] as number;
      weights[best] = (weights[best] as number) + weight;
      const sum = sums[best] as number[];
      for (let k = 0; k < 3; k += 1)
        sum[k] = (sum[k] as number) + weight * (colour[3 * n + k] as number);
    }
    let moved = 0;
    sums.forEach((sum, k) => {
      const weight = weights[k] as number;
      if (weight === 0) return;
      const next = sum.map((value) => value / weight);
      const old = centres[k] as number[];
      moved = Math.max(moved, ...next.map((value, i) => Math.abs(value - (old[i] as number))));
      centres[k] = next;
    });
    if (moved < 1e-4) break;
  }
  const order = centres
    .map((centre, k) => ({ centre, weight: weights[k] as number }))
    .filter(({ weight }) => weight > 0)
    .sort((a, b) => b.weight - a.weight);
  return Float32Array.from(order.flatMap(({ centre }) => centre));
}

/** Position of a colour on the rule's scale. */
function positionOfHex(hex: string): Triple | undefined {
  const bytes = parseHex(hex);
  return bytes ? ruleColourOf(linearOfBytes(bytes)) : undefined;
}

/** Height of each cell: that of the nearest flat colour, at least `leastLayers`, at most `layers`. */
export function heightsOfFlat(
  { colour }: Pick<ColourCells, 'colour'>,
  flat: readonly FlatColour[],
  layers: number,
  leastLayers: number,
): Uint8Array {
  const known = flat.flatMap(({ colour: hex, layers: wanted }) => {
    const position = positionOfHex(hex);
    const height = Math.min(layers, Math.max(Math.min(leastLayers, layers), wanted));
    return position ? [{ position, height }] : [];
  });
  return Uint8Array.from({ length: colour.length / 3 }, (_, n) => {
    let best = layers;
    let bestDistance = Infinity;
    for (const { position, height } of known) {
      let sum = 0;
      for (let k = 0; k < 3; k += 1)
        sum += ((colour[3 * n + k] as number) - (position[k] as number)) ** 2;
      if (sum < bestDistance) {
        bestDistance = sum;
        best = height;
      }
    }
    return best;
  });
}

/** Colours as a search looks at them; see `FindCells`. */
interface Looked {
  readonly colour: Float32Array;
  readonly count: Uint32Array;
  readonly importance?: ArrayLike<number> | undefined;
}

/**
 * A picture as its flat colours alone, in their order: each with all that goes to it, and with the mean importance of that. A colour
 * that nothing goes to counts nothing.
 */
export function cellsOfFlat(
  { colour, count, importance }: Looked,
  flat: readonly FlatColour[],
): Looked {
  const positions = flat.map(({ colour: hex }) => positionOfHex(hex) ?? ([0, 0, 0] as const));
  const counts = new Uint32Array(flat.length);
  const weights = new Float64Array(flat.length);
  for (let n = 0; n < count.length; n += 1) {
    let [best, bestDistance] = [0, Infinity];
    positions.forEach((position, k) => {
      const distance = position.reduce(
        (sum, value, i) => sum + ((colour[3 * n + i] as number) - value) ** 2,
        0,
      );
      if (distance < bestDistance) [best, bestDistance] = [k, distance];
    });
    const own = count[n] as number;
    counts[best] = (counts[best] as number) + own;
    weights[best] = (weights[best] as number) + own * (importance?.[n] ?? 1);
  }
  return {
    colour: Float32Array.from(positions.flat()),
    count: counts,
    ...(importance
      ? {
          importance: Float64Array.from(weights, (sum, k) => {
            const own = counts[k] as number;
            return own > 0 ? sum / own : 1;
          }),
        }
      : {}),
  };
}

/**
 * Flat colours with the layer that looks most like each.
 * @param cells the colours' own, in their order; see {@link cellsOfFlat}
 * @param seen what each height of the stack looks like
 */
export function flatOnStack(
  colours: readonly FlatColour[],
  cells: Pick<ColourCells, 'colour'>,
  seen: LayerColours,
  leastLayers: number,
): FlatColour[] {
  const layers = nearestLayersExactly(cells, seen, leastLayers);
  return colours.map(({ colour }, k) => ({ colour, layers: layers[k] ?? 1 }));
}

/** The colours that a picture is reduced to as flat art, each on the lowest layer until it is placed. */
export function reducedColours(
  cells: Pick<ColourCells, 'colour' | 'count'>,
  count: number,
): FlatColour[] {
  const colours = reduceColours(cells, count);
  return Array.from({ length: colours.length / 3 }, (_, k) => ({
    colour: hexOfRuleColour(
      colours[3 * k] as number,
      colours[3 * k + 1] as number,
      colours[3 * k + 2] as number,
    ),
    layers: 1,
  }));
}

/** Costs for calm: the distance of each cell to the nearest flat colour of each height, Infinity where there is none. */
export function costsOfFlat(
  { colour }: Pick<ColourCells, 'colour'>,
  flat: readonly FlatColour[],
  layers: number,
  leastLayers: number,
): Float32Array {
  const cells = colour.length / 3;
  const costs = new Float32Array(cells * (layers + 1)).fill(Infinity);
  for (const { colour: hex, layers: wanted } of flat) {
    const position = positionOfHex(hex);
    if (!position) continue;
    const height = Math.min(layers, Math.max(Math.min(leastLayers, layers), wanted));
    for (let n = 0; n < cells; n += 1) {
      let sum = 0;
      for (let k = 0; k < 3; k += 1)
        sum += ((colour[3 * n + k] as number) - (position[k] as number)) ** 2;
      const at = n * (layers + 1) + height;
      costs[at] = Math.min(costs[at] as number, Math.sqrt(sum));
    }
  }
  return costs;
}

/**
 * Flat colours of a picture with a height each: as many as there are `tops` (or `count`), each going to the top of the band
 * that looks most like it. Two colours share a band only when there are more colours than bands.
 * @param tops for each band the height of its top, in layers, and the colour seen there
 */
export function flatOfPicture(
  cells: Pick<ColourCells, 'colour' | 'count'>,
  count: number,
  tops: readonly { readonly layers: number; readonly colour: Triple }[],
): FlatColour[] {
  const centres = reduceColours(cells, count);
  const colours = Array.from({ length: centres.length / 3 }, (_, k) => [
    ...centres.subarray(3 * k, 3 * k + 3),
  ]);
  const positions = tops.map(({ colour }) => ruleColourOf(linearOfBytes(colour)));
  const pairs = colours
    .flatMap((colour, k) =>
      positions.map((position, top) => ({
        k,
        top,
        distance: Math.hypot(...position.map((value, i) => value - (colour[i] ?? 0))),
      })),
    )
    .sort((a, b) => a.distance - b.distance);
  const chosen = new Map<number, number>();
  const taken = new Set<number>();
  for (const { k, top } of pairs)
    if (!chosen.has(k) && !taken.has(top)) {
      chosen.set(k, top);
      taken.add(top);
    }
  // What is left over joins the band that is nearest.
  for (const { k, top } of pairs) if (!chosen.has(k)) chosen.set(k, top);
  return colours.map(([lightness = 0, a = 0, b = 0], k) => ({
    colour: hexOfRuleColour(lightness, a, b),
    layers: tops[chosen.get(k) ?? 0]?.layers ?? 1,
  }));
}

/** Height and seen colour of each band's top. */
export function bandTops(
  ends: readonly number[],
  ramp: Ramp,
): { readonly layers: number; readonly colour: Triple }[] {
  return ends.map((layers) => ({ layers, colour: ramp[layers - 1]?.colour ?? [0, 0, 0] }));
}
