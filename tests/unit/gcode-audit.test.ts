import { expect } from 'chai';
import { auditGcode } from '#core/gcode/audit.ts';
import { FINDING_CODES, type Finding } from '#core/gcode/finding.ts';
import type { PrintPlan } from '#core/gcode/print-plan.ts';
import { readSwapsJson } from '#core/formats/sheet/read-swaps-json.ts';
import { describeFinding, describeSwapsFault } from '../../src/platform/gcode-words.ts';
import {
  planOf,
  reliefForSlices,
  reportOf,
  slice,
  slicedFile,
  sliceTruth,
  type SliceOptions,
} from '../helpers/gcode.ts';

const LAYERS = 10;
const HEIGHTS = reliefForSlices(LAYERS);
const PLAN = planOf(HEIGHTS, LAYERS);
const SWAPS = { 3: ['M600'], 6: ['M600'] };

async function audit(options: SliceOptions, plan: PrintPlan = PLAN): Promise<Finding[]> {
  return auditGcode(await reportOf(slice(HEIGHTS, LAYERS, { before: SWAPS, ...options })), plan);
}
const said = (findings: readonly Finding[]): string[] =>
  findings.map(
    ({ code, severity, follows }) => `${severity} ${code}${follows ? ` < ${follows}` : ''}`,
  );

