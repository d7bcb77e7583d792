import { expect } from 'chai';
import type { HeightMap } from '#core/base/raster.ts';
import type { PrintPlan } from '#core/gcode/print-plan.ts';
import { USUAL_PRINTER, type Printer } from '#core/printer/printer.ts';
import { ONE_PIECE } from '#core/schedule/pieces.ts';
import { makeOwnGcode, type OwnGcode, type OwnPrint } from '#core/slicing/own-gcode.ts';
import type { Filament } from '#core/stack/filament.ts';
import type { Stack } from '#core/stack/stack.ts';
import { planOf } from './gcode.ts';

/** A print of a relief with two or three bands of the given layers. */
export function ownPrint(
  heights: HeightMap,
  bands: readonly number[],
  given: Partial<OwnPrint> & { readonly plan?: PrintPlan } = {},
): OwnPrint {
  // As the plan of the helper has them.
  const ids = ['soot', 'rust', 'sand', 'ivory'];
  const stack: Stack = {
    grid: { firstLayerMm: 0.16, layerMm: 0.08 },
    bands: bands.map((layers, n) => ({ filamentId: ids[n] ?? 'soot', layers })),
  };
  const filaments = Object.fromEntries(
    ids.map((id): [string, Filament] => [
      id,
      {
        id,
        maker: 'Brightloom',
        name: id,
        material: 'PLA',
        colour: '#808080',
        transmissionMm: 1,
        basis: { kind: 'hiding' },
        found: 'label',
        densityGCm3: 1.24,
        diameterMm: 1.75,
        onHand: true,
        note: '',
      },
    ]),
  );
  const sampleMm = given.sampleMm ?? 0.4;
  let below = 0;
  const swaps = bands.slice(0, -1).map((layers) => (below += layers) + 1);
  return {
    heights,
    sampleMm,
    stack,
    filaments,
    printer: USUAL_PRINTER,
    pieces: ONE_PIECE,
    ironing: null,
    title: 'Ridge',
    plan: planOf(
      heights,
      heights.data.reduce((a, b) => Math.max(a, b), 0),
      swaps,
      sampleMm,
    ),
    ...given,
  };
}

/** Makes a file of it, and expects that to work. */
export async function made(print: OwnPrint): Promise<{ own: OwnGcode; text: string }> {
  const result = await makeOwnGcode(print);
  if (!result.ok) return expect.fail(JSON.stringify(result.fault));
  return { own: result.value, text: Buffer.concat(result.value.pieces).toString('latin1') };
}

/** A move of a file as this page reads it: it shares nothing with the reader of the app. */
export interface PlainMove {
  readonly from: readonly [x: number, y: number, z: number];
  readonly to: readonly [x: number, y: number, z: number];
  readonly strand: number;
  readonly feed: number;
  /** Layer by the remarks, 0 before the first. */
  readonly layer: number;
  readonly line: string;
}

/** Reads absolute places and relative filament, as our files have them. */
export function plainMoves(text: string): PlainMove[] {
  const moves: PlainMove[] = [];
  let at: [number, number, number] = [0, 0, 0];
  let feed = 0;
  let layer = 0;
  for (const line of text.split('\n')) {
    const mark = /^; layer (\d+),/.exec(line);
    if (mark) layer = Number(mark[1]);
    if (!/^G[01] /.test(line)) continue;
    const word = (letter: string): number | undefined => {
      const found = new RegExp(` ${letter}(-?[\\d.]+)`).exec(line);
      return found ? Number(found[1]) : undefined;
    };
    feed = word('F') ?? feed;
    const to: [number, number, number] = [
      word('X') ?? at[0],
      word('Y') ?? at[1],
      word('Z') ?? at[2],
    ];
    moves.push({ from: at, to, strand: word('E') ?? 0, feed, layer, line });
    at = to;
  }
  return moves;
}

/** How wide a laid line is, by the strand that it takes: width = strand x section / (length x height). */
export function widthOf(
  { from, to, strand }: PlainMove,
  heightMm: number,
  printer: Printer,
): number {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  return (strand * (Math.PI / 4) * printer.filamentMm ** 2) / (length * heightMm);
}

/**
 * Which points of a fine grid laid lines go over: within half their width of their way, point by point.
 * @param left front left corner of the grid on the bed, mm
 * @returns 1 where a point is covered; rows from the front
 */
