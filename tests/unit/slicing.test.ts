import { expect } from 'chai';
import { checkPrintTexts } from '#core/gcode/text-check.ts';
import { layersByObject } from '#core/gcode/print-plan.ts';
import { findOwnLines } from '#core/gcode/take-out.ts';
import { bytesSource } from '#core/gcode/source.ts';
import { printLines, unknownWord } from '#core/printer/print-texts.ts';
import { SHIPPED_PRINTERS, USUAL_PRINTER, type Printer } from '#core/printer/printer.ts';
import { simplifyClosed, simplifyLine } from '#core/relief/simplify-line.ts';
import { placeOnBed } from '#core/slicing/bed-place.ts';
import { USUAL_IRONING } from '#core/slicing/ironing-settings.ts';
import { lengthOf, type LinePath } from '#core/slicing/line-path.ts';
import { nearestNext } from '#core/slicing/nearest-next.ts';
import { makeOwnGcode } from '#core/slicing/own-gcode.ts';
import { makePauseTest } from '#core/slicing/pause-test.ts';
import { rowsWithin } from '#core/slicing/rows.ts';
import { shrink } from '#core/slicing/shrink.ts';
import { fillInside, sweep } from '#core/slicing/swept.ts';
import { DEMO_PROJECTS } from '../../demo/projects.ts';
import { describeOwnGcodeFault, describeTextTrouble } from '../../src/platform/slicing-words.ts';
import { expectDemo } from '../helpers/demo.ts';
import { made, ownPrint, plainMoves, widthOf } from '../helpers/own-gcode.ts';
import { reliefForSlices, reportOf } from '../helpers/gcode.ts';

const SQUARE = Float64Array.of(0, 0, 10, 0, 10, 10, 0, 10);
const line = (...points: number[]): LinePath => ({
  kind: 'solid',
  points: Float64Array.from(points),
  closed: false,
  widthMm: 0.4,
});
const RELIEF = reliefForSlices(10, 60, 40);
const BANDS = [3, 3, 4];

