import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { RgbaRaster } from '#core/base/raster.ts';
import { exportFile, formatsOf, type ExportFormat } from '#core/formats/mesh/export-files.ts';
import { swapSheetText } from '#core/formats/sheet/swap-sheet-text.ts';
import { printPlanOf, swapsJson } from '#core/formats/sheet/swaps-json.ts';
import { meanColourError } from '#core/heights/colour-error.ts';
import {
  countEdges,
  countHeights,
  cropHeights,
  middlesOf,
  printedPart,
} from '#core/heights/height-map.ts';
import type { ExportRequest } from '#core/plan/export-request.ts';
import type { ReliefPlan } from '#core/plan/relief-plan.ts';
import type { SwapSheet } from '#core/schedule/swap-sheet.ts';
import { makeOwnGcode, type OwnGcode, type OwnPrint } from '#core/slicing/own-gcode.ts';
import type { PrintPlan } from '#core/gcode/print-plan.ts';
import { countInlays, type CountedInlays } from '#core/relief/count-inlays.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { BadInput } from '../platform/bad-input.ts';
import { describeOwnGcodeFault } from '../platform/slicing-words.ts';
import { describeFinding } from '../platform/gcode-words.ts';
import { PNG_ENCODERS } from '../platform/encode-pictures.ts';

/** What is always written; `--all-formats` writes the others too. */
const USUAL_FORMATS: readonly ExportFormat[] = ['stl', '3mf', 'print', 'heights'];

/** A relief with all that its files and its sheet say. */
export interface ReliefJob extends ExportRequest {
  readonly plan: ReliefPlan;
  /** What G-code of our own is made with. */
  readonly printing: Pick<OwnPrint, 'printer' | 'pieces' | 'ironing'>;
  /** The swap sheet of what was counted. */
  readonly sheetOf: (counted: CountedRelief) => SwapSheet;
}

/** The samples of a finished relief, counted. */
export interface CountedRelief {
  readonly counts: Uint32Array;
  readonly edges: Uint32Array;
  /** How far what is printed reaches, in samples. */
  readonly extent: { readonly columns: number; readonly rows: number };
  readonly middles: readonly (readonly [number, number])[];
  readonly inlays: CountedInlays | null;
}

const round = (value: number, digits: number): number => Number(value.toFixed(digits));
const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);

/**
 * Works a relief out and writes its files to a folder.
 * @returns counts, mm, grams and the mean colour error, for stdout
 * @throws BadInput where nothing is printed, or the folder cannot be written
 */
export async function writeRelief(
  { plan, request, stack, filaments, title, stamp, smoothMm, crop, printing, sheetOf }: ReliefJob,
  out: string,
  { allFormats, gcode }: { readonly allFormats: boolean; readonly gcode: boolean },
): Promise<object> {
  await plan.prepare(request);
  const { heights: whole, outlines, inlaid, raisedSamples, loweredSamples } = plan.relief(request);
  const counts = countHeights(whole);
  const printed = whole.data.length - (counts[0] ?? 0);
  if (printed === 0)
    throw new BadInput(
      `${title}: every sample is transparent, so there is nothing to print. Use another picture.`,
    );
  const { columns = 0, rows = 0 } = printedPart(whole) ?? {};
  const sheet = sheetOf({
    counts,
    edges: countEdges(whole),
    extent: { columns, rows },
    middles: middlesOf(whole),
    inlays: inlaid ? countInlays(whole, inlaid) : null,
  });
  const { sampleMm } = request;
  const heights = crop ? cropHeights(whole) : whole;
  const { face } = request;
  const looked = face && { view: face, heights: plan.looked(request) };
  const source = {
    ...{ heights, outlines, inlaid, looked, stack, filaments },
    ...{ sampleMm, smoothMm, stamp, title },
  };
  const formats = allFormats ? formatsOf(inlaid !== undefined) : USUAL_FORMATS;
  const written = formats.map((format) => exportFile(format, source, PNG_ENCODERS));
  const own = gcode
    ? await makeOwnGcode({
        ...printing,
        heights: whole,
        outlines,
        inlaid,
        sampleMm,
        smoothMm,
        stack,
        filaments,
        title,
        plan: printPlanOf(sheet),
      })
    : null;
  if (own && !own.ok) throw new BadInput(`${title}: ${describeOwnGcodeFault(own.fault)}`);
  const files: Record<string, readonly Uint8Array[] | string> = {
    ...(own ? { 'print.gcode': own.value.pieces } : {}),
    ...Object.fromEntries(written.map(({ suffix, pieces }) => [suffix, pieces])),
    'swaps.json': swapsJson(sheet),
    'swap-sheet.txt': swapSheetText(sheet),
  };
  await writeFolder(out, files);
  const { samples }: { readonly samples: RgbaRaster } = plan.artwork(request);
  return {
    stamp,
    columns: heights.width,
    rows: heights.height,
    printedSamples: printed,
    raisedSamples,
    loweredSamples,
    widthMm: sheet.widthMm,
    heightMm: sheet.heightMm,
    thicknessMm: sheet.thicknessMm,
    layers: sheet.layers,
    swaps: sheet.swaps.length,
    triangles: written[0]?.triangles ?? 0,
    volumeMm3: round(sum(sheet.bands.map(({ volumeMm3 }) => volumeMm3)), 3),
    grams: round(sum(sheet.bands.map(({ grams }) => grams)), 3),
    filaments: sheet.bands.map(({ letter, filamentId, grams, metres }) => ({
      band: letter,
      filament: filamentId,
      grams: round(grams, 3),
      metres: round(metres, 4),
    })),
    // A tag has no picture that it could differ from.
    ...(request.piece
      ? {}
      : {
          meanDeltaE: round(
            meanColourError(samples, whole, rampOfStack(stack, filaments), request.sampleMm) ?? 0,
            4,
          ),
        }),
    files: Object.keys(files),
    ...(own ? { gcode: aboutOwn(own.value, printPlanOf(sheet)) } : {}),
  };
}

/**
 * Writes files to a folder, which is made where it is missing.
 * @throws BadInput where that cannot be
 */
export async function writeFolder(
  out: string,
  files: Readonly<Record<string, readonly Uint8Array[] | string>>,
): Promise<void> {
  try {
    await mkdir(out, { recursive: true });
    for (const [name, content] of Object.entries(files)) await writeFile(join(out, name), content);
  } catch (error) {
    throw new BadInput(
      `${out} cannot be written (${(error as NodeJS.ErrnoException).code ?? 'unknown error'}).`,
    );
  }
}

/** What is told of a print of our own. */
export function aboutOwn(own: OwnGcode, plan: PrintPlan): object {
  const { report, written, layers } = own;
  return {
    layers: report.layers.length,
    swaps: report.pauses.length,
    seconds: round(report.seconds, 1),
    plainSeconds: round(own.plainS, 1),
    cornerlessSeconds: round(own.cornerlessS, 1),
    filamentMm: round(written.strandMm, 5),
    laidMm: round(written.laidMm, 1),
    travelMm: round(written.travelMm, 1),
    retracts: written.retracts,
    fineSamples: sum(layers.map(({ fineSamples }) => fineSamples)),
    openSamples: sum(layers.map(({ openSamples }) => openSamples)),
    findings: own.findings.map((finding) => ({
      code: finding.code,
      severity: finding.severity,
      text: describeFinding(finding, plan).text,
    })),
  };
}
