/** One thread that reads sliced files for the simulated printers. Built as a file of its own, because threads are started from files. */
import { bytesSource } from '#core/gcode/source.ts';
import type { Printer } from '#core/printer/printer.ts';
import type { JobStop } from '#core/rehearse/printer-run.ts';
import { jobOf, openRehearsal } from '#core/rehearse/rehearsal.ts';
import { describeGcodeFault } from '../platform/gcode-words.ts';

export interface ReadTask {
  readonly bytes: Uint8Array;
  readonly printer: Printer;
}

/** What a printer has to know of a file. */
export interface FileToPrint {
  readonly bytes: number;
  readonly layers: number;
  readonly totalS: number;
  readonly stops: readonly JobStop[];
  /** Some moments, seconds of printing, and the strand pushed on until then, mm. */
  readonly momentsS: Float64Array;
  readonly strandMm: Float64Array;
}

export type ReadOutcome =
  | { readonly ok: true; readonly value: FileToPrint }
  | { readonly ok: false; readonly message: string };

/** Of so many laid lines one moment is kept. */
const KEPT_OF = 100;

export default async function read({ bytes, printer }: ReadTask): Promise<ReadOutcome> {
  const opened = await openRehearsal(bytesSource(bytes), { stamp: '', swaps: [] }, printer);
  if (!opened.ok) return { ok: false, message: describeGcodeFault(opened.fault) };
  const { print } = opened.value.file;
  const { totalS, stops } = jobOf(print, []);
  const last = print.slotS.length - 1;
  const kept = (_: number, n: number): boolean => n % KEPT_OF === 0 || n === last;
  return {
    ok: true,
    value: {
      bytes: bytes.length,
      layers: print.layers.length,
      totalS,
      stops,
      momentsS: print.slotS.filter(kept),
      strandMm: print.slotMm.filter(kept),
    },
  };
}
