import { expect } from 'chai';
import type { PrinterStatus } from '../../src/platform/printer-api.ts';
import type { PrinterClient } from '../../src/platform/printer-client.ts';
import { Rehearsal } from '../../src/state/rehearsal.ts';
import type { HeightMap } from '#core/base/raster.ts';
import { readGcode } from '#core/gcode/read-gcode.ts';
import { bytesSource } from '#core/gcode/source.ts';
import { USUAL_PRINTER, type Printer } from '#core/printer/printer.ts';
import { panelSwaps, worstMarginS } from '#core/rehearse/by-panel.ts';
import { coverLine, type CellGrid } from '#core/rehearse/cover-line.ts';
import {
  EMPTY_BOOK,
  keepRun,
  measuredBy,
  MOST_RUNS,
  runBookSchema,
  type PrintNotes,
} from '#core/rehearse/kept-run.ts';
import { LaidPicture } from '#core/rehearse/laid-picture.ts';
import { layerAt, layerSpan } from '#core/rehearse/laid-print.ts';
import {
  advanceRun,
  idleRun,
  obey,
  playRun,
  type PrinterManner,
  type PrinterRun,
  type PrintJob,
  type RunCommand,
} from '#core/rehearse/printer-run.ts';
import {
  mannerOf,
  obeyedCommands,
  openRehearsal,
  playFile,
  tryFault,
  type RehearsedFile,
} from '#core/rehearse/rehearsal.ts';
import { plannedLaid, scoreOf } from '#core/rehearse/score.ts';
import { opticsOf } from '#core/stack/filament.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { describeOutcome } from '../../src/platform/rehearse-words.ts';
import { planOf, slice, type SliceOptions } from '../helpers/gcode.ts';
import { ownPrint } from '../helpers/own-gcode.ts';

/** A block of 6 layers, 20 x 10 samples, of which the right half goes on to 9. */
const RELIEF: HeightMap = {
  width: 20,
  height: 10,
  data: Uint8Array.from({ length: 200 }, (_, i) => (i % 20 < 10 ? 6 : 9)),
};
/** Cells by band, from heights alone: layers 1 to 3, 4 to 6 and 7 to 9. */
const AREAS = [3 * 200, 3 * 200, 3 * 100] as const;
const ALL = AREAS[0] + AREAS[1] + AREAS[2];
const SWAPS = [4, 7];
const STOPS = { 4: ['M600'], 7: ['M600'] };
/** One line of the small slicer is 0.4 mm wide. */
const PRINTER: Printer = { ...USUAL_PRINTER, lineMm: 0.4 };

async function rehearse(
  options: SliceOptions = { before: STOPS },
  printer: Printer = PRINTER,
): Promise<RehearsedFile> {
  const text = slice(RELIEF, 9, options);
  const opened = await openRehearsal(
    bytesSource(new TextEncoder().encode(text)),
    planOf(RELIEF, 9, SWAPS),
    printer,
  );
  if (!opened.ok) return expect.fail(opened.fault.code);
  return opened.value.file;
}

