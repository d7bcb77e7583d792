import { strToU8 } from 'fflate';
import { createEvents, type EventAttributes } from 'ics';
import { succeed, fail, type Result } from '../base/result.ts';
import type { SwapSheet } from '../schedule/swap-sheet.ts';
import { describeSwap, formatDuration, formatStrand } from '../schedule/words.ts';

/** How long before a swap the alarm goes off, minutes. */
export const ALARM_MINUTES = 5;

/** How long a swap is in the calendar at least: shorter ones cannot be read there, minutes. */
const LEAST_MINUTES = 1;

/**
 * The swaps as a calendar (RFC 5545), an event with an alarm for each.
 * @param startMs when the print starts, milliseconds since 1970
 */
export function swapCalendar(sheet: SwapSheet, startMs: number): Result<string> {
  const nameOf = (id: string): string =>
    sheet.bands.find(({ filamentId }) => filamentId === id)?.filament.name ?? id;
  const events = sheet.swaps.map((swap): EventAttributes => {
    const to = nameOf(swap.toFilamentId);
    return {
      uid: `${sheet.stamp}-${startMs}-swap-${swap.swapNumber}@zesty-strata`,
      productId: '-//Zesty Strata//swap sheet//EN',
      calName: `Swaps of ${sheet.title}`,
      start: startMs + 1000 * Math.round(swap.atS),
      startInputType: 'utc',
      startOutputType: 'utc',
      duration: { minutes: Math.max(LEAST_MINUTES, Math.round(sheet.printer.swapS / 60)) },
      title: `Swap ${swap.swapNumber}: ${nameOf(swap.fromFilamentId)} to ${to}`,
      description: [
        describeSwap(swap, to),
        `Purge ${formatStrand(swap.purgeMm)}.`,
        `${formatDuration(swap.sinceS)} of printing since the last stop.`,
        `${sheet.title}, stamp ${sheet.stamp}.`,
      ].join('\n'),
      alarms: [
        {
          action: 'display',
          description: `Swap to ${to} in ${ALARM_MINUTES} minutes`,
          trigger: { minutes: ALARM_MINUTES, before: true },
        },
      ],
    };
  });
  const { error, value } = createEvents(events, {
    productId: '-//Zesty Strata//swap sheet//EN',
    calName: `Swaps of ${sheet.title}`,
  });
  return error || typeof value !== 'string'
    ? fail('not-written', undefined, error?.message)
    : succeed(foldOctets(value));
}

/** Octets in a line at most: RFC 5545, 3.1. */
const LINE_OCTETS = 75;

/** Folds lines anew by octets and never within a sign: the package counts signs, which are up to four octets long. */
function foldOctets(text: string): string {
  const fold = (line: string): string => {
    let out = '';
    let length = 0;
    for (const sign of line) {
      const octets = strToU8(sign).length;
      if (length + octets > LINE_OCTETS) {
        out += '\r\n ';
        length = 1;
      }
      out += sign;
      length += octets;
    }
    return out;
  };
  return text
    .replace(/\r\n[ \t]/g, '')
    .split('\r\n')
    .map(fold)
    .join('\r\n');
}