export function covered(
  moves: readonly PlainMove[],
  grid: {
    readonly left: number;
    readonly front: number;
    readonly stepMm: number;
    readonly columns: number;
    readonly rows: number;
  },
  widthAt: (move: PlainMove) => number,
): Uint8Array {
  const { left, front, stepMm, columns, rows } = grid;
  const out = new Uint8Array(columns * rows);
  for (const move of moves) {
    const half = widthAt(move) / 2 + 1e-9;
    const [x0, y0] = move.from;
    const [x1, y1] = move.to;
    const square = (x1 - x0) ** 2 + (y1 - y0) ** 2;
    const first = Math.max(0, Math.floor((Math.min(y0, y1) - half - front) / stepMm - 0.5));
    const last = Math.min(rows - 1, Math.ceil((Math.max(y0, y1) + half - front) / stepMm - 0.5));
    for (let j = first; j <= last; j += 1) {
      const y = front + (j + 0.5) * stepMm;
      // Only near the way: at 45 degrees a box around it would be mostly empty.
      let low = Math.min(x0, x1) - half;
      let high = Math.max(x0, x1) + half;
      if (Math.abs(y1 - y0) > stepMm) {
        const middle = x0 + ((y - y0) * (x1 - x0)) / (y1 - y0);
        const reach = (half * Math.sqrt(square)) / Math.abs(y1 - y0);
        low = Math.max(low, middle - reach);
        high = Math.min(high, middle + reach);
      }
      const begin = Math.max(0, Math.floor((low - left) / stepMm - 0.5));
      const end = Math.min(columns - 1, Math.ceil((high - left) / stepMm - 0.5));
      for (let i = begin; i <= end; i += 1) {
        const x = left + (i + 0.5) * stepMm;
        const along = square === 0 ? 0 : ((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / square;
        const t = Math.max(0, Math.min(1, along));
        if (Math.hypot(x - x0 - t * (x1 - x0), y - y0 - t * (y1 - y0)) <= half)
          out[j * columns + i] = 1;
      }
    }
  }
  return out;
}

/** What is laid, against the samples that it should cover. */
export interface LaidQuality {
  /** Shares of the samples' area that lines go over: of all, and of the worst layer; and of it, what lies beyond. */
  readonly over: number;
  readonly worst: number;
  readonly beyond: number;
  /** Plastic over the volume of the samples. */
  readonly plastic: number;
}

/**
 * Compares the lines of a file with a relief that lies unturned in the middle of the usual bed, on a raster of its own.
 * @param fine points along the side of a sample
 */
export function laidQuality(
  { width, height, data }: HeightMap,
  text: string,
  {
    sampleMm,
    layers,
    fine,
  }: { readonly sampleMm: number; readonly layers: number; readonly fine: number },
): LaidQuality {
  const moves = plainMoves(text).filter(
    ({ strand, layer, from, to }) =>
      strand > 0 && layer > 0 && Math.hypot(to[0] - from[0], to[1] - from[1]) > 0,
  );
  const step = sampleMm / fine;
  const grid = {
    left: 110 - (width * sampleMm) / 2,
    front: 110 - (height * sampleMm) / 2,
    stepMm: step,
    columns: width * fine,
    rows: height * fine,
  };
  let [points, over, beyond, worst, plastic, volume] = [0, 0, 0, 1, 0, 0];
  for (let layer = 1; layer <= layers; layer += 1) {
    const heightMm = layer === 1 ? 0.16 : 0.08;
    const own = moves.filter((move) => move.layer === layer);
    const swept = covered(own, grid, (move) => widthOf(move, heightMm, USUAL_PRINTER));
    let [wanted, hit] = [0, 0];
    for (let j = 0; j < grid.rows; j += 1) {
      const row = height - 1 - Math.floor(j / fine);
      for (let i = 0; i < grid.columns; i += 1) {
        const inside = (data[row * width + Math.floor(i / fine)] ?? 0) >= layer;
        const laid = swept[j * grid.columns + i] === 1;
        if (inside) wanted += 1;
        if (inside && laid) hit += 1;
        if (!inside && laid) beyond += 1;
      }
    }
    if (wanted === 0) continue;
    points += wanted;
    over += hit;
    worst = Math.min(worst, hit / wanted);
    plastic += own.reduce((sum, { strand }) => sum + strand, 0) * (Math.PI / 4) * 1.75 ** 2;
    volume += wanted * step ** 2 * heightMm;
  }
  return { over: over / points, worst, beyond: beyond / points, plastic: plastic / volume };
}
