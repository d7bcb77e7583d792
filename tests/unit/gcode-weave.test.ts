import { expect } from 'chai';
import { auditGcode } from '#core/gcode/audit.ts';
import { checkPauseLines } from '#core/gcode/pause-check.ts';
import type { GcodeReport } from '#core/gcode/report.ts';
import { bytesSource, changedSource, type Change } from '#core/gcode/source.ts';
import { bandStrands, strandUpTo } from '#core/gcode/strand.ts';
import { findOwnLines, type OwnLines } from '#core/gcode/take-out.ts';
import { planToolsToPauses } from '#core/gcode/tools.ts';
import { changesOf, planWeave } from '#core/gcode/weave.ts';
import type { Pause } from '#core/printer/pause.ts';
import { describePauseTrouble } from '../../src/platform/gcode-words.ts';
import {
  planOf,
  reliefForSlices,
  reportOf,
  slice,
  slicedFile,
  type SliceOptions,
} from '../helpers/gcode.ts';

const HEIGHTS = reliefForSlices();
const PLAN = planOf(HEIGHTS, 10);
const M600: Pause = { command: 'M600', text: '' };
const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);

async function applied(bytes: Uint8Array, changes: readonly Change[]): Promise<Buffer> {
  const changed = changedSource(bytesSource(bytes), changes);
  return Buffer.from(await changed.read(0, changed.size));
}
async function ownLines(bytes: Uint8Array): Promise<OwnLines> {
  const own = await findOwnLines(bytesSource(bytes));
  if (!own.ok) return expect.fail(own.fault.code);
  return own.value;
}
async function woven(bytes: Uint8Array, plan = PLAN, pause = M600, switchOff = true) {
  const report = await reportOf(bytes);
  const weaving = planWeave(report, plan, { pause, switchOff });
  return { report, weaving, bytes: await applied(bytes, changesOf(weaving, report.crlf)) };
}
const sliced = (options: SliceOptions): Uint8Array => utf8(slice(HEIGHTS, 10, options));
/** What the file lays and where, without its lines' numbers. */
const laidOf = ({ layers, filamentMm }: GcodeReport): unknown => [
  filamentMm,
  layers.map(({ topMm, filamentMm: own, laidMm, box }) => [topMm, own, laidMm, box]),
];