describe('cells that a line covers', () => {
  const grid: CellGrid = { width: 40, height: 30, cellMm: 0.5, leftMm: 0, backMm: 15 };
  const inside = (x: number, y: number, line: readonly number[], radius: number): boolean => {
    const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = line;
    const length = (x1 - x0) ** 2 + (y1 - y0) ** 2;
    const t =
      length === 0
        ? 0
        : Math.min(1, Math.max(0, ((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / length));
    return Math.hypot(x - x0 - t * (x1 - x0), y - y0 - t * (y1 - y0)) <= radius;
  };
  for (const [name, line] of [
    ['level', [3, 7.1, 12, 7.1]],
    ['upright', [5.3, 2, 5.3, 13]],
    ['slanting', [2.2, 3.1, 15.7, 11.9]],
    ['a dot', [9, 9, 9, 9]],
    ['beyond the grid', [-4, -3, 30, 20]],
  ] as const)
    it(`are those whose middle lies within half its width of the way: ${name}`, () => {
      const cells = new Uint32Array(grid.width * grid.height);
      cells[0] = 9;
      const [x0, y0, x1, y1] = line;
      coverLine(grid, x0, y0, x1, y1, 1.13, cells, 5);
      expect(cells[0]).to.equal(9);
      for (let row = 0; row < grid.height; row += 1)
        for (let column = 0; column < grid.width; column += 1)
          expect((cells[row * grid.width + column] ?? 0) > 0, `${column}, ${row}`).to.equal(
            inside((column + 0.5) * 0.5, 15 - (row + 0.5) * 0.5, line, 1.13) || row + column === 0,
          );
    });
});

describe('a file that is run once', () => {
  it('has the times of the desk, in all and layer by layer, and its stops between layers', async () => {
    const { print } = await rehearse();
    const text = slice(RELIEF, 9, { before: STOPS });
    const { accelerationMmS2, cornerMmS } = PRINTER;
    const read = await readGcode(bytesSource(new TextEncoder().encode(text)), {
      accelerationMmS2,
      cornerMmS,
    });
    if (!read.ok) return expect.fail(read.fault.code);
    expect(print.totalS).to.be.closeTo(read.value.seconds, 1e-6);
    expect(print.layers.map(({ topMm }) => topMm)).to.deep.equal(
      read.value.layers.map(({ topMm }) => topMm),
    );
    expect(print.stops.map(({ layer, command, inside }) => [layer, command, inside])).to.deep.equal(
      [
        [4, 'M600', false],
        [7, 'M600', false],
      ],
    );
    for (const { atS, layer } of print.stops) {
      expect(layerSpan(print, layer)[0]).to.be.closeTo(atS, 1e-9);
      expect(layerAt(print, atS)).to.equal(layer - 1);
      expect(layerAt(print, atS + 0.01)).to.equal(layer);
    }
    const sum = read.value.layers.slice(0, 3).reduce((all, one) => all + one.seconds, 0);
    expect(print.stops[0]?.atS).to.be.closeTo(sum, 0.5);
  });

  it('covers the samples of each layer, and nothing else', async () => {
    const { print } = await rehearse();
    const perSample = (0.4 / print.grid.cellMm) ** 2;
    print.layers.forEach(({ cells }, n) => {
      // Ends of lines are round and lie half a line beyond the last sample's middle.
      expect(cells / perSample, `layer ${n + 1}`).to.be.closeTo(n < 6 ? 200 : 100, n < 6 ? 8 : 8);
    });
  });

  it('gives the same whatever the size of the chunks, and for arcs and absolute filament too', async () => {
    const one = await rehearse();
    const other = await rehearse({ before: STOPS, relative: false, crlf: true });
    expect(other.print.layers.map(({ cells }) => cells)).to.deep.equal(
      one.print.layers.map(({ cells }) => cells),
    );
  });

  it('a line over a line changes nothing, and a layer of 70,000 lines keeps its order', async () => {
    const lines = ['G21', 'G90', 'M83', 'G1 Z0.2 F600', 'G0 X0 Y0'];
    for (let n = 0; n < 70_000; n += 1)
      lines.push(`G1 X${n % 2 === 0 ? 10 : 0} Y${n / 14_000} E0.1 F6000`);
    const opened = await openRehearsal(
      bytesSource(new TextEncoder().encode(lines.join('\n'))),
      { stamp: '', swaps: [] },
      PRINTER,
    );
    if (!opened.ok) return expect.fail(opened.fault.code);
    const [layer] = opened.value.file.print.layers;
    expect(layer?.shift).to.equal(1);
    // The order rises from the front to the back of what is laid.
    const { width, height } = opened.value.file.print.grid;
    const column = Array.from(
      { length: height },
      (_, y) => layer?.order[y * width + 20] ?? 0,
    ).filter((value) => value > 0);
    expect([...column].sort((a, b) => b - a)).to.deep.equal(column);
  });
});

describe('the score', () => {
  it('of what may go wrong is the area by heights and stack', async () => {
    const file = await rehearse();
    const near = (score: number, wrong: number): void => {
      expect(score).to.be.closeTo(1 - wrong / ALL, 0.012);
    };
    expect(playFile(file).score).to.include({ score: 1, firstWrongLayer: null });
    const unknown = tryFault(file, 'unknown-command');
    near(unknown?.score.score ?? 0, AREAS[1] + AREAS[2]);
    expect(unknown?.score.firstWrongLayer).to.equal(4);
    near(playFile(file, { ignores: 1 }).score.score, AREAS[1]);
    near(playFile(file, { ignores: 2 }).score.score, AREAS[2]);
    expect(playFile(file, { ignores: 2 }).score.firstWrongLayer).to.equal(7);
    near(playFile(file, { resumesAfterS: 60 }).score.score, AREAS[1] + AREAS[2]);
    expect(playFile(file, { resumesAfterS: 3600 }).score.score).to.equal(1);
    near(playFile(file, { wrongSpool: { stop: 1, spool: 'sand' } }).score.score, AREAS[1]);
    // Started anew with the second spool: the first band is in it.
    const late = (file.print.stops[0]?.atS ?? 0) + 1;
    near(playFile(file, { powerAtS: late }).score.score, AREAS[0]);
  });

  it('of a spool that runs out counts what is run over without filament, up to the next spool', async () => {
    const file = await rehearse();
    const { print } = file;
    // Half of the second band's strand.
    const [from = 0, to = 0] = [print.stops[0]?.atS, print.stops[1]?.atS].map((atS) =>
      print.slotS.findIndex((own) => own >= (atS ?? 0)),
    );
    const half = ((print.slotMm[from] ?? 0) + (print.slotMm[to] ?? 0)) / 2;
    const { score, run } = playFile(file, {}, { emptyAfterMm: half });
    expect(score.score).to.be.closeTo(1 - AREAS[1] / 2 / ALL, 0.02);
    expect(run.events.map(({ kind }) => kind)).to.include('ran-out');
    expect(playFile(file, { sensor: true }, { emptyAfterMm: half }).score.score).to.equal(1);
  });

  it('tells each band by itself, and a print that is ended early by what was laid', async () => {
    const file = await rehearse();
    const { bands } = playFile(file, { ignores: 1 }).score;
    expect(
      bands.map(({ filament, firstLayer, lastLayer }) => [filament, firstLayer, lastLayer]),
    ).to.deep.equal([
      ['soot', 1, 3],
      ['rust', 4, 6],
      ['sand', 7, 9],
    ]);
    expect(bands.map(({ cells, right }) => right / cells)).to.deep.equal([1, 0, 1]);
    const { print, planned } = file;
    const first = print.stops[0]?.atS ?? 0;
    const early = scoreOf(print, planned, plannedLaid(print, planned), first);
    expect(early.cells).to.equal(bands[0]?.cells);
  });

  it('of a change in the midst of a layer counts the lines before it', async () => {
    const { print, planned } = await rehearse();
    const [begin, end] = layerSpan(print, 5);
    const laid = [
      { fromS: 0, spool: 'soot' },
      { fromS: layerSpan(print, 4)[0], spool: 'rust' },
      { fromS: (begin + end) / 2, spool: 'soot' },
      { fromS: end, spool: 'rust' },
      { fromS: layerSpan(print, 7)[0], spool: 'sand' },
    ];
    const { bands, firstWrongLayer } = scoreOf(print, planned, laid);
    expect(firstWrongLayer).to.equal(5);
    expect(1 - (bands[1]?.right ?? 0) / (bands[1]?.cells ?? 1)).to.be.closeTo(1 / 6, 0.034);
  });

  it('of pieces one after the other wants the change back', async () => {
    const back = { 1: ['M600'], ...STOPS };
    const file = await rehearse({ before: back, objects: 2 });
    // The first of them stands before the first layer of all: there it changes nothing.
    expect(file.print.stops.length).to.equal(6);
    expect(playFile(file).score.score).to.equal(1);
    const without = await rehearse({ before: STOPS, objects: 2 });
    expect(playFile(without).score.bands[3]?.right).to.equal(0);
  });
});

describe('a printer that is run by the clock', () => {
  const job: PrintJob = {
    totalS: 100,
    stops: [
      { line: 10, layer: 3, command: 'M600', tool: null, atS: 30, wants: 'rust' },
      { line: 20, layer: 5, command: 'm600', tool: null, atS: 60, wants: 'sand' },
    ],
    emptyAtS: null,
  };
  const manner: PrinterManner = { obeys: ['M600'], feeder: [], heatS: 20, changeS: 15 };
  const begun = (faults = {}, more: Partial<PrintJob> = {}): PrinterRun =>
    idleRun({ ...job, ...more }, manner, faults, 'soot');
  const done = (run: PrinterRun, command: RunCommand): PrinterRun => {
    const next = obey(run, command);
    return next.ok ? next.value : expect.fail(`${command.command}: ${next.fault.code}`);
  };
  const kinds = ({ events }: PrinterRun): string[] => events.map(({ kind }) => kind);

  it('heats, prints, waits at a stop, and goes on', () => {
    let run = done(begun(), { command: 'start' });
    expect(run.state).to.equal('heating');
    run = advanceRun(run, 19);
    expect(run).to.include({ state: 'heating', printS: 0 });
    run = advanceRun(run, 1000);
    expect(run).to.include({ state: 'waiting', printS: 30, clockS: 1000 });
    expect(run.waiting).to.deep.equal({ why: 'stop', sinceS: 50, stop: 0 });
    run = done(done(run, { command: 'load', spool: 'rust' }), { command: 'resume' });
    run = advanceRun(run, 1010);
    expect(run).to.include({ state: 'printing', printS: 40, spool: 'rust' });
    expect(run.laid).to.deep.equal([
      { fromS: 0, spool: 'soot' },
      { fromS: 30, spool: 'rust' },
    ]);
    run = playRun(run, { swapS: 100 });
    expect(run).to.include({ state: 'done', printS: 100, clockS: 1170 });
    expect(run.laid.at(-1)).to.deep.equal({ fromS: 60, spool: 'sand' });
  });

  it('is the same however often it is looked at on the way', () => {
    let often = done(begun(), { command: 'start' });
    for (let clock = 0; clock <= 49; clock += 0.37) often = advanceRun(often, clock);
    const atOnce = advanceRun(done(begun(), { command: 'start' }), often.clockS);
    expect(often.printS).to.be.closeTo(atOnce.printS, 1e-9);
    expect(kinds(often)).to.deep.equal(kinds(atOnce));
  });

  it('runs through commands that it does not know, and takes small letters for large ones', () => {
    const run = playRun(idleRun(job, { ...manner, obeys: ['PAUSE'] }, {}, 'soot'), { swapS: 10 });
    expect(kinds(run).filter((kind) => kind === 'ignored')).to.have.length(2);
    expect(run.clockS).to.equal(120);
    expect(
      kinds(playRun(begun(), { swapS: 10 })).filter((kind) => kind === 'stopped-at'),
    ).to.have.length(2);
  });

  it('a stop that was run through uses up its place: the next one is asked for its own spool', () => {
    const run = playRun(begun({ ignores: 1 }), { swapS: 10 });
    expect(run.laid).to.deep.equal([
      { fromS: 0, spool: 'soot' },
      { fromS: 60, spool: 'sand' },
    ]);
  });

  it('goes on by itself, and a spool loaded after that is on from then', () => {
    let run = advanceRun(done(begun({ resumesAfterS: 60 }), { command: 'start' }), 115);
    expect(run).to.include({ state: 'printing', printS: 35 });
    expect(kinds(run)).to.include('resumed-itself');
    run = done(run, { command: 'load', spool: 'rust' });
    expect(run.laid).to.deep.equal([
      { fromS: 0, spool: 'soot' },
      { fromS: 35, spool: 'rust' },
    ]);
  });

  it('loses its power once, and is started anew with the spool that is on', () => {
    const run = playRun(begun({ powerAtS: 45 }), { swapS: 10 });
    expect(run.state).to.equal('done');
    expect(kinds(run).filter((kind) => kind === 'power-lost')).to.have.length(1);
    expect(run.laid[0]).to.deep.equal({ fromS: 0, spool: 'rust' });
    // 20 + 45 + a swap, then all anew with two swaps.
    expect(run.clockS).to.equal(20 + 45 + 10 + 20 + 100 + 20);
  });

  it('lays nothing when the strand has ended, or waits where it notices', () => {
    const unnoticed = playRun(begun({}, { emptyAtS: 40 }), { swapS: 10 });
    expect(unnoticed.laid).to.deep.include({ fromS: 40, spool: null });
    const noticed = playRun(begun({ sensor: true }, { emptyAtS: 40 }), { swapS: 10 });
    expect(noticed.laid.map(({ spool }) => spool)).to.deep.equal(['soot', 'rust', 'sand']);
    expect(noticed.clockS).to.equal(unnoticed.clockS + 10);
    const resumed = done(
      advanceRun(done(begun({ sensor: true }, { emptyAtS: 10 }), { command: 'start' }), 35),
      { command: 'resume' },
    );
    expect(resumed.laid.at(-1)).to.deep.equal({ fromS: 10, spool: null });
  });

  it('a feeder changes by itself, in the time that it takes', () => {
    const fed: PrintJob = {
      ...job,
      stops: [
        { line: 1, layer: 1, command: 'T0', tool: 0, atS: 0, wants: 'soot' },
        { line: 10, layer: 3, command: 'T1', tool: 1, atS: 30, wants: 'rust' },
      ],
    };
    const run = playRun(idleRun(fed, { ...manner, feeder: ['soot', 'rust'] }, {}, 'soot'), {
      swapS: 500,
    });
    expect(run.clockS).to.equal(135);
    expect(run.laid.at(-1)).to.deep.equal({ fromS: 30, spool: 'rust' });
    const without = playRun(idleRun(fed, manner, {}, 'soot'), { swapS: 500 });
    expect(without.laid).to.deep.equal([{ fromS: 0, spool: 'soot' }]);
    expect(kinds(without)).to.include('ignored');
  });

  it('refuses what cannot be done now, and stays as it is', () => {
    const refused = (run: PrinterRun, command: RunCommand): string => {
      const next = obey(run, command);
      return next.ok ? '' : next.fault.code;
    };
    const idle = begun();
    expect(refused(idle, { command: 'resume' })).to.equal('not-waiting');
    expect(refused(idle, { command: 'pause' })).to.equal('not-printing');
    expect(refused(idle, { command: 'stop' })).to.equal('not-begun');
    const run = done(idle, { command: 'start' });
    expect(refused(run, { command: 'start' })).to.equal('under-way');
    expect(refused(run, { command: 'resume' })).to.equal('not-waiting');
    const printing = advanceRun(run, 25);
    expect(obey(done(printing, { command: 'pause' }), { command: 'resume' }).ok).to.equal(true);
    expect(done(printing, { command: 'stop' }).state).to.equal('done');
  });

  it('obeys what its profile says, and of lines of one’s own what makes printers stop', () => {
    expect(obeyedCommands({ command: 'M25', text: '' })).to.deep.equal(['M25']);
    expect(obeyedCommands({ command: 'T1', text: '' })).to.deep.equal([]);
    expect(
      obeyedCommands({
        command: 'custom',
        text: 'G91\nG1 Z5 ; M600\nM0 swap {swap}\npause\nM117 x',
      }),
    ).to.deep.equal(['M0', 'pause']);
    expect(mannerOf(PRINTER, planOf(RELIEF, 9, SWAPS)).heatS).to.equal(95);
  });
});

describe('the picture of what is laid', () => {
  it('is the colour of the ramp where a layer is whole, and clear where nothing lies', async () => {
    const file = await rehearse();
    const { print, planned } = file;
    const { stack, filaments } = ownPrint(RELIEF, [3, 3, 3]);
    const coloured = Object.fromEntries(
      Object.entries(filaments).map(([id, filament], n) => [
        id,
        { ...filament, colour: ['#202020', '#a04020', '#d0b080', '#f0f0e0'][n] ?? '#000000' },
      ]),
    );
    const ramp = rampOfStack(stack, coloured);
    const picture = new LaidPicture(
      print,
      new Map(Object.values(coloured).map((one) => [one.id, opticsOf(one)])),
    );
    const laid = plannedLaid(print, planned);
    const { width, height, cellMm } = print.grid;
    const at = (pixels: Uint8ClampedArray, share: number): number[] => {
      const i = 4 * (Math.floor(height / 2) * width + Math.floor(share * width));
      return [...pixels.subarray(i, i + 4)];
    };
    // Looked at backwards as well: what is kept of a later moment must not show in an earlier one.
    for (const layer of [9, 2, 5, 8, 1, 6]) {
      const pixels = picture.at(laid, layerSpan(print, layer)[1]);
      const expected = (n: number): number[] => [...(ramp[n - 1]?.colour ?? []), 255];
      expect(at(pixels, 0.25), `left, layer ${layer}`).to.deep.equal(expected(Math.min(6, layer)));
      expect(at(pixels, 0.75), `right, layer ${layer}`).to.deep.equal(expected(layer));
    }
    expect([...picture.at(laid, 0).slice(0, 4)]).to.deep.equal([0, 0, 0, 0]);
    expect(cellMm).to.be.closeTo(0.2, 1e-9);
    // Another history shows from where it differs.
    const spoilt = picture.at([{ fromS: 0, spool: 'soot' }], print.totalS);
    expect(at(spoilt, 0.75)).to.not.deep.equal(at(picture.at(laid, print.totalS), 0.75));
    const nothing = picture.at([{ fromS: 0, spool: null }], print.totalS);
    expect(nothing.every((value) => value === 0)).to.equal(true);
  });
});

describe('swaps at the panel', () => {
  it('come when a band ends, with room for a twentieth of a layer on both sides', async () => {
    const { print, planned } = await rehearse({});
    expect(print.stops).to.deep.equal([]);
    const swaps = panelSwaps(print, planned, { heatS: 95, swapS: 180 });
    expect(swaps.map(({ layer, from, to }) => [layer, from, to])).to.deep.equal([
      [4, 'soot', 'rust'],
      [7, 'rust', 'sand'],
    ]);
    const [first, second] = swaps;
    expect(first?.clockS).to.be.closeTo(95 + (first?.atS ?? 0), 1e-9);
    expect(second?.clockS).to.be.closeTo(95 + 180 + (second?.atS ?? 0), 1e-9);
    const [begin, end] = layerSpan(print, 3);
    // Rows take the same time, so a twentieth of the cells is about a twentieth of the time, to one row of ten.
    expect(first?.beforeS).to.be.within(0, 0.16 * (end - begin));
    expect(first?.afterS).to.be.within(0, 0.16 * (end - begin));
    expect(worstMarginS(swaps)).to.equal(
      Math.min(...swaps.map(({ beforeS, afterS }) => beforeS + afterS)),
    );
  });
});

describe('runs that are kept', () => {
  const run = (id: string) => ({
    id,
    atMs: 1,
    fileName: 'a.gcode',
    stamp: 'S',
    score: 1,
    firstWrongLayer: null,
    clockS: 10,
    printS: 8,
    events: [],
  });
  it('stand newest first, each once, and the oldest goes', () => {
    let book = EMPTY_BOOK;
    for (let n = 0; n < MOST_RUNS + 3; n += 1) book = keepRun(book, run(String(n)));
    book = keepRun(book, { ...run('5'), score: 0.5 });
    expect(book.runs.length).to.equal(MOST_RUNS);
    expect(book.runs[0]).to.include({ id: '5', score: 0.5 });
    expect(book.runs.filter(({ id }) => id === '5')).to.have.length(1);
    expect(runBookSchema.safeParse(book).success).to.equal(true);
  });

  const notes = (
    swaps: readonly (readonly [number | null, number | null])[],
    readyMin: number | null,
  ): PrintNotes => ({
    stamp: 'S',
    swaps: swaps.map(([stoppedMin, tookMin]) => ({ stoppedMin, tookMin, note: '' })),
    readyMin,
    note: '',
  });
  it('a real print tells swap time and how much longer it printed', () => {
    // Due after 600 and 1200 s of printing, 1800 in all; it took a quarter more, and swaps of 4 and 6 minutes.
    const told = measuredBy(
      notes(
        [
          [12.5, 4],
          [29, 6],
        ],
        47.5,
      ),
      [600, 1200],
      1800,
      180,
    );
    expect(told).to.deep.equal({ ok: true, value: { swapS: 300, timeFactor: 1.25 } });
    const one = measuredBy(
      notes(
        [
          [null, null],
          [28, null],
        ],
        null,
      ),
      [600, 1200],
      1800,
      180,
    );
    expect(one).to.deep.equal({ ok: true, value: { swapS: null, timeFactor: 1.25 } });
    const swaps = measuredBy(
      notes(
        [
          [null, 3],
          [null, null],
        ],
        null,
      ),
      [600, 1200],
      1800,
      180,
    );
    expect(swaps).to.deep.equal({ ok: true, value: { swapS: 180, timeFactor: null } });
  });
  it('notes that say nothing, or run backwards, are refused', () => {
    expect(measuredBy(notes([[null, null]], null), [600], 1800, 180)).to.have.nested.property(
      'fault.code',
      'nothing-noted',
    );
    expect(measuredBy(notes([[30, null]], 20), [600], 1800, 180)).to.have.nested.property(
      'fault.code',
      'not-rising',
    );
  });
});

describe('what is said of a run', () => {
  const say = async (
    faults: Parameters<typeof playFile>[1],
    printer: Printer = PRINTER,
    options: SliceOptions = { before: STOPS },
  ): Promise<string | null> => {
    const file = await rehearse(options, printer);
    const { run, score } = playFile(file, faults);
    return describeOutcome({
      events: run.events,
      stops: run.job.stops,
      firstWrongLayer: score.firstWrongLayer,
      pause: printer.pause,
      swaps: 2,
      nameOf: (id) => id,
    });
  };
  it('names the cause, the line and what to change', async () => {
    expect(await say({})).to.equal(null);
    expect(await say({ ignores: 1 })).to.match(
      /From layer 4 .* ran through M600 in line \d+.*test tile/,
    );
    const other = { ...PRINTER, pause: { command: 'PAUSE' as const, text: '' } };
    expect(await say({}, other)).to.match(/ran through M600 .* does not know.*PAUSE/);
    expect(await say({ resumesAfterS: 5 })).to.match(/went on by itself/);
    expect(await say({ wrongSpool: { stop: 2, spool: 'ivory' } })).to.match(
      /From layer 7 .*ivory went in where sand belongs/,
    );
    expect(await say({ powerAtS: 1e9 })).to.equal(null);
    expect(await say({}, PRINTER, {})).to.match(/has no stop/);
  });
});

describe('what the page hears of the printer', () => {
  const status = (told: number, state: PrinterStatus['state']): PrinterStatus => ({
    id: 'one',
    told,
    name: 'Bench',
    state,
    speed: 600,
    clockS: told,
    printS: told,
    totalS: 100,
    spool: 'soot',
    file: null,
    waiting: null,
    laid: [],
    faults: {},
    events: [],
  });

  it('is the latest that was said, also where an answer comes after what the stream said later', async () => {
    let hear: (heard: PrinterStatus) => void = () => undefined;
    let answer: (late: PrinterStatus) => void = () => undefined;
    const client = {
      begin: () => Promise.resolve(status(1, 'idle')),
      command: ({ command }: RunCommand) =>
        command === 'start'
          ? Promise.resolve(status(2, 'printing'))
          : new Promise<PrinterStatus>((resolve) => {
              answer = resolve;
            }),
      follow: (onStatus: typeof hear) => {
        hear = onStatus;
      },
      close: () => undefined,
    } as unknown as PrinterClient;
    const worker = { run: () => Promise.resolve(null), close: () => undefined };
    const rehearsal = new Rehearsal(worker as never, () => client);
    rehearsal.store.setState({
      source: { printer: {}, file: new Blob() } as never,
      facts: { job: { totalS: 100, stops: [] }, layers: [], manner: { feeder: [] } } as never,
    });
    await rehearsal.start();
    const resumed = rehearsal.command({ command: 'resume' });
    hear(status(4, 'done'));
    answer(status(3, 'printing'));
    await resumed;
    expect(rehearsal.store.getState().status?.state).to.equal('done');
    rehearsal.close();
  });
});
