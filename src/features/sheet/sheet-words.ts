import { format, isSameDay } from 'date-fns';
import type { SwapSheet } from '#core/schedule/swap-sheet.ts';
import { fileStem } from '../../platform/browser/files.ts';

/** What the names of all files of a sheet begin with. */
export function stemOf(sheet: Pick<SwapSheet, 'title' | 'stamp'>): string {
  return `${fileStem(sheet.title)}-${sheet.stamp}`;
}

/** A moment as a field of date and time has it. */
export function localMoment(date: Date): string {
  return format(date, "yyyy-MM-dd'T'HH:mm");
}

/** The clock some seconds after a start; with the day where that is another one. */
export function clockAt(startsAt: string, seconds: number): string {
  const start = new Date(startsAt);
  const then = new Date(start.getTime() + 1000 * seconds);
  return format(then, isSameDay(start, then) ? 'HH:mm' : 'EEE HH:mm');
}
