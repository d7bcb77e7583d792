import { writePieces, type BytePieces } from '../base/byte-pieces.ts';
import { noCheckpoint, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap } from '../base/raster.ts';
import { printLines, type PrintValues } from '../printer/print-texts.ts';
import type { Printer } from '../printer/printer.ts';
import type { Inlaid } from '../relief/inlaid.ts';
import type { Pieces } from '../schedule/pieces.ts';
import type { Filament } from '../stack/filament.ts';
import { HOP_MM, toolParts, type FlushFace } from '../stack/flush.ts';
import { layerThicknessMm, layerTopMm } from '../stack/layer-grid.ts';
import { bandEnds, type Stack } from '../stack/stack.ts';
import type { FilamentTable } from '../stack/stack-ramp.ts';
import type { BedPlace } from './bed-place.ts';
import type { Ironing } from './ironing-settings.ts';
import type { LinePath } from './line-path.ts';
import { PartHeights } from './part-heights.ts';
import { PrintWriter, type Written } from './print-writer.ts';
import type { SlicedLayer } from './slice-layer.ts';

/** Strand is drawn back on a way over a gap that is longer than this, mm, and on any way longer than the other. */
const GAP_MM = 1.5;
const FAR_MM = 8;
/** Ways up to this many lines are gone without lifting: the nozzle stays over what it just laid. */
const LIFT_LINES = 2;
/** How far above the plate the nozzle goes to where it begins, mm. */
const START_MM = 2;
/** How far above a finished piece the nozzle goes before the next one, and at the end, mm. */
const CLEAR_MM = 5;

/** What a print is written from. */
export interface PrintSource {
  readonly heights: HeightMap;
  readonly sampleMm: number;
  /** In the order in which they are laid; a part that begins lies on the bed as the first of an inlay or a piece. */
  readonly laid: readonly (SlicedLayer & { readonly begins: boolean })[];
  readonly layerCount: number;
  readonly inlaid?: Inlaid | undefined;
  readonly flush?: FlushFace | undefined;
  readonly stack: Stack;
  readonly filaments: FilamentTable;
  readonly printer: Printer;
  readonly pieces: Pieces;
  readonly place: BedPlace;
  readonly ironing: Ironing | null;
  readonly title: string;
  readonly stamp: string;
}

/** Heat of nozzle and bed for a filament, degrees Celsius. */
export function heatOf(
  filament: Pick<Filament, 'nozzleC' | 'bedC'> | undefined,
  printer: Pick<Printer, 'nozzleC' | 'bedC'>,
): { readonly nozzleC: number; readonly bedC: number } {
  return {
    nozzleC: filament?.nozzleC ?? printer.nozzleC,
    bedC: filament?.bedC ?? printer.bedC,
  };
}

/** A name as a remark can hold it. */
const plain = (name: string): string => name.replace(/[^\p{L}\p{N} .,+-]/gu, ' ').trim();

/**
 * Writes a print without its swaps: they are put in as into any sliced file, so what takes them out finds these too.
 * @returns the file, what was written of it, and the strand of each layer of all pieces without their inlays, mm: element n is layer
 * n; and that of each part: element 0 is all without inlays
 */