describe('weaving swaps in', () => {
  it('makes a sound file of one without swaps, and gives the bytes back', async () => {
    for (const options of [
      {},
      { marks: 'none', relative: false },
      { marks: 'change', crlf: true },
    ] as const) {
      const bytes = sliced(options);
      const { weaving, report, bytes: made } = await woven(bytes);
      expect(weaving.blocks.map(({ swap }) => swap)).to.deep.equal([1, 2]);
      const after = await reportOf(made);
      const own = await ownLines(made);
      expect([own.blocks, own.stamps]).to.deep.equal([2, ['7K2Q-M9XD']]);
      expect(auditGcode(after, PLAN, own)).to.deep.equal([]);
      expect(laidOf(after)).to.deep.equal(laidOf(report));
      const text = made.toString();
      expect(text.includes('\r\n;@strata begin swap 1 stamp 7K2Q-M9XD\r\n')).to.equal(
        'crlf' in options,
      );
      expect((await applied(made, own.cuts)).equals(bytes)).to.equal(true);
    }
  });

  it('stands after the last laid line of the layer below, before lift and travel, never within a retraction', async () => {
    for (const name of [
      'a_layer_comment_abs',
      'c_no_comments_abs',
      'k_purge_skirt_park_pauses',
      'e_arcs_crlf_abs',
    ]) {
      const bytes = slicedFile(name);
      const plan = {
        ...PLAN,
        swaps: [{ swap: 1, layer: 11, stopAfterMm: 2, layerTopMm: 2.2, from: 'a', to: 'b' }],
      };
      const { bytes: made, report, weaving } = await woven(bytes, plan, M600, false);
      const lines = made.toString().split(/\r?\n/);
      const at = lines.indexOf('M600', (weaving.blocks[0]?.line ?? 1) - 1);
      const before = lines.slice(0, at).filter((line) => !line.startsWith(';') && line !== 'M600');
      expect(before.at(-1)).to.match(/^G[123] .*[XY].*E/);
      expect(
        report.layers.find(({ layer }) => layer === weaving.blocks[0]?.layer.layer)?.topMm,
      ).to.equal(2.2);
      expect(laidOf(await reportOf(made))).to.deep.equal(laidOf(report));
    }
  });

  it('gives each of several pieces all swaps, with a change back between them', async () => {
    const bytes = slicedFile('f_by_object_abs');
    const swap = (n: number, layer: number) => ({
      swap: n,
      layer,
      stopAfterMm: 0.2 * (layer - 1),
      layerTopMm: 0.2 * layer,
      from: String(n),
      to: String(n + 1),
    });
    const plan = { stamp: 'S', swaps: [swap(1, 3), swap(2, 5), swap(3, 7)], pauses: ['M600'] };
    const { weaving, bytes: made } = await woven(bytes, plan);
    expect(weaving.blocks.map(({ kind }) => kind)).to.deep.equal([
      'swap',
      'swap',
      'swap',
      'back',
      'swap',
      'swap',
      'swap',
    ]);
    expect(auditGcode(await reportOf(made), plan, await ownLines(made))).to.deep.equal([]);
    expect((await applied(made, (await ownLines(made)).cuts)).equals(bytes)).to.equal(true);
  });

  it('leaves pauses that are right, switches off those that are not, and says what it cannot', async () => {
    const bytes = sliced({ before: { 2: ['M600'], 6: ['M600'], 8: ['M0 look'] } });
    const { weaving, bytes: made } = await woven(bytes);
    expect(weaving.kept.map(({ layer }) => layer)).to.deep.equal([6]);
    expect(weaving.off.map(({ text }) => text)).to.deep.equal(['M600', 'M0 look']);
    const own = await ownLines(made);
    expect(auditGcode(await reportOf(made), PLAN, own)).to.deep.equal([]);
    expect((await applied(made, own.cuts)).equals(bytes)).to.equal(true);
    const numbered = await reportOf(sliced({ before: { 4: ['N7 M600*17'] } }));
    expect(planWeave(numbered, PLAN, { pause: M600, switchOff: true }).numbered).to.have.length(1);
    const high = planWeave(await reportOf(bytes), planOf(HEIGHTS, 10, [3, 40]), {
      pause: M600,
      switchOff: true,
    });
    expect(high.unplaced.map(({ swap }) => swap)).to.deep.equal([2]);
  });

  it('puts them in anew when the plan changed, and tells another stamp', async () => {
    const { bytes: first } = await woven(sliced({}));
    const later = { ...planOf(HEIGHTS, 10, [4, 8]), stamp: 'NEW1-NEW1' };
    const own = await ownLines(first);
    const codes = auditGcode(await reportOf(first), later, own).map(({ code }) => code);
    expect(codes).to.include('other-stamp').and.to.include('swap-early');
    const bare = await applied(first, own.cuts);
    const { bytes: again } = await woven(bare, later);
    expect(auditGcode(await reportOf(again), later, await ownLines(again))).to.deep.equal([]);
  });

  it('refuses to take out what was changed by hand', async () => {
    const { bytes } = await woven(sliced({}));
    const text = bytes.toString();
    for (const broken of [
      text.replace(';@strata end swap 1', ';'),
      text.replace(';@strata begin swap 2', ';@strata begin swap 3'),
      `${text};@strata begin swap 9\n`,
    ]) {
      const own = await findOwnLines(bytesSource(utf8(broken)));
      expect(own.ok ? 'fine' : own.fault.code).to.equal('broken-block');
    }
    // Words that only look like ours are the file's own.
    const own = await ownLines(utf8('G1 X1 E1 ;@strata begin swap 1\nM117 a@strata \n'));
    expect(own).to.include({ blocks: 0, off: 0 });
  });

  it('finds its lines across the seams of chunks', async () => {
    const mark = ';@strata off M600\n';
    for (let shift = -25; shift <= 25; shift += 1) {
      const filler = '; xx\n'.repeat(209_715).slice(0, (1 << 20) + shift - 1);
      const bytes = utf8(`${filler}\n${mark}G1 X1\n`);
      const own = await ownLines(bytes);
      expect(own.off, String(shift)).to.equal(1);
      expect((await applied(bytes, own.cuts)).toString().endsWith('\nM600\nG1 X1\n')).to.equal(
        true,
      );
    }
  });
});

