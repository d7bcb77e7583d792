import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { decode as decodePng } from 'fast-png';
import { unzipSync } from 'fflate';
import { DOMParser as LinkedomParser } from 'linkedom';
import ManifoldModule from 'manifold-3d';
import type { BufferGeometry, Mesh as ThreeMesh, MeshPhongMaterial, Object3D } from 'three';
import { ThreeMFLoader } from 'three/addons/loaders/3MFLoader.js';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { OBJLoader } from 'three/addons/loaders/OBJLoader.js';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import type { HeightMap } from '#core/base/raster.ts';
import { bandSolids, type ReliefSource } from '#core/formats/mesh/band-solids.ts';
import { bytesIn, joinPieces } from '#core/base/byte-pieces.ts';
import { Cancelled } from '#core/base/checkpoint.ts';
import { estimateFile } from '#core/formats/mesh/file-sizes.ts';
import { writeStlText } from '#core/formats/mesh/write-stl.ts';
import { buildTerraceMesh } from '#core/relief/terrace-mesh.ts';
import {
  EXPORT_FORMATS,
  exportFile,
  type ExportFile,
  type ExportFormat,
} from '#core/formats/mesh/export-files.ts';
import { checkMeshFile } from '#core/formats/mesh/check-mesh-file.ts';
import { readStl } from '#core/formats/mesh/read-stl.ts';
import { checkMesh, isSoundMesh } from '#core/relief/check-mesh.ts';
import { outlineArea, traceOutlines } from '#core/relief/outlines.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import { layerTopsMm } from '#core/stack/layer-grid.ts';
import { totalLayers } from '#core/stack/stack.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { PNG_ENCODERS } from '../../src/platform/encode-pictures.ts';
import { meshVolume } from '../helpers/meshes.ts';
import { FILAMENTS, stackOf } from '../helpers/stacks.ts';

const SAMPLE_MM = 0.4;
/** Samples a side of the relief: enough for all kinds of corners. */
const SIDE = 25;
const GRID = { firstLayerMm: 0.24, layerMm: 0.08, baseLayerMm: 0.24, baseLayers: 3 };
const stack = { ...stackOf(4, 5, 6), grid: GRID };
const LAYERS = totalLayers(stack.bands);
const TOPS = layerTopsMm(GRID, LAYERS);

/** Hills with a hole, an island of one sample, thin bridges and diagonal contacts. */
function relief(size: number): HeightMap {
  const data = Uint8Array.from({ length: size * size }, (_, i) => {
    const [x, y] = [i % size, Math.floor(i / size)];
    if (Math.hypot(x - size * 0.65, y - size * 0.4) < size / 5) return x === y + 4 ? 4 : 0;
    return Math.max(
      1,
      Math.min(
        LAYERS,
        Math.round(8 + 6 * Math.sin(x / 2.3) * Math.cos(y / 3.1) + ((x * 7 + y * 5) % 4)),
      ),
    );
  });
  return partDiagonals({ width: size, height: size, data }).heights;
}

const source: ReliefSource = {
  heights: relief(SIDE),
  stack,
  filaments: FILAMENTS,
  sampleMm: SAMPLE_MM,
  stamp: '7K2Q-M9XD',
  title: 'Dome <&> "dusk"',
};
/** A finished file with its pieces joined. */
const whole = (made: ExportFile) => ({ ...made, bytes: joinPieces(made.pieces) });
const file = (format: ExportFormat) => whole(exportFile(format, source, PNG_ENCODERS));
const volume =
  [...source.heights.data].reduce((sum, n) => sum + (TOPS[n] ?? 0), 0) * SAMPLE_MM ** 2;
const folder = mkdtempSync(join(tmpdir(), 'strata-files-'));

/** This parser's selectors do not find elements by their local name, as those of browsers do: prefixes are taken off. */
class LocalNames extends LinkedomParser {
  override parseFromString: InstanceType<typeof LinkedomParser>['parseFromString'] = (text, type) =>
    super.parseFromString(text.replace(/<(\/?)m:/g, '<$1'), type);
}

/** Volume of a geometry of another program, whether it has an index or not. */
function volumeOf(geometry: BufferGeometry): number {
  const positions = geometry.getAttribute('position').array as Float32Array;
  const index = geometry.getIndex();
  const triangles = index
    ? Uint32Array.from(index.array)
    : Uint32Array.from({ length: positions.length / 3 }, (_, i) => i);
  return meshVolume({ positions, triangles });
}

function meshesIn(object: Object3D): ThreeMesh[] {
  const found: ThreeMesh[] = [];
  object.traverse((one) => {
    if ('isMesh' in one) found.push(one as ThreeMesh);
  });
  return found;
}

