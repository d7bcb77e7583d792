import { expect } from 'chai';
import { readGcode } from '#core/gcode/read-gcode.ts';
import { readLayerLines, readLinesAround } from '#core/gcode/layer-lines.ts';
import { bytesSource, changedSource, piecesOf } from '#core/gcode/source.ts';
import { describeGcodeFault } from '../../src/platform/gcode-words.ts';
import { reliefForSlices, reportOf, slice, slicedFile, sliceTruth } from '../helpers/gcode.ts';

const GOOD = [
  'a_layer_comment_abs',
  'c_no_comments_abs',
  'e_arcs_crlf_abs',
  'f_by_object_abs',
  'g_two_tools_rel',
  'k_purge_skirt_park_pauses',
  'm_small_plain',
];
const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);
const START = 'G21\nG90\nM83\nG28\nG92 E0\n';
/** A square of lines at a height. */
const square = (z: number, x = 50, side = 20): string =>
  [
    `G1 Z${z} F600`,
    `G1 X${x} Y50 F6000`,
    `G1 X${x + side} Y50 E1 F1200`,
    `G1 X${x + side} Y${50 + side} E1`,
    `G1 X${x} Y${50 + side} E1`,
    `G1 X${x} Y50 E1`,
    '',
  ].join('\n');
const topsOf = async (text: string): Promise<number[]> =>
  (await reportOf(text)).layers.map(({ topMm }) => topMm);

