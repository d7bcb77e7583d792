import { bytesIn, type BytePieces } from '../base/byte-pieces.ts';
import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import { tidyMm } from '../base/numbers.ts';
import type { HeightMap } from '../base/raster.ts';
import { fail, succeed, type Fault, type Result } from '../base/result.ts';
import { auditGcode } from '../gcode/audit.ts';
import type { Finding } from '../gcode/finding.ts';
import type { PauseTrouble } from '../gcode/pause-check.ts';
import {
  bottomFilament,
  filamentName,
  pauseOfPlan,
  plannedObjects,
  type PlannedFace,
  type PrintPlan,
} from '../gcode/print-plan.ts';
import { readGcode } from '../gcode/read-gcode.ts';
import type { GcodeReport } from '../gcode/report.ts';
import { changedSource, eachChunk, piecesSource, type ByteSource } from '../gcode/source.ts';
import { checkPrintTexts, type TextTrouble } from '../gcode/text-check.ts';
import { planToolsToPauses, type ToolsOptions } from '../gcode/tools.ts';
import { changesOf, planWeave, type Block } from '../gcode/weave.ts';
import { cropHeights } from '../heights/height-map.ts';
import type { Printer } from '../printer/printer.ts';
import type { Inlaid } from '../relief/inlaid.ts';
import { outlinesOf } from '../relief/relief-mesh.ts';
import type { SharedOutlines } from '../relief/smooth-outlines.ts';
import type { Pieces } from '../schedule/pieces.ts';
import type { SliceFigures } from '../schedule/swap-sheet.ts';
import { flushOrders, toolParts, type FlushFace } from '../stack/flush.ts';
import { layerThicknessMm, layerTopMm } from '../stack/layer-grid.ts';
import { bandEnds, type Stack } from '../stack/stack.ts';
import type { FilamentTable } from '../stack/stack-ramp.ts';
import { placeOnBed, type BedPlace } from './bed-place.ts';
import type { Ironing } from './ironing-settings.ts';
import type { Written } from './print-writer.ts';
import { LayerSlicer, type SlicedLayer } from './slice-layer.ts';
import { writePrint } from './write-print.ts';

/** What a print of our own is made from. */
export interface OwnPrint {
  /** Finished, free of diagonal contacts; what is empty around it is cut off. */
  readonly heights: HeightMap;
  readonly sampleMm: number;
  /** How far smooth outlines may move, mm; undefined where the piece has none. */
  readonly smoothMm?: number | undefined;
  /** Outlines as they are, of a piece that is made of outlines; nothing is empty around it then. */
  readonly outlines?: SharedOutlines | undefined;
  /** Parts of other filaments in its lowest layers; the plan says how they are printed. */
  readonly inlaid?: Inlaid | undefined;
  readonly stack: Stack;
  readonly filaments: FilamentTable;
  readonly printer: Printer;
  readonly pieces: Pieces;
  readonly ironing: Ironing | null;
  /** What the sheet plans; the file is compared with it. */
  readonly plan: PrintPlan;
  readonly title: string;
}

export type OwnGcodeFault =
  | Fault<
      | 'off-bed'
      | 'too-high'
      | 'layers-above-nozzle'
      | 'nothing-printed'
      | 'lost-layer'
      | 'unreadable'
    >
  | (Fault<'bad-texts'> & { readonly troubles: readonly TextTrouble[] })
  | (Fault<'bad-pause'> & { readonly troubles: readonly PauseTrouble[] });

/** A layer of a print of our own: what is too fine for a whole line, and what became of it. */
export interface OwnLayer extends Pick<
  SlicedLayer,
  'layer' | 'part' | 'samples' | 'fineSamples' | 'openSamples'
> {
  readonly lines: number;
}

/** A file of our own, read back. */
export interface OwnGcode {
  readonly pieces: BytePieces;
  /** What the reader of any sliced file finds in it, with the printer's acceleration and corners. */
  readonly report: GcodeReport;
  readonly findings: readonly Finding[];
  /** Seconds by way over speed alone, and with acceleration, but without slowing down for corners. */
  readonly plainS: number;
  readonly cornerlessS: number;
  readonly written: Written;
  /** What each layer takes, for the sheet. */
  readonly figures: SliceFigures;
  readonly layers: readonly OwnLayer[];
  readonly turned: boolean;
  /** Whether a purge line was wanted and has no room. */
  readonly noPurge: boolean;
}

/** What is laid in one go: a layer, or a part of one. */
interface LaidPart {
  readonly layer: number;
  /** 0, or the number of an inlay. */
  readonly part: number;
  /** Whether it lies on the bed as the first of an inlay or a piece. */
  readonly begins: boolean;
}

