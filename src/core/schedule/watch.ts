import type { SheetSwap, SwapSheet } from './swap-sheet.ts';

/** How far a print has come, as the maker told it. */
export interface Watch {
  /** Stamp of the sheet that is printed. */
  readonly stamp: string;
  /** When the print started, or is to start; null before that is said. Milliseconds since 1970. */
  readonly startedMs: number | null;
  /** When it was resumed after each swap that is done, and each time a finished piece was taken off and what follows begun. */
  readonly resumedMs: readonly number[];
}

export function freshWatch(stamp: string, startedMs: number | null): Watch {
  return { stamp, startedMs, resumedMs: [] };
}

/** What comes next. */
export interface NextStop {
  /** The piece that is being printed, counted from 1; always 1 where all are printed together. */
  readonly piece: number;
  /** How many are printed one after the other. */
  readonly pieces: number;
  /** The next swap; null when the end of the piece is next. */
  readonly swap: SheetSwap | null;
  /** When the printer stops for it, or is ready; null before the print is started. Milliseconds since 1970. */
  readonly dueMs: number | null;
  /** Everything is printed and off the bed. */
  readonly over: boolean;
}

/**
 * The next stop of a print: printing from the start, or from the last time it was resumed, to the next swap. Pieces that are
 * printed one after the other each have all swaps, and between two of them the next one is started.
 */
export function nextStop(
  { swaps, lastS, pieces }: Pick<SwapSheet, 'swaps' | 'lastS' | 'pieces'>,
  watch: Watch,
): NextStop {
  const rounds = pieces.way === 'apart' ? pieces.copies : 1;
  const stops = swaps.length + 1;
  const done = watch.resumedMs.length;
  const swap = swaps[done % stops] ?? null;
  const from = watch.resumedMs.at(-1) ?? watch.startedMs;
  const seconds = swap ? swap.sinceS : lastS;
  return {
    piece: Math.min(rounds, Math.floor(done / stops) + 1),
    pieces: rounds,
    swap,
    dueMs: from === null ? null : from + 1000 * seconds,
    over: done >= rounds * stops,
  };
}

/** A swap is done, and printing goes on. */
export function resumed(watch: Watch, nowMs: number): Watch {
  return {
    ...watch,
    startedMs: watch.startedMs ?? nowMs,
    resumedMs: [...watch.resumedMs, nowMs],
  };
}

/** One step back: the last swap is not done after all, or the print is not started. */
export function stepBack(watch: Watch): Watch {
  return watch.resumedMs.length > 0
    ? { ...watch, resumedMs: watch.resumedMs.slice(0, -1) }
    : { ...watch, startedMs: null };
}

/** A time that counts down, `1:02:09` or `4:09`; with a sign where it is over. */
export function formatCountdown(seconds: number): string {
  const whole = Math.round(Math.abs(seconds));
  const hours = Math.floor(whole / 3600);
  const two = (value: number): string => String(value).padStart(2, '0');
  const minutes = Math.floor(whole / 60) % 60;
  const text =
    hours > 0 ? `${hours}:${two(minutes)}:${two(whole % 60)}` : `${minutes}:${two(whole % 60)}`;
  return seconds <= -1 ? `+${text}` : text;
}
