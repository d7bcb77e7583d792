import { spawnSync, type SpawnSyncReturns } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { unzipSync } from 'fflate';
import { encode as encodePng, decode as decodePng } from 'fast-png';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import { formatHex, type Triple } from '#core/colour/srgb.ts';
import { writeWedgeCsv } from '#core/formats/rack/wedge-csv.ts';
import { bundleCommandLine, PROGRAM } from '../../scripts/strata.mjs';
import { artworkHandlers } from '../../src/workers/artwork/handlers.ts';
import type { Decode } from '../../src/workers/decode.ts';
import { exportHandlers } from '../../src/workers/export/handlers.ts';
import { joinPieces } from '#core/base/byte-pieces.ts';
import { swapSheetText } from '#core/formats/sheet/swap-sheet-text.ts';
import { heightRequest } from '../../src/state/document-facts.ts';
import { exportRequest, sheetOfDocument, stampOfDocument } from '../../src/state/project-export.ts';
import { newProject } from '../../src/state/new-project.ts';
import { writeProjectFile } from '../../src/state/project-file.ts';
import { decodePicture } from '../../src/platform/node/decode-picture.ts';
import { demoFilaments } from '../helpers/demo.ts';
import { meshVolume } from '../helpers/meshes.ts';
import { fixture } from '../helpers/pictures.ts';
import { demoFilament, photographWedge } from '../helpers/wedges.ts';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
const RACK = join(ROOT, 'demo/rack.csv');

/** Width and height of what a picture of heights has, mm. */
function printedMm(
  { width, data }: { readonly width: number; readonly data: ArrayLike<number> },
  sampleMm: number,
): [number, number] {
  let [left, top, right, bottom] = [Infinity, Infinity, -1, -1];
  for (let i = 0; i < data.length; i += 1) {
    if (data[i] === 0) continue;
    left = Math.min(left, i % width);
    right = Math.max(right, i % width);
    top = Math.min(top, Math.floor(i / width));
    bottom = Math.max(bottom, Math.floor(i / width));
  }
  const mm = (samples: number): number => Number((samples * sampleMm).toFixed(6));
  return [mm(right - left + 1), mm(bottom - top + 1)];
}

