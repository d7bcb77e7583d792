import { expect } from 'chai';
import { stampOf, digestBytes } from '#core/base/stamp.ts';
import { parseBasis, readRackCsv } from '#core/formats/rack/rack-csv.ts';
import { readStackJson } from '#core/formats/project/stack-json.ts';
import { swapSheetText } from '#core/formats/sheet/swap-sheet-text.ts';
import { readSwapsJson } from '#core/formats/sheet/read-swaps-json.ts';
import { swapsJson } from '#core/formats/sheet/swaps-json.ts';
import { countHeights } from '#core/heights/height-map.ts';
import { PLAIN_TONE } from '#core/heights/tone.ts';
import { planSamples } from '#core/relief/sampling.ts';
import { gramsOf, metresOf } from '#core/schedule/estimate.ts';
import { stampOfExport } from '#core/schedule/export-state.ts';
import { makeSwapSheet } from '#core/schedule/swap-sheet.ts';
import { formatDuration, formatMm } from '#core/schedule/words.ts';
import { column, readTable } from '../helpers/csv.ts';
import { FILAMENTS, stackOf } from '../helpers/stacks.ts';

const HEADER =
  'id,maker,name,material,colour,transmission_mm,basis,density_g_cm3,diameter_mm,on_hand,note';

function sheetOf(...layers: number[]) {
  const stack = stackOf(...layers);
  const tallestSample = layers.reduce((a, b) => a + b);
  const counts = countHeights({ width: 2, height: 1, data: Uint8Array.of(3, tallestSample) });
  return makeSwapSheet({
    title: 'Dome at dusk',
    stamp: '7K2Q-M9XD',
    stack,
    filaments: FILAMENTS,
    counts,
    sampleMm: 10,
    widthMm: 20,
    heightMm: 10,
  });
}

describe('rack CSV', () => {
  const faultOf = (...rows: string[]) => {
    const result = readRackCsv([HEADER, ...rows].join('\n'));
    return result.ok
      ? 'none'
      : `${result.fault.code} ${result.fault.where ?? ''} ${result.fault.detail ?? ''}`.trim();
  };

  it('reads rows with quotes, line ends inside cells, a byte order mark and columns in any order', () => {
    const result = readRackCsv(
      '\ufeffname,id,transmission_mm,colour,note\r\n"Soot, ""deep""",s1,0.5,#0A0B0C,"two\r\nlines"\r\n',
    );
    expect(result.ok && result.value[0]).to.deep.equal({
      id: 's1',
      maker: '',
      name: 'Soot, "deep"',
      material: 'PLA',
      colour: '#0a0b0c',
      transmissionMm: 0.5,
      basis: { kind: 'hiding' },
      found: 'label',
      densityGCm3: 1.24,
      diameterMm: 1.75,
      onHand: true,
      note: 'two\r\nlines',
    });
  });

  it('says what is wrong and in which row', () => {
    expect(faultOf('a,m,n,PLA,#112233,0.5,,,,yes,', 'b,m,n,PLA,red,1,,,,yes,')).to.equal(
      'bad-colour row 3 red',
    );
    for (const bad of ['0', '-1', 'NaN', '1e9', '"1,5"', '5000'])
      expect(faultOf(`a,m,n,PLA,#112233,${bad},,,,yes,`)).to.match(/^bad-transmission row 2/);
    expect(faultOf('a,m,n,PLA,#112233,1,glow,,,yes,')).to.equal('bad-basis row 2 glow');
    expect(faultOf('a,m,n,PLA,#112233,1,,99,,yes,')).to.equal('bad-density row 2 99');
    expect(faultOf('a,m,n,PLA,#112233,1,,,0,yes,')).to.equal('bad-diameter row 2 0');
    expect(faultOf('a,m,n,PLA,#112233,1,,,,maybe,')).to.equal('bad-on-hand row 2 maybe');
    expect(faultOf(',m,n,PLA,#112233,1,,,,yes,')).to.equal('missing-value row 2 id');
    expect(faultOf('a,m,n,PLA,#112233,1,,,,yes,', 'a,m,n,PLA,#112233,1,,,,yes,')).to.equal(
      'duplicate-id row 3 a',
    );
    expect(faultOf()).to.equal('no-rows');
    expect(readRackCsv('id,name,colour\na,b,#112233')).to.deep.include({ ok: false });
  });

  it('reads every way of saying a basis', () => {
    expect(parseBasis('light-1%')).to.deep.equal({ kind: 'light-through', threshold: 0.01 });
    expect(parseBasis('light-0%')).to.equal(undefined);
    expect(parseBasis('light-100%')).to.equal(undefined);
  });
});

