import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { strFromU8, unzipSync } from 'fflate';
import { bundleCommandLine, PROGRAM } from '../../scripts/strata.mjs';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
const RACK = join(ROOT, 'demo/rack.csv');

interface Told {
  readonly layers: number;
  readonly thicknessMm: number;
  readonly swaps: number;
  readonly bands: readonly { readonly filament: string; readonly volumeMm3: number }[];
  readonly problems: readonly {
    readonly code: string;
    readonly element: number;
    readonly mm: number;
  }[];
  readonly files: readonly string[];
}

describe('command line: tags', () => {
  const folder = mkdtempSync(join(tmpdir(), 'strata-tag-'));
  before(bundleCommandLine);
  after(() => {
    rmSync(folder, { recursive: true });
  });

  /** Makes a tag of a file, in a folder of its own. */
  function make(
    file: object | string,
    ...more: string[]
  ): { status: number | null; told: Told; err: string; out: string } {
    const out = mkdtempSync(join(folder, 'out-'));
    const path = join(out, 'T.json');
    writeFileSync(path, typeof file === 'string' ? file : JSON.stringify(file));
    const { status, stdout, stderr } = spawnSync(
      'node',
      [PROGRAM, 'tag', path, '--rack', RACK, '--out', out, ...more],
      { cwd: ROOT, encoding: 'utf8' },
    );
    return { status, told: JSON.parse(stdout || '{}') as Told, err: stderr, out };
  }

  const seven = {
    kind: 'text',
    text: '7',
    font: 'Hanken Grotesk 800',
    heightMm: 12,
    filament: 'straw',
    way: 'raised',
    levelMm: 2,
  };
  const base = {
    layerGrid: { firstLayerMm: 0.2, layerMm: 0.2 },
    outline: { kind: 'disc', widthMm: 40, heightMm: 40 },
    plate: { filament: 'midnight', levelMm: 2 },
    elements: [seven, { kind: 'hole', diameterMm: 5, xMm: 0, yMm: 15 }],
  };

  it('2 mm of plate and 2 mm of letters at 0.2 mm swap at layer 11; volumes are areas times heights', () => {
    const { status, told, out } = make(base, '--gcode', '--all-formats');
    expect(status).to.equal(0);
    expect(told).to.deep.include({ layers: 20, thicknessMm: 4, swaps: 1, problems: [] });
    expect(told.bands.map(({ filament }) => filament)).to.deep.equal(['midnight', 'straw']);
    const plate = Math.PI * (400 - 6.25) * 2;
    expect(told.bands[0]?.volumeMm3).to.be.closeTo(plate, 1e-4 * plate);
    const swaps = JSON.parse(readFileSync(join(out, 'swaps.json'), 'utf8')) as {
      swaps: { layer: number; stopAfterMm: number; from: string; to: string }[];
    };
    expect(swaps.swaps).to.have.length(1);
    expect(swaps.swaps[0]).to.deep.include({
      layer: 11,
      stopAfterMm: 2,
      from: 'midnight',
      to: 'straw',
    });
    expect(readFileSync(join(out, 'swap-sheet.txt'), 'utf8')).to.include('11');
    // The model names both bands, and the file of our own has the one swap.
    const model = strFromU8(
      unzipSync(readFileSync(join(out, 'tag.3mf')))['3D/3dmodel.model'] ?? new Uint8Array(),
    );
    expect(model).to.include('A Midnight').and.include('B Straw');
    expect(readFileSync(join(out, 'print.gcode'), 'utf8').match(/^M600/gm)).to.have.length(1);
    for (const name of told.files) expect(existsSync(join(out, name)), name).to.equal(true);
    // A binary STL says in its head how many triangles follow.
    const stl = readFileSync(join(out, 'tag.stl'));
    expect(stl.length).to.equal(84 + 50 * stl.readUInt32LE(80));
  });

  it('two filaments at one level, and levels that are no whole layers, stop it with what would do', () => {
    const other = { ...seven, text: 'LOCKER', heightMm: 4, yMm: -12, filament: 'chalk' };
    const clash = make({ ...base, elements: [seven, other] });
    expect(clash.status).to.equal(2);
    expect(clash.told.problems).to.deep.equal([
      { code: 'clash', element: 1, mm: 2, neededMm: 2.2 },
    ]);
    expect(existsSync(join(clash.out, 'tag.stl'))).to.equal(false);
    const uneven = make({ ...base, elements: [{ ...seven, levelMm: 0.5 }] });
    expect(uneven.status).to.equal(2);
    expect(uneven.told.problems[0]).to.deep.include({ code: 'level', element: 0, mm: 0.5 });
    const raised = make({ ...base, elements: [seven, { ...other, levelMm: 2.2 }] });
    expect(raised.status).to.equal(0);
    expect(raised.told.bands.map(({ filament }) => filament)).to.deep.equal([
      'midnight',
      'straw',
      'chalk',
    ]);
  });

  it('a flush face gives inlays and body as files of their own, and one G-code that lays both', () => {
    const flush = { ...seven, way: 'flush', levelMm: 0.4 };
    const { status, told, out } = make({ ...base, elements: [flush] }, '--gcode');
    expect(status).to.equal(0);
    expect(told).to.deep.include({ layers: 10, thicknessMm: 2, swaps: 1, problems: [] });
    expect(told.files).to.include.members(['tag.stl', 'tag.3mf', 'inlays.stl', 'body.stl']);
    const [plate, inlay] = told.bands;
    expect([plate?.filament, inlay?.filament]).to.deep.equal(['midnight', 'straw']);
    expect((plate?.volumeMm3 ?? 0) + (inlay?.volumeMm3 ?? 0)).to.be.closeTo(
      Math.PI * 800,
      1e-4 * Math.PI * 800,
    );
    const text = readFileSync(join(out, 'print.gcode'), 'utf8');
    expect(text.match(/^M600/gm)).to.have.length(1);
    expect(text.indexOf('; inlay')).to.equal(-1);
    expect(text.match(/^; layer 1,/gm)).to.have.length(2);
    const within = make({ ...base, flush: { print: 'within' }, elements: [flush] }, '--gcode');
    expect(within.told.swaps).to.equal(2);
    const mixed = make({ ...base, elements: [flush, { ...seven, xMm: 10 }] });
    expect(mixed.status).to.equal(2);
    expect(mixed.told.problems[0]).to.deep.include({ code: 'clash', element: 1 });
  });

  it('what is too fine is told, and stops nothing', () => {
    const bar = {
      kind: 'shape',
      path: 'M0 0h100v1h-100z',
      widthMm: 30,
      filament: 'straw',
      levelMm: 0.4,
    };
    const { status, told } = make({
      ...base,
      elements: [bar, { kind: 'hole', diameterMm: 5, yMm: 17.3 }, { ...bar, xMm: 12, yMm: 9 }],
    });
    expect(status).to.equal(0);
    const codes = told.problems.map(({ code, element }) => `${code} ${element}`);
    expect(codes).to.include.members(['thin-stroke 0', 'rim 1', 'outside 2']);
    expect(told.problems.find(({ code }) => code === 'thin-stroke')?.mm).to.be.closeTo(0.3, 0.01);
    expect(told.problems.find(({ code }) => code === 'rim')?.mm).to.be.closeTo(0.2, 0.01);
  });

  it('a list of names makes a piece of each row, in a folder of its own', () => {
    const names = join(folder, 'names.csv');
    writeFileSync(names, 'Name,Role\nAda,Dome\n"Bo | Moss",Gate\n');
    const tag = { ...base, elements: [{ ...seven, text: '{name}', heightMm: 5 }] };
    const { status, told, out } = make(tag, '--names', names);
    expect(status).to.equal(0);
    const { pieces } = told as unknown as { pieces: (Told & { piece: string })[] };
    expect(pieces.map(({ piece }) => piece)).to.deep.equal(['1-Ada', '2-Bo-Moss']);
    for (const { piece } of pieces) expect(existsSync(join(out, piece, 'tag.stl'))).to.equal(true);
    expect(pieces[0]?.bands[1]?.volumeMm3).to.not.equal(pieces[1]?.bands[1]?.volumeMm3);
    // Marks are taken off letters; a row without a name is told, and has a folder all the same.
    writeFileSync(names, 'Name,Role\nÜlo Ćosić,Dome\n,Gate\n');
    const marked = make(tag, '--names', names);
    const folders = (marked.told as unknown as typeof told & { pieces: { piece: string }[] })
      .pieces;
    expect(folders.map(({ piece }) => piece)).to.deep.equal(['1-Ulo-Cosic', '2']);
    expect(marked.err).to.include('row 3 has no Name');
    writeFileSync(names, 'Who\nAda\n');
    const wrong = make(tag, '--names', names);
    expect(wrong.status).to.equal(2);
    expect(wrong.err).to.include('no column "name"').and.include('Who');
  });

  it('refuses levels of more layers than a piece can have, and drawings that nobody could print', () => {
    const fine = { firstLayerMm: 0.1, layerMm: 0.1 };
    const tall = make({ ...base, layerGrid: fine, plate: { filament: 'soot', levelMm: 35 } });
    expect(tall.status).to.equal(2);
    expect(tall.err).to.include('plate.levelMm comes to 350 layers of 0.1 mm, and can have 200');
    expect(existsSync(join(tall.out, 'tag.stl'))).to.equal(false);
    const high = make({
      ...base,
      layerGrid: fine,
      plate: { filament: 'soot', levelMm: 19 },
      elements: [{ ...seven, levelMm: 7 }],
    });
    expect(high.status).to.equal(2);
    expect(high.err).to.include(
      'elements.0.levelMm comes to 260 layers of 0.1 mm, and can have 250',
    );
    // The same random places each time.
    let state = 7;
    const next = (): string => {
      state = (state * 48271) % 2147483647;
      return String(state % 1000);
    };
    const scribble = Array.from({ length: 3000 }, () => `${next()} ${next()}`).join('L');
    const drawn = {
      kind: 'shape',
      path: `M${scribble}Z`,
      widthMm: 30,
      filament: 'straw',
      levelMm: 2,
    };
    const tangled = make({ ...base, elements: [drawn] });
    expect(tangled.status).to.equal(2);
    expect(tangled.err).to.match(
      /elements\.0\.path: Its lines cross each other more than 4000 times/,
    );
    const outline = { kind: 'svg', widthMm: 40, path: `M${scribble}Z` };
    expect(make({ ...base, outline, elements: [] }).err).to.match(/outline\.path: Its lines cross/);
  });

  it('says what is wrong with a file, where', () => {
    const errors = [
      ['{', 'not JSON'],
      [{ ...base, plate: { filament: 'gone', levelMm: 2 } }, '"gone"'],
      [{ ...base, outline: { kind: 'blob', widthMm: 4 } }, 'outline.kind'],
      [{ ...base, outline: { kind: 'svg', widthMm: 4, path: 'M0 0' } }, 'outline.path'],
      [{ ...base, elements: [{ ...seven, colour: 'red' }] }, 'elements.0'],
      [{ ...base, elements: [{ ...seven, font: 'Nobody' }] }, 'There is no font "Nobody"'],
      [{ ...base, elements: [{ ...seven, font: '/no/such.ttf' }] }, 'cannot be read'],
    ] as const;
    for (const [file, words] of errors) {
      const { status, err } = make(file);
      expect(status, words).to.equal(2);
      expect(err).to.include(words);
    }
  });

  it('takes an outline from SVG in its own proportions, sunk elements, rims and loops', () => {
    const { status, told } = make({
      ...base,
      outline: { kind: 'svg', widthMm: 30, path: 'M0 0h20v10h-20z' },
      elements: [
        { kind: 'rim', widthMm: 1, filament: 'straw', levelMm: 0.4 },
        { kind: 'loop', diameterMm: 4, rimMm: 2, xMm: 15 },
        { ...seven, way: 'sunk', levelMm: 0.6, heightMm: 8, filament: 'chalk' },
      ],
    });
    expect(status).to.equal(0);
    expect(told.bands.map(({ filament }) => filament)).to.deep.equal([
      'chalk',
      'midnight',
      'straw',
    ]);
    expect(told).to.deep.include({ layers: 12, swaps: 2, widthMm: 34, heightMm: 15 });
  });
});