export function writePrint(
  source: PrintSource,
  checkpoint: Checkpoint = noCheckpoint,
): {
  readonly pieces: BytePieces;
  readonly written: Written;
  readonly strandMm: readonly number[];
  readonly partStrandMm: readonly number[];
} {
  const { stack, filaments, printer, pieces, place, laid, layerCount, sampleMm, stamp } = source;
  const { flush } = source;
  const partHeights = new PartHeights(source.heights, source.inlaid);
  const { grid, bands } = stack;
  const together = pieces.way === 'together';
  const ends = bandEnds(bands);
  const filamentAt = (layer: number): Filament | undefined =>
    filaments[bands[ends.findIndex((end) => layer <= end)]?.filamentId ?? ''];
  const filamentOf = (layer: number, part: number): Filament | undefined =>
    part === 0 ? filamentAt(layer) : filaments[flush?.filaments[part - 1] ?? ''];
  const first = filamentOf(1, laid[0]?.part ?? 0);
  /** Tools of a face whose filaments are changed within its layers. */
  const tools = flush?.print === 'within' ? toolParts(flush) : null;
  const heat = heatOf(first, printer);
  const topMm = layerTopMm(grid, layerCount);
  const values: PrintValues = {
    '{bed}': heat.bedC,
    '{nozzle}': heat.nozzleC,
    '{filament}': plain(first?.name ?? ''),
    '{layers}': layerCount,
    '{first}': grid.firstLayerMm,
    '{height}': topMm,
    '{left}': Number(place.leftMm.toFixed(3)),
    '{front}': Number(place.frontMm.toFixed(3)),
    '{width}': Number(place.arrangement.widthMm.toFixed(3)),
    '{depth}': Number(place.arrangement.depthMm.toFixed(3)),
    '{stamp}': stamp,
  };
  const strandMm = new Array<number>(layerCount + 1).fill(0);
  const partStrandMm = new Array<number>(1 + (flush?.filaments.length ?? 0)).fill(0);
  const none: Written = { strandMm: 0, laidMm: 0, travelMm: 0, retracts: 0, lifts: 0 };
  let written = none;
  const bytes = writePieces((out) => {
    const writer = new PrintWriter(out, printer);
    let nozzleC = heat.nozzleC;
    let pushed = true;
    writer.lines(
      `; ${plain(source.title)}`,
      `; stamp ${plain(stamp)}`,
      `; ${layerCount} layers, ${grid.firstLayerMm} mm, then ${grid.layerMm} mm; lines of ${printer.lineMm} mm`,
      ...printLines(printer.startText, values),
    );
    const { purge } = place;
    if (printer.purgeLine && purge) {
      const [x0, y0, x1, y1] = purge;
      writer.lines('; fills the nozzle');
      writer.height(grid.firstLayerMm + START_MM);
      writer.travel(x0, y0);
      writer.height(grid.firstLayerMm);
      writer.lay(x1, y1, printer.lineMm, grid.firstLayerMm, printer.firstLayerMmS);
      writer.retract();
      pushed = false;
    }
    const steps = together
      ? laid.map((layer) => ({ layer, copies: [...place.corners.keys()] }))
      : [...place.corners.keys()].flatMap((copy) =>
          laid.map((layer) => ({ layer, copies: [copy] })),
        );
    let tool = 0;
    steps.forEach(({ layer, copies }, step) => {
      checkpoint(step / steps.length);
      const restarts = layer.begins && step > 0;
      if (restarts) {
        writer.height(topMm + CLEAR_MM);
        writer.lines(layer.part > 0 ? `; inlay ${layer.part}` : `; piece ${(copies[0] ?? 0) + 1}`);
      }
      const top = layerTopMm(grid, layer.layer);
      const isNew = layer.begins || steps[step - 1]?.layer.layer !== layer.layer;
      if (isNew) {
        writer.lines(`; layer ${layer.layer}, top at ${Number(top.toFixed(3))} mm`);
        if (layer.layer === 1) writer.lines('M107');
        if (layer.layer === 2 && printer.fanPercent > 0)
          writer.lines(`M106 S${Math.round((255 * printer.fanPercent) / 100)}`);
      }
      const ownTool =
        tools && layer.layer <= (flush?.layers ?? 0) ? tools.indexOf(layer.part) : tool;
      if (ownTool !== tool) {
        tool = ownTool;
        writer.lines(`T${tool}`);
      }
      const wanted = heatOf(filamentOf(layer.layer, layer.part), printer).nozzleC;
      if (wanted !== nozzleC) {
        nozzleC = wanted;
        writer.lines(`M109 S${nozzleC}`);
      }
      const before = writer.written.strandMm;
      layLayer(layer, copies, top, restarts);
      const own = writer.written.strandMm - before;
      partStrandMm[layer.part] = (partStrandMm[layer.part] as number) + own;
      if (layer.part === 0) strandMm[layer.layer] = (strandMm[layer.layer] as number) + own;
    });
    writer.lines('; end');
    writer.retract();
    writer.height(Math.min(printer.heightMm, topMm + CLEAR_MM));
    writer.lines(...printLines(printer.endText, values));
    ({ written } = writer);

    function layLayer(
      { layer, part, lines }: SlicedLayer,
      copies: readonly number[],
      top: number,
      restarts: boolean,
    ): void {
      const height = layerThicknessMm(grid, layer);
      const speedOf = ({ kind }: LinePath): number => {
        if (kind === 'iron') return source.ironing?.speedMmS ?? printer.solidMmS;
        const usual = kind === 'solid' ? printer.solidMmS : printer.outlineMmS;
        return layer === 1 ? Math.min(usual, printer.firstLayerMmS) : usual;
      };
      // Inlays that lie on the bed already are taller than what is laid beside them.
      const hopTo =
        flush?.print === 'first' && layer <= flush.layers && part !== 1
          ? layerTopMm(grid, flush.layers) + HOP_MM
          : null;
      let raised = restarts;
      copies.forEach((copy) => {
        let before: readonly [number, number] | null = null;
        for (const line of lines) {
          const { points, closed, widthMm } = line;
          const count = points.length / 2;
          const startX = points[0] as number;
          const startY = points[1] as number;
          const [x, y] = place.toBed(copy, startX, startY);
          const [fromX, fromY] = writer.place;
          const way = Math.hypot(x - fromX, y - fromY);
          // The way to the first line of a layer, and to another piece, is over who knows what.
          const overGap =
            before === null ? true : crossesGap({ layer, part }, before, [startX, startY]);
          const back =
            pushed &&
            !Number.isNaN(way) &&
            ((way > GAP_MM && overGap && before !== null) || way > FAR_MM);
          if (back) {
            writer.retract();
            pushed = false;
          }
          const hops = hopTo !== null && overGap;
          const lifts =
            hops || (printer.liftMm > 0 && !Number.isNaN(way) && way > LIFT_LINES * printer.lineMm);
          if (Number.isNaN(way)) {
            // From wherever the printer's own text left it.
            writer.height(top + START_MM);
            raised = true;
          }
          if (raised) {
            // Over what is finished, and only then down.
            writer.travel(x, y);
            writer.height(top);
            raised = false;
          } else if (lifts) {
            writer.written.lifts += 1;
            writer.height(Math.max(top + printer.liftMm, hops ? hopTo : 0));
            writer.travel(x, y);
            writer.height(top);
          } else {
            writer.height(top);
            writer.travel(x, y);
          }
          if (!pushed) {
            writer.push();
            pushed = true;
          }
          const speed = speedOf(line);
          for (let n = 1; n < count + (closed ? 1 : 0); n += 1) {
            const at = n % count;
            const [toX, toY] = place.toBed(
              copy,
              points[2 * at] as number,
              points[2 * at + 1] as number,
            );
            writer.lay(toX, toY, widthMm, height, speed);
          }
          const end = closed ? 0 : points.length - 2;
          before = [points[end] as number, points[end + 1] as number];
        }
      });
    }
  });
  return { pieces: bytes, written, strandMm, partStrandMm };

  /** Whether a straight way leaves the layer. */
  function crossesGap(
    { layer, part }: Pick<SlicedLayer, 'layer' | 'part'>,
    [x0, y0]: readonly [number, number],
    [x1, y1]: readonly [number, number],
  ): boolean {
    const { width, height } = source.heights;
    const data = partHeights.at(layer, part);
    const steps = Math.ceil((2 * Math.hypot(x1 - x0, y1 - y0)) / sampleMm);
    for (let n = 1; n < steps; n += 1) {
      const i = Math.floor((x0 + ((x1 - x0) * n) / steps) / sampleMm);
      const j = Math.floor((y0 + ((y1 - y0) * n) / steps) / sampleMm);
      if (i < 0 || j < 0 || i >= width || j >= height) return true;
      if ((data[j * width + i] as number) < layer) return true;
    }
    return false;
  }
}