describe('lines of a layer', () => {
  it('corners on a straight line are left out, others stay; a closed line keeps three', () => {
    const stairs = Float64Array.of(0, 0, 1, 0.02, 2, -0.02, 3, 0, 3, 3);
    expect([...simplifyLine(stairs, 0.05)]).to.deep.equal([0, 0, 3, 0, 3, 3]);
    expect([...simplifyLine(stairs, 0)]).to.deep.equal([...stairs]);
    const ring = Float64Array.of(0, 0, 5, 0, 10, 0, 10, 10, 0, 10);
    expect([...simplifyClosed(ring, 0.1)]).to.deep.equal([...SQUARE]);
    const sliver = Float64Array.of(0, 0, 1, 0.01, 2, 0, 1, -0.01);
    expect(simplifyClosed(sliver, 1)).to.equal(sliver);
  });

  it('outlines shrink from all sides, holes grow, and what is too thin goes', () => {
    const box = (lines: readonly Float64Array[]): number[] => {
      const all = lines.flatMap((one) => [...one]);
      const side = (n: number): number[] => all.filter((_, i) => i % 2 === n);
      return [0, 1].flatMap((n) => [Math.min(...side(n)), Math.max(...side(n))]);
    };
    expect(box(shrink([SQUARE], 1))).to.deep.equal([1, 9, 1, 9]);
    const hole = Float64Array.of(4, 4, 4, 6, 6, 6, 6, 4);
    const [, grown] = shrink([SQUARE, hole], 1);
    expect(box([grown ?? new Float64Array()])).to.deep.equal([3, 7, 3, 7]);
    expect(shrink([Float64Array.of(0, 0, 10, 0, 10, 0.5, 0, 0.5)], 0.3)).to.deep.equal([]);
    expect(shrink([], 1)).to.deep.equal([]);
  });

  it('rows lie on one grid, a line apart, within the outline, and join where their ends are near', () => {
    for (const degrees of [0, 45, 90, 135]) {
      const rows = rowsWithin([SQUARE], 0.5, degrees, () => true);
      expect(rows).to.have.length(1);
      const [only = new Float64Array()] = rows;
      for (const at of only) expect(at).to.be.within(-1e-9, 10 + 1e-9);
      // Area over the distance of the rows, and the joints between them along the rim.
      const length = lengthOf({ points: only, closed: false });
      expect(length).to.be.within(100 / 0.5 - 3, 100 / 0.5 + 24);
      // Nothing may be drawn over: then every row stands alone.
      const alone = rowsWithin([SQUARE], 0.5, degrees, () => false);
      expect(alone.length).to.be.within(20, 29);
      for (const row of alone) expect(row).to.have.length(4);
    }
  });

  it('cells are swept within half a line of a way, and filled inside closed ones', () => {
    const grid = { width: 20, height: 12, cellMm: 0.5 };
    const cells = new Uint8Array(240);
    sweep(cells, grid, { points: Float64Array.of(2, 3, 7, 4.5), closed: false, widthMm: 1.3 }, 1);
    const distance = (x: number, y: number): number => {
      const t = Math.max(0, Math.min(1, ((x - 2) * 5 + (y - 3) * 1.5) / 27.25));
      return Math.hypot(x - 2 - 5 * t, y - 3 - 1.5 * t);
    };
    cells.forEach((one, i) => {
      const near = distance(((i % 20) + 0.5) / 2, (Math.floor(i / 20) + 0.5) / 2);
      if (Math.abs(near - 0.65) > 1e-6) expect(one === 1, String(i)).to.equal(near < 0.65);
    });
    const inside = new Uint8Array(240);
    const ring = Float64Array.of(1, 1, 9, 1, 9, 5, 1, 5);
    const hole = Float64Array.of(3, 2, 3, 4, 6, 4, 6, 2);
    fillInside(inside, grid, [{ points: ring }, { points: hole }], 7);
    inside.forEach((one, i) => {
      const [x, y] = [((i % 20) + 0.5) / 2, (Math.floor(i / 20) + 0.5) / 2];
      const within = x > 1 && x < 9 && y > 1 && y < 5 && !(x > 3 && x < 6 && y > 2 && y < 4);
      expect(one).to.equal(within ? 7 : 0);
    });
  });

  it('lines come in an order of short ways, each once, turned round where that is nearer', () => {
    const lines = Array.from({ length: 60 }, (_, n) => {
      const x = (n * 37) % 100;
      const y = (n * 53) % 80;
      return n % 3 === 0
        ? { ...line(x, y, x + 2, y, x + 2, y + 2), closed: true }
        : line(x, y, x + 3, y + 1);
    });
    const ordered = nearestNext(lines, [0, 0]);
    const start = (one: LinePath): [number, number] => [one.points[0] ?? 0, one.points[1] ?? 0];
    const end = (one: LinePath): [number, number] =>
      one.closed ? start(one) : [one.points.at(-2) ?? 0, one.points.at(-1) ?? 0];
    const travel = (list: readonly LinePath[]): number =>
      list.reduce((sum, one, n) => {
        const [x, y] = n === 0 ? [0, 0] : end(list[n - 1] ?? one);
        return sum + Math.hypot(start(one)[0] - x, start(one)[1] - y);
      }, 0);
    expect(ordered).to.have.length(60);
    const corners = (list: readonly LinePath[]): string[] =>
      list.map(({ points }) => [...points].sort((a, b) => a - b).join()).sort();
    expect(corners(ordered)).to.deep.equal(corners(lines));
    expect(travel(ordered)).to.be.lessThan(travel(lines) / 3);
    // The first one is the nearest of all starts, looked for one by one.
    const nearest = Math.min(
      ...lines.flatMap(({ points, closed }) =>
        [0, 1, 2]
          .filter((n) => 2 * n < points.length && (closed || n !== 1 || points.length === 4))
          .map((n) => Math.hypot(points[2 * n] ?? 0, points[2 * n + 1] ?? 0)),
      ),
    );
    expect(Math.hypot(...start(ordered[0] ?? line(9, 9)))).to.be.closeTo(nearest, 1e-9);
    expect(nearestNext([], [0, 0])).to.deep.equal([]);
  });
});