describe('stack JSON', () => {
  const grid = { firstLayerMm: 0.16, layerMm: 0.08 };
  const codeOf = (document: unknown) => {
    const result = readStackJson(
      typeof document === 'string' ? document : JSON.stringify(document),
      FILAMENTS,
    );
    return result.ok ? 'ok' : result.fault.code;
  };

  it('reads a good one', () => {
    const text = JSON.stringify({ layerGrid: grid, bands: [{ filament: 'soot', layers: 6 }] });
    expect(readStackJson(text, FILAMENTS)).to.deep.equal({
      ok: true,
      value: { grid, bands: [{ filamentId: 'soot', layers: 6 }] },
    });
  });

  it('refuses bad ones with the reason', () => {
    expect(codeOf('{')).to.equal('not-json');
    expect(codeOf({ bands: [] })).to.equal('not-a-stack');
    expect(codeOf({ layerGrid: grid, bands: [] })).to.equal('not-a-stack');
    expect(codeOf({ layerGrid: grid, bands: [{ filament: 'soot', layers: 0 }] })).to.equal(
      'not-a-stack',
    );
    expect(
      codeOf({ layerGrid: { ...grid, layerMm: 0 }, bands: [{ filament: 'soot', layers: 2 }] }),
    ).to.equal('not-a-stack');
    expect(codeOf({ layerGrid: grid, bands: [{ filament: 'toString', layers: 2 }] })).to.equal(
      'unknown-filament',
    );
    const many = Array.from({ length: 2 }, () => ({ filament: 'soot', layers: 200 }));
    expect(codeOf({ layerGrid: grid, bands: many })).to.equal('too-many-layers');
  });
});

describe('swap sheet', () => {
  it('tells each swap by layer, by height, and counted from 0', () => {
    const text = swapSheetText(sheetOf(8, 8, 11));
    expect(text).to.contain(
      'Layer 9 is the first one in rust. The printer stops when 0.72 mm is finished.',
    );
    expect(text).to.contain('Layer viewer shows the change at 0.80 mm.');
    expect(text).to.contain('Where layers are counted from 0 it is layer 8.');
    expect(text).to.contain('First layer height  0.16 mm').and.to.contain('Stamp 7K2Q-M9XD');
  });

  it('leaves out bands and swaps above the tallest spot', () => {
    const stack = stackOf(8, 8, 11);
    const counts = countHeights({ width: 1, height: 1, data: Uint8Array.of(12) });
    const sheet = makeSwapSheet({
      title: 't',
      stamp: 's',
      stack,
      filaments: FILAMENTS,
      counts,
      sampleMm: 1,
      widthMm: 1,
      heightMm: 1,
    });
    expect(sheet.bands.map(({ letter, lastLayer }) => [letter, lastLayer])).to.deep.equal([
      ['A', 8],
      ['B', 12],
    ]);
    expect(sheet.swaps).to.have.length(1);
    expect(sheet.thicknessMm).to.equal(1.04);
  });

  it('counts swap time in', () => {
    const one = sheetOf(6, 6);
    const two = sheetOf(4, 4, 4);
    expect(two.totalS - one.totalS).to.be.closeTo(180, 1e-9);
    expect(two.swapsS).to.equal(360);
  });

  it('writes swaps.json as other programs expect it', () => {
    const plan: unknown = JSON.parse(swapsJson(sheetOf(8, 8)));
    expect(plan).to.deep.equal({
      stamp: '7K2Q-M9XD',
      swaps: [
        {
          swap: 1,
          layer: 9,
          stopAfterMm: 0.72,
          layerTopMm: 0.8,
          from: 'soot',
          to: 'rust',
        },
      ],
      layerGrid: { firstLayerMm: 0.16, layerMm: 0.08 },
      layers: 16,
      widthMm: 20,
      depthMm: 10,
      lineMm: 0.42,
      filamentMm: 1.75,
      // Two samples of 10 mm up to layer 3, one above.
      areasMm2: [...Array<number>(3).fill(200), ...Array<number>(13).fill(100)],
      pauses: ['M600'],
      copies: 1,
      oneByOne: false,
      purgesMm: [150],
      colours: Object.fromEntries(['soot', 'rust'].map((id) => [id, FILAMENTS[id]?.colour ?? ''])),
      filaments: Object.fromEntries(['soot', 'rust'].map((id) => [id, FILAMENTS[id]?.name ?? ''])),
    });
    expect(readSwapsJson(swapsJson(sheetOf(8, 8)))).to.deep.equal({ ok: true, value: plan });
  });

  it('says so when there is nothing to swap', () => {
    expect(swapSheetText(sheetOf(12))).to.contain('none: the whole print is one filament');
  });

  it('formats lengths and times', () => {
    expect([0.8, 0.1234, 0.125, 12].map(formatMm)).to.deep.equal([
      '0.80 mm',
      '0.1234 mm',
      '0.125 mm',
      '12.00 mm',
    ]);
    expect([59, 6720, 3600].map(formatDuration)).to.deep.equal([
      '1 min',
      '1 h 52 min',
      '1 h 0 min',
    ]);
  });
});