describe('reading sliced files', () => {
  for (const name of GOOD)
    it(`finds in ${name} what was counted while it was written`, async () => {
      const truth = sliceTruth(name);
      const report = await reportOf(slicedFile(name));
      expect(report.lines).to.equal(truth.lines);
      expect(report.objects).to.equal(truth.objects ?? 1);
      expect(report.filamentMm).to.be.closeTo(truth.total_filament_mm, 1e-6);
      expect(report.seconds).to.be.closeTo(truth.total_time_s, 1e-3);
      expect(report.layers).to.have.length(truth.layers.length);
      expect(report.pauses.map(({ line }) => line)).to.deep.equal(
        (truth.pauses_in_file ?? []).map(({ line }) => line),
      );
      expect(report.badCount).to.equal(0);
      expect(report.cutOff).to.equal(false);
      report.layers.forEach((layer, n) => {
        const own = truth.layers[n];
        if (!own) return;
        expect(layer.topMm).to.equal(own.z_top);
        expect(layer.filamentMm).to.be.closeTo(own.filament_mm, 1e-5);
        expect(layer.forwardMm).to.be.closeTo(own.extruded_forward_mm, 1e-5);
        expect(layer.laidMm).to.be.closeTo(own.extrude_path_mm, 1e-4);
        expect(layer.travelMm).to.be.closeTo(own.travel_mm, 1e-4);
        expect(layer.seconds).to.be.closeTo(own.time_s, 1e-4);
        expect(layer.laidLine).to.equal(own.first_extrusion_line);
        if (own.marker_line !== null) expect(layer.firstLine).to.equal(own.marker_line);
        expect([...layer.tools].sort()).to.deep.equal([...own.tools].sort());
      });
      const byTool: Record<string, number> = {};
      for (const { byTool: own } of report.layers)
        for (const [tool, mm] of own) byTool[tool] = (byTool[tool] ?? 0) + mm;
      // Laid lines alone: drawing back and pushing on are no tool's.
      for (const [tool, mm] of Object.entries(truth.filament_by_tool_mm))
        expect(byTool[tool] ?? 0).to.be.closeTo(mm, 0.15 * mm);
    });

  it('tells the same whatever pieces the file comes in', async () => {
    for (const name of ['e_arcs_crlf_abs', 'k_purge_skirt_park_pauses']) {
      const bytes = slicedFile(name).subarray(0, 30_000);
      const whole = await reportOf(bytes);
      for (const chunkBytes of [1, 7, 61, 4096])
        expect(await reportOf(bytes, { chunkBytes })).to.deep.equal(whole);
    }
  });

  it('reads any spelling: no blanks, lower case, N and checksums, BOM, CRLF, remarks in brackets', async () => {
    const plain = START + square(0.2) + square(0.4);
    const expected = await topsOf(plain);
    const numbered = plain
      .trimEnd()
      .split('\n')
      .map((line, n) => {
        const body = `N${n} ${line}`;
        const sum = utf8(body).reduce((xor, byte) => xor ^ byte, 0);
        return `${body}*${sum}`;
      })
      .join('\n');
    for (const text of [
      plain.replaceAll(' ', ''),
      plain.toLowerCase(),
      numbered,
      `\uFEFF${plain}`,
      plain.replaceAll('\n', '\r\n'),
      plain.replaceAll(' E1', ' (lays) E1 ; a line'),
      plain.replaceAll('X50 ', 'X+50. ').replaceAll('Z0.', 'Z.'),
      plain.replaceAll('G1 X70 Y50', 'G01 X70 Y50'),
    ]) {
      const report = await reportOf(text);
      expect(report.layers.map(({ topMm }) => topMm)).to.deep.equal(expected);
      expect(report.badCount, text.slice(0, 80)).to.equal(0);
      expect(report.layers[1]?.filamentMm).to.equal(4);
    }
    const broken = await reportOf(numbered.replace('X70 Y50 E1 F1200*', 'X71 Y50 E1 F1200*'));
    expect(broken.badLines[0]?.code).to.equal('bad-checksum');
  });

  it('never takes E for an exponent, and names numbers that are none', async () => {
    const report = await reportOf(`${START}G1 Z0.2\nG1 X10E5F600\n`);
    expect(report.filamentMm).to.equal(5);
    expect(report.layers[0]?.laidMm).to.equal(10);
    const bad = await reportOf(slicedFile('z_bad_numbers'));
    expect(bad.badLines.map(({ line }) => line)).to.deep.equal([4, 5, 6, 7]);
    expect(bad.layers).to.have.length(1);
  });

  it('lifts, parks, fake marks and wipes make no layer', async () => {
    const text =
      START +
      square(0.2) +
      ';LAYER:7\n;LAYER_CHANGE\nG1 Z5\nG1 X0 Y0\n; layer 99 of a story\nG1 Z0.2\n' +
      'G1 X50 Y50\nG1 X60 Y50 E1\nG1 X55 Y50 E-0.5\nG1 E0.5\n; layer_height = 0.3\n' +
      square(0.4) +
      'G1 Z80\n';
    const report = await reportOf(text);
    expect(report.layers.map(({ topMm }) => topMm)).to.deep.equal([0.2, 0.4]);
    expect(report.settings.layer_height).to.equal('0.3');
  });

  it('keeps what primes the nozzle apart, with marks and without', async () => {
    const purge = 'G1 Z0.3\nG1 X2 Y10\nG1 X2 Y150 E9 F1200\n';
    const marked = await reportOf(
      `${START + purge};LAYER:0\n${square(0.2)};LAYER:1\n${square(0.4)}`,
    );
    expect(marked.layers.map(({ topMm }) => topMm)).to.deep.equal([0.2, 0.4]);
    expect(marked.primingMm).to.equal(9);
    const same = await reportOf(
      `${START + purge.replace('0.3', '0.2')};LAYER:0\n${square(0.2)};LAYER:1\n${square(0.4)}`,
    );
    expect([same.layers[0]?.filamentMm, same.primingMm]).to.deep.equal([4, 9]);
    const bare = await reportOf(START + purge + square(0.2) + square(0.4));
    expect([bare.layers.length, bare.primingMm]).to.deep.equal([2, 9]);
    // A mark in the head of a file, as an example of one, marks nothing.
    const example = await reportOf(`; LAYER:0\n${START + purge + square(0.2) + square(0.4)}`);
    expect([example.layers.length, example.primingMm]).to.deep.equal([2, 9]);
    const between = await reportOf(`${START + square(0.2)};LAYER_CHANGE\n${square(0.4)}`);
    expect([between.layers.length, between.primingMm]).to.deep.equal([2, 0]);
  });

  it('puts a tower that lags behind into its layer, and a piece that begins below into a piece of its own', async () => {
    const tower = (z: number): string => square(z, 120, 10);
    const lagging =
      START + [0.2, 0.4, 0.6].map((z) => square(z) + tower(Math.max(0.2, z - 0.2))).join('');
    const report = await reportOf(lagging);
    expect([report.layers.length, report.objects]).to.deep.equal([3, 1]);
    const two =
      START +
      [0.2, 0.4, 0.6].map((z) => square(z)).join('') +
      [0.2, 0.4].map((z) => square(z, 120)).join('');
    const pieces = await reportOf(two);
    expect(
      pieces.layers.map(({ object, layerOfObject }) => `${object}.${layerOfObject}`),
    ).to.deep.equal(['1.1', '1.2', '1.3', '2.1', '2.2']);
  });

  it('divides a spiral by its marks, and a seam that rises within its layer not at all', async () => {
    const turn = (from: number): string =>
      [
        [70, 50],
        [70, 70],
        [50, 70],
        [50, 50],
      ]
        .map(([x, y], n) => `G1 X${x} Y${y} Z${(from + 0.05 * (n + 1)).toFixed(3)} E1`)
        .join('\n');
    const spiral = `${START}${square(0.2)};LAYER:1\n${turn(0.2)}\n;LAYER:2\n${turn(0.4)}\n;LAYER:3\n${turn(0.6)}\n`;
    const report = await reportOf(spiral);
    expect(report.layers.map(({ topMm }) => topMm)).to.deep.equal([0.2, 0.4, 0.6, 0.8]);
    expect(report.spiral).to.equal(true);
    expect((await topsOf(spiral.replace(/;LAYER.*\n/g, ''))).length).to.equal(4);
    const seam = (z: number): string =>
      `G1 Z${z - 0.15} F600\nG1 X50 Y50 F6000\nG1 X55 Y50 Z${z - 0.1} E.2\nG1 X60 Y50 Z${z} E.4\n${square(z).split('\n').slice(2).join('\n')}`;
    expect(await topsOf(START + square(0.2) + seam(0.4) + seam(0.6))).to.deep.equal([
      0.2, 0.4, 0.6,
    ]);
  });

  it('finds out how filament is meant where G90 comes after M83', async () => {
    const body = [0.2, 0.4].map((z) => square(z)).join('');
    const relative = await reportOf(`M83\nG90\n${body}`);
    expect([relative.relative, relative.filamentMm]).to.deep.equal([true, 8]);
    let e = 0;
    const longer = [0.2, 0.4, 0.6, 0.8, 1, 1.2].map((z) => square(z)).join('');
    const absolute = longer.replace(/E1/g, () => `E${(e += 1)}`);
    const found = await reportOf(`M83\nG90\n${absolute}`);
    expect([found.relative, found.filamentMm]).to.deep.equal([false, 24]);
    // Nothing said at all: the numbers speak.
    expect((await reportOf(`G28\n${body}${body}`)).filamentMm).to.equal(16);
    // Units, G92, G91 and retraction by the firmware.
    const inches = await reportOf('G20\nG90\nM83\nG1 Z.01\nG1 X1 Y0 E1 F10\nG10\nG11\nG21\n');
    expect(inches.layers[0]).to.include({ topMm: 0.254, filamentMm: 25.4, laidMm: 25.4 });
    const moved = await reportOf('G90\nM82\nG92 X100 E50\nG1 Z0.2\nG1 X110 E51\nG91\nG1 X10 E52\n');
    expect(moved.layers[0]).to.deep.include({ laidMm: 20, filamentMm: 2, box: [0, 0, 20, 0] });
  });

  it('says of broken and foreign files what they are', async () => {
    const faultOf = async (bytes: Uint8Array): Promise<string> => {
      const read = await readGcode(bytesSource(bytes));
      if (read.ok) return 'none';
      expect(describeGcodeFault(read.fault).length).to.be.greaterThan(30);
      return read.fault.code;
    };
    expect(await faultOf(new Uint8Array(0))).to.equal('empty');
    expect(await faultOf(utf8('\n \r\n'))).to.equal('empty');
    expect(await faultOf(Uint8Array.of(0x50, 0x4b, 3, 4, 20, 0))).to.equal('zip');
    expect(await faultOf(Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0))).to.equal(
      'picture',
    );
    expect(await faultOf(new Uint8Array(5000).fill(1))).to.equal('binary');
    expect(await faultOf(new Uint8Array(6 << 20).fill(71))).to.equal('no-lines');
    expect(await faultOf(utf8('M104 S200\n; nothing here\n'))).to.equal('no-moves');
    expect(await faultOf(utf8('G28\nG1 X10 Y10\nG1 E5\n'))).to.equal('nothing-laid');
    let rising = START;
    for (let n = 0; n < 100_010; n += 1)
      rising += `G1 Z${(0.01 * n).toFixed(2)}\nG1 X${n % 7} E1\n`;
    expect(await faultOf(utf8(rising))).to.equal('no-layers');
    const cut = await reportOf(slicedFile('z_truncated'));
    expect([cut.layers.length, cut.cutOff]).to.deep.equal([9, true]);
    const long = await reportOf(`${START};${'x'.repeat(200_000)}\n${square(0.2)}`);
    expect(long.badLines[0]).to.include({ code: 'too-long', line: 6 });
    expect(long.layers).to.have.length(1);
  });

  it('counts plastic as it lies: strand times section is the volume of the relief', async () => {
    const heights = reliefForSlices();
    const report = await reportOf(slice(heights, 10));
    const section = (Math.PI / 4) * 1.75 ** 2;
    let mm3 = 0;
    for (const layers of heights.data) mm3 += 0.4 * 0.4 * (0.16 + (layers - 1) * 0.08);
    const strand = report.layers.reduce((sum, { filamentMm }) => sum + filamentMm, 0);
    // What is drawn back before a layer is pushed on in it.
    expect((strand * section) / mm3).to.be.closeTo(1, 1e-4);
  });

  it('reads one layer, and lines around any place, without the rest', async () => {
    const bytes = slicedFile('k_purge_skirt_park_pauses');
    const report = await reportOf(bytes);
    const source = bytesSource(bytes);
    for (const n of [1, 7, 20]) {
      const own = report.layers[n - 1];
      const lines = await readLayerLines(source, report, n, n);
      let laid = 0;
      lines.laid.forEach((kind, i) => {
        const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = lines.points.subarray(4 * i, 4 * i + 4);
        if (kind === 1) laid += Math.hypot(x1 - x0, y1 - y0);
      });
      expect(laid).to.be.closeTo(own?.laidMm ?? 0, 0.01);
      expect(new Set(lines.layer)).to.deep.equal(new Set([n]));
    }
    const all = bytes.toString('latin1').split('\n');
    for (const line of [1, 3, 1529, 4391]) {
      const around = await readLinesAround(source, report, line, { before: 2, after: 2 });
      expect(around.map(({ text }) => text)).to.deep.equal(around.map((own) => all[own.line - 1]));
      expect(around.find((own) => own.line === line)?.text).to.equal(all[line - 1]);
    }
  });

  it('composes changed files of pieces, and reads across them', async () => {
    const source = bytesSource(utf8('0123456789'));
    const changes = [
      { at: 4, put: utf8('abc') },
      { at: 4, put: utf8('d') },
      { at: 7, cut: 2 },
      { at: 0, put: utf8('>') },
    ];
    const whole = '>0123abcd4569';
    const changed = changedSource(source, changes);
    expect(changed.size).to.equal(whole.length);
    for (let from = 0; from <= whole.length; from += 1)
      for (let to = from; to <= whole.length; to += 1)
        expect(new TextDecoder().decode(await changed.read(from, to))).to.equal(
          whole.slice(from, to),
        );
    expect(piecesOf(10, [])).to.deep.equal([{ from: 0, to: 10 }]);
  });
});