describe('texts before and after a print', () => {
  const told = (part: Partial<Printer>): string[] =>
    checkPrintTexts({ ...USUAL_PRINTER, ...part }).map(
      ({ field, what, mend }) => `${field} ${what} ${mend}`,
    );
  const start = USUAL_PRINTER.startText;

  it('the usual ones suit, and so do those that call something of the printer', () => {
    for (const printer of SHIPPED_PRINTERS) expect(checkPrintTexts(printer)).to.deep.equal([]);
    const own = {
      startText: 'PRINT_BEGIN BED={bed} NOZZLE={nozzle}\nG21\nG90\nM83',
      endText: 'PRINT_DONE',
    };
    expect(told(own)).to.deep.equal([]);
    expect(told({ bedC: 0, startText: start.replaceAll(/.*M1[49]0.*\n/g, '') })).to.deep.equal([]);
  });

  it('what harms a printer is named with its line: too much heat, a stop for good, a way below the bed', () => {
    const harms = (part: Partial<Printer>) =>
      checkPrintTexts({ ...USUAL_PRINTER, ...part }).map(({ field, what, text }) => [
        field,
        what,
        text,
      ]);
    const end = USUAL_PRINTER.endText;
    for (const [line, what] of [
      ['M104 S999', 'nozzle-too-hot'],
      ['M109 R451', 'nozzle-too-hot'],
      ['M190 S151', 'bed-too-hot'],
      ['M112', 'stops'],
      ['G1 Z-2', 'below-bed'],
    ] as const)
      expect(harms({ startText: `${line}\n${start}` }), line).to.deep.include([
        'startText',
        what,
        line,
      ]);
    expect(harms({ endText: `${end}\nM112` })).to.deep.include(['endText', 'stops', 'M112']);
    expect(harms({ endText: `M140 S400\n${end}` })).to.deep.include([
      'endText',
      'bed-too-hot',
      'M140 S400',
    ]);
    expect(harms({ startText: `M109 S300\n${start}` })).to.deep.equal([]);
    expect(harms({ startText: `M109 R210\n${start}` })).to.deep.equal([]);
    // What this printer allows counts before what any of them has.
    const own = { mostNozzleC: 260, mostBedC: 90 };
    expect(harms({ ...own, startText: `M109 S260\n${start}` })).to.deep.equal([]);
    for (const [line, what] of [
      ['M109 S261', 'nozzle-too-hot'],
      ['M140 S91', 'bed-too-hot'],
    ] as const)
      expect(harms({ ...own, startText: `${line}\n${start}` }), line).to.deep.equal([
        ['startText', what, line],
      ]);
  });

  it('what they leave otherwise is named with the line that mends it', () => {
    const cases: readonly (readonly [text: string, troubles: readonly string[]])[] = [
      [`${start}\nG20`, ['startText units G21']],
      [`${start}\nG91`, ['startText coordinates G90']],
      [`${start}\nM82`, ['startText filament-mode M83']],
      [`${start}\nG92 X10`, ['startText moved-zero G92.1']],
      [`${start}\nG1 E-2 F1800`, ['startText strand G1 E2 F1800']],
      [start.replace('G28', 'G29'), ['startText not-homed G28']],
      [start.replace('M109 S{nozzle}', 'M109 S0'), ['startText nozzle-cold M109 S{nozzle}']],
      [start.replaceAll(/M1[49]0 S/g, 'M117 '), ['startText bed-cold M190 S{bed}']],
      [`${start}\nG1 X1.2.3`, ['startText bad-line ']],
      [
        '',
        [
          'startText filament-mode M83',
          'startText not-homed G28',
          'startText nozzle-cold M109 S{nozzle}',
          'startText bed-cold M190 S{bed}',
        ],
      ],
    ];
    for (const [startText, troubles] of cases)
      expect(told({ startText }), startText).to.deep.equal(troubles);
    expect(told({ endText: 'M84' })).to.deep.equal([
      'endText nozzle-stays-hot M104 S0',
      'endText bed-stays-hot M140 S0',
    ]);
    expect(told({ endText: 'M104 S0\nM140 S0\nG0 Z0.5' })).to.deep.equal(['endText drags ']);
    expect(told({ endText: 'M104 S0\nM140 S0\nG91\nG0 Z5\nG90' })).to.deep.equal([]);
    // Each line that is given mends what it is given for.
    for (const [startText] of cases) {
      const mended = checkPrintTexts({ ...USUAL_PRINTER, startText })
        .filter(({ mend }) => mend !== '')
        .reduce((text, { mend }) => `${text}\n${mend}`, startText.replace('\nG1 X1.2.3', ''));
      expect(told({ startText: mended }), mended).to.deep.equal([]);
    }
    for (const trouble of checkPrintTexts({ ...USUAL_PRINTER, startText: '', endText: '' }))
      expect(describeTextTrouble(trouble)).to.match(/\. Add at its end: [GM]\d/);
  });

  it('words in braces are replaced, unknown ones found, and empty lines left out', () => {
    const values = {
      '{bed}': 60,
      '{nozzle}': 215,
      '{filament}': 'Soot',
      '{layers}': 24,
      '{first}': 0.16,
      '{height}': 2,
      '{left}': 1,
      '{front}': 2,
      '{width}': 3,
      '{depth}': 4,
      '{stamp}': 'X',
    };
    expect(printLines('M140 S{bed}\r\n\n  \nM117 {filament} {layers}', values)).to.deep.equal([
      'M140 S60',
      'M117 Soot 24',
    ]);
    expect(unknownWord('M104 S{heat}')).to.equal('{heat}');
    expect(unknownWord(start)).to.equal(undefined);
  });
});

