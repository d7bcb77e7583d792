import type { Fault, Result } from '#core/base/result.ts';
import type { LayerLines, TextLine } from '#core/gcode/layer-lines.ts';
import type { GcodeFault } from '#core/gcode/read-gcode.ts';
import type { GcodeReport } from '#core/gcode/report.ts';
import type { OwnLines } from '#core/gcode/take-out.ts';

/** A sliced file that was read. */
export interface ReadFile {
  readonly report: GcodeReport;
  /** What of ours stands in it; and the file without that, where there is some. */
  readonly own: OwnLines;
  readonly bare: GcodeReport;
}

/** The jobs on one sliced file. It is read in parts; the page never has it whole. */
// eslint-disable-next-line @typescript-eslint/consistent-type-definitions
export type GcodeJobs = {
  /** Reads a file and keeps it for the jobs that follow. */
  open: {
    input: { readonly file: Blob; readonly accelerationMmS2: number };
    output: Result<ReadFile, GcodeFault | Fault<'broken-block'>>;
  };
  /** The ways of layers, counted from 1, the last one included. */
  lines: {
    input: { readonly first: number; readonly last: number };
    output: LayerLines;
  };
  /** Lines of text around one, counted from 1. */
  text: {
    input: { readonly line: number; readonly before: number; readonly after: number };
    output: readonly TextLine[];
  };
};
