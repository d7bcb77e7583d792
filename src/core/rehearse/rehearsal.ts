import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import { succeed, type Result } from '../base/result.ts';
import { flushOrders } from '../stack/flush.ts';
import { bandOfLayers, partFilaments, type PrintPlan } from '../gcode/print-plan.ts';
import { readGcode, type GcodeFault } from '../gcode/read-gcode.ts';
import { PAUSE_CODES, pauseName } from '../gcode/remarks.ts';
import type { GcodeReport } from '../gcode/report.ts';
import type { ByteSource } from '../gcode/source.ts';
import type { Pause } from '../printer/pause.ts';
import type { Printer } from '../printer/printer.ts';
import { firstAtLeast, layPrint, secondsAtStrand, type LaidPrint } from './laid-print.ts';
import {
  idleRun,
  isObeyed,
  playRun,
  type PrinterManner,
  type PrinterRun,
  type PrintJob,
  type RunFaults,
} from './printer-run.ts';
import { plannedLaid, scoreOfRun, type Score } from './score.ts';

/** Heat of a room, and how fast nozzle and bed get hot, degrees Celsius and degrees a second. Common practice, no source. */
const ROOM_C = 20;
const NOZZLE_C_S = 2;
const BED_C_S = 0.5;
/** Seconds that a feeder takes where no profile says it. Common practice, no source. */
const FEEDER_S = 90;

/** The filament that belongs into each layer of a file, by the heights of the plan. */
export function plannedFilaments(report: GcodeReport, plan: PrintPlan): string[] {
  const filaments = partFilaments(plan);
  const only = filaments[0] ?? Object.keys(plan.colours ?? {})[0] ?? '';
  return bandOfLayers(report, plan).map((band) => filaments[band] ?? only);
}

/**
 * A print whose stops within the layers of a face say what they are for: each layer has as many as it has inlays, in the order in which
 * G-code of our own lays them. Of files that have others the order is not known, and they are left as they are.
 * @param planned filaments of the layers; those of the face become what each begins with
 */
function withFace(
  print: LaidPrint,
  planned: string[],
  report: GcodeReport,
  plan: PrintPlan,
): LaidPrint {
  const { flush } = plan;
  if (flush?.print !== 'within') return print;
  const filamentOf = (part: number): string =>
    part === 0 ? flush.body : (flush.filaments[part - 1] ?? '');
  const wants = new Map<number, string>();
  for (const { layer, layerOfObject } of report.layers) {
    const order = flushOrders(flush)[layerOfObject - 1];
    if (!order) continue;
    const own = print.stops.filter((stop) => stop.layer === layer && stop.inside);
    if (own.length !== order.length - 1) return print;
    planned[layer - 1] = filamentOf(order[0] ?? 0);
    own.forEach(({ line }, n) => wants.set(line, filamentOf(order[n + 1] ?? 0)));
  }
  return {
    ...print,
    stops: print.stops.map((stop) => {
      const own = wants.get(stop.line);
      return own === undefined ? stop : { ...stop, wants: own };
    }),
  };
}

/** Commands at which a printer with a way to pause stops; in the maker's own lines, those that are known to make printers stop. */
export function obeyedCommands({ command, text }: Pause): string[] {
  if (command === 'T1') return [];
  if (command !== 'custom') return [command];
  return text.split(/\r?\n/).flatMap((line) => {
    const bare = line.replace(/;.*$/, '').trim();
    const name = pauseName(bare);
    if (name !== null) return [name];
    const code = /^M(\d+)\b/i.exec(bare)?.[1];
    return code !== undefined && PAUSE_CODES.has(Number(code)) ? [`M${code}`] : [];
  });
}

/** How a printer of a profile behaves. */
export function mannerOf(printer: Printer, plan: PrintPlan): PrinterManner {
  return {
    obeys: obeyedCommands(printer.pause),
    feeder: printer.feeder ? partFilaments(plan) : [],
    heatS: Math.max((printer.nozzleC - ROOM_C) / NOZZLE_C_S, (printer.bedC - ROOM_C) / BED_C_S, 0),
    changeS: printer.feeder ? printer.swapS : FEEDER_S,
  };
}

/**
 * What a printer is given to do with a file.
 * @param emptyAfterMm strand that is left on the spool, mm; null for one that lasts
 */
export function jobOf(
  print: LaidPrint,
  planned: readonly string[],
  emptyAfterMm: number | null = null,
): PrintJob {
  return {
    totalS: print.totalS,
    stops: print.stops.map(({ line, layer, command, tool, atS, wants }) => ({
      line,
      layer,
      command,
      tool,
      atS,
      wants: wants ?? planned[layer - 1] ?? null,
    })),
    emptyAtS: emptyAfterMm === null ? null : secondsAtStrand(print, emptyAfterMm),
  };
}

/** All that a rehearsal is about. */
export interface RehearsedFile {
  readonly print: LaidPrint;
  readonly planned: readonly string[];
  readonly printer: Printer;
  readonly plan: PrintPlan;
}

/**
 * Reads a sliced file and runs it once, as the printer of a profile does.
 * @throws Cancelled
 */