describe('exported files, read by other programs', () => {
  it('STL: both forms hold the same solid, and admesh finds nothing to mend', () => {
    const binary = file('stl');
    const text = file('stl-text');
    for (const { bytes, suffix } of [binary, text]) {
      expect(volumeOf(new STLLoader().parse(bytes.buffer))).to.be.closeTo(volume, 0.01);
      const read = readStl(bytes);
      if (!read.ok) expect.fail(read.fault.code);
      expect(isSoundMesh(checkMesh(read.value.mesh)), suffix).to.equal(true);
      expect(read.value.wrongNormals).to.equal(0);
      const path = join(folder, suffix);
      writeFileSync(path, bytes);
      const told = execFileSync('admesh', [path], { encoding: 'utf8' });
      expect(told).to.match(/Total disconnected facets\s+: +0 +0/);
      for (const mended of [
        'Facets removed',
        'Facets reversed',
        'Backwards edges',
        'Degenerate facets',
        'Edges fixed',
      ])
        expect(told, mended).to.match(new RegExp(`${mended}\\s+: +0\\b`));
      expect(Number(/Volume +: +([\d.]+)/.exec(told)?.[1])).to.be.closeTo(volume, 0.01);
    }
    expect(new TextDecoder().decode(binary.bytes.subarray(0, 80))).to.contain('7K2Q-M9XD');
  });

  it('3MF: valid by the Core schema, one coloured object a band, stacked to the whole', () => {
    const entries = unzipSync(file('3mf').bytes);
    const model = new TextDecoder().decode(entries['3D/3dmodel.model']);
    const path = join(folder, 'model.xml');
    writeFileSync(path, model);
    const schema = new URL('data/3mf_xsd/core_local.xsd', import.meta.url).pathname;
    const { status, stderr } = spawnSync('xmllint', ['--noout', '--schema', schema, path], {
      encoding: 'utf8',
    });
    expect(status, stderr).to.equal(0);
    expect(
      [...model.matchAll(/<object [^>]*name="([^"]*)"/g)].map(([, name]) => name),
    ).to.deep.equal(['A soot', 'B rust', 'C ivory']);
    expect(
      [...model.matchAll(/<m:color color="([^"]*)"/g)].map(([, colour]) => colour),
    ).to.deep.equal(
      ['soot', 'rust', 'ivory'].map((id) => `${FILAMENTS[id]?.colour.toUpperCase()}FF`),
    );
    expect(model).to.contain('7K2Q-M9XD').and.to.contain('Dome &#60;&#38;&#62; &#34;dusk&#34;');
    // A file that the schema must not let through, so that the check is known to bite.
    writeFileSync(path, model.replace('<build>', '<bild>').replace('</build>', '</bild>'));
    expect(spawnSync('xmllint', ['--noout', '--schema', schema, path]).status).to.not.equal(0);
  });

  it("3MF: three's loader reads the same bands, in place", () => {
    const before = globalThis.DOMParser;
    globalThis.DOMParser = LocalNames as unknown as typeof DOMParser;
    try {
      const group = new ThreeMFLoader().parse(file('3mf').bytes.buffer);
      group.updateMatrixWorld(true);
      const meshes = meshesIn(group);
      expect(meshes).to.have.length(3);
      expect(meshes.reduce((sum, { geometry }) => sum + volumeOf(geometry), 0)).to.be.closeTo(
        volume,
        0.01,
      );
      const bottoms = meshes.map((mesh) => {
        mesh.geometry.computeBoundingBox();
        const lowest = mesh.geometry.boundingBox?.min.clone();
        return lowest?.applyMatrix4(mesh.matrixWorld).z ?? -1;
      });
      [0, TOPS[4], TOPS[9]].forEach((mm = 0, i) => expect(bottoms[i]).to.be.closeTo(mm, 1e-4));
    } finally {
      globalThis.DOMParser = before;
    }
  });

  it('bands share their faces exactly, and their union by manifold-3d is the whole', async () => {
    const module = await ManifoldModule();
    module.setup();
    const solids = bandSolids(source).map(({ mesh, liftMm }) =>
      new module.Manifold(
        new module.Mesh({ numProp: 3, vertProperties: mesh.positions, triVerts: mesh.triangles }),
      ).translate([0, 0, liftMm]),
    );
    for (const solid of solids) expect(solid.status()).to.equal('NoError');
    const union = module.Manifold.union(solids);
    expect(union.volume()).to.be.closeTo(volume, 0.01);
    expect(solids.reduce((sum, solid) => sum + solid.volume(), 0)).to.be.closeTo(volume, 0.01);
  });

  it('smooth outlines: manifold-3d takes whole and bands, whose union is the whole; admesh finds nothing to mend', async () => {
    const module = await ManifoldModule();
    module.setup();
    const smooth = { ...source, smoothMm: 0.036 };
    const stl = whole(exportFile('stl', smooth, PNG_ENCODERS));
    const looked = checkMeshFile(stl.bytes);
    expect(looked.sound, JSON.stringify(looked)).to.equal(true);
    // Cut corners take from some areas what they give to others.
    expect(looked.volumeMm3 / volume).to.be.within(0.97, 1.03);
    const solids = bandSolids(smooth).map(({ mesh, liftMm }) =>
      new module.Manifold(
        new module.Mesh({ numProp: 3, vertProperties: mesh.positions, triVerts: mesh.triangles }),
      ).translate([0, 0, liftMm]),
    );
    for (const solid of solids) expect(solid.status()).to.equal('NoError');
    expect(module.Manifold.union(solids).volume()).to.be.closeTo(looked.volumeMm3, 0.01);
    expect(solids.reduce((sum, one) => sum + one.volume(), 0)).to.be.closeTo(
      looked.volumeMm3,
      0.01,
    );
    const path = join(folder, 'smooth.stl');
    writeFileSync(path, stl.bytes);
    const said = execFileSync('admesh', [path], { encoding: 'utf8' });
    expect(said).to.match(/Total disconnected facets\s*:\s*0\s+0/);
    const drawn = new TextDecoder().decode(whole(exportFile('layers', smooth, PNG_ENCODERS)).bytes);
    expect(drawn).to.contain('id="layer-1"');
    expect(drawn).to.not.equal(new TextDecoder().decode(file('layers').bytes));
  });

  it('3MF, plain and smooth, pass the project’s own reader', () => {
    for (const smoothMm of [undefined, 0.036]) {
      const looked = checkMeshFile(
        whole(exportFile('3mf', { ...source, smoothMm }, PNG_ENCODERS)).bytes,
      );
      expect(looked.sound, JSON.stringify(looked.fault ?? looked.solids)).to.equal(true);
      expect(looked.solids).to.have.length(3);
    }
  });

  it('OBJ and MTL: an object a band in its colour, with the same volume', () => {
    const entries = unzipSync(file('obj').bytes);
    const text = new TextDecoder();
    const group = new OBJLoader().parse(text.decode(entries['relief.obj']));
    const meshes = meshesIn(group);
    expect(meshes.map(({ name }) => name)).to.deep.equal(['A_soot', 'B_rust', 'C_ivory']);
    expect(meshes.map(({ material }) => (material as MeshPhongMaterial).name)).to.deep.equal([
      'A_soot',
      'B_rust',
      'C_ivory',
    ]);
    expect(meshes.reduce((sum, { geometry }) => sum + volumeOf(geometry), 0)).to.be.closeTo(
      volume,
      0.01,
    );
    const mtl = text.decode(entries['relief.mtl']);
    expect(text.decode(entries['relief.obj'])).to.contain('mtllib relief.mtl');
    expect(mtl).to.match(/newmtl B_rust\nKd 0\.6588 0\.2706 0\.1216/);
  });

  it('GLB: in metres with y up, tops in the predicted colours', async () => {
    const { bytes } = file('glb');
    expect(new TextDecoder().decode(bytes.subarray(20, 20 + 400))).to.contain('7K2Q-M9XD');
    const loaded = await new Promise<{ scene: Object3D }>((resolve, reject) => {
      new GLTFLoader().parse(bytes.buffer, '', resolve, reject);
    });
    loaded.scene.updateMatrixWorld(true);
    const meshes = meshesIn(loaded.scene);
    const ramp = rampOfStack(stack, FILAMENTS);
    const present = [...new Set(source.heights.data)].filter((n) => n > 0);
    const tops = meshes.filter(({ material }) =>
      (material as MeshPhongMaterial).name.startsWith('layer '),
    );
    expect(tops).to.have.length(present.length);
    for (const { material, geometry } of tops) {
      const { name, color } = material as MeshPhongMaterial;
      const layer = Number(name.slice(6));
      const [red, green, blue] = ramp[layer - 1]?.colour ?? [0, 0, 0];
      expect(color.getHex()).to.equal((red << 16) | (green << 8) | blue);
      const index = geometry.getIndex()?.array[0] ?? 0;
      expect(geometry.getAttribute('position').getZ(index)).to.be.closeTo(TOPS[layer] ?? 0, 1e-5);
    }
    const all = meshes.flatMap(({ geometry }) => [...(geometry.getIndex()?.array ?? [])]);
    const positions = meshes[0]?.geometry.getAttribute('position').array as Float32Array;
    expect(meshVolume({ positions, triangles: Uint32Array.from(all) })).to.be.closeTo(volume, 0.01);
    const corner = meshes[0]?.localToWorld(meshes[0].position.clone().set(0, 0, 1000));
    expect(corner?.y).to.be.closeTo(1, 1e-6);
  });

  it('PNG: heights in 16 bits and the print, a pixel a sample', () => {
    const heights = decodePng(file('heights').bytes);
    expect([heights.width, heights.height, heights.depth, heights.channels]).to.deep.equal([
      SIDE,
      SIDE,
      16,
      1,
    ]);
    expect([...heights.data]).to.deep.equal([...source.heights.data]);
    const print = decodePng(file('print').bytes);
    const ramp = rampOfStack(stack, FILAMENTS);
    source.heights.data.forEach((n, i) => {
      const pixel = [...print.data.slice(4 * i, 4 * i + 4)];
      expect(pixel).to.deep.equal(n === 0 ? [0, 0, 0, 0] : [...(ramp[n - 1]?.colour ?? []), 255]);
    });
  });

  it('SVG: well-formed, in mm, the outline of each layer with its exact area', () => {
    for (const format of ['layers', 'areas'] as const) {
      const path = join(folder, `${format}.svg`);
      writeFileSync(path, file(format).bytes);
      expect(spawnSync('xmllint', ['--noout', path]).status).to.equal(0);
    }
    const svg = readFileSync(join(folder, 'layers.svg'), 'utf8');
    expect(svg).to.contain('width="10mm" height="10mm" viewBox="0 0 10 10"');
    for (let layer = 1; layer <= LAYERS; layer += 1) {
      const samples = source.heights.data.filter((n) => n >= layer).length;
      expect(outlineArea(traceOutlines(source.heights, layer)), `layer ${layer}`).to.equal(samples);
      expect(svg.includes(`id="layer-${layer}"`)).to.equal(samples > 0);
    }
  });

  it('sizes are told before anything is made: exactly where they follow from the triangles, within a third elsewhere', () => {
    for (const format of EXPORT_FORMATS) {
      const { bytes, triangles } = file(format);
      const told = estimateFile(format, source);
      expect(told.triangles, format).to.equal(triangles);
      if (told.exact) expect(told.bytes, format).to.equal(bytes.length);
      // A small piece: what compresses does so less well than what the shares were measured on.
      else if (!['heights', 'print'].includes(format))
        expect(told.bytes / bytes.length, format).to.be.within(0.66, 1.5);
    }
  });

  it('a file may be larger than the longest text that the engine holds', function large() {
    // V8 holds texts of 2^29 - 24 signs.
    const count = 3_600_000;
    const small = buildTerraceMesh(
      source.heights,
      source.sampleMm,
      layerTopsMm(source.stack.grid, LAYERS),
    );
    const triangles = Uint32Array.from(
      { length: 3 * count },
      (_, i) => small.triangles[i % small.triangles.length] as number,
    );
    // Far from the corner of the bed and off the grid, every coordinate is written in full.
    const positions = small.positions.map((mm) => 100 + 1.234567 * mm);
    let told = 0;
    const pieces = writeStlText({ positions, triangles }, 'large', (fraction) => {
      told = fraction;
    });
    expect(bytesIn(pieces)).to.be.greaterThan(2 ** 29);
    expect(told).to.be.within(0.9, 1);
    const text = new TextDecoder();
    expect(text.decode(pieces[0]).startsWith('solid large\nfacet normal')).to.equal(true);
    expect(text.decode(pieces.at(-1)).endsWith('endsolid large\n')).to.equal(true);
    // Whoever gives up is heard in the middle of it.
    expect(() =>
      writeStlText({ positions, triangles }, 'x', (fraction) => {
        if (fraction > 0.01) throw new Cancelled();
      }),
    ).to.throw(Cancelled);
  });

  it('every format gives some bytes, and the same ones each time', () => {
    for (const format of EXPORT_FORMATS) {
      const { bytes } = file(format);
      expect(bytes.length, format).to.be.greaterThan(100);
      if (!['3mf', 'obj'].includes(format))
        expect(Buffer.compare(bytes, file(format).bytes)).to.equal(0);
    }
  });
});

describe('the mesh check, on meshes of known faults', () => {
  const at = (name: string): URL => new URL(`../fixtures/meshes/${name}`, import.meta.url);
  const truth = JSON.parse(readFileSync(at('truth.json'), 'utf8')) as Record<
    string,
    { ok: boolean; what: string; volume?: number; triangles?: number }
  >;
  for (const [name, { ok, what, volume: wanted, triangles }] of Object.entries(truth))
    it(`${name}: ${what}`, () => {
      const looked = checkMeshFile(readFileSync(at(name)));
      expect(looked.sound, JSON.stringify(looked)).to.equal(ok);
      if (!ok) return;
      if (wanted !== undefined) expect(looked.volumeMm3).to.be.closeTo(wanted, 1e-3);
      if (triangles !== undefined) expect(looked.triangles).to.equal(triangles);
    });
});