describe('command line', () => {
  const folder = mkdtempSync(join(tmpdir(), 'strata-cli-'));
  const stackPath = join(folder, 'stack.json');
  const stack = {
    layerGrid: { firstLayerMm: 0.16, layerMm: 0.08 },
    bands: [
      { filament: 'soot', layers: 8 },
      { filament: 'rust', layers: 8 },
      { filament: 'ivory', layers: 11 },
    ],
  };
  writeFileSync(stackPath, JSON.stringify(stack));
  before(bundleCommandLine);
  after(() => {
    rmSync(folder, { recursive: true });
  });

  function run(...args: string[]): { status: number | null; out: unknown; err: string } {
    return answerOf(spawnSync('node', [PROGRAM, ...args], { cwd: ROOT, encoding: 'utf8' }));
  }
  function answerOf({ status, stdout, stderr }: SpawnSyncReturns<string>): ReturnType<typeof run> {
    return { status, out: stdout === '' ? null : JSON.parse(stdout), err: stderr };
  }

  it('edit makes a list of edits at full size; relief and find take the same list', () => {
    const picturePath = join(folder, 'edges.png');
    const data = Uint8Array.from({ length: 4 * 60 * 40 }, (_, i) => {
      const [x, y] = [(i >> 2) % 60, Math.floor((i >> 2) / 60)];
      return [4 * x, 6 * y, 120, 255][i & 3] ?? 0;
    });
    writeFileSync(picturePath, encodePng({ width: 60, height: 40, data, channels: 4 }));
    const editsPath = join(folder, 'edits.json');
    const put = (list: object): void => {
      writeFileSync(editsPath, JSON.stringify(list));
    };
    put({
      edits: [
        { kind: 'crop', left: 10, top: 10, width: 20, height: 30 },
        { kind: 'turn', degrees: 90 },
        { kind: 'grey', mask: 'a' },
      ],
      masks: { a: { from: 'box', left: 10, top: 10, width: 10, height: 30 } },
    });
    const out = join(folder, 'edited.png');
    const edited = run('edit', '--image', picturePath, '--edits', editsPath, '--out', out);
    expect(edited.err).to.equal('');
    expect(edited.out).to.include({ width: 30, height: 20, cutAwayShare: 0 });
    const png = decodePng(readFileSync(out));
    // Clockwise: what was at the lower left is at the upper left, and grey; to its right comes what was above it.
    expect(new Set(png.data.slice(0, 3)).size).to.equal(1);
    const low = 4 * (15 * 30 + 3);
    expect([...png.data.slice(low, low + 4)]).to.deep.equal([4 * 25, 6 * 36, 120, 255]);
    const base = ['--image', picturePath, '--rack', RACK];
    const wide = ['--width-mm', '30', '--sample-mm', '1', '--stack', stackPath];
    const plain = run('relief', ...base, ...wide, '--out', join(folder, 'plain'));
    const turned = run(
      'relief',
      ...base,
      ...wide,
      '--edits',
      editsPath,
      '--out',
      join(folder, 'turned'),
    );
    expect(turned.err).to.equal('');
    expect(turned.out).to.not.deep.equal(plain.out);
    const shape = decodePng(readFileSync(join(folder, 'turned', 'print.png')));
    expect([shape.width, shape.height]).to.deep.equal([30, 20]);
    const found = run(
      'find',
      ...base,
      '--edits',
      editsPath,
      '--seconds',
      '0.02',
      '--out',
      join(folder, 'f.json'),
    );
    expect(found.err).to.equal('');
    put({ edits: [{ kind: 'blur' }] });
    const refused = run('edit', '--image', picturePath, '--edits', editsPath, '--out', out);
    expect(refused.status).to.equal(2);
    expect(refused.err).to.contain('edits.0.kind').and.to.contain('blur');
  });

  it('is called as the page says, and prints one JSON object', () => {
    const args = ['run', '-s', 'strata', '--', 'ramp', '--rack', RACK, '--stack', stackPath];
    const called = answerOf(spawnSync('npm', args, { cwd: ROOT, encoding: 'utf8' }));
    expect(called.status).to.equal(0);
    expect(called.out).to.deep.equal(run('ramp', '--rack', RACK, '--stack', stackPath).out);
  });

  it('relief draws a drawing as fine as its samples ask for', () => {
    // Black and white lines, one a sample: on fewer pixels they would run into greys.
    const lines = join(folder, 'lines.svg');
    const paths = Array.from({ length: 1300 }, (_, i) => `M${2 * i} 0h1v2h-1z`).join('');
    writeFileSync(
      lines,
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 2600 60"><rect width="2600" height="60" fill="#fff"/><path d="${paths}"/></svg>`,
    );
    const { out, err } = run(
      ...['relief', '--image', lines, '--rack', RACK, '--stack', stackPath],
      ...['--width-mm', '260', '--sample-mm', '0.1', '--out', folder],
    );
    expect(err).to.equal('');
    const heights = decodePng(readFileSync(join(folder, 'heights.png')));
    expect(heights.width).to.equal(2600);
    const row = heights.data.slice(0, 2600 * heights.channels);
    expect(new Set(row.filter((_, i) => i % heights.channels === 0)).size).to.equal(2);
    expect(out).to.include({ widthMm: 260 });
  });

  it('find: writes a stack that relief takes and that costs what was printed; bad wishes end with status 2', () => {
    const found = join(folder, 'found.json');
    const image = join(ROOT, 'demo/art/veil-nebula.png');
    const wanted = ['--image', image, '--rack', RACK, '--out', found, '--seconds', '0.1'];
    const { status, out } = run('find', ...wanted, '--max-swaps', '3', '--max-layers', '20');
    expect(status).to.equal(0);
    const answer = out as {
      meanDeltaE: number;
      swaps: number;
      curve: { swaps: number; meanDeltaE: number }[];
    };
    expect(answer.swaps).to.be.at.most(3);
    expect(answer.curve.map(({ swaps }) => swaps)).to.deep.equal([0, 1, 2, 3]);
    expect(answer.curve.at(-1)?.meanDeltaE).to.equal(answer.meanDeltaE);
    const relief = run(
      ...['relief', '--image', image, '--rack', RACK, '--stack', found],
      ...['--rule', 'closest', '--out', join(folder, 'found')],
    );
    const made = relief.out as { meanDeltaE: number; layers: number };
    expect(made.layers).to.be.at.most(20);
    // The search merges colours that look alike, and the relief samples the picture otherwise.
    expect(made.meanDeltaE).to.be.closeTo(answer.meanDeltaE, 0.15);
    const again = run('find', ...wanted, '--max-swaps', '3', '--max-layers', '20');
    expect(again.out).to.deep.equal(out);
    // A mask of the middle grey changes nothing; one that asks for a part of the picture changes what is cheapest.
    const masked = (name: string, grey: (x: number) => number, width = 50, height = 40) => {
      const data = new Uint8Array(width * height).map((_, i) => grey(i % width));
      const path = join(folder, name);
      writeFileSync(path, encodePng({ width, height, data, channels: 1 }));
      return run('find', ...wanted, '--max-swaps', '3', '--max-layers', '20', '--importance', path);
    };
    expect(masked('even.png', () => 128).out).to.deep.equal(again.out);
    expect(masked('half.png', (x) => (x < 25 ? 255 : 0)).out).to.not.deep.equal(again.out);
    expect(masked('wide.png', () => 128, 200, 20).err).to.match(/wide\.png: .*same proportions/);
    const bad = run('find', ...wanted, '--must', 'nowhere');
    expect(bad.status).to.equal(2);
    expect(bad.err).to.contain('nowhere is wanted but not among');
    expect(run('find', ...wanted, '--rule', 'near').err).to.contain(
      'Give closest, tone, zones or flat',
    );
    // Flat areas: a badge in four colours, each with a layer of its own; relief reduces it to as many.
    const badge = ['--image', join(ROOT, 'demo/art/dome-badge.png'), '--rack', RACK];
    const areas = run(
      ...['find', ...badge, '--out', found, '--seconds', '0.2'],
      ...['--max-swaps', '3', '--rule', 'flat'],
    );
    expect(areas.status, areas.err).to.equal(0);
    const told = areas.out as { meanDeltaE: number; flat: { colour: string; layers: number }[] };
    expect(told.flat).to.have.length(4);
    expect(new Set(told.flat.map(({ layers }) => layers)).size).to.equal(4);
    const flatRelief = run(
      ...['relief', ...badge, '--stack', found, '--rule', 'flat', '--out', join(folder, 'flat')],
    ).out as { meanDeltaE: number };
    expect(flatRelief.meanDeltaE).to.be.below(6);
    expect(run('find', ...badge, '--out', found, '--rule', 'flat', '--lean', '6').err).to.contain(
      '--lean is for closest blend and zones',
    );
    expect(run('find', ...wanted, '--max-swaps', '9').err).to.contain('from 0 to 8');
  });

  it('--lean trades colour for relief in relief and find, and is refused where it means nothing', () => {
    const found = join(folder, 'leaning.json');
    const image = join(ROOT, 'demo/art/dome-at-dusk.png');
    const source = ['--image', image, '--rack', RACK];
    const quick = ['--out', found, '--seconds', '0.1', '--max-swaps', '3', '--max-layers', '20'];
    const answer = run('find', ...source, ...quick, '--lean', '15', '--care', '2');
    expect(answer.err).to.equal('');
    const { meanDeltaE } = answer.out as { meanDeltaE: number };
    const made = (lean: string) =>
      run(
        ...['relief', ...source, '--stack', found, '--rule', 'closest', '--sample-mm', '0.4'],
        ...['--lean', lean, '--out', join(folder, `lean-${lean}`)],
      ).out as { meanDeltaE: number; stamp: string };
    const [alone, leaning, most] = ['0', '15', '30'].map(made);
    expect(leaning?.meanDeltaE).to.be.closeTo(meanDeltaE, 0.3);
    expect(alone?.meanDeltaE).to.be.below(leaning?.meanDeltaE ?? 0);
    expect(leaning?.meanDeltaE).to.be.at.most(most?.meanDeltaE ?? 0);
    expect(new Set([alone?.stamp, leaning?.stamp, most?.stamp]).size).to.equal(3);
    for (const verb of ['find', 'relief'] as const) {
      const args = verb === 'find' ? quick : ['--stack', found, '--out', folder];
      const refused = run(verb, ...source, ...args, '--rule', 'tone', '--lean', '6');
      expect(refused.status).to.equal(2);
      expect(refused.err).to.contain('closest blend and zones');
    }
    expect(run('find', ...source, ...quick, '--lean', '31').err).to.contain('from 0 to 30');
  });

  it('zones: labels of every sample, colour and share; relief and find take a number or a file', () => {
    const image = join(ROOT, 'demo/art/dome-at-dusk.png');
    const labels = join(folder, 'labels.png');
    const told = run(
      'zones',
      '--image',
      image,
      '--count',
      '3',
      '--sample-mm',
      '0.5',
      '--out',
      labels,
    );
    expect(told.err).to.equal('');
    const { zones, width, height } = told.out as {
      zones: { zone: number; colour: string; colours: string[]; share: number }[];
      width: number;
      height: number;
    };
    const png = decodePng(readFileSync(labels));
    expect([png.width, png.height, png.channels, png.depth]).to.deep.equal([width, height, 1, 8]);
    expect(zones.map(({ zone }) => zone)).to.deep.equal([1, 2, 3]);
    for (const { zone, share, colour } of zones) {
      expect(colour).to.match(/^#[0-9a-f]{6}$/);
      const own = [...png.data].filter((label) => label === zone).length;
      expect(own / png.data.length).to.be.closeTo(share, 1e-3);
    }
    const source = ['--image', image, '--rack', RACK];
    const stack = join(folder, 'zoned.json');
    const quick = ['--out', stack, '--seconds', '0.1', '--max-swaps', '3', '--max-layers', '20'];
    const answer = run('find', ...source, ...quick, '--rule', 'zones', '--zones', '3');
    expect(answer.err).to.equal('');
    const found = answer.out as { meanDeltaE: number; zones: { colours: string[] }[] };
    expect(found.zones).to.have.length(3);
    const file = join(folder, 'zones.json');
    // Zones of a file stay as they are; found by colour they are fitted to the stack on the way.
    writeFileSync(file, JSON.stringify({ zones: zones.map(({ colours }) => ({ colours })) }));
    const other = ['--out', join(folder, 'as-given.json'), ...quick.slice(2)];
    const asGiven = run('find', ...source, ...other, '--rule', 'zones', '--zones', file);
    expect(asGiven.err).to.equal('');
    expect(found.meanDeltaE).to.be.below((asGiven.out as typeof found).meanDeltaE);
    writeFileSync(file, JSON.stringify({ zones: found.zones }));
    const made = (...more: string[]) =>
      run(
        ...['relief', ...source, '--stack', stack, '--rule', 'zones', '--sample-mm', '0.4'],
        ...['--out', join(folder, 'zoned'), ...more],
      );
    const byFile = made('--zones', file);
    expect(byFile.err).to.equal('');
    const facts = byFile.out as { meanDeltaE: number; stamp: string };
    expect(facts.meanDeltaE).to.be.closeTo(found.meanDeltaE, 0.5);
    const walls = made('--zones', file, '--lean', '30').out as typeof facts;
    expect(walls.meanDeltaE).to.be.above(facts.meanDeltaE);
    expect(walls.stamp).to.not.equal(facts.stamp);
    const again = run('find', ...source, ...quick, '--rule', 'zones', '--zones', file);
    expect((again.out as typeof found).zones.map(({ colours }) => colours)).to.deep.equal(
      found.zones.map(({ colours }) => colours),
    );
    expect(made('--zones', '7').err).to.contain('from 2 to 6');
    expect(
      run('relief', ...source, '--stack', stack, '--out', folder, '--zones', '3').err,
    ).to.contain('Add --rule zones');
    writeFileSync(file, '{"zones":[{"colour":"#ffffff"}]}');
    const bad = made('--zones', file);
    expect(bad.status).to.equal(2);
    expect(bad.err).to.contain('zones.json: zones.0');
  });

  it('ramp: one line of JSON with a colour, a lamp colour and the cover for each layer', () => {
    const { status, out } = run('ramp', '--rack', RACK, '--stack', stackPath);
    expect(status).to.equal(0);
    const { layers } = out as {
      layers: {
        layer: number;
        topMm: number;
        band: string;
        filament: string;
        colour: string;
        lamp: string;
        cover: number;
      }[];
    };
    expect(layers).to.have.length(27);
    expect(layers[8]).to.include({ layer: 9, topMm: 0.8, band: 'B', filament: 'rust' });
    for (const { colour, lamp, cover } of layers) {
      expect(colour).to.match(/^#[0-9a-f]{6}$/);
      expect(lamp).to.match(/^#[0-9a-f]{6}$/);
      expect(cover).to.be.within(0, 1);
    }
  });

  it('relief: files that agree with each other and with what is printed on stdout', () => {
    const out = join(folder, 'out');
    const image = fixture('s23_daffodil_lossless.webp');
    const {
      status,
      out: printed,
      err,
    } = run(
      'relief',
      '--image',
      image,
      '--rack',
      RACK,
      '--stack',
      stackPath,
      '--width-mm',
      '40',
      '--detail-mm',
      '0.4',
      '--rule',
      'tone',
      '--out',
      out,
    );
    expect(status, err).to.equal(0);
    const told = printed as Record<string, number> & { stamp: string; files: string[] };
    expect(told).to.include({ columns: 100, rows: 197, swaps: 2 });
    const heights = decodePng(readFileSync(join(out, 'heights.png')));
    // The size is that of what is printed, not of the picture around it; one size in the answer, the sheet and the plan.
    const [wide, high] = printedMm(heights, 0.4);
    expect(wide, 'there is nothing at the sides of this picture').to.be.below(39);
    expect(told.widthMm).to.be.closeTo(wide, 1e-6);
    expect(told.heightMm).to.be.closeTo(high, 1e-6);
    expect(readFileSync(join(out, 'swap-sheet.txt'), 'utf8')).to.include(`${wide} x ${high} mm`);
    expect(JSON.parse(readFileSync(join(out, 'swaps.json'), 'utf8'))).to.include({
      widthMm: wide,
      depthMm: high,
    });
    const print = decodePng(readFileSync(join(out, 'print.png')));
    expect([heights.width, heights.height, heights.depth, heights.channels]).to.deep.equal([
      100, 197, 16, 1,
    ]);
    expect([print.width, print.height]).to.deep.equal([100, 197]);

    const ramp = (
      run('ramp', '--rack', RACK, '--stack', stackPath).out as {
        layers: { topMm: number; colour: string }[];
      }
    ).layers;
    let volume = 0;
    let samples = 0;
    heights.data.forEach((layers, i) => {
      const alpha = print.data[i * 4 + 3];
      expect(alpha).to.equal(layers === 0 ? 0 : 255);
      if (layers === 0) return;
      samples += 1;
      volume += (ramp[layers - 1]?.topMm ?? 0) * 0.16;
      expect(formatHex([...print.data.slice(i * 4, i * 4 + 3)] as unknown as Triple)).to.equal(
        ramp[layers - 1]?.colour,
      );
    });
    expect(told.printedSamples).to.equal(samples);
    expect(told.volumeMm3).to.be.closeTo(volume, 0.01);
    expect(told.grams).to.be.closeTo((volume / 1000) * 1.24, 0.01);

    const stl = readFileSync(join(out, 'relief.stl'));
    const geometry = new STLLoader().parse(
      stl.buffer.slice(stl.byteOffset, stl.byteOffset + stl.length),
    );
    const positions = geometry.getAttribute('position').array as Float32Array;
    const triangles = Uint32Array.from({ length: positions.length / 3 }, (_, i) => i);
    expect(triangles.length / 3).to.equal(told.triangles);
    expect(meshVolume({ positions, triangles })).to.be.closeTo(volume, 0.05);
    expect(stl.toString('latin1', 0, 80)).to.contain(told.stamp);

    const swaps = JSON.parse(readFileSync(join(out, 'swaps.json'), 'utf8')) as {
      stamp: string;
      swaps: object[];
    };
    expect(swaps.stamp).to.equal(told.stamp);
    expect(swaps.swaps[0]).to.deep.equal({
      swap: 1,
      layer: 9,
      stopAfterMm: 0.72,
      layerTopMm: 0.8,
      from: 'soot',
      to: 'rust',
    });
    expect(readFileSync(join(out, 'swap-sheet.txt'), 'utf8')).to.contain(told.stamp);
    const model = new TextDecoder().decode(
      unzipSync(readFileSync(join(out, 'relief.3mf')))['3D/3dmodel.model'],
    );
    expect(model.match(/<object /g)).to.have.length(3);
    expect(model).to.contain('name="B Rust"').and.to.contain(told.stamp);
  });

  it('says what is wrong, where and what to do, with status 2 and nothing on stdout', () => {
    const relief = ['relief', '--rack', RACK, '--stack', stackPath, '--out', join(folder, 'bad')];
    const image = fixture('s24_cat.webp');
    const badStack = join(folder, 'bad.json');
    writeFileSync(
      badStack,
      JSON.stringify({ ...stack, bands: [{ filament: 'nobody', layers: 3 }] }),
    );
    const cases: [string[], RegExp][] = [
      [[], /verb is missing/],
      [['fly'], /"fly" is not known/],
      [['ramp', '--rack', RACK], /--stack is missing/],
      [['ramp', '--rack', '/nowhere.csv', '--stack', stackPath], /nowhere\.csv cannot be read/],
      [['ramp', '--rack', stackPath, '--stack', stackPath], /stack\.json/],
      [['ramp', '--rack', RACK, '--stack', badStack], /"nobody".*not in the rack/],
      [['ramp', '--wrong', 'x'], /wrong/],
      [[...relief, '--image', image, '--width-mm', 'NaN'], /--width-mm is "NaN"/],
      [[...relief, '--image', image, '--detail-mm', '0'], /--detail-mm is "0"/],
      [
        [...relief, '--image', image, '--width-mm', '2000', '--detail-mm', '0.05'],
        /samples are more/,
      ],
      [[...relief, '--image', image, '--rule', 'plank'], /Give one of tone, closest, zones, flat/],
      [[...relief, '--image', image, '--smooth'], /--smooth is for flat areas alone/],
      [[...relief, '--image', fixture('xs_truncated.jpg')], /ends before the picture does/],
      [[...relief, '--image', fixture('xs_bomb_header_50000.png')], /50000 x 50000/],
      [[...relief, '--image', fixture('xs_zero_bytes.png')], /empty/],
    ];
    for (const [args, message] of cases) {
      const { status, out, err } = run(...args);
      expect(status, args.join(' ')).to.equal(2);
      expect(out).to.equal(null);
      expect(err).to.match(message);
      expect(err).to.not.contain('    at ');
    }
  });

  it('relief of a project: the very files, sheet and stamp that the app makes of it', async () => {
    const path = fixture('s23_daffodil_lossless.webp');
    const bytes = new Uint8Array(readFileSync(path));
    // The worker's own way, as the app goes it.
    const decode: Decode = async (content) => {
      const decoded = await decodePicture(content);
      return decoded.ok ? { ok: true, value: { kind: 'webp', raster: decoded.value } } : decoded;
    };
    const { open, counts } = artworkHandlers(decode);
    const exported = exportHandlers(decode);
    const quiet = (): void => undefined;
    const opened = await open({ bytes }, quiet, quiet);
    await exported.open({ bytes }, quiet, quiet);
    if (!opened.ok) throw new Error(opened.fault.code);
    const { digest, width, height, box, histogram, kind } = opened.value;
    const fresh = newProject(
      {
        name: 'Daffodil',
        artwork: { fileName: 'daffodil.webp', kind, digest, width, height, box },
        histogram,
      },
      Object.values(demoFilaments()),
      [
        ['soot', 6],
        ['rust', 6],
        ['straw', 8],
      ],
    );
    const document: typeof fresh = {
      ...fresh,
      heights: { ...fresh.heights, calm: 0.3, rule: 'closest' },
      piece: {
        ...fresh.piece,
        sampleMm: 1,
        trim: true,
        shape: {
          border: { widthMm: 3, layers: 9 },
          plate: null,
          cornerMm: 4,
          holes: [{ xMm: 10, yMm: 10, diameterMm: 5 }],
        },
      },
    };
    const project = join(folder, 'daffodil.strata');
    writeFileSync(project, writeProjectFile({ document, artwork: bytes }));
    const out = join(folder, 'of-project');
    const { status, err, out: printed } = run('relief', project, '--out', out);
    expect(status, err).to.equal(0);
    expect(printed).to.include({ stamp: stampOfDocument(document) });
    const made = await exported.files(
      { ...exportRequest(document), formats: ['stl', 'print', 'heights'], zip: null },
      quiet,
      quiet,
    );
    for (const { suffix, pieces } of made.files)
      expect(readFileSync(join(out, suffix)).equals(joinPieces(pieces)), suffix).to.equal(true);
    const sheet = sheetOfDocument(document, await counts(heightRequest(document), quiet, quiet));
    expect(readFileSync(join(out, 'swap-sheet.txt'), 'utf8')).to.equal(swapSheetText(sheet));
    expect(run('relief', project, '--out', out, '--rule', 'tone').err).to.contain(
      '--rule is said by the project itself',
    );
    expect(run('relief', RACK, '--out', out).err).to.contain('not a project');
    expect(run('relief', project, RACK, '--out', out).err).to.contain('one file too many');
  });

  it('relief: border, plate, corners, holes and a thicker base, and what is wrong with them', () => {
    const out = join(folder, 'shaped');
    const picture = ['--image', fixture('s23_daffodil_lossless.webp'), '--stack', stackPath];
    const wanted = ['relief', ...picture, '--rack', RACK, '--width-mm', '40', '--sample-mm', '0.4'];
    const layersAt = (): ((xMm: number, yMm: number) => number) => {
      const { width, data } = decodePng(readFileSync(join(out, 'heights.png')));
      return (xMm, yMm) => data[Math.floor(yMm / 0.4) * width + Math.floor(xMm / 0.4)] ?? -1;
    };
    const {
      status,
      err,
      out: printed,
    } = run(
      ...[...wanted, '--out', out, '--border-mm', '4', '--border-layers', '12'],
      ...['--holes', '24,34,4;24,2,2', '--corner-mm', '8', '--base', '3x0.24'],
    );
    expect(status, err).to.equal(0);
    // 4 mm on each side of 40 x 78.8 mm; 0.16 + 2 x 0.24 + 24 x 0.08 mm.
    expect(printed).to.include({ widthMm: 48, heightMm: 86.8, layers: 27, thicknessMm: 2.56 });
    const at = layersAt();
    expect(at(2, 40), 'the border ends at its layer').to.equal(12);
    expect(at(0.2, 0.2), 'the corner is cut').to.equal(0);
    expect([at(24, 34), at(25.5, 34), at(24, 2)], 'holes').to.deep.equal([0, 0, 0]);
    expect(at(24, 24), 'and the picture around them').to.be.greaterThan(10);
    const plain = run(...wanted, '--out', out, '--holes', '1,1,0.5');
    const [wide, high] = printedMm(decodePng(readFileSync(join(out, 'heights.png'))), 0.4);
    expect(plain.out).to.include({ widthMm: wide, heightMm: high, thicknessMm: 2.24 });
    for (const [options, told] of [
      [['--base', 'thick'], '--base is "thick". Give LAYERSxMM'],
      [['--base', '3x9'], 'with layers of 0.02 to 1 mm'],
      [['--holes', '5,5'], '--holes has "5,5". Give X,Y,DIAMETER'],
      [['--plate', 'star'], 'Give one of rectangle, rounded, circle, own'],
      [['--plate-layers', '3'], '--plate-layers says nothing without --plate'],
      [['--border-mm', '3', '--border-layers', '2.5'], 'Give a whole number of layers'],
      [['--detail-mm', '0.4'], '--sample-mm and --detail-mm are the same'],
    ] as const) {
      const bad = run(...wanted, '--out', out, ...options);
      expect(bad.status, told).to.equal(2);
      expect(bad.err).to.contain(told);
    }
  });

  it('relief: closest blend beats tone in colour, calm leaves fewer triangles, flat areas have one height a band', () => {
    const relief = (...more: string[]) => {
      const out = join(folder, 'rules');
      const { status, out: facts } = run(
        'relief',
        ...['--image', fixture('s24_cat.webp'), '--rack', RACK, '--stack', stackPath],
        ...['--width-mm', '40', '--detail-mm', '0.4', '--out', out, ...more],
      );
      expect(status).to.equal(0);
      const { data } = decodePng(readFileSync(join(out, 'heights.png')));
      return { facts: facts as { meanDeltaE: number; triangles: number; stamp: string }, data };
    };
    const tone = relief();
    const closest = relief('--rule', 'closest');
    const calm = relief('--rule', 'closest', '--calm', '0.5');
    const flat = relief('--rule', 'flat');
    expect(closest.facts.meanDeltaE).to.be.below(tone.facts.meanDeltaE);
    expect(calm.facts.triangles).to.be.below(closest.facts.triangles);
    expect(calm.facts.meanDeltaE).to.be.below(closest.facts.meanDeltaE * 1.15);
    expect([...new Set(flat.data)].filter(Boolean)).to.have.members([8, 16, 27]);
    const smooth = relief('--rule', 'flat', '--smooth');
    expect(smooth.data).to.deep.equal(flat.data);
    expect(run('mesh', 'check', join(folder, 'rules', 'relief.stl')).out).to.include({
      sound: true,
    });
    const stamps = [tone, closest, calm, flat, smooth].map(({ facts }) => facts.stamp);
    expect(new Set(stamps).size).to.equal(5);
  });

  it('every verb says how it is called, and asks for nothing first', () => {
    const help = (...args: string[]) => {
      const { status, stdout, stderr } = spawnSync('node', [PROGRAM, ...args], {
        cwd: ROOT,
        encoding: 'utf8',
      });
      expect([status, stderr], args.join(' ')).to.deep.equal([0, '']);
      return stdout;
    };
    const whole = help('--help');
    for (const verb of [
      'edit',
      'ramp',
      'relief',
      'find',
      'zones',
      'wedge',
      'tag',
      'mesh',
      'gcode',
      'rehearse',
    ]) {
      const own = help(verb, '--help');
      expect(own).to.match(new RegExp(`^Usage: .*\\n {2}${verb} `));
      expect(own.length, verb).to.be.below(whole.length / 2);
      expect(whole).to.include(own.split('\n').slice(1).join('\n').split('\n  ')[0] ?? '');
    }
    expect(help('relief', '-h')).to.include('--holes').and.to.include('PROJECT.strata');
    expect(help('relief', '-h')).not.to.include('--importance');
  });

  it('mesh check: tells a sound file from a broken one, and what is wrong', () => {
    const at = (name: string): string => join(ROOT, 'tests/fixtures/meshes', name);
    const good = run('mesh', 'check', at('ok_cube.3mf'));
    expect(good.status).to.equal(0);
    expect(good.out).to.include({ sound: true, format: '3mf', triangles: 12 });
    const broken = run('mesh', 'check', at('bad_index_range.3mf'));
    expect(broken.status).to.equal(1);
    const bad = broken.out as { sound: boolean; fault: object };
    expect(bad.sound).to.equal(false);
    expect(bad.fault).to.include({ code: 'bad-index', detail: '99' });
    expect(run('mesh', 'check', at('nowhere.stl'))).to.include({ status: 2, out: null });
  });

  it('wedge fit: transmission, colour and residuals of measured patches', () => {
    const filament = demoFilament('fern');
    const readings = join(folder, 'readings.csv');
    const read = photographWedge(filament);
    if (!read.ok) throw new Error(read.fault.code);
    writeFileSync(readings, writeWedgeCsv(read.value.reading));
    const { status, out } = run('wedge', 'fit', readings);
    expect(status).to.equal(0);
    const fit = out as {
      transmissionMm: number;
      basis: string;
      colour: string;
      uncertainty: number;
      residuals: { ground: string; thicknessMm: number; deltaE: number }[];
    };
    expect(fit.transmissionMm / filament.transmissionMm).to.be.closeTo(1, 0.04);
    expect(fit.basis).to.equal('hiding');
    expect(fit.colour).to.match(/^#[0-9a-f]{6}$/);
    expect(fit.residuals).to.have.length(16);
    for (const { deltaE } of fit.residuals) expect(deltaE).to.be.within(0, 2);
  });

  it('wedge fit: bad readings are refused with what, where and what to do', () => {
    const readings = join(folder, 'bad-readings.csv');
    writeFileSync(readings, 'ground,thickness_mm,red,green,blue\nwhite,"0,1",1,2,3\n');
    const bad = run('wedge', 'fit', readings);
    expect(bad.status).to.equal(2);
    expect(bad.err).to.contain('row 2').and.to.contain('write 0.1 with a decimal point');
    expect(run('wedge', 'measure', readings).status).to.equal(2);
    expect(run('wedge', 'fit', join(folder, 'none.csv')).err).to.contain('cannot be read');
  });
});
