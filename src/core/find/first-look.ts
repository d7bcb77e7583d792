import type { Filament } from '../stack/filament.ts';
import { mergeCells, type FindCells } from './clusters.ts';
import type { FindLean } from './take-rows.ts';
import type { FindRequest } from './request.ts';

/** What a first stack may have, and how strongly its heights lean: common practice, no source; figures in `docs/bench/heights.md`. */
export const FIRST_SWAPS = 3;
export const FIRST_MOST_LAYERS = 24;
/** The work of about 2,500 looks: there before the maker has looked at the picture. */
const FIRST_SECONDS = 0.036;

/** Flat art: this many colours make up this share of it. */
const FLAT_COLOURS = 8;
const FLAT_SHARE = 0.8;
/** Colours nearer than this on the rule's scale are one, and rarer ones are fringes. */
const ONE_COLOUR = 9;
const FRINGE_SHARE = 0.005;
/** Most colours that flat art begins with. */
const MOST_FLAT = 6;

/**
 * The number of colours of flat art, 2 to {@link MOST_FLAT}; undefined where a picture is none: where few colours do not make up
 * most of it.
 */
export function flatColoursOf(cells: FindCells): number | undefined {
  const { colour, count } = mergeCells(cells);
  const order = [...count.keys()].sort((a, b) => (count[b] as number) - (count[a] as number));
  const total = count.reduce((sum, one) => sum + one, 0);
  const few = order.slice(0, FLAT_COLOURS).reduce((sum, n) => sum + (count[n] as number), 0);
  if (total === 0 || few < FLAT_SHARE * total) return undefined;
  const kept: number[] = [];
  for (const n of order) {
    if ((count[n] as number) < FRINGE_SHARE * total) break;
    const near = kept.some(
      (k) =>
        Math.hypot(
          ...[0, 1, 2].map((i) => (colour[3 * n + i] as number) - (colour[3 * k + i] as number)),
        ) < ONE_COLOUR,
    );
    if (!near) kept.push(n);
  }
  return Math.min(MOST_FLAT, Math.max(2, kept.length));
}

/**
 * What is looked for as the first stack of a picture: a few of the filaments, quickly.
 * @param flat colours of flat art, each with a filament of its own; undefined for all other pictures
 */
export function firstRequest(
  cells: FindCells,
  filaments: readonly Filament[],
  { grid, leastLayers }: Pick<FindRequest, 'grid' | 'leastLayers'>,
  lean: FindLean,
  flat: number | undefined,
): FindRequest {
  const swaps = flat === undefined ? FIRST_SWAPS : flat - 1;
  return {
    cells,
    filaments,
    grid,
    rule: 'closest',
    mostSwaps: Math.max(0, Math.min(swaps, filaments.length - 1)),
    mostLayers: FIRST_MOST_LAYERS,
    leastLayers: Math.min(leastLayers, FIRST_MOST_LAYERS),
    leastPerBand: 1,
    must: [],
    bottom: null,
    top: null,
    rare: 0,
    ...(flat === undefined ? { lean } : {}),
    seconds: FIRST_SECONDS,
    seed: 1,
  };
}