/** The layers of a print in the order in which they are laid, with the inlays of a face on the bed. */
function laidParts(layers: number, flush: FlushFace | undefined): LaidPart[] {
  const own = (count: number, part: number, from = 1): LaidPart[] =>
    Array.from({ length: Math.max(0, count - from + 1) }, (_, n) => ({
      layer: from + n,
      part,
      begins: from + n === 1,
    }));
  if (!flush) return own(layers, 0);
  if (flush.print === 'first')
    return [...flush.filaments.flatMap((_, i) => own(flush.layers, i + 1)), ...own(layers, 0)];
  return [
    ...flushOrders(flush).flatMap((order, n) =>
      order.map((part, i) => ({ layer: n + 1, part, begins: n === 0 && i === 0 })),
    ),
    ...own(layers, 0, flush.layers + 1),
  ];
}

/** Slices a relief; layers come in the order in which they are laid. @throws Cancelled */
export function sliceRelief(
  print: OwnPrint,
  layers: number,
  checkpoint: Checkpoint,
): (SlicedLayer & LaidPart)[] {
  const { heights, sampleMm, stack, printer, ironing, inlaid } = print;
  const smooth = outlinesOf(print);
  const ends = bandEnds(stack.bands);
  const slicer = new LayerSlicer({
    heights,
    sampleMm,
    lineMm: printer.lineMm,
    inlaid,
    ...(smooth ? { smooth } : {}),
    ironingOf: (layer) =>
      ironing?.bands.includes(ends.findIndex((end) => layer <= end)) === true ? ironing : null,
  });
  let at: readonly [number, number] = [0, heights.height * sampleMm];
  const parts = laidParts(layers, inlaid && print.plan.flush);
  return parts.map((laid, n) => {
    checkpoint(n / parts.length);
    const own = slicer.slice(laid.layer, at, laid.part);
    at = own.end;
    return { ...own, ...laid };
  });
}

/**
 * Makes the whole file: slices, writes, puts the swaps in as into any sliced file, reads it back and compares it with the plan.
 * @throws Cancelled
 */
export async function makeOwnGcode(
  given: OwnPrint,
  checkpoint: Checkpoint = noCheckpoint,
): Promise<Result<OwnGcode, OwnGcodeFault>> {
  const { printer, pieces, stack, plan, sampleMm } = given;
  const heights = given.outlines ? given.heights : cropHeights(given.heights);
  const print = { ...given, heights };
  const layers = heights.data.reduce((most, one) => Math.max(most, one), 0);
  if (layers === 0) return fail('nothing-printed');
  const troubles = checkPrintTexts(printer);
  if (troubles.length > 0) return { ok: false, fault: { code: 'bad-texts', troubles } };
  if (layerTopMm(stack.grid, layers) > printer.heightMm) return fail('too-high');
  for (let layer = 1; layer <= layers; layer += 1)
    if (layerThicknessMm(stack.grid, layer) >= printer.nozzleMm) return fail('layers-above-nozzle');
  const [widthMm, depthMm] = [heights.width * sampleMm, heights.height * sampleMm];
  const place = placeOnBed(printer.bed, widthMm, depthMm, pieces);
  if (!place.ok) return place;

  const sliced = sliceRelief(print, layers, partOf(checkpoint, 0, 0.6));
  const lost = sliced.find(({ lines }) => lines.length === 0);
  if (lost) return fail('lost-layer', undefined, String(lost.layer));
  const {
    written,
    strandMm,
    partStrandMm,
    pieces: bare,
  } = writePrint(
    {
      ...print,
      laid: sliced,
      layerCount: layers,
      place: place.value,
      stamp: plan.stamp,
      flush: plan.flush,
    },
    partOf(checkpoint, 0.6, 0.7),
  );
  const source = piecesSource(bare);
  const read = await readGcode(source, {}, partOf(checkpoint, 0.7, 0.78));
  if (!read.ok) return fail('unreadable', undefined, read.fault.code);
  const pause = pauseOfPlan(plan);
  // Changes within layers are written as those of tools, and become pauses as in any sliced file.
  const tools =
    plan.flush?.print === 'within'
      ? planToolsToPauses(read.value, toolsOf(plan, plan.flush))
      : null;
  const weaving = planWeave(read.value, plan, {
    pause,
    switchOff: false,
    after: tools?.blocks.length,
  });
  if (weaving.troubles.length > 0)
    return { ok: false, fault: { code: 'bad-pause', troubles: weaving.troubles } };
  const changes = {
    blocks: [...(tools?.blocks.filter(isNeeded(plan)) ?? []), ...weaving.blocks],
    off: [...(tools?.off ?? []), ...weaving.off],
  };
  const woven = changedSource(source, changesOf(changes, false));
  const { accelerationMmS2, cornerMmS } = printer;
  const report = await readGcode(
    woven,
    { accelerationMmS2, cornerMmS },
    partOf(checkpoint, 0.78, 0.9),
  );
  if (!report.ok) return fail('unreadable', undefined, report.fault.code);
  const cornerless = await readGcode(
    source,
    { accelerationMmS2, cornerMmS: ENDLESS_CORNER },
    partOf(checkpoint, 0.9, 0.98),
  );
  return succeed({
    pieces: await allPieces(woven),
    report: report.value,
    findings: auditGcode(report.value, planOnBed(plan, place.value)),
    plainS: read.value.seconds,
    cornerlessS: cornerless.ok ? cornerless.value.seconds : report.value.seconds,
    written,
    figures: {
      layerS: layerSecondsOf(report.value, plan, layers),
      strandMm: strandMm.map((mm) => mm / pieces.copies),
      ...(plan.flush
        ? {
            inlays: {
              strandMm: partStrandMm.slice(1).map((mm) => mm / pieces.copies),
              seconds: inlaySecondsOf(report.value, plan),
            },
          }
        : {}),
    },
    layers: sliced.map(({ lines, layer, part, samples, fineSamples, openSamples }) => ({
      layer,
      part,
      samples,
      fineSamples,
      openSamples,
      lines: lines.length,
    })),
    turned: place.value.arrangement.turned,
    noPurge: printer.purgeLine && place.value.purge === null,
  });
}

