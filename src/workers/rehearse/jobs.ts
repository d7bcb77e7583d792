import type { Result } from '#core/base/result.ts';
import type { GcodeFault } from '#core/gcode/read-gcode.ts';
import type { PrintPlan } from '#core/gcode/print-plan.ts';
import type { Printer } from '#core/printer/printer.ts';
import type { PanelSwap } from '#core/rehearse/by-panel.ts';
import type {
  LaidSpool,
  PrinterManner,
  PrinterRun,
  PrintJob,
  RunFaults,
} from '#core/rehearse/printer-run.ts';
import type { TriedFault } from '#core/rehearse/rehearsal.ts';
import type { Score } from '#core/rehearse/score.ts';
import type { FilamentTable } from '#core/stack/stack-ramp.ts';

/** A layer of the file on the time line. */
export interface TimedLayer {
  readonly topMm: number;
  /** Seconds of printing. */
  readonly beginS: number;
  readonly endS: number;
  /** Filament that the sheet wants there, and which part of the plan it is: a band, or an inlay after all of them. */
  readonly filament: string;
  readonly part: number;
}

/** What a page knows of a file that was run once. */
export interface RehearsedFacts {
  readonly layers: readonly TimedLayer[];
  readonly job: PrintJob;
  readonly manner: PrinterManner;
  /** What lies where everything goes as planned. */
  readonly planned: readonly LaidSpool[];
  readonly panel: readonly PanelSwap[];
  readonly width: number;
  readonly height: number;
}

/** A picture of what lies on the plate. */
export interface LaidPixels {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray<ArrayBuffer>;
}

/** The jobs on one file that is rehearsed. */
// eslint-disable-next-line @typescript-eslint/consistent-type-definitions
export type RehearseJobs = {
  /** Runs a file once and keeps it for the jobs that follow. */
  open: {
    input: {
      readonly file: Blob;
      readonly plan: PrintPlan;
      readonly printer: Printer;
      readonly filaments: FilamentTable;
    };
    output: Result<RehearsedFacts, GcodeFault>;
  };
  /** What lies on the plate at a moment of printing. */
  picture: {
    input: { readonly laid: readonly LaidSpool[]; readonly atS: number };
    output: LaidPixels;
  };
  /** How a print came out so far. */
  score: {
    input: Pick<PrinterRun, 'laid' | 'printS' | 'state'>;
    output: Score;
  };
  /** Plays the file to its end with one fault. */
  play: {
    input: { readonly faults: RunFaults; readonly emptyAfterMm: number | null };
    output: { readonly run: PrinterRun; readonly score: Score };
  };
  /** Every way in which it may go wrong, the worst case of each. */
  tryAll: {
    input: null;
    output: readonly TriedFault[];
  };
};
