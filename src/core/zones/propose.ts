import { hexOfRuleColour, type ColourCells } from '../artwork/colour-cells.ts';
import { gatherPositions } from '../artwork/gather-positions.ts';
import { MOST_ZONE_COLOURS, positionsOf, zonePositions, type ZoneColours } from './zone.ts';

/** Rounds of gathering; later ones move next to nothing. */
const ROUNDS = 12;

type Picture = Pick<ColourCells, 'colour' | 'count'>;

/** A colour of a picture that stands for those near to it. */
export interface Seed {
  readonly hex: string;
  /** Samples that are nearest to it. */
  readonly weight: number;
}

/** Some dozen colours that stand for all of a picture, as the scale of zones tells colours apart. */
export function seedsOf(picture: Picture, most: number = MOST_ZONE_COLOURS): Seed[] {
  const { colour, count } = picture;
  const { owner } = gatherPositions(zonePositions(colour), count, most, ROUNDS);
  const sums = new Map<number, [number, number, number, number]>();
  for (let n = 0; n < count.length; n += 1) {
    const weight = count[n] as number;
    if (weight === 0) continue;
    const sum = sums.get(owner[n] as number) ?? [0, 0, 0, 0];
    sum[3] += weight;
    for (let k = 0; k < 3; k += 1)
      sum[k] = (sum[k] as number) + weight * (colour[3 * n + k] as number);
    sums.set(owner[n] as number, sum);
  }
  const seeds = new Map<string, Seed>();
  for (const [l, a, b, weight] of sums.values()) {
    const hex = hexOfRuleColour(l / weight, a / weight, b / weight);
    seeds.set(hex, { hex, weight: weight + (seeds.get(hex)?.weight ?? 0) });
  }
  return [...seeds.values()];
}

/**
 * Parts a picture into zones by its colours: its own colours, gathered into groups of like hue and chroma.
 * @returns `count` zones, or fewer where the picture has no more colours; darkest first
 */
export function proposeZones(picture: Picture, count: number): ZoneColours[] {
  return groupSeeds(seedsOf(picture), count);
}

/** Parts one zone into two by its colours; one that has a single colour stays whole. */
export function splitZone(
  picture: Picture,
  zone: ZoneColours,
  others: readonly ZoneColours[],
): ZoneColours[] {
  const all = [zone, ...others].flatMap(({ colours }) => colours);
  const owners = ownersOf(picture, all);
  const own = Uint32Array.from(picture.count, (count, n) =>
    (owners[n] as number) < zone.colours.length ? count : 0,
  );
  const part = { colour: picture.colour, count: own };
  const seeds = seedsOf(part, Math.max(2, Math.min(MOST_ZONE_COLOURS, 2 * zone.colours.length)));
  return seeds.length < 2 ? [zone] : groupSeeds(seeds, 2);
}

function groupSeeds(seeds: readonly Seed[], count: number): ZoneColours[] {
  const positions = Float32Array.from(positionsOf(seeds.map(({ hex }) => hex)).flat());
  const weights = seeds.map(({ weight }) => weight);
  const { owner } = gatherPositions(positions, weights, count, ROUNDS);
  const groups = new Map<number, { colours: string[]; lightness: number; weight: number }>();
  seeds.forEach(({ hex, weight }, n) => {
    const group = groups.get(owner[n] as number) ?? { colours: [], lightness: 0, weight: 0 };
    group.colours.push(hex);
    group.lightness += weight * (positions[3 * n] as number);
    group.weight += weight;
    groups.set(owner[n] as number, group);
  });
  return [...groups.values()]
    .sort((one, other) => one.lightness / one.weight - other.lightness / other.weight)
    .map(({ colours }) => ({ colours }));
}

/** For each cell the colour, by its place in a list, that it is nearest to on the scale of zones. */
export function ownersOf(
  { colour }: Pick<ColourCells, 'colour'>,
  colours: readonly string[],
): Int32Array {
  const positions = zonePositions(colour);
  const own = positionsOf(colours);
  const owners = new Int32Array(colour.length / 3);
  for (let n = 0; n < owners.length; n += 1) {
    let least = Infinity;
    own.forEach(([l, a, b], k) => {
      const square =
        ((positions[3 * n] as number) - l) ** 2 +
        ((positions[3 * n + 1] as number) - a) ** 2 +
        ((positions[3 * n + 2] as number) - b) ** 2;
      if (square >= least) return;
      least = square;
      owners[n] = k;
    });
  }
  return owners;
}
