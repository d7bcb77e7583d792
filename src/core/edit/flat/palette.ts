import type { CalmPicture, ColourCell } from './calm-pixels.ts';

/** A colour of a palette: mean sRGB codes, and the same in the rule scale. */
export interface FoundColour {
  readonly codes: readonly [number, number, number];
  readonly colour: readonly [number, number, number];
  /** Weight of the pixels behind it. */
  readonly count: number;
}

/** Most colours that a picture is reduced to. */
export const MOST_COLOURS = 16;

const ROUNDS = 12;
/** Colours nearer than this in the rule scale are one, and colours with less of the calm pixels than this are none. */
const MERGED = 9;
const LEAST_SHARE = 0.0015;

function squared(a: readonly number[], b: readonly number[]): number {
  return (
    ((a[0] as number) - (b[0] as number)) ** 2 +
    ((a[1] as number) - (b[1] as number)) ** 2 +
    ((a[2] as number) - (b[2] as number)) ** 2
  );
}

function merged(
  cells: readonly { readonly cell: ColourCell; readonly weight: number }[],
): FoundColour {
  const [codes, colour]: [number[], number[]] = [
    [0, 0, 0],
    [0, 0, 0],
  ];
  let count = 0;
  for (const { cell, weight } of cells) {
    count += weight;
    for (let c = 0; c < 3; c += 1) {
      codes[c] = (codes[c] as number) + weight * (cell.codes[c] as number);
      colour[c] = (colour[c] as number) + weight * (cell.colour[c] as number);
    }
  }
  const mean = (sums: readonly number[]): [number, number, number] => [
    (sums[0] as number) / count,
    (sums[1] as number) / count,
    (sums[2] as number) / count,
  ];
  return { codes: mean(codes), colour: mean(colour), count };
}

/** Weight of a cell: crests count as much as calm pixels do. */
const weightOf = ({ calm, crest }: ColourCell): number => calm + crest;

/**
 * The colours that serve a picture best: weighted k-means over cells, begun with the commonest, then always the greatest
 * squared distance times the root of the count.
 */
export function findPalette({ cells }: CalmPicture, count: number): FoundColour[] {
  const all = cells
    .map((cell) => ({ cell, weight: weightOf(cell) }))
    .sort((a, b) => b.weight - a.weight);
  const [commonest] = all;
  if (!commonest) return [];
  const centres: (readonly number[])[] = [commonest.cell.colour];
  const least = all.map(({ cell }) => squared(cell.colour, commonest.cell.colour));
  while (centres.length < Math.min(count, all.length)) {
    let [best, most] = [-1, 0];
    all.forEach(({ weight }, i) => {
      const worth = (least[i] as number) * Math.sqrt(weight);
      if (worth > most) [best, most] = [i, worth];
    });
    const next = all[best];
    if (!next) break;
    centres.push(next.cell.colour);
    all.forEach(({ cell }, i) => {
      least[i] = Math.min(least[i] as number, squared(cell.colour, next.cell.colour));
    });
  }
  let found: FoundColour[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    const groups: { cell: ColourCell; weight: number }[][] = centres.map(() => []);
    for (const one of all) {
      let best = 0;
      centres.forEach((centre, k) => {
        if (
          squared(centre, one.cell.colour) <
          squared(centres[best] as readonly number[], one.cell.colour)
        )
          best = k;
      });
      (groups[best] as { cell: ColourCell; weight: number }[]).push(one);
    }
    found = groups.map((group, k) =>
      group.length > 0 ? merged(coreOf(group)) : (found[k] as FoundColour),
    );
    found.forEach(({ colour }, k) => {
      centres[k] = colour;
    });
  }
  return found.sort((a, b) => b.count - a.count);
}

/** Of the cells of a group those near its commonest one: a long tail of mixed colours must not pull a flat colour along. */
function coreOf<One extends { readonly cell: ColourCell; readonly weight: number }>(
  group: readonly One[],
): One[] {
  const [first] = group;
  if (!first) return [];
  const near = group.filter(({ cell }) => squared(cell.colour, first.cell.colour) <= 144);
  const share =
    near.reduce((sum, { weight }) => sum + weight, 0) /
    group.reduce((sum, { weight }) => sum + weight, 0);
  // Where colours run into each other there is no core; then all of them count.
  return share > 0.6 ? near : [...group];
}

/** How many colours a picture of flat art has: calm cells, merged below 9 of the rule scale, without what covers less than 0.15 %. */
export function proposeCount({ cells, calmPixels }: CalmPicture): number {
  const groups: { colour: readonly number[]; count: number }[] = [];
  for (const { colour, calm } of [...cells].sort((a, b) => b.calm - a.calm)) {
    if (calm === 0) continue;
    const near = groups
      .filter((group) => squared(group.colour, colour) < MERGED * MERGED)
      .sort((a, b) => squared(a.colour, colour) - squared(b.colour, colour))[0];
    if (!near) groups.push({ colour: [...colour], count: calm });
    else {
      const all = near.count + calm;
      near.colour = near.colour.map(
        (one, c) => (one * near.count + (colour[c] as number) * calm) / all,
      );
      near.count = all;
    }
  }
  const counted = groups.filter(({ count }) => count >= LEAST_SHARE * calmPixels).length;
  return Math.min(MOST_COLOURS, Math.max(2, counted));
}

/** The commonest colour of thin dark lines that is not in a palette yet. */
export function thinDarkColour(
  { cells }: CalmPicture,
  palette: readonly FoundColour[],
): FoundColour | undefined {
  const far = cells.filter(
    ({ colour, darkCrest }) =>
      darkCrest > 0 && palette.every((known) => squared(known.colour, colour) >= MERGED * MERGED),
  );
  const [seed] = [...far].sort((a, b) => b.darkCrest - a.darkCrest);
  if (!seed) return undefined;
  return merged(
    far
      .filter(({ colour }) => squared(colour, seed.colour) <= MERGED * MERGED)
      .map((cell) => ({ cell, weight: cell.darkCrest })),
  );
}
