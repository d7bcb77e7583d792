import { expect } from 'chai';
import { readPrinterJson, writePrinterJson } from '#core/formats/rack/printer-json.ts';
import {
  checkPauseText,
  PAUSE_COMMANDS,
  PAUSE_WORDS,
  pauseLines,
  type PauseCommand,
} from '#core/printer/pause.ts';
import { makePauseTest } from '#core/slicing/pause-test.ts';
import {
  checkPrinter,
  describeBed,
  liesOnBed,
  PRINTER_LIMITS,
  SHIPPED_PRINTERS,
  unsuitedTo,
  USUAL_PRINTER,
  type Printer,
} from '#core/printer/printer.ts';
import {
  addPrinters,
  bedOpening,
  missingShipped,
  readStoredPrinters,
} from '../../src/state/printers.ts';

const VALUES = {
  swap: 2,
  layer: 17,
  stopMm: 1.36,
  topMm: 1.44,
  from: 'rust',
  to: 'sand; (light)',
  purgeMm: 150,
  stamp: '7K2Q-M9XD',
};

/** What is wrong with the usual printer after a change, as `code field`. */
function faultsWith(change: Partial<Printer>): string[] {
  return checkPrinter({ ...USUAL_PRINTER, ...change }).map(({ code, field }) => `${code} ${field}`);
}