describe('G-code of our own', () => {
  it('is read back with the planned layers, tops, strand and swaps, and the desk finds nothing wrong', async () => {
    const { own, text } = await made(ownPrint(RELIEF, BANDS));
    expect(own.findings).to.deep.equal([]);
    expect(own.report.layers.map(({ topMm }) => Number(topMm.toFixed(4)))).to.deep.equal(
      Array.from({ length: 10 }, (_, n) => Number((0.16 + 0.08 * n).toFixed(4))),
    );
    expect(own.report.pauses.map(({ layer, inside }) => [layer, inside])).to.deep.equal([
      [4, false],
      [7, false],
    ]);
    const moves = plainMoves(text);
    const laid = moves.filter(
      ({ strand, layer, from, to }) => strand > 0 && layer > 0 && from[0] !== to[0],
    );
    // What each layer takes, by this page's own reading; and all of it by the report.
    for (const { layer } of own.layers) {
      const strand = moves
        .filter(
          (move) =>
            move.layer === layer &&
            Math.hypot(move.to[0] - move.from[0], move.to[1] - move.from[1]) > 0,
        )
        .reduce((sum, move) => sum + move.strand, 0);
      expect(strand).to.be.closeTo(own.figures.strandMm[layer] ?? 0, 1e-6);
    }
    expect(laid.length).to.be.greaterThan(100);
    const pushed = own.figures.strandMm.reduce((sum, mm) => sum + mm, 0);
    expect(own.report.layers.reduce((sum, { filamentMm }) => sum + filamentMm, 0)).to.be.closeTo(
      pushed + 1,
      1.001,
    );
    expect(own.figures.layerS.reduce((sum, s) => sum + s, 0)).to.be.at.most(own.report.seconds);
    expect(own.plainS).to.be.lessThan(own.cornerlessS);
    expect(own.cornerlessS).to.be.lessThan(own.report.seconds);
    // The same bytes again, and without its swaps what was sliced.
    expect((await made(ownPrint(RELIEF, BANDS))).text).to.equal(text);
    const found = await findOwnLines(bytesSource(Buffer.from(text)));
    expect(found.ok && found.value.blocks).to.equal(2);
    expect(found.ok && found.value.stamps).to.deep.equal(['7K2Q-M9XD']);
  });

  it('lays each line as wide as its kind, the first layer slower, and draws back only over gaps', async () => {
    const { own, text } = await made(ownPrint(RELIEF, BANDS));
    const moves = plainMoves(text).filter(({ layer }) => layer > 0);
    const { lineMm, firstLayerMmS, solidMmS, outlineMmS } = USUAL_PRINTER;
    for (const move of moves) {
      const length = Math.hypot(move.to[0] - move.from[0], move.to[1] - move.from[1]);
      if (move.strand <= 0 || length < 0.3) continue;
      const wide = widthOf(move, move.layer === 1 ? 0.16 : 0.08, USUAL_PRINTER);
      expect(wide, move.line).to.be.within(0.59 * lineMm, 1.42 * lineMm);
      const mmS = move.feed / 60;
      if (move.layer === 1) expect(mmS).to.equal(firstLayerMmS);
      else expect(mmS).to.be.oneOf([solidMmS, outlineMmS]);
    }
    const backs = moves.filter(({ strand }) => strand < 0);
    // One more comes after the line that fills the nozzle.
    expect(backs).to.have.length(own.written.retracts - 1);
    for (const [n, move] of moves.entries()) {
      const next = moves[n + 1];
      if (move.strand >= 0 || !next) continue;
      const ways = moves.slice(n + 1, n + 4);
      const way = ways.find(({ from, to }) => Math.hypot(to[0] - from[0], to[1] - from[1]) > 0);
      if (way)
        expect(Math.hypot(way.to[0] - way.from[0], way.to[1] - way.from[1])).to.be.greaterThan(1.5);
    }
  });

  it('lifts on the way where the printer is to, sets heat and fan, and keeps to the sound of its texts', async () => {
    const printer: Printer = { ...USUAL_PRINTER, liftMm: 0.4, fanPercent: 50, nozzleC: 205 };
    const print = ownPrint(RELIEF, BANDS, { printer });
    const { rust } = print.filaments;
    const { own, text } = await made({
      ...print,
      filaments: { ...print.filaments, ...(rust ? { rust: { ...rust, nozzleC: 230 } } : {}) },
    });
    expect(own.findings).to.deep.equal([]);
    expect(own.written.lifts).to.be.greaterThan(5);
    for (const move of plainMoves(text)) {
      const way = Math.hypot(move.to[0] - move.from[0], move.to[1] - move.from[1]);
      if (move.layer > 0 && move.strand === 0 && way > 2.01 * printer.lineMm)
        expect(move.from[2], move.line).to.be.greaterThan(0.16 + 0.08 * (move.layer - 1) + 0.39);
    }
    const heats = [...text.matchAll(/^M109 S(\d+)$/gm)].map(([, heat]) => Number(heat));
    expect(heats).to.deep.equal([205, 230, 205]);
    expect(text).to.match(/; layer 2, top at 0.24 mm\nM106 S128\n/);
    expect(text.indexOf('M600')).to.be.lessThan(text.indexOf('M109 S230'));
  });

  it('lies in the middle of any bed, fills the nozzle beside the piece, and is turned where only that fits', async () => {
    for (const bed of [
      { shape: 'round', diameterMm: 120 },
      { shape: 'rectangle', widthMm: 20, depthMm: 30 },
      { shape: 'rectangle', widthMm: 200, depthMm: 180 },
    ] as const) {
      const { own, text } = await made(
        ownPrint(RELIEF, BANDS, { printer: { ...USUAL_PRINTER, bed } }),
      );
      expect(own.findings, JSON.stringify(own.findings)).to.deep.equal([]);
      const laid = plainMoves(text).filter(
        ({ strand, from, to }) => strand > 0 && from[0] !== to[0],
      );
      const piece = laid.filter(({ layer }) => layer > 0).map(({ to }) => to);
      const middle = (at: 0 | 1): number =>
        (Math.max(...piece.map((to) => to[at])) + Math.min(...piece.map((to) => to[at]))) / 2;
      const [x, y] = bed.shape === 'round' ? [0, 0] : [bed.widthMm / 2, bed.depthMm / 2];
      expect(middle(0)).to.be.closeTo(x, 0.02);
      expect(middle(1)).to.be.closeTo(y, 0.02);
      for (const { to } of laid)
        if (bed.shape === 'round') expect(Math.hypot(to[0], to[1])).to.be.at.most(60);
        else {
          expect(to[0]).to.be.within(0, bed.widthMm);
          expect(to[1]).to.be.within(0, bed.depthMm);
        }
      const small = bed.shape === 'rectangle' && bed.widthMm === 20;
      expect(own.turned).to.equal(small);
      expect(own.noPurge).to.equal(small);
      expect(laid.filter(({ layer }) => layer === 0)).to.have.length(small ? 0 : 1);
    }
  });

  it('prints several pieces together, or one by one with the change back between them', async () => {
    const together = ownPrint(RELIEF, BANDS, {
      pieces: { copies: 3, spacingMm: 6, way: 'together' },
    });
    const all = await made({ ...together, plan: { ...together.plan, copies: 3 } });
    expect(all.own.findings).to.deep.equal([]);
    expect(all.own.report.layers).to.have.length(10);
    expect(all.own.report.pauses).to.have.length(2);
    const one = await made(ownPrint(RELIEF, BANDS));
    all.own.figures.strandMm.forEach((mm, n) => {
      expect(mm).to.be.closeTo(one.own.figures.strandMm[n] ?? 0, 1e-4);
    });

    const apart = ownPrint(RELIEF, BANDS, { pieces: { copies: 2, spacingMm: 30, way: 'apart' } });
    const two = await made({ ...apart, plan: { ...apart.plan, copies: 2, oneByOne: true } });
    expect(two.own.findings).to.deep.equal([]);
    expect(layersByObject(two.own.report).map(({ length }) => length)).to.deep.equal([10, 10]);
    expect(two.own.report.pauses).to.have.length(5);
    // On the way to the second piece the nozzle is above the first one.
    const moves = plainMoves(two.text);
    const first = moves.findIndex(({ layer }, n) => layer === 1 && moves[n - 1]?.layer === 10);
    const way = moves
      .slice(first - 2)
      .find(({ from, to }) => Math.hypot(to[0] - from[0], to[1] - from[1]) > 5);
    expect(way?.from[2]).to.be.greaterThan(0.88 + 4);
  });

  it('irons the tops of chosen bands alone, across the lines below, slowly and with little strand', async () => {
    const plain = await made(ownPrint(RELIEF, BANDS));
    const ironing = { ...USUAL_IRONING, bands: [1] };
    const { own, text } = await made(ownPrint(RELIEF, BANDS, { ironing }));
    expect(own.findings).to.deep.equal([]);
    const ironed = plainMoves(text).filter(({ feed, strand }) => strand > 0 && feed === 1200);
    expect(new Set(ironed.map(({ layer }) => layer))).to.deep.equal(new Set([4, 5, 6]));
    const { data } = RELIEF;
    const shown = data.reduce((sum, height) => sum + Number(height >= 4 && height <= 6), 0) * 0.16;
    const length = ironed.reduce(
      (sum, { from, to }) => sum + Math.hypot(to[0] - from[0], to[1] - from[1]),
      0,
    );
    // What is shown lies between terraces: of some of it half a line at the rim is left out.
    expect(length * ironing.spacingMm).to.be.within(0.75 * shown, 1.1 * shown);
    const more = own.written.strandMm - plain.own.written.strandMm;
    const volume = more * (Math.PI / 4) * 1.75 ** 2;
    expect(volume / (length * ironing.spacingMm * 0.08)).to.be.closeTo(ironing.flow, 0.002);
    expect(own.report.seconds).to.be.greaterThan(plain.own.report.seconds + length / 20);
  });

  it('what cannot be printed is said, and what to do', async () => {
    const said = async (part: Partial<Parameters<typeof ownPrint>[2]>): Promise<string> => {
      const result = await makeOwnGcode(ownPrint(RELIEF, BANDS, part));
      return result.ok ? 'made' : `${result.fault.code}: ${describeOwnGcodeFault(result.fault)}`;
    };
    const printer = USUAL_PRINTER;
    const bed = { shape: 'rectangle', widthMm: 22, depthMm: 20 } as const;
    expect(await said({ printer: { ...printer, bed } })).to.match(/^off-bed: .*room for 0\./);
    expect(await said({ printer: { ...printer, heightMm: 0.5 } })).to.match(/^too-high: /);
    expect(await said({ printer: { ...printer, nozzleMm: 0.15 } })).to.match(
      /^layers-above-nozzle: /,
    );
    expect(await said({ printer: { ...printer, startText: 'G28' } })).to.match(
      /^bad-texts: .*Start text: Filament is meant absolute afterwards\. Add at its end: M83 .*nozzle/,
    );
    const pauses = { pauses: ['custom'], pauseText: 'M0\nG91' };
    const print = ownPrint(RELIEF, BANDS);
    const custom = await makeOwnGcode({ ...print, plan: { ...print.plan, ...pauses } });
    expect(!custom.ok && describeOwnGcodeFault(custom.fault)).to.match(/Add at its end: G90/);
    const none = { width: 4, height: 4, data: new Uint8Array(16) };
    const empty = await makeOwnGcode(ownPrint(none, BANDS, { plan: print.plan }));
    expect(!empty.ok && empty.fault.code).to.equal('nothing-printed');
    expect(
      placeOnBed(printer.bed, 230, 10, { copies: 1, spacingMm: 5, way: 'together' }).ok,
    ).to.equal(false);
  });

  it('a tile for the pause comes from every printer, and stops when its second layer is finished', async () => {
    for (const printer of SHIPPED_PRINTERS) {
      const tile = await makePauseTest(printer);
      if (!tile.ok) return expect.fail(tile.fault.code);
      const report = await reportOf(Buffer.concat(tile.value.pieces), {
        accelerationMmS2: printer.accelerationMmS2,
        cornerMmS: printer.cornerMmS,
      });
      expect(report.seconds).to.equal(tile.value.report.seconds);
      expect(tile.value.findings).to.deep.equal([]);
      expect(report.layers).to.have.length(4);
    }
    return undefined;
  });
});

describe('the test strip', () => {
  it('has four bands and takes about 20 minutes with its swaps', async () => {
    const strip = DEMO_PROJECTS.find(({ file }) => file === 'test-strip');
    const demo = await expectDemo('test-strip', 300, 100);
    const heights = demo.heights(demo.bands);
    expect(new Set(heights.data).size).to.equal(4);
    const bands = strip?.recipe.map(([, layers]) => layers) ?? [];
    const sampleMm = (strip?.widthMm ?? 0) / 300;
    const { own } = await made(ownPrint(heights, bands, { sampleMm }));
    expect(own.findings).to.deep.equal([]);
    expect(own.report.pauses).to.have.length(3);
    const minutes = own.report.seconds / 60 + 3 * (USUAL_PRINTER.swapS / 60);
    expect(minutes).to.be.within(17, 23);
  });
});
