import { strToU8 } from 'fflate';
import { createEvents, type EventAttributes } from 'ics';
import { succeed, fail, type Result } from '../../base/result.ts';
import type { SwapSheet } from '../../schedule/swap-sheet.ts';
import { NEXT_PIECE_S } from '../../schedule/pieces.ts';
import { describeSwap, formatDuration, formatStrand } from '../../schedule/words.ts';

/** How long before a swap the alarm goes off, minutes. */
export const ALARM_MINUTES = 5;

/** How long a swap is in the calendar at least: shorter ones cannot be read there, minutes. */
const LEAST_MINUTES = 1;

/**
 * The swaps as a calendar (RFC 5545), an event with an alarm for each. Pieces that are printed one after the other each have
 * theirs, and the change from one to the next has one too.
 * @param startMs when the print starts, milliseconds since 1970
 */
export function swapCalendar(sheet: SwapSheet, startMs: number): Result<string> {
  const { pieces, printer, back } = sheet;
  const nameOf = (id: string): string =>
    sheet.bands.find(({ filamentId }) => filamentId === id)?.filament.name ?? id;
  const rounds = pieces.way === 'apart' ? pieces.copies : 1;
  const roundS = sheet.totalS + NEXT_PIECE_S + (back ? printer.swapS : 0);
  const event = (
    id: string,
    atS: number,
    title: string,
    alarm: string,
    description: readonly string[],
  ): EventAttributes => ({
    uid: `${sheet.stamp}-${startMs}-${id}@zesty-strata`,
    productId: '-//Zesty Strata//swap sheet//EN',
    calName: `Swaps of ${sheet.title}`,
    start: startMs + 1000 * Math.round(atS),
    startInputType: 'utc',
    startOutputType: 'utc',
    duration: { minutes: Math.max(LEAST_MINUTES, Math.round(printer.swapS / 60)) },
    title,
    description: [...description, `${sheet.title}, stamp ${sheet.stamp}.`].join('\n'),
    alarms: [
      {
        action: 'display',
        description: `${alarm} in ${ALARM_MINUTES} minutes`,
        trigger: { minutes: ALARM_MINUTES, before: true },
      },
    ],
  });
  const events = Array.from({ length: rounds }, (_, round) => {
    const piece = rounds > 1 ? `Piece ${round + 1}, swap` : 'Swap';
    const swaps = sheet.swaps.map((swap) => {
      const to = nameOf(swap.toFilamentId);
      return event(
        `${rounds > 1 ? `piece-${round + 1}-` : ''}swap-${swap.swapNumber}`,
        round * roundS + swap.atS,
        `${piece} ${swap.swapNumber}: ${nameOf(swap.fromFilamentId)} to ${to}`,
        `Swap to ${to}`,
        [
          describeSwap(swap, to),
          `Purge ${formatStrand(swap.purgeMm)}.`,
          `${formatDuration(swap.sinceS)} of printing since the last stop.`,
        ],
      );
    });
    if (round === rounds - 1) return swaps;
    const next = back ? `change back to ${nameOf(back.toFilamentId)}, ` : '';
    return [
      ...swaps,
      event(
        `piece-${round + 2}`,
        round * roundS + sheet.totalS,
        `Piece ${round + 1} is ready: ${next}start piece ${round + 2}`,
        `Piece ${round + 1} is ready`,
        back ? [`Purge ${formatStrand(back.purgeMm)}.`] : [],
      ),
    ];
  }).flat();
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