describe('printers', () => {
  it('the shipped ones are sound, and are as many kinds as makers have: small to large, round, by hand and with feeder', () => {
    for (const printer of SHIPPED_PRINTERS) expect(checkPrinter(printer)).to.deep.equal([]);
    expect(new Set(SHIPPED_PRINTERS.map(({ id }) => id)).size).to.equal(SHIPPED_PRINTERS.length);
    expect(SHIPPED_PRINTERS.some(({ feeder }) => feeder)).to.equal(true);
    expect(SHIPPED_PRINTERS.some(({ bed }) => bed.shape === 'round')).to.equal(true);
    expect(describeBed(USUAL_PRINTER.bed)).to.equal('220 x 220 mm');
  });

  it('refuses a bed of 0, a nozzle larger than the bed, a speed of 0 and 1e9, and what is no number', () => {
    expect(faultsWith({ bed: { shape: 'rectangle', widthMm: 0, depthMm: 220 } })).to.deep.equal([
      'nozzle-wider-than-bed nozzleMm',
      'out-of-range widthMm',
    ]);
    expect(faultsWith({ nozzleMm: 30, bed: { shape: 'round', diameterMm: 25 } })).to.include(
      'nozzle-wider-than-bed nozzleMm',
    );
    for (const field of Object.keys(PRINTER_LIMITS) as (keyof typeof PRINTER_LIMITS)[]) {
      for (const value of [1e9, -1, Number.NaN])
        expect(faultsWith({ [field]: value }), `${field} ${value}`).to.include(
          `out-of-range ${field}`,
        );
      // Nothing may be purged, drawn back, lifted, heated or blown; all else must be something.
      const mayBeNone = [
        'purgeToDarkMm',
        'purgeToLightMm',
        'retractMm',
        'liftMm',
        'bedC',
        'fanPercent',
      ];
      if (!mayBeNone.includes(field))
        expect(faultsWith({ [field]: 0 })).to.include(`out-of-range ${field}`);
    }
  });

  it('refuses values that do not suit each other, once, where they stand', () => {
    expect(faultsWith({ lineMm: 1.2 })).to.deep.equal(['line-unlike-nozzle lineMm']);
    expect(faultsWith({ layerMm: 0.4, firstLayerMm: 0.3 })).to.deep.equal([
      'layer-above-nozzle layerMm',
    ]);
    expect(faultsWith({ layerMm: 0.3, firstLayerMm: 0.1 })).to.deep.equal([
      'first-below-layer firstLayerMm',
    ]);
    expect(faultsWith({ name: '  ' })).to.deep.equal(['no-name name']);
    expect(faultsWith({ pause: { command: 'custom', text: '\n' } })).to.deep.equal([
      'no-pause-text pause',
    ]);
    expect(faultsWith({ startText: 'M104 S{heat}' })).to.deep.equal(['unknown-word startText']);
    expect(faultsWith({ endText: 'M84\n'.repeat(1001) })).to.deep.equal(['long-text endText']);
  });

  it('a rectangle lies on a round bed as far as its corners do', () => {
    const round = { shape: 'round', diameterMm: 200 } as const;
    expect(liesOnBed(round, 120, 160)).to.equal(true);
    expect(liesOnBed(round, 121, 160)).to.equal(false);
    expect(liesOnBed(USUAL_PRINTER.bed, 220, 221)).to.equal(false);
  });

  it('says where a piece does not suit it: bed, height, nozzle, layers', () => {
    const piece = {
      widthMm: 150,
      depthMm: 100,
      thicknessMm: 2.48,
      firstLayerMm: 0.16,
      layerMm: 0.08,
      highestLayerMm: 0.16,
    };
    const low: Printer = {
      ...USUAL_PRINTER,
      bed: { shape: 'rectangle', widthMm: 100, depthMm: 150 },
    };
    expect(unsuitedTo(USUAL_PRINTER, piece)).to.deep.equal([]);
    // Turned by a quarter it lies there.
    expect(unsuitedTo(low, piece)).to.deep.equal([]);
    expect(unsuitedTo(low, { ...piece, widthMm: 151 })).to.deep.equal(['off-bed']);
    expect(unsuitedTo({ ...low, heightMm: 2 }, piece)).to.deep.equal(['too-high']);
    expect(unsuitedTo(low, { ...piece, layerMm: 0.1 })).to.deep.equal(['other-layers']);
    expect(unsuitedTo(low, { ...piece, layerMm: 0.5, highestLayerMm: 0.5 })).to.deep.equal([
      'layers-above-nozzle',
    ]);
  });

  it('a bed is what a piece has to fit on, as high as the printer prints', () => {
    expect(bedOpening(USUAL_PRINTER)).to.deep.equal({
      kind: 'bed',
      widthMm: 220,
      heightMm: 220,
      depthMm: 250,
    });
    const round = { bed: { shape: 'round', diameterMm: 200 } as const, heightMm: 3000 };
    expect(bedOpening(round)).to.include({ round: true, widthMm: 200, depthMm: 1000 });
  });

  it('travel as JSON; a wrong one refuses the file by its place and field', () => {
    const read = readPrinterJson(writePrinterJson(SHIPPED_PRINTERS));
    expect(read.ok && read.value).to.deep.equal(SHIPPED_PRINTERS);
    const codeOf = (text: string): string => {
      const result = readPrinterJson(text);
      return result.ok ? 'none' : `${result.fault.code} ${result.fault.where ?? ''}`.trim();
    };
    expect(codeOf('{')).to.equal('not-json');
    expect(codeOf('{"filaments": []}')).to.equal('not-printers');
    expect(codeOf(JSON.stringify(Array(201).fill(USUAL_PRINTER)))).to.equal('too-many');
    const bad = readPrinterJson(JSON.stringify([USUAL_PRINTER, { ...USUAL_PRINTER, solidMmS: 0 }]));
    expect(!bad.ok && bad.fault).to.include({ code: 'bad-printer', where: 'printer 2' });
    expect(!bad.ok && bad.fault.detail).to.match(/^solidMmS: /);
  });

  it('are read from storage without those that are not right, and never share an id', () => {
    expect(readStoredPrinters(undefined)).to.equal(undefined);
    expect(readStoredPrinters([USUAL_PRINTER, { name: 'x' }])).to.deep.equal([USUAL_PRINTER]);
    const two = addPrinters([USUAL_PRINTER], [USUAL_PRINTER, USUAL_PRINTER]);
    expect(new Set(two.map(({ id }) => id)).size).to.equal(3);
    expect(missingShipped([USUAL_PRINTER])).to.have.length(SHIPPED_PRINTERS.length - 1);
  });
});

