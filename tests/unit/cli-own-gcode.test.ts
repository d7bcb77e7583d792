import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { encode as encodePng } from 'fast-png';
import { writePrinterJson } from '#core/formats/rack/printer-json.ts';
import { SHIPPED_PRINTERS, USUAL_PRINTER } from '#core/printer/printer.ts';
import { bundleCommandLine, PROGRAM } from '../../scripts/strata.mjs';
import { plainMoves } from '../helpers/own-gcode.ts';
import { reportOf } from '../helpers/gcode.ts';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));

describe('command line: G-code of our own', () => {
  const folder = mkdtempSync(join(tmpdir(), 'strata-own-'));
  const path = (name: string): string => join(folder, name);
  before(bundleCommandLine);
  before(() => {
    const [width, height] = [60, 40];
    const data = Uint8Array.from({ length: 3 * width * height }, (_, i) => {
      const pixel = Math.floor(i / 3);
      return Math.round((255 * (pixel % width)) / width);
    });
    writeFileSync(path('slope.png'), encodePng({ width, height, data, channels: 3 }));
    writeFileSync(
      path('stack.json'),
      JSON.stringify({
        layerGrid: { firstLayerMm: 0.16, layerMm: 0.08 },
        bands: [
          { filament: 'soot', layers: 4 },
          { filament: 'rust', layers: 4 },
          { filament: 'ivory', layers: 4 },
        ],
      }),
    );
  });
  after(() => {
    rmSync(folder, { recursive: true });
  });
  interface Printed {
    readonly files: readonly string[];
    readonly gcode?: {
      readonly layers: number;
      readonly swaps: number;
      readonly seconds: number;
      readonly plainSeconds: number;
      readonly filamentMm: number;
      readonly findings: readonly { code: string }[];
    };
  }
  function relief(...more: string[]): { status: number | null; out: Printed; err: string } {
    const picture = ['--image', path('slope.png'), '--rack', join(ROOT, 'demo/rack.csv')];
    const rest = ['--stack', path('stack.json'), '--width-mm', '30', '--sample-mm', '0.5'];
    const args = ['relief', ...picture, ...rest, '--out', path('out'), ...more];
    const done = spawnSync('node', [PROGRAM, ...args], { cwd: ROOT, encoding: 'utf8' });
    const out = (done.stdout === '' ? { files: [] } : JSON.parse(done.stdout)) as Printed;
    return { status: done.status, out, err: done.stderr };
  }

  it('relief --gcode writes the print beside the other files, and tells what it takes', async () => {
    expect(relief().out).to.not.have.property('gcode');
    const { status, out } = relief('--gcode', '--base', '3x0.24');
    expect(status).to.equal(0);
    expect(out.files).to.include('print.gcode');
    const { gcode } = out;
    if (!gcode) return expect.fail('nothing told');
    expect(gcode.findings).to.deep.equal([]);
    expect(gcode.swaps).to.equal(2);
    const bytes = readFileSync(path('out/print.gcode'));
    const report = await reportOf(bytes, { accelerationMmS2: 1500, cornerMmS: 8 });
    expect(report.layers).to.have.length(gcode.layers);
    // A thicker base stays in thicker layers.
    expect(report.layers[1]?.heightMm).to.be.closeTo(0.24, 1e-6);
    expect(report.seconds).to.be.closeTo(gcode.seconds, 0.1);
    const laid = plainMoves(bytes.toString('latin1')).filter(
      ({ strand, from, to }) => strand > 0 && Math.hypot(to[0] - from[0], to[1] - from[1]) > 0,
    );
    expect(laid.reduce((sum, { strand }) => sum + strand, 0)).to.be.closeTo(gcode.filamentMm, 1e-5);
    const check = spawnSync(
      'node',
      [PROGRAM, 'gcode', 'check', path('out/print.gcode'), '--sheet', path('out/swaps.json')],
      { cwd: ROOT, encoding: 'utf8' },
    );
    expect([check.status, JSON.parse(check.stdout)]).to.deep.equal([0, { findings: [] }]);
    return undefined;
  });

  it('--printer takes a printer of a file: its speeds, heat, pause and texts; smooth outlines are those of the files', () => {
    const slow = {
      ...USUAL_PRINTER,
      name: 'Workshop',
      solidMmS: 20,
      accelerationMmS2: 300,
      nozzleC: 222,
      pause: { command: 'M25' as const, text: '' },
      endText: 'M104 S0\nM140 S0\nM117 done {stamp}',
    };
    writeFileSync(path('P.json'), writePrinterJson([slow]));
    const usual = relief('--gcode').out.gcode;
    const flat = ['--rule', 'flat', '--smooth'];
    const { status, out, err } = relief('--gcode', '--printer', path('P.json'), ...flat);
    expect([status, err]).to.deep.equal([0, '']);
    expect(out.gcode?.findings).to.deep.equal([]);
    expect(out.gcode?.seconds).to.be.greaterThan(usual?.seconds ?? Infinity);
    const text = readFileSync(path('out/print.gcode'), 'latin1');
    expect(text)
      .to.contain('M109 S222')
      .and.to.match(/\nM25\n/);
    expect(text).to.match(/M117 done \w{4}-\w{4}\n$/);
    expect(JSON.parse(readFileSync(path('out/swaps.json'), 'utf8'))).to.include({ lineMm: 0.42 });
    // The bare printer is taken too.
    writeFileSync(path('bare.json'), JSON.stringify(slow));
    expect(relief('--gcode', '--printer', path('bare.json')).status).to.equal(0);
  });

  it('a printer that is wrong is refused, with what to do', () => {
    const refused = (content: string): string => {
      writeFileSync(path('bad.json'), content);
      const { status, err } = relief('--gcode', '--printer', path('bad.json'));
      expect(status).to.equal(2);
      return err;
    };
    expect(refused('{')).to.contain('not JSON');
    expect(refused(writePrinterJson(SHIPPED_PRINTERS))).to.contain('holds 6 printers');
    expect(refused(writePrinterJson([{ ...USUAL_PRINTER, solidMmS: 0 }]))).to.contain('solidMmS');
    const relative = { ...USUAL_PRINTER, startText: `${USUAL_PRINTER.startText}\nG91` };
    expect(refused(writePrinterJson([relative]))).to.contain('Add at its end: G90');
    const small = { shape: 'rectangle', widthMm: 28, depthMm: 25 } as const;
    expect(refused(writePrinterJson([{ ...USUAL_PRINTER, bed: small }]))).to.contain('room for 0');
  });

  it('rehearse runs the print on the simulated printer, with what goes wrong, and scores it', () => {
    const { out } = relief('--gcode');
    interface Rehearsed {
      readonly score: number;
      readonly bands: readonly { filament: string; score: number; cells: number }[];
      readonly firstWrongLayer: number | null;
      readonly seconds: number;
      readonly clockSeconds: number;
    }
    const rehearse = (...more: string[]) => {
      const file = [path('out/print.gcode'), '--sheet', path('out/swaps.json')];
      const done = spawnSync('node', [PROGRAM, 'rehearse', ...file, ...more], {
        cwd: ROOT,
        encoding: 'utf8',
      });
      return {
        status: done.status,
        err: done.stderr,
        told: JSON.parse(done.stdout || '{}') as Rehearsed,
      };
    };
    const { status, told } = rehearse();
    expect([status, told.score, told.firstWrongLayer]).to.deep.equal([0, 1, null]);
    expect(told.seconds).to.be.closeTo(out.gcode?.seconds ?? 0, 0.06);
    // Heating, and two swaps of three minutes.
    expect(told.clockSeconds).to.be.closeTo(told.seconds + 95 + 360, 0.01);
    expect(told.bands.map(({ filament }) => filament)).to.deep.equal(['soot', 'rust', 'ivory']);
    const all = told.bands.reduce((sum, { cells }) => sum + cells, 0);
    const share = (n: number): number => (told.bands[n]?.cells ?? 0) / all;
    const through = rehearse('--fault', 'ignore:1').told;
    expect(through.score).to.be.closeTo(1 - share(1), 1e-4);
    expect(through.firstWrongLayer).to.equal(5);
    expect(rehearse('--fault', 'resume:60').told.score).to.be.closeTo(share(0), 1e-4);
    expect(rehearse('--fault', 'spool:2=soot').told.score).to.be.closeTo(1 - share(2), 1e-4);
    expect(rehearse('--fault', 'runout:1').told.score).to.be.below(1);
    expect(rehearse('--fault', 'runout-told:1').told.score).to.equal(1);
    const both = rehearse('--fault', 'ignore:1', '--fault', 'spool:2=rust').told;
    expect(both.score).to.be.closeTo(share(0), 1e-4);
    // A printer that knows another command runs through all stops.
    const other = { ...USUAL_PRINTER, pause: { command: 'PAUSE' as const, text: '' } };
    writeFileSync(path('other.json'), JSON.stringify(other));
    expect(rehearse('--printer', path('other.json')).told.score).to.be.closeTo(share(0), 1e-4);
    for (const [fault, words] of [
      ['melt:1', 'ignore:STOP'],
      ['ignore:x', 'ignore'],
      ['spool:1=moss', 'moss'],
    ] as const) {
      const refused = rehearse('--fault', fault);
      expect(refused.status).to.equal(2);
      expect(refused.err).to.contain(words);
    }
  });
});
