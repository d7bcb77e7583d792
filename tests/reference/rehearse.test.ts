import { expect } from 'chai';
import type { HeightMap } from '#core/base/raster.ts';
import { readGcode } from '#core/gcode/read-gcode.ts';
import { bytesSource } from '#core/gcode/source.ts';
import { USUAL_PRINTER } from '#core/printer/printer.ts';
import { openRehearsal, playFile, tryFault, type RehearsedFile } from '#core/rehearse/rehearsal.ts';
import { expectDemo } from '../helpers/demo.ts';
import { made, ownPrint } from '../helpers/own-gcode.ts';
import { slicedFile } from '../helpers/gcode.ts';

/** Layers of four bands, and the first of each. */
const BANDS = [6, 6, 6, 6];

describe('a rehearsal of our own G-code', function () {
  this.timeout(60_000);
  let heights: HeightMap;
  let file: RehearsedFile;
  let bytes: Uint8Array;
  before(async () => {
    const demo = await expectDemo('dome-at-dusk', 250, 166);
    const whole = demo.heights(demo.bands);
    const most = whole.data.reduce((a, b) => Math.max(a, b), 1);
    heights = { ...whole, data: whole.data.map((one) => Math.round((24 * one) / most)) };
    const print = ownPrint(heights, BANDS);
    const { text } = await made(print);
    bytes = new TextEncoder().encode(text);
    const opened = await openRehearsal(bytesSource(bytes), print.plan, USUAL_PRINTER);
    if (!opened.ok) return expect.fail(opened.fault.code);
    ({ file } = opened.value);
  });

  /** Samples of each band, from the heights alone. */
  const areas = (): number[] => {
    let below = 0;
    return BANDS.map((layers) => {
      let sum = 0;
      for (let layer = below + 1; layer <= below + layers; layer += 1)
        sum += heights.data.reduce((count, own) => count + (own >= layer ? 1 : 0), 0);
      below += layers;
      return sum;
    });
  };

  it('scores what goes wrong as heights and stack say it', () => {
    const own = areas();
    const all = own.reduce((a, b) => a + b, 0);
    const wrong = (...bands: number[]): number =>
      1 - bands.reduce((sum, n) => sum + (own[n] ?? 0), 0) / all;
    expect(playFile(file).score.score).to.equal(1);
    for (const stop of [1, 2, 3])
      expect(playFile(file, { ignores: stop }).score.score, `stop ${stop}`).to.be.closeTo(
        wrong(stop),
        0.004,
      );
    expect(tryFault(file, 'unknown-command')?.score.score).to.be.closeTo(wrong(1, 2, 3), 0.004);
    expect(playFile(file, { resumesAfterS: 60 }).score.score).to.be.closeTo(wrong(1, 2, 3), 0.004);
    expect(playFile(file, { ignores: 2 }).score.firstWrongLayer).to.equal(13);
  });

  it('takes the time that the desk tells, to the microsecond', async () => {
    const { accelerationMmS2, cornerMmS } = USUAL_PRINTER;
    const read = await readGcode(bytesSource(bytes), { accelerationMmS2, cornerMmS });
    if (!read.ok) return expect.fail(read.fault.code);
    expect(file.print.totalS).to.be.closeTo(read.value.seconds, 1e-6);
  });

  it('lays what the samples of each layer have, to half a percent of the piece', () => {
    const { print } = file;
    const perSample = (0.4 / print.grid.cellMm) ** 2;
    print.layers.forEach(({ cells }, n) => {
      const wanted = heights.data.reduce((count, own) => count + (own >= n + 1 ? 1 : 0), 0);
      expect(
        Math.abs(cells / perSample - wanted) / heights.data.length,
        `layer ${n + 1}`,
      ).to.be.below(0.005);
    });
  });

  it('the same file and faults give the same run', () => {
    const faults = { ignores: 1, resumesAfterS: 900 };
    expect(playFile(file, faults)).to.deep.equal(playFile(file, faults));
  });
});

describe('sliced files of others in a rehearsal', () => {
  for (const name of [
    'a_layer_comment_abs',
    'e_arcs_crlf_abs',
    'f_by_object_abs',
    'k_purge_skirt_park_pauses',
  ])
    it(`are run with the desk's own time: ${name}`, async () => {
      const source = bytesSource(slicedFile(name));
      const opened = await openRehearsal(source, { stamp: '', swaps: [] }, USUAL_PRINTER);
      if (!opened.ok) return expect.fail(opened.fault.code);
      const { report, file } = opened.value;
      expect(file.print.totalS).to.be.closeTo(report.seconds, 1e-6);
      expect(file.print.layers.length).to.equal(report.layers.length);
      expect(file.print.layers.every(({ cells }) => cells > 0)).to.equal(true);
      const pauses = report.events.filter(({ kind }) => kind === 'pause' || kind === 'tool');
      expect(file.print.stops.map(({ line }) => line)).to.deep.equal(
        pauses.map(({ line }) => line),
      );
    });
});