describe('pauses', () => {
  it('each command stands in its own lines and says in a line what it does, and what can go wrong', () => {
    const linesOf = (command: PauseCommand): string[] =>
      pauseLines({ command, text: 'M118 {swap} {layer} {layer0} {stop} {top} {to}\nM601' }, VALUES);
    expect(Object.fromEntries(PAUSE_COMMANDS.map((one) => [one, linesOf(one)]))).to.deep.equal({
      M600: ['M600'],
      PAUSE: ['PAUSE'],
      M25: ['M25'],
      M0: ['M0 ; swap to sand   light'],
      M1: ['M1 ; swap to sand   light'],
      '@pause': ['@pause'],
      T1: ['T2'],
      custom: ['M118 2 17 16 1.36 1.44 sand   light', 'M601'],
    });
    for (const { does, caution } of Object.values(PAUSE_WORDS)) {
      expect(does).to.match(/^[A-Z].{20,140}\.$/);
      expect(caution).to.match(/^[A-Z].{20,140}\.$/);
    }
  });

  it('a word in braces that is not replaced is found', () => {
    expect(checkPauseText('M117 {to} {stamp}').ok).to.equal(true);
    const checked = checkPauseText('M117 {tool}');
    expect(!checked.ok && checked.fault.detail).to.equal('{tool}');
  });

  it('the test tile is 20 mm square and four layers high, pauses once after the second, and extrudes what it should', async () => {
    for (const command of PAUSE_COMMANDS) {
      const printer = { ...USUAL_PRINTER, pause: { command, text: 'G4 P{swap}\nM601' } };
      const lines = (await tile(printer)).split('\n');
      const pauseAt = lines.findIndex((line) => line.startsWith(';@strata begin'));
      const expected = pauseLines(printer.pause, { ...VALUES, swap: 1, to: 'second' });
      expect(lines.slice(pauseAt + 2, pauseAt + 2 + expected.length)).to.deep.equal(expected);
      expect(lines.filter((line) => line.startsWith(';@strata begin'))).to.have.length(1);
      const layers = lines.flatMap((line, i) => (/^; layer \d/.test(line) ? [i] : []));
      expect(layers).to.have.length(4);
      expect(pauseAt).to.be.within(layers[1] ?? 0, layers[2] ?? 0);
    }
    const text = await tile(USUAL_PRINTER);
    const piece = text.slice(text.indexOf('; layer 1'));
    const moves = [...piece.matchAll(/^G1 X(\S+) Y(\S+) E(\S+)/gm)];
    const xs = moves.map(([, x]) => Number(x));
    const line = USUAL_PRINTER.lineMm;
    expect(Math.max(...xs) - Math.min(...xs) + line).to.be.closeTo(20, 0.002);
    expect((Math.max(...xs) + Math.min(...xs)) / 2).to.be.closeTo(110, 0.002);
    // Strand pushed through its cross-section fills the tile: 20 x 20 x 0.40 mm, but for its corners.
    const strandMm3 = moves.reduce((sum, [, , , e]) => sum + Number(e), 0) * Math.PI * 0.875 ** 2;
    expect(strandMm3 / (20 * 20 * 0.4)).to.be.within(0.985, 1.015);
    const heights = [...text.matchAll(/^; layer \d, top at (\S+) mm/gm)];
    expect(heights.map(([, mm]) => Number(mm))).to.deep.equal([0.16, 0.24, 0.32, 0.4]);
  });

  it('the test tile lies in the middle of a round bed, whose zero is there', async () => {
    const text = await tile({ ...USUAL_PRINTER, bed: { shape: 'round', diameterMm: 200 } });
    const piece = text.slice(text.indexOf('; layer 1'));
    const xs = [...piece.matchAll(/^G1 X(\S+) Y/gm)].map(([, x]) => Number(x));
    expect(Math.max(...xs) + Math.min(...xs)).to.be.closeTo(0, 0.002);
  });
});

async function tile(printer: Printer): Promise<string> {
  const made = await makePauseTest(printer);
  return made.ok ? Buffer.concat(made.value.pieces).toString() : expect.fail(made.fault.code);
}