describe('weights and lengths', () => {
  it('agree with the table of grams a metre and metres a kilogram', () => {
    for (const row of readTable('filament_length_mass.csv')) {
      const diameterMm = column(row, 'diameter_mm');
      const volumeOfMetre = (Math.PI / 4) * diameterMm ** 2 * 1000;
      expect(gramsOf(volumeOfMetre, { densityGCm3: column(row, 'density') })).to.be.closeTo(
        column(row, 'grams_per_metre'),
        1e-6,
      );
      expect(metresOf(1e6 / column(row, 'density'), { diameterMm })).to.be.closeTo(
        column(row, 'metres_per_kg'),
        1e-3,
      );
    }
  });
});

const TONE = { kind: 'tone' as const, tone: PLAIN_TONE, calm: 0, smallestMm: 0 };

describe('stamp', () => {
  const state = {
    artworkDigest: 'a',
    rule: TONE,
    leastLayers: 3,
    samples: planSamples(100, 50, 0.2),
    stack: stackOf(4, 4),
    filaments: FILAMENTS,
  };

  it('does not depend on the order of keys, and reads well aloud', () => {
    expect(stampOf({ a: 1, b: [2, { c: 3, d: undefined }] })).to.equal(
      stampOf({ b: [2, { c: 3 }], a: 1 }),
    );
    expect(stampOf({ a: 1 })).to.match(/^[0-9A-HJKMNP-TV-Z]{4}-[0-9A-HJKMNP-TV-Z]{4}$/);
  });

  it('changes with whatever changes shape or sheet, and with nothing else', () => {
    const stamp = stampOfExport(state);
    expect(stampOfExport({ ...state, stack: stackOf(4, 5) })).to.not.equal(stamp);
    expect(stampOfExport({ ...state, samples: planSamples(101, 50, 0.2) })).to.not.equal(stamp);
    expect(
      stampOfExport({ ...state, rule: { ...TONE, tone: { ...PLAIN_TONE, reversed: true } } }),
    ).to.not.equal(stamp);
    expect(stampOfExport({ ...state, artworkDigest: 'b' })).to.not.equal(stamp);
    const renamed = Object.fromEntries(
      Object.entries(FILAMENTS).map(([id, f]) => [id, { ...f, note: 'new' }]),
    );
    expect(stampOfExport({ ...state, filaments: renamed })).to.equal(stamp);
  });

  it('digests bytes as SHA-256: FIPS 180-4 example "abc"', () => {
    expect(digestBytes(new TextEncoder().encode('abc'))).to.equal(
      'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad',
    );
  });
});
