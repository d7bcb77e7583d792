import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { bundleCommandLine, PROGRAM } from '../../scripts/strata.mjs';
import { planOf, reliefForSlices, slice, slicedFile, sliceTruth } from '../helpers/gcode.ts';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
const HEIGHTS = reliefForSlices();

interface Inspected {
  readonly layers: readonly { layer: number; topMm: number; filamentMm: number; seconds: number }[];
  readonly pauses: readonly { line: number; layer: number; command: string }[];
  readonly objects: number;
  readonly tools: readonly number[];
  readonly filamentMm: number;
  readonly seconds: number;
}

describe('command line: gcode', () => {
  const folder = mkdtempSync(join(tmpdir(), 'strata-gcode-'));
  const path = (name: string): string => join(folder, name);
  const sheet = path('swaps.json');
  before(bundleCommandLine);
  before(() => {
    writeFileSync(sheet, JSON.stringify(planOf(HEIGHTS, 10)));
    writeFileSync(path('plain.gcode'), slice(HEIGHTS, 10));
    for (const name of ['k_purge_skirt_park_pauses', 'g_two_tools_rel'])
      writeFileSync(path(`${name}.gcode`), slicedFile(name));
  });
  after(() => {
    rmSync(folder, { recursive: true });
  });
  // eslint-disable-next-line @typescript-eslint/no-unnecessary-type-parameters -- says what a verb prints
  function run<Out = Record<string, unknown>>(
    ...args: string[]
  ): { status: number | null; out: Out; err: string } {
    const done = spawnSync('node', [PROGRAM, 'gcode', ...args], { cwd: ROOT, encoding: 'utf8' });
    const out = (done.stdout === '' ? {} : JSON.parse(done.stdout)) as Out;
    return { status: done.status, out, err: done.stderr };
  }

  it('inspect tells layers, pauses, filament and time', () => {
    const truth = sliceTruth('k_purge_skirt_park_pauses');
    const file = path('k_purge_skirt_park_pauses.gcode');
    const { status, out } = run<Inspected>('inspect', file);
    expect(status).to.equal(0);
    expect(out.layers.map(({ topMm }) => topMm)).to.deep.equal(truth.layers.map((l) => l.z_top));
    expect(out.layers[0]).to.include({ layer: 1 });
    expect(out.pauses.map(({ layer, command }) => [layer, command])).to.deep.equal([
      [7, 'M600'],
      [14, 'M0'],
    ]);
    expect([out.objects, out.tools]).to.deep.equal([1, [0]]);
    expect(out.filamentMm).to.be.closeTo(truth.total_filament_mm, 1e-4);
    expect(out.seconds).to.be.closeTo(truth.total_time_s, 0.01);
    const slower = run<Inspected>('inspect', file, '--acceleration', '500').out;
    expect(slower.seconds).to.be.greaterThan(1.1 * out.seconds);
  });

  it('check, swaps and take-out: wrong, then right, then the same bytes', () => {
    const plain = path('plain.gcode');
    const woven = path('woven.gcode');
    const before = run<{ findings: { code: string; severity: string; says: string }[] }>(
      'check',
      plain,
      '--sheet',
      sheet,
    );
    expect(before.status).to.equal(1);
    expect(before.out.findings.map(({ code }) => code)).to.deep.equal([
      'swap-missing',
      'swap-missing',
    ]);
    expect(before.out.findings[0]?.says).to.contain('Swap 1 is missing');
    const put = run<{ swaps: object[]; addedLines: number }>(
      'swaps',
      plain,
      '--sheet',
      sheet,
      '--pause',
      'M600',
      '--out',
      woven,
    );
    expect([put.status, put.out.swaps.length, put.out.addedLines]).to.deep.equal([0, 2, 8]);
    const after = run<{ findings: object[] }>('check', woven, '--sheet', sheet);
    expect([after.status, after.out.findings]).to.deep.equal([0, []]);
    // Again is not twice.
    const again = path('again.gcode');
    expect(run('swaps', woven, '--sheet', sheet, '--out', again).status).to.equal(0);
    expect(readFileSync(again).equals(readFileSync(woven))).to.equal(true);
    const back = path('back.gcode');
    expect(run('take-out', woven, '--out', back).out).to.include({ takenOut: 2 });
    expect(readFileSync(back).equals(readFileSync(plain))).to.equal(true);
    const bands = run<{ bands: object[] }>('inspect', plain, '--sheet', sheet).out.bands;
    expect(bands).to.have.length(3);
  });

  it('tools-to-pauses makes one nozzle of several tools', () => {
    const out = path('one.gcode');
    const made = run(
      'tools-to-pauses',
      path('g_two_tools_rel.gcode'),
      '--pause',
      'PAUSE',
      '--out',
      out,
    );
    expect(made.status).to.equal(0);
    expect(made.out).to.include({ mostPerLayer: 1 });
    expect(run<Inspected>('inspect', out).out.tools).to.deep.equal([0]);
    const many = path('many.gcode');
    writeFileSync(many, slice(HEIGHTS, 10, { inside: { 1: ['T1', 'T0', 'T1'] } }));
    const refused = run('tools-to-pauses', many, '--out', out);
    expect([
      refused.status,
      /3 swaps, up to 3 in one layer.*--confirm/.test(refused.err),
    ]).to.deep.equal([2, true]);
    expect(run('tools-to-pauses', many, '--out', out, '--confirm').status).to.equal(0);
  });

  it('takes the maker’s own lines only where they leave the printer as it was', () => {
    const own = path('own.txt');
    const out = path('own.gcode');
    writeFileSync(own, 'G91\nG1 Z5\nG90\nM600 ; {swap} {to}\n');
    const refused = run(
      'swaps',
      path('plain.gcode'),
      '--sheet',
      sheet,
      '--pause-text',
      own,
      '--out',
      out,
    );
    expect(refused.status).to.equal(2);
    expect(refused.err)
      .to.contain('stands elsewhere')
      .and.to.match(/G1 Z0\.24 F600/);
    expect(existsSync(out)).to.equal(false);
    writeFileSync(own, 'G91\nG1 Z5\nG1 Z-5\nG90\nM600 ; {swap} {to}\n');
    expect(
      run('swaps', path('plain.gcode'), '--sheet', sheet, '--pause-text', own, '--out', out).status,
    ).to.equal(0);
    expect(readFileSync(out, 'utf8')).to.contain('M600 ; 1 rust\n');
    // A printer with lines of its own has them in the plan.
    const plan = path('own.json');
    writeFileSync(
      plan,
      JSON.stringify({ ...planOf(HEIGHTS, 10), pauses: ['custom'], pauseText: 'M25 ; {from}' }),
    );
    expect(run('swaps', path('plain.gcode'), '--sheet', plan, '--out', out).status).to.equal(0);
    expect(readFileSync(out, 'utf8')).to.contain('M25 ; soot\n');
  });

  it('says what is wrong with files and options', () => {
    writeFileSync(path('empty.gcode'), '');
    for (const [args, words] of [
      [['inspect', path('empty.gcode')], 'is empty'],
      [['inspect', path('none.gcode')], 'cannot be read (ENOENT)'],
      [['inspect'], 'takes one file'],
      [['weave', 'x'], 'gcode takes one of inspect, check, swaps'],
      [['check', path('plain.gcode')], '--sheet is missing'],
      [['check', path('plain.gcode'), '--sheet', path('plain.gcode')], 'it is no JSON'],
      [
        ['swaps', path('plain.gcode'), '--sheet', sheet, '--out', path('plain.gcode')],
        'the file itself',
      ],
      [
        ['swaps', path('plain.gcode'), '--sheet', sheet, '--out', path('o'), '--pause', 'STOP'],
        '--pause is "STOP"',
      ],
    ] as const) {
      const { status, err } = run(...args);
      expect(err).to.contain(words);
      expect(status).to.equal(2);
    }
  });
});