export async function openRehearsal(
  source: ByteSource,
  plan: PrintPlan,
  printer: Printer,
  checkpoint: Checkpoint = noCheckpoint,
): Promise<Result<{ readonly report: GcodeReport; readonly file: RehearsedFile }, GcodeFault>> {
  const { accelerationMmS2, cornerMmS, lineMm, filamentMm } = printer;
  const motion = { accelerationMmS2, cornerMmS };
  const read = await readGcode(source, motion, partOf(checkpoint, 0, 0.4));
  if (!read.ok) return read;
  const report = read.value;
  const print = await layPrint(
    source,
    report,
    { motion, lineMm, filamentMm },
    partOf(checkpoint, 0.4, 1),
  );
  const planned = plannedFilaments(report, plan);
  return succeed({
    report,
    file: { print: withFace(print, planned, report, plan), planned, printer, plan },
  });
}

/** A run played to its end, and how the print came out. */
export interface PlayedRun {
  readonly run: PrinterRun;
  readonly score: Score;
}

/** Plays a file on the printer, with what goes wrong. */
export function playFile(
  { print, planned, printer, plan }: RehearsedFile,
  faults: RunFaults = {},
  { emptyAfterMm = null, obeys }: { emptyAfterMm?: number | null; obeys?: readonly string[] } = {},
): PlayedRun {
  const manner = mannerOf(printer, plan);
  const begun = idleRun(
    jobOf(print, planned, emptyAfterMm),
    obeys ? { ...manner, obeys } : manner,
    faults,
    planned[0] ?? null,
  );
  const run = playRun(begun, printer);
  return { run, score: scoreOfRun(print, planned, run) };
}

/** What may go wrong, as it is tried. */
export const TRIALS = [
  'nothing',
  'unknown-command',
  'runs-through',
  'resumes-itself',
  'wrong-spool',
  'runs-out',
  'runs-out-told',
  'power',
] as const;
export type Trial = (typeof TRIALS)[number];

/** How long a printer waits that goes on by itself, seconds: as the shortest that printers are set to. Common practice, no source. */
export const IMPATIENT_S = 60;

/** One of them with all that is to be known to repeat it. */
export interface TrialCase {
  readonly trial: Trial;
  readonly faults: RunFaults;
  /** Number of the stop that it is about, from 1. */
  readonly stop: number | null;
  readonly emptyAfterMm: number | null;
  readonly obeys?: readonly string[];
}

/** The ways in which something of one kind can go wrong in a file: at each of its stops, or half way through each band. */
export function casesOf(
  { print, planned, printer, plan }: RehearsedFile,
  trial: Trial,
): TrialCase[] {
  const manner = mannerOf(printer, plan);
  const stops = print.stops.filter((stop) => isObeyed({ manner }, stop));
  const plain = { trial, faults: {}, stop: null, emptyAfterMm: null };
  const bounds = [...plannedLaid(print, planned).map(({ fromS }) => fromS), print.totalS];
  // Half way through each band.
  const middles = bounds
    .slice(1)
    .map((endS, n) => firstAtLeast(print.slotS, ((bounds[n] ?? 0) + endS) / 2));
  switch (trial) {
    case 'nothing':
      return [plain];
    case 'unknown-command':
      return stops.length === 0 ? [] : [{ ...plain, obeys: [] }];
    case 'runs-through':
      return stops.map((_, n) => ({ ...plain, faults: { ignores: n + 1 }, stop: n + 1 }));
    case 'resumes-itself':
      return stops.length === 0 ? [] : [{ ...plain, faults: { resumesAfterS: IMPATIENT_S } }];
    case 'wrong-spool':
      return stops.flatMap(({ layer, wants: own }, n) => {
        const wants = own ?? planned[layer - 1];
        // The one that comes after it lies beside it; at the last stop it is the first one.
        const next = stops[n + 1];
        const other = next ? (next.wants ?? planned[next.layer - 1]) : planned[0];
        return other === undefined || other === wants
          ? []
          : [{ ...plain, faults: { wrongSpool: { stop: n + 1, spool: other } }, stop: n + 1 }];
      });
    case 'runs-out':
      return middles.map((slot) => ({ ...plain, emptyAfterMm: print.slotMm[slot] ?? 0 }));
    case 'runs-out-told':
      return middles.map((slot) => ({
        ...plain,
        faults: { sensor: true },
        emptyAfterMm: print.slotMm[slot] ?? 0,
      }));
    case 'power':
      return middles.map((slot) => ({ ...plain, faults: { powerAtS: print.slotS[slot] ?? 0 } }));
  }
}

/** The worst case of one kind, played. */
export interface TriedFault extends PlayedRun {
  readonly what: TrialCase;
}

/** Plays every case of a kind and gives the worst; null where the file has none. */
export function tryFault(file: RehearsedFile, trial: Trial): TriedFault | null {
  let worst: TriedFault | null = null;
  for (const what of casesOf(file, trial)) {
    const { emptyAfterMm, obeys } = what;
    const played = playFile(file, what.faults, { emptyAfterMm, ...(obeys ? { obeys } : {}) });
    if (!worst || played.score.score < worst.score.score) worst = { what, ...played };
  }
  return worst;
}