/** Seconds of the layers of one run, with what fills the nozzle in the first of them; element n is layer n. */
function layerSecondsOf(report: GcodeReport, plan: PrintPlan, layers: number): number[] {
  const objects = plannedObjects(report, plan);
  const first = objects.find(({ inlay }) => inlay === 0)?.layers ?? [];
  const seconds = new Array<number>(layers + 1).fill(0);
  for (const { layerOfObject, seconds: own } of first) seconds[layerOfObject] = own;
  if (objects[0]?.inlay === 0) seconds[1] = (seconds[1] ?? 0) + report.primingS;
  return seconds;
}

/** Seconds of each inlay of one run that is printed before the rest, with what fills the nozzle in the first of them. */
function inlaySecondsOf(report: GcodeReport, plan: PrintPlan): number[] {
  const inlays = plannedObjects(report, plan).slice(0, plan.flush?.filaments.length ?? 0);
  return inlays
    .filter(({ inlay }) => inlay > 0)
    .map(
      ({ layers }, n) =>
        layers.reduce((sum, { seconds }) => sum + seconds, 0) + (n === 0 ? report.primingS : 0),
    );
}

/** Tools know nothing of the bands above a face: a further piece may begin with what the one before ended with. */
function isNeeded(plan: PrintPlan): (block: Block) => boolean {
  const last = plan.swaps.at(-1)?.to ?? plan.flush?.body ?? '';
  const name = filamentName(plan, last);
  if (bottomFilament({ inlay: 0 }, plan) !== last) return () => true;
  return ({ layer, to }) => layer.object === 1 || layer.layerOfObject > 1 || to !== name;
}

/** How the tools of a file of our own become swaps: they are numbered as they come. */
function toolsOf(plan: PrintPlan, flush: PlannedFace): ToolsOptions {
  const filamentOf = (tool: number): string => {
    const part = toolParts(flush)[tool] ?? 0;
    return part === 0 ? flush.body : (flush.filaments[part - 1] ?? '');
  };
  const changes = flushOrders(flush).flatMap((order) =>
    order.slice(1).map((part, i) => `${order[i] ?? 0} ${part}`),
  );
  return {
    pause: pauseOfPlan(plan),
    onlyLayers: null,
    dropPriming: false,
    nameOf: (tool) => filamentName(plan, filamentOf(tool)),
    purgeMmOf: (from, to) => {
      const parts = toolParts(flush);
      return flush.purgesMm[changes.indexOf(`${parts[from] ?? 0} ${parts[to] ?? 0}`)] ?? 0;
    },
  };
}

/** mm/s at which no corner slows anything down. */
const ENDLESS_CORNER = 1e6;

/** A plan for pieces that lie on the bed turned by a quarter. */
function planOnBed(plan: PrintPlan, { arrangement }: BedPlace): PrintPlan {
  if (!arrangement.turned) return plan;
  const { widthMm, depthMm, centresMm } = plan;
  return {
    ...plan,
    widthMm: depthMm,
    depthMm: widthMm,
    // To the right of the picture is to the back of the bed, and to its front is to the right.
    centresMm: centresMm?.map(([right, back]) => [tidyMm(-back), right] as const),
  };
}

async function allPieces(source: ByteSource): Promise<BytePieces> {
  const out: BytePieces = [];
  await eachChunk(source, (chunk) => {
    out.push(chunk as Uint8Array<ArrayBuffer>);
  });
  if (bytesIn(out) !== source.size) throw new Error('bytes were lost');
  return out;
}