describe('lines of one’s own', () => {
  const state = async (): Promise<Float64Array> =>
    (await reportOf(sliced({ relative: false }))).layers[4]?.place.state ?? new Float64Array(16);

  it('must leave the printer as it was; what is off is named with the line that mends it', async () => {
    const from = await state();
    const sound = [
      'G91',
      'G1 Z5 F600',
      'G90',
      'M600',
      'G91',
      'G1 Z-5',
      'G90',
      `G1 F${from[8] ?? 0}`,
    ];
    expect(checkPauseLines(sound, from)).to.deep.equal([]);
    const whats = (lines: readonly string[]): string[] =>
      checkPauseLines(lines, from).map(({ what }) => what);
    expect(whats(['; nothing'])).to.deep.equal(['does-not-stop']);
    expect(whats(['M600', 'G91'])).to.deep.equal(['coordinates']);
    expect(whats(['M600', 'G20'])).to.deep.equal(['units']);
    expect(whats(['M600', 'M83'])).to.deep.equal(['filament-mode']);
    expect(whats(['M600', 'G1 X0 Y0'])).to.deep.equal(['place']);
    expect(whats(['M600', 'G1 F100'])).to.deep.equal(['speed']);
    expect(whats(['M600', 'G92 E0'])).to.include('filament-place');
    expect(whats(['M600', 'M83', 'G1 E-3', 'M82'])).to.include('strand');
    expect(whats(['M600', 'G1 XY'])).to.deep.equal(['bad-line']);
  });

  it('mends what it says it mends', async () => {
    const from = await state();
    for (const lines of [
      ['M600', 'G91', 'G1 X-9 Y4 Z7', 'G90'],
      ['M600', 'G92 E0'],
      ['M600', 'M83', 'G20', 'G1 F4'],
    ]) {
      let all: readonly string[] = lines;
      for (const trouble of checkPauseLines(lines, from)) {
        expect(describePauseTrouble(trouble)).to.contain('Add at its end');
        all = [...all, ...trouble.mend.split('\n')];
      }
      // Mending lines move at speeds of their own, which is the last thing to mend.
      const left = checkPauseLines(all, from);
      all = [...all, ...left.flatMap(({ mend }) => mend.split('\n'))];
      expect(checkPauseLines(all, from)).to.deep.equal([]);
    }
  });
});

describe('tools to pauses', () => {
  const options = { pause: M600, onlyLayers: null, dropPriming: false };

  it('makes a swap of each change, switches off what heats other tools, and gives the bytes back', async () => {
    const bytes = slicedFile('g_two_tools_rel');
    const report = await reportOf(bytes);
    const plan = planToolsToPauses(report, options);
    const changes = bytes.toString().match(/^T\d/gm) ?? [];
    expect(plan.blocks.filter(({ kind }) => kind === 'tool')).to.have.length(changes.length - 1);
    expect(plan.mostPerLayer).to.equal(1);
    const made = await applied(bytes, changesOf(plan, report.crlf));
    const text = made.toString();
    expect(text).to.not.match(/^T\d/m);
    expect(text).to.not.match(/^M10[49] .*T[1-9]/m);
    const after = await reportOf(made);
    expect(after.tools).to.deep.equal([0]);
    expect(after.pauses).to.have.length(changes.length - 1);
    expect(after.filamentMm).to.be.closeTo(report.filamentMm, 1e-9);
    expect((await applied(made, (await ownLines(made)).cuts)).equals(bytes)).to.equal(true);
  });

  it('keeps the change in the first layers, and leaves priming out where asked', async () => {
    const bytes = slicedFile('g_two_tools_rel');
    const report = await reportOf(bytes);
    const few = planToolsToPauses(report, { ...options, onlyLayers: 2 });
    const swaps = few.blocks.filter(({ kind }) => kind === 'tool');
    // Two layers with a change, and one to the filament that does the rest.
    expect(swaps.map(({ layer }) => layer.layer)).to.deep.equal([1, 2, 3]);
    expect(swaps.at(-1)?.to).to.equal('tool 1');
    const dropped = planToolsToPauses(report, { ...options, dropPriming: true });
    expect(dropped.priming).to.equal(20);
    const made = await applied(bytes, changesOf(dropped, report.crlf));
    const after = await reportOf(made);
    expect(report.filamentMm - after.filamentMm).to.be.closeTo(20 * 0.4, 1e-6);
    expect(after.layers[0]?.box[2]).to.be.lessThan(150);
  });

  it('counts swaps of a layer that changes several times', async () => {
    const text = slice(HEIGHTS, 10, { inside: { 1: ['T1', 'T0', 'T1'], 2: ['T0'] } });
    // Nothing is laid between the first changes: they are changes all the same.
    const plan = planToolsToPauses(await reportOf(text), options);
    expect(plan.perLayer).to.deep.equal([
      { layer: 1, swaps: 3 },
      { layer: 2, swaps: 1 },
    ]);
    expect(plan.inside).to.deep.equal([1, 2]);
  });
});

describe('strand of a sliced file', () => {
  it('adds up to all that is laid, band by band', async () => {
    const report = await reportOf(slicedFile('k_purge_skirt_park_pauses'));
    const plan = {
      ...PLAN,
      swaps: [{ swap: 1, layer: 7, stopAfterMm: 1.2, layerTopMm: 1.4, from: 'a', to: 'b' }],
    };
    const bands = bandStrands(report, plan);
    expect(bands.map(({ firstLayer, lastLayer }) => [firstLayer, lastLayer])).to.deep.equal([
      [1, 6],
      [7, 20],
    ]);
    const laid = report.layers.reduce((sum, { filamentMm }) => sum + filamentMm, report.primingMm);
    expect(bands.at(-1)?.markMm).to.be.closeTo(laid, 1e-9);
    expect(bands[0]?.markMm).to.be.closeTo(strandUpTo(report, 1.2), 1e-9);
    expect(strandUpTo(report, 99)).to.be.closeTo(laid, 1e-9);
  });
});