describe('checking a sliced file', () => {
  const sound: Readonly<Record<string, SliceOptions>> = {
    'as planned': {},
    'with absolute filament and no marks': { relative: false, marks: 'none' },
    'with other marks and line ends': { marks: 'change', crlf: true },
    'with 95 % flow, which cannot be told reliably': { flow: 0.95 },
    'with 4 % more plastic': { flow: 1.04 },
    'a hair larger': { scale: 1.004 },
    'with the first layer a hair thicker': { firstMm: 0.168 },
  };
  for (const [name, options] of Object.entries(sound))
    it(`has nothing to say about one ${name}`, async () => {
      expect(said(await audit(options))).to.deep.equal([]);
    });

  const broken: Readonly<Record<string, readonly [SliceOptions, readonly string[]]>> = {
    'a swap missing': [{ before: { 3: ['M600'] } }, ['wrong swap-missing']],
    'a swap a layer early': [{ before: { 2: ['M600'], 6: ['M600'] } }, ['wrong swap-early']],
    'a swap two layers late': [{ before: { 5: ['M600'], 6: ['M600'] } }, ['wrong swap-late']],
    'a swap too many': [{ before: { ...SWAPS, 9: ['M600'] } }, ['wrong swap-extra']],
    'a swap twice': [{ before: { 3: ['M600', 'M600'], 6: ['M600'] } }, ['wrong swap-doubled']],
    'a swap inside a layer': [
      { before: { 3: ['M600'] }, inside: { 6: ['M600'] } },
      ['wrong swap-inside'],
    ],
    'remarks and unknown names in place of swaps': [
      { before: { 3: [';M600'], 6: ['SWAP_NOW'] } },
      ['wrong swap-missing', 'wrong swap-missing'],
    ],
    'a command that the printer does not know': [
      { before: { 3: ['M600'], 6: ['PAUSE'] } },
      ['wrong pause-kind'],
    ],
    'a pause before anything': [{ before: { 1: ['M600'], ...SWAPS } }, ['look swap-extra']],
    'Z scaled up': [
      { zScale: 1.05 },
      ['wrong z-scaled', 'wrong layer-height < z-scaled', 'wrong swap-late < z-scaled'],
    ],
    'Z scaled down a little': [{ zScale: 0.98 }, ['wrong z-scaled']],
    'a first layer too thick': [
      { firstMm: 0.2 },
      ['wrong first-layer', 'wrong swap-late < first-layer', 'wrong swap-late < first-layer'],
    ],
    'other layers': [
      { layerMm: 0.1 },
      ['wrong layer-height', 'wrong total-height < layer-height', 'wrong swap-late < layer-height'],
    ],
    'an uneven layer': [{ uneven: [5, 0.02] }, ['wrong layer-uneven']],
    'a brim without a name': [{ loopMm: 5 }, ['look brim']],
    'a brim by name': [{ loopMm: 2, loopRemark: ';TYPE:Brim' }, ['look brim']],
    'a skirt by name': [{ loopMm: 3, loopRemark: '; FEATURE: Skirt' }, ['look skirt']],
    'supports by name': [{ loopMm: 0.1, loopRemark: ';TYPE:Support' }, ['look supports']],
    'a tower': [{ tower: true }, ['look tower', 'look size < tower', 'look other-picture < tower']],
    'sparse infill': [{ sparse: 3 }, ['wrong not-solid']],
    'too little flow': [{ flow: 0.8 }, ['wrong not-solid']],
    'another size': [{ scale: 1.05 }, ['wrong size']],
    mirrored: [{ mirrored: true }, ['wrong mirrored']],
    turned: [{ turned: true }, ['look turned']],
    'one by one without the change back': [{ objects: 2 }, ['wrong one-by-one']],
  };
  for (const [name, [options, expected]] of Object.entries(broken))
    it(`finds ${name}`, async () => {
      const findings = await audit(options);
      expect(said(findings)).to.deep.equal(expected);
      for (const finding of findings) {
        const { title, text } = describeFinding(finding, PLAN);
        expect(`${title} ${text}`).to.not.match(/undefined|null|NaN/);
        if (finding.code !== 'other-stamp') expect(finding.line).to.be.a('number');
      }
    });

  it('finds layers that are missing, a file that breaks off, and another relief', async () => {
    const shorter = await reportOf(slice(HEIGHTS, LAYERS - 2, { before: SWAPS }));
    expect(said(auditGcode(shorter, PLAN))).to.deep.equal([
      'wrong layer-count',
      'wrong total-height',
    ]);
    const whole = slice(HEIGHTS, LAYERS, { before: SWAPS });
    const cut = auditGcode(await reportOf(whole.slice(0, whole.length - 600)), PLAN);
    expect(said(cut)).to.include('wrong cut-off');
    const data = Uint8Array.from(HEIGHTS.data, (layers, i) => (i % 90 > 45 ? 2 : layers));
    data[5399] = LAYERS;
    const other = await reportOf(slice({ ...HEIGHTS, data }, LAYERS, { before: SWAPS }));
    expect(said(auditGcode(other, PLAN))).to.deep.equal([
      'wrong other-picture',
      'wrong not-solid < other-picture',
    ]);
  });

  it('numbers, heights and lines are those of the file', async () => {
    const [early] = await audit({ before: { 2: ['M600'], 6: ['M600'] } });
    expect(early).to.include({ expected: 0.24, found: 0.16, layer: 2, swap: 1 });
    const lines = slice(HEIGHTS, LAYERS, { before: { 2: ['M600'], 6: ['M600'] } }).split('\n');
    expect(lines[(early?.line ?? 0) - 1]).to.equal('M600');
    const [scaled] = await audit({ zScale: 1.05 });
    expect(scaled?.found).to.equal(1.05);
  });

  it('goes by height where the lowest layers are thicker than planned: fewer layers, the same swaps', async () => {
    const heights = reliefForSlices(LAYERS);
    const text = slice(heights, LAYERS, { firstMm: 0.24, layerMm: 0.08, before: { 3: ['M600'] } });
    const plan: PrintPlan = {
      stamp: '',
      layerGrid: { firstLayerMm: 0.24, layerMm: 0.08 },
      swaps: [{ swap: 1, layer: 9, stopAfterMm: 0.32, layerTopMm: 0.4, from: 'a', to: 'b' }],
    };
    expect(said(auditGcode(await reportOf(text), plan))).to.deep.equal([]);
  });

  it('has no complaint about sound files of other programs, against plans of what was written', async () => {
    for (const name of ['a_layer_comment_abs', 'c_no_comments_abs', 'e_arcs_crlf_abs']) {
      const truth = sliceTruth(name);
      const section = (Math.PI / 4) * 1.75 ** 2;
      const plan: PrintPlan = {
        stamp: '',
        swaps: [],
        layerGrid: { firstLayerMm: 0.2, layerMm: 0.2 },
        layers: truth.layers.length,
        areasMm2: truth.layers.map(({ filament_mm: mm }) => (mm * section) / 0.2),
        pauses: ['M600'],
      };
      expect(said(auditGcode(await reportOf(slicedFile(name)), plan))).to.deep.equal([]);
    }
  });

  it('can say every code', () => {
    for (const code of FINDING_CODES) {
      const { title, text } = describeFinding(
        { code, severity: 'wrong', expected: 1, found: 2, line: 3, layer: 4, swap: 1, object: 2 },
        PLAN,
      );
      expect(title.length > 8 && text.length > 30, code).to.equal(true);
    }
  });
});

describe('swaps as JSON', () => {
  it('reads older files, and names what is wrong in others', () => {
    const swap = {
      swap: 1,
      layer: 9,
      stopAfterMm: 0.72,
      layerTopMm: 0.8,
      from: 'soot',
      to: 'rust',
    };
    const old = readSwapsJson(JSON.stringify({ stamp: '7K2Q-M9XD', swaps: [swap] }));
    expect(old.ok && old.value.swaps).to.deep.equal([swap]);
    const faultOf = (text: string): string => {
      const read = readSwapsJson(text);
      return read.ok ? 'none' : `${read.fault.code} ${describeSwapsFault(read.fault)}`;
    };
    expect(faultOf('{')).to.match(/^not-json/);
    expect(faultOf('{"swaps":[{}]}')).to.match(/^not-swaps .*swaps\.0\.swap/);
    expect(faultOf(JSON.stringify({ swaps: [swap, swap] }))).to.match(/^not-rising .*swaps\.1/);
  });
});
