import type { HeightMap } from '../base/raster.ts';
import { isInLayer, type Inlaid } from '../relief/inlaid.ts';
import { outlinesWhere, type SharedOutlines } from '../relief/smooth-outlines.ts';
import { gapLines } from './gap-lines.ts';
import { ironRows } from './ironing.ts';
import type { Ironing } from './ironing-settings.ts';
import { layerOutlines } from './layer-outlines.ts';
import type { LinePath } from './line-path.ts';
import { endOf, nearestNext } from './nearest-next.ts';
import { PartHeights } from './part-heights.ts';
import { rowsWithin } from './rows.ts';
import { shrink } from './shrink.ts';
import { fillInside, sweep, type CellGrid } from './swept.ts';

/** Share of a line by which rows overlap the outline that they end at, so that they hold to it. */
const OVERLAP = 0.15;
/** Finest cells in which is looked for what stays open, mm. */
const CELL_MM = 0.1;

/** What an open cell lies in: a part too fine for a whole line, or one that is wide enough. */
const FINE = 2;
const WIDE = 1;

/** What is sliced. */
export interface SlicedPiece {
  /** Free of diagonal contacts. */
  readonly heights: HeightMap;
  readonly sampleMm: number;
  /** Outlines shared by all layers, where the piece has smooth ones. */
  readonly smooth?: SharedOutlines | undefined;
  /** Parts of other filaments in its lowest layers. */
  readonly inlaid?: Inlaid | undefined;
  readonly lineMm: number;
  /** Ironing of a layer's tops; null where they are left as they are. */
  readonly ironingOf?: ((layer: number) => Ironing | null) | undefined;
}

/** The lines of a layer, in the order in which they are drawn. */
export interface SlicedLayer {
  /** Counted from 1. */
  readonly layer: number;
  /** 0, or the inlay that they are of. */
  readonly part: number;
  readonly lines: readonly LinePath[];
  /** Where the nozzle is after them, mm. */
  readonly end: readonly [number, number];
  /** Samples of the layer; of them those that are finer than a line and got one of their own; and those whose middle stays open. */
  readonly samples: number;
  readonly fineSamples: number;
  readonly openSamples: number;
}

/** Slices layers of one piece; it keeps its fields of cells from one to the next. */
export class LayerSlicer {
  readonly #piece: SlicedPiece;
  readonly #grid: CellGrid;
  readonly #parts: PartHeights;
  /** Cells of a sample along one side. */
  readonly #fine: number;
  /** Cells of the layer that no line went over yet, see `FINE`; 0 elsewhere. */
  readonly #open: Uint8Array;

