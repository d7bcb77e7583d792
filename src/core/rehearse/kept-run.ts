import { z } from 'zod';
import { fail, succeed, type Result } from '../base/result.ts';

/** Runs of one project that are kept; older ones go. */
export const MOST_RUNS = 30;
const MOST_EVENTS = 5000;
const MOST_STOPS = 5000;
const seconds = z.number().min(0).max(1e9);

/** A rehearsal that came to its end: what happened, not what it looked like. */
export const keptRunSchema = z.object({
  id: z.string().min(1).max(100),
  /** Milliseconds since 1970. */
  atMs: z.number(),
  fileName: z.string().max(300),
  stamp: z.string().max(100),
  score: z.number().min(0).max(1),
  firstWrongLayer: z.number().int().nullable(),
  /** Seconds of the clock, and of printing. */
  clockS: seconds,
  printS: seconds,
  events: z
    .array(
      z.object({
        kind: z.string().max(40),
        clockS: seconds,
        printS: seconds,
        stop: z.number().int().optional(),
        spool: z.string().max(200).nullable().optional(),
      }),
    )
    .max(MOST_EVENTS),
});
export type KeptRun = z.infer<typeof keptRunSchema>;

/** What was seen at a real print. */
export const printNotesSchema = z.object({
  stamp: z.string().max(100),
  /** Of each swap: minutes after the start at which the printer stopped, and from then until it went on; null where nobody looked. */
  swaps: z
    .array(
      z.object({
        stoppedMin: seconds.nullable(),
        tookMin: seconds.nullable(),
        note: z.string().max(500),
      }),
    )
    .max(MOST_STOPS),
  /** Minutes after the start at which the print was ready. */
  readyMin: seconds.nullable(),
  note: z.string().max(2000),
});
export type PrintNotes = z.infer<typeof printNotesSchema>;

/** What is kept of the runs of a project. */
export const runBookSchema = z.object({
  runs: z.array(keptRunSchema).max(MOST_RUNS),
  notes: printNotesSchema.nullable(),
});
export type RunBook = z.infer<typeof runBookSchema>;

export const EMPTY_BOOK: RunBook = { runs: [], notes: null };

/** Puts a run in front; the oldest goes where there are too many. */
export function keepRun(book: RunBook, run: KeptRun): RunBook {
  return {
    ...book,
    runs: [run, ...book.runs.filter(({ id }) => id !== run.id)].slice(0, MOST_RUNS),
  };
}

/** Runs and notes as a file. */
export function runBookJson(title: string, book: RunBook): string {
  return `${JSON.stringify({ title, ...book }, null, 2)}\n`;
}

/** What a real print tells of its printer. */
export interface Measured {
  /** Seconds of a swap; null where none was noted. */
  readonly swapS: number | null;
  /** Seconds of printing as they were, for one as predicted; null where no moment was noted. */
  readonly timeFactor: number | null;
}

/**
 * What the notes of a real print tell: the middle one of the times that swaps took, and how much longer than predicted it printed, by the
 * last moment that was noted, with the swaps before it taken out.
 * @param stopsS seconds of printing, as predicted, at which each swap is due
 * @param totalS and of the whole print
 * @param swapS seconds of a swap where none was noted
 */
export function measuredBy(
  notes: PrintNotes,
  stopsS: readonly number[],
  totalS: number,
  swapS: number,
): Result<Measured, { readonly code: 'nothing-noted' | 'not-rising' }> {
  const took = notes.swaps.flatMap(({ tookMin }) => (tookMin === null ? [] : [60 * tookMin]));
  const moments = [...notes.swaps.map(({ stoppedMin }) => stoppedMin), notes.readyMin];
  const noted = moments.flatMap((minutes) => (minutes === null ? [] : [minutes]));
  if (took.length === 0 && noted.length === 0) return fail('nothing-noted');
  if (noted.some((minutes, n) => n > 0 && minutes <= (noted[n - 1] as number)))
    return fail('not-rising');
  const sorted = [...took].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  const middle =
    sorted.length === 0
      ? null
      : sorted.length % 2 === 1
        ? (sorted[half] as number)
        : ((sorted[half - 1] as number) + (sorted[half] as number)) / 2;
  const last = moments.reduce<number>((at, minutes, n) => (minutes === null ? at : n), -1);
  const due = last < notes.swaps.length ? stopsS[last] : totalS;
  let printedS = 60 * (moments[last] ?? 0);
  for (let n = 0; n < Math.min(last, notes.swaps.length); n += 1) {
    const own = notes.swaps[n]?.tookMin ?? null;
    printedS -= own === null ? (middle ?? swapS) : 60 * own;
  }
  return succeed({
    swapS: middle,
    timeFactor: last >= 0 && due !== undefined && due > 0 && printedS > 0 ? printedS / due : null,
  });
}
