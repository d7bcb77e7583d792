import { expect } from 'chai';
import { parse } from 'csv-parse/sync';
import ICAL from 'ical.js';
import { swapCalendar, ALARM_MINUTES } from '#core/formats/sheet/swap-calendar.ts';
import { swapSheetCsv } from '#core/formats/sheet/swap-sheet-csv.ts';
import { countHeights } from '#core/heights/height-map.ts';
import { makeSwapSheet, type SwapSheet } from '#core/schedule/swap-sheet.ts';
import { FILAMENTS, stackOf } from '../helpers/stacks.ts';

const START = Date.UTC(2026, 10, 25, 18, 30);

/** Names that break careless writers: commas, semicolons, quotes, line ends, a formula, letters of several bytes. */
const HARD = 'Rust, "deep"; \\ no. 7\nsecond line';
const LONG =
  'Éclat d’étoile à la manière des très vieilles lanternes de l’observatoire sur la colline';

function sheetOf(title = 'Dome at dusk'): SwapSheet {
  return makeSwapSheet({
    title,
    stamp: '7K2Q-M9XD',
    stack: stackOf(8, 8, 11),
    filaments: {
      ...FILAMENTS,
      soot: { ...FILAMENTS.soot, name: '=1+1' },
      rust: { ...FILAMENTS.rust, name: HARD },
      ivory: { ...FILAMENTS.ivory, name: LONG },
    } as typeof FILAMENTS,
    counts: countHeights({ width: 2, height: 1, data: Uint8Array.of(3, 27) }),
    sampleMm: 40,
    widthMm: 80,
    heightMm: 40,
  });
}

function calendarOf(sheet: SwapSheet): string {
  const written = swapCalendar(sheet, START);
  if (!written.ok) throw new Error(written.fault.code);
  return written.value;
}

describe('the sheet read by other programs', () => {
  it('calendar: lines end in CR LF and are at most 75 octets long (RFC 5545, 3.1)', () => {
    const text = calendarOf(sheetOf(`${LONG}, ${LONG}`));
    expect(text.endsWith('\r\n')).to.equal(true);
    expect(text.replaceAll('\r\n', '')).to.not.match(/[\r\n]/);
    for (const line of text.split('\r\n')) expect(Buffer.byteLength(line), line).to.be.at.most(75);
  });

  it('calendar: ical.js reads an event with an alarm for each swap, at its time, with its words', () => {
    const sheet = sheetOf();
    const calendar = new ICAL.Component(ICAL.parse(calendarOf(sheet)) as unknown[]);
    expect(calendar.getFirstPropertyValue('version')).to.equal('2.0');
    expect(calendar.getFirstPropertyValue('prodid')).to.contain('Zesty Strata');
    const events = calendar.getAllSubcomponents('vevent');
    expect(events).to.have.length(2);
    const uids = new Set<string>();
    events.forEach((component, i) => {
      const swap = sheet.swaps[i];
      if (!swap) throw new Error('no swap');
      const event = new ICAL.Event(component);
      uids.add(event.uid);
      expect(event.startDate.toJSDate().getTime()).to.equal(START + 1000 * Math.round(swap.atS));
      expect(event.duration.toSeconds()).to.equal(180);
      expect(component.getFirstPropertyValue('dtstamp')).to.be.an('object');
      expect(event.description).to.contain(`Layer ${swap.layerNumber} is the first one in`);
      expect(event.description).to.contain('stamp 7K2Q-M9XD');
      const [alarm] = component.getAllSubcomponents('valarm');
      expect(alarm?.getFirstPropertyValue('action')).to.equal('DISPLAY');
      expect(String(alarm?.getFirstPropertyValue('trigger'))).to.equal(`-PT${ALARM_MINUTES}M`);
    });
    expect(uids.size).to.equal(2);
    expect(new ICAL.Event(events[0]).summary).to.equal(`Swap 1: =1+1 to ${HARD}`);
    expect(new ICAL.Event(events[1]).summary).to.contain(LONG);
  });

  it('CSV: csv-parse, strict as RFC 4180, reads each swap back; no cell is a formula', () => {
    const sheet = sheetOf();
    const text = swapSheetCsv(sheet);
    const rows: Record<string, string>[] = parse(text, {
      columns: true,
      relax_quotes: false,
      relax_column_count: false,
      record_delimiter: '\r\n',
    });
    expect(rows).to.have.length(2);
    rows.forEach((row, i) => {
      const swap = sheet.swaps[i];
      expect(Number(row.swap)).to.equal(swap?.swapNumber);
      expect(Number(row.layer)).to.equal(swap?.layerNumber);
      expect(Number(row.layer_from_0)).to.equal((swap?.layerNumber ?? 0) - 1);
      expect(Number(row.stop_after_mm)).to.equal(swap?.stopAfterMm);
      expect(Number(row.layer_top_mm)).to.equal(swap?.layerTopMm);
      expect(Number(row.purge_mm)).to.equal(swap?.purgeMm);
      expect(Number(row.into_print_s)).to.equal(Math.round(swap?.atS ?? 0));
      expect(row.stamp).to.equal('7K2Q-M9XD');
    });
    expect(rows[0]?.to_name).to.equal(HARD);
    expect(rows[0]?.from_name).to.equal("'=1+1");
    expect(rows[1]?.to_name).to.equal(LONG);
  });
});