  constructor(piece: SlicedPiece) {
    this.#piece = piece;
    const { heights, sampleMm, inlaid } = piece;
    this.#parts = new PartHeights(heights, inlaid);
    // An odd number, so that each sample has a cell in its middle.
    const least = Math.ceil(sampleMm / CELL_MM - 1e-9);
    this.#fine = least % 2 === 0 ? least + 1 : least;
    this.#grid = {
      width: heights.width * this.#fine,
      height: heights.height * this.#fine,
      cellMm: sampleMm / this.#fine,
    };
    this.#open = new Uint8Array(this.#grid.width * this.#grid.height);
  }

  /**
   * Lines of one layer: one outline, rows at 45 or 135 degrees, and lines through what they leave open.
   * @param from where the nozzle is, mm from the top left corner of the picture
   * @param part 0 for the piece without its inlays, or the number of one
   */
  slice(layer: number, from: readonly [number, number], part = 0): SlicedLayer {
    const { heights, sampleMm, lineMm } = this.#piece;
    const outlines = this.#outlines(layer, part);
    const data = this.#parts.at(layer, part);
    const rim = shrink(outlines, lineMm / 2).map((points): LinePath => ({
      kind: 'outline',
      points,
      closed: true,
      widthMm: lineMm,
    }));
    // From the outline's own way: that has fewer corners, and what is thin is gone already.
    const inner = shrink(
      rim.map(({ points }) => points),
      (1 - OVERLAP) * lineMm,
    );
    const { width, height } = heights;
    const isInside = (x: number, y: number): boolean => {
      const i = Math.floor(x / sampleMm);
      const j = Math.floor(y / sampleMm);
      return (
        i >= 0 && j >= 0 && i < width && j < height && (data[j * width + i] as number) >= layer
      );
    };
    const rows = rowsWithin(inner, lineMm, layer % 2 === 1 ? 45 : 135, isInside).map(
      (points): LinePath => ({ kind: 'solid', points, closed: false, widthMm: lineMm }),
    );
    const samples = this.#fill(layer, data);
    const open = this.#open;
    const grid = this.#grid;
    // Within its outline's way and half a line around it a layer is wide enough for whole lines.
    fillInside(open, grid, rim, WIDE);
    for (const line of rim) sweep(open, grid, line, 0);
    for (const line of rows) sweep(open, grid, line, 0);
    const before = this.#openSamples(layer, data);
    const gaps = gapLines(
      { cells: open, grid, isFine: (cell) => open[this.#middleOf(cell)] === FINE },
      lineMm,
    );
    for (const line of gaps) sweep(open, grid, line, 0);
    const openSamples = this.#openSamples(layer, data);
    const iron = part === 0 ? this.#iron(layer, outlines) : [];
    let at = from;
    const lines: LinePath[] = [];
    for (const group of [rim, rows, gaps, iron]) {
      const ordered = nearestNext(group, at);
      lines.push(...ordered);
      const last = ordered.at(-1);
      if (last) at = endOf(last);
    }
    const fineSamples = before - openSamples;
    return { layer, part, lines, end: at, samples, fineSamples, openSamples };
  }

  #outlines(layer: number, part: number): Float64Array[] {
    const { heights, sampleMm, smooth, inlaid } = this.#piece;
    if (!inlaid) return layerOutlines(heights, layer, sampleMm, smooth);
    return outlinesWhere(inlaid.outlines, isInLayer(inlaid, layer, part)).map((line) =>
      Float64Array.from(line, (at) => at * sampleMm),
    );
  }

  #iron(layer: number, outlines: readonly Float64Array[]): LinePath[] {
    const { heights, sampleMm, lineMm, ironingOf } = this.#piece;
    const ironing = ironingOf?.(layer);
    if (!ironing) return [];
    const above = this.#outlines(layer + 1, 0);
    const { width, height, data } = heights;
    // Across the rows below.
    return ironRows(outlines, above, layer % 2 === 1 ? 135 : 45, lineMm, ironing, (x, y) => {
      const i = Math.floor(x / sampleMm);
      const j = Math.floor(y / sampleMm);
      return i >= 0 && j >= 0 && i < width && j < height && data[j * width + i] === layer;
    });
  }

  /** Marks all cells of a layer as open, and as fine until more is known. */
  #fill(layer: number, data: Uint8Array): number {
    const { width, height } = this.#piece.heights;
    const open = this.#open;
    const fine = this.#fine;
    const wide = this.#grid.width;
    let samples = 0;
    for (let y = 0; y < height; y += 1) {
      const begin = y * fine * wide;
      open.fill(0, begin, begin + wide);
      for (let x = 0; x < width;) {
        const tall = (data[y * width + x] as number) >= layer;
        let to = x + 1;
        while (to < width && (data[y * width + to] as number) >= layer === tall) to += 1;
        if (tall) {
          open.fill(FINE, begin + x * fine, begin + to * fine);
          samples += to - x;
        }
        x = to;
      }
      for (let n = 1; n < fine; n += 1) open.copyWithin(begin + n * wide, begin, begin + wide);
    }
    return samples;
  }

  /** The cell in the middle of the sample that a cell belongs to. */
  #middleOf(cell: number): number {
    const { width } = this.#grid;
    const fine = this.#fine;
    const half = (fine - 1) / 2;
    const x = cell % width;
    const y = (cell - x) / width;
    return (y - (y % fine) + half) * width + x - (x % fine) + half;
  }

  /** Samples of a layer whose middle no line went over. */
  #openSamples(layer: number, data: Uint8Array): number {
    const { width, height } = this.#piece.heights;
    const fine = this.#fine;
    const half = (fine - 1) / 2;
    const wide = this.#grid.width;
    let count = 0;
    for (let y = 0; y < height; y += 1)
      for (let x = 0; x < width; x += 1)
        if ((data[y * width + x] as number) >= layer)
          if (this.#open[(y * fine + half) * wide + x * fine + half] !== 0) count += 1;
    return count;
  }
}
