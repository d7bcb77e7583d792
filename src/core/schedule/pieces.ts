import { liesOnBed, bedBox, type Bed } from '../printer/printer.ts';

/** Several copies of a piece: on the bed at once, or one after the other. */
export const WAYS = ['together', 'apart'] as const;
export type Way = (typeof WAYS)[number];

export interface Pieces {
  readonly copies: number;
  /** Free space between neighbours, mm. */
  readonly spacingMm: number;
  readonly way: Way;
  /** Of pieces printed one by one, those in layers of another height than the others; see {@link batchesOf}. */
  readonly own?: readonly OwnLayers[] | undefined;
}

/** Some of several pieces, in layers of a height of their own. */
export interface OwnLayers {
  readonly copies: number;
  /** Height of the layers above the first one, mm. */
  readonly layerMm: number;
}

export const ONE_PIECE: Pieces = { copies: 1, spacingMm: 5, way: 'together' };
/** Heights that pieces can have beside the project's own. */
export const MOST_BATCHES = 6;
export const MOST_COPIES = 200;
export const WIDEST_SPACING_MM = 100;

/** Pieces that are printed one after the other in the same layers. */
export interface Batch {
  readonly copies: number;
  /** Height of their layers above the first one, mm; null where it is the project's own. */
  readonly layerMm: number | null;
}

/**
 * Several pieces by the height of their layers: first those in the project's own, of which there is one at least. What is printed
 * together has one height of layers.
 */
export function batchesOf({ copies, way, own = [] }: Pieces): readonly Batch[] {
  if (way === 'together') return [{ copies, layerMm: null }];
  let left = copies;
  const batches = own.flatMap(({ copies: wanted, layerMm }): Batch[] => {
    const taken = Math.min(wanted, left - 1);
    left -= Math.max(0, taken);
    return taken > 0 ? [{ copies: taken, layerMm }] : [];
  });
  return [{ copies: left, layerMm: null }, ...batches];
}

/** How copies lie on the bed. */
export interface Arrangement {
  readonly columns: number;
  readonly rows: number;
  /** Turned by a quarter. */
  readonly turned: boolean;
  /** Of all copies with the space between them, mm. */
  readonly widthMm: number;
  readonly depthMm: number;
  readonly fits: boolean;
  /** How many copies would fit. */
  readonly room: number;
}

/**
 * Lays copies out in columns and rows, as squarely as the bed allows, turned by a quarter where only that fits. What does
 * not fit at all is laid out all the same, and says so.
 */
export function arrangePieces(
  bed: Bed,
  widthMm: number,
  depthMm: number,
  { copies, spacingMm }: Pick<Pieces, 'copies' | 'spacingMm'>,
): Arrangement {
  const extent = (count: number, side: number): number => count * side + (count - 1) * spacingMm;
  const box = bedBox(bed);
  let best: Arrangement | undefined;
  let room = 0;
  for (const turned of [false, true]) {
    const [w, d] = turned ? [depthMm, widthMm] : [widthMm, depthMm];
    const mostColumns = Math.max(1, Math.floor((box.widthMm + spacingMm + 1e-9) / (w + spacingMm)));
    for (let columns = 1; columns <= Math.max(mostColumns, 1); columns += 1) {
      let fitting = 0;
      while (liesOnBed(bed, extent(columns, w), extent(fitting + 1, d))) fitting += 1;
      room = Math.max(room, columns * fitting);
      if (columns > copies) continue;
      const rows = Math.ceil(copies / columns);
      const candidate = {
        columns,
        rows,
        turned,
        widthMm: extent(columns, w),
        depthMm: extent(rows, d),
        fits: rows <= fitting,
      };
      const better =
        !best ||
        (candidate.fits && !best.fits) ||
        (candidate.fits === best.fits && lessOf(candidate) < lessOf(best) - 1e-9);
      if (better) best = { ...candidate, room: 0 };
    }
  }
  return { ...(best as Arrangement), room };
}

/** The longer side: the less, the more squarely copies lie. */
function lessOf({
  widthMm,
  depthMm,
}: {
  readonly widthMm: number;
  readonly depthMm: number;
}): number {
  return Math.max(widthMm, depthMm);
}

/** Drawing back, lifting and going on at each way from one piece to the next, seconds: common practice, no source. */
export const HOP_PAUSE_S = 1.2;

/** Seconds that going from piece to piece takes in one layer. */
export function hopSeconds(
  { copies, spacingMm }: Pick<Pieces, 'copies' | 'spacingMm'>,
  widthMm: number,
  depthMm: number,
  travelMmS: number,
): number {
  if (copies < 2) return 0;
  const wayMm = spacingMm + (widthMm + depthMm) / 2;
  return copies * (wayMm / travelMmS + HOP_PAUSE_S);
}

/** What one way of printing several pieces takes. */
export interface WayCost {
  readonly way: Way;
  readonly swaps: number;
  readonly totalS: number;
}

/** Both ways beside each other, and the one to take. */
export interface WayChoice {
  readonly together: WayCost;
  readonly apart: WayCost;
  readonly advice: Way;
  readonly reason: string;
}

/** Taking a finished piece off and starting the next, seconds: common practice, no source. */
export const NEXT_PIECE_S = 120;

/** A saving below this share does not outweigh standing by for more swaps. */
const WORTH_IT = 0.1;

/**
 * Compares printing copies together (swaps shared, a hop to each piece in every layer) with one after the other (all swaps
 * again for each piece, and between two of them the change back to the first filament). Common practice, no source, for the two ways; see the constants for what is assumed.
 * @param onePieceS printing one piece, without swaps, seconds
 * @param hopS see {@link hopSeconds}
 * @param returns whether a piece ends in another filament than it begins with
 */
export function compareWays(options: {
  readonly pieces: Pieces;
  readonly onePieceS: number;
  readonly hopS: number;
  readonly layers: number;
  readonly swaps: number;
  readonly returns: boolean;
  readonly swapS: number;
  readonly fits: boolean;
}): WayChoice {
  const { pieces, onePieceS, hopS, layers, swaps, returns, swapS, fits } = options;
  const { copies } = pieces;
  const together: WayCost = {
    way: 'together',
    swaps,
    totalS: copies * onePieceS + layers * hopS + swaps * swapS,
  };
  const apartSwaps = swaps * copies + (returns ? copies - 1 : 0);
  const apart: WayCost = {
    way: 'apart',
    swaps: apartSwaps,
    totalS: copies * onePieceS + apartSwaps * swapS + (copies - 1) * NEXT_PIECE_S,
  };
  const choose = (advice: Way, reason: string): WayChoice => ({ together, apart, advice, reason });
  if (copies === 1) return choose('together', 'there is one piece');
  if (!fits) return choose('apart', 'they do not fit on the bed together');
  if (swaps === 0)
    return apart.totalS < together.totalS
      ? choose('apart', 'there is nothing to swap, and it saves the ways between the pieces')
      : choose('together', 'it is faster, and you start only once');
  if (together.totalS <= apart.totalS)
    return choose('together', `it is faster, with ${swaps} swaps in place of ${apart.swaps}`);
  if (apart.totalS < together.totalS * (1 - WORTH_IT))
    return choose('apart', `it is faster, although there are ${apart.swaps} swaps`);
  return choose(
    'together',
    `it takes little longer, and there are ${swaps} swaps in place of ${apart.swaps}`,
  );
}
