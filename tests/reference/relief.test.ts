import { expect } from 'chai';
import ManifoldModule from 'manifold-3d';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import { unzipSync } from 'fflate';
import { joinPieces } from '#core/base/byte-pieces.ts';
import { write3mf } from '#core/formats/mesh/write-3mf.ts';
import { writeStl } from '#core/formats/mesh/write-stl.ts';
import { bandHeights } from '#core/relief/band-heights.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import { buildTerraceMesh, type Mesh } from '#core/relief/terrace-mesh.ts';
import { layerTopsMm, USUAL_GRID } from '#core/stack/layer-grid.ts';
import type { HeightMap } from '#core/base/raster.ts';
import { meshVolume, sliceMask } from '../helpers/meshes.ts';

const TOPS = layerTopsMm(USUAL_GRID, 24);
const SAMPLE_MM = 0.4;

/** A hilly test relief with a round piece cut away, an island of one sample and plenty of diagonal contacts. */
function testRelief(size: number): HeightMap {
  const data = new Uint8Array(size * size);
  for (let y = 0; y < size; y += 1) {
    for (let x = 0; x < size; x += 1) {
      const hills = 12 + 9 * Math.sin(x / 3.1) * Math.cos(y / 4.3) + ((x * 7 + y * 13) % 5) - 2;
      const hole = Math.hypot(x - size * 0.7, y - size * 0.3) < size / 6;
      data[y * size + x] = hole ? 0 : Math.max(1, Math.min(24, Math.round(hills)));
    }
  }
  data[Math.round(size * 0.3) * size + Math.round(size * 0.7)] = 5;
  return partDiagonals({ width: size, height: size, data }).heights;
}

function areaTimesHeight(heights: HeightMap): number {
  let sum = 0;
  for (const layers of heights.data) sum += TOPS[layers] ?? 0;
  return sum * SAMPLE_MM * SAMPLE_MM;
}

describe('relief read back by other programs', () => {
  const heights = testRelief(60);
  const mesh: Mesh = buildTerraceMesh(heights, SAMPLE_MM, TOPS);

  it("STL: three's STLLoader reads the same triangles, and their volume is the sum of area x height", () => {
    const stl = joinPieces(writeStl(mesh, 'relief test'));
    const geometry = new STLLoader().parse(stl.buffer);
    const positions = geometry.getAttribute('position').array as Float32Array;
    expect(positions.length).to.equal(mesh.triangles.length * 3);
    const triangles = Uint32Array.from({ length: positions.length / 3 }, (_, i) => i);
    expect(meshVolume({ positions, triangles })).to.be.closeTo(areaTimesHeight(heights), 0.01);
  });

  it('STL: a slice at the middle of every layer gives back exactly the samples of that layer', () => {
    const geometry = new STLLoader().parse(joinPieces(writeStl(mesh, 'relief test')).buffer);
    const positions = geometry.getAttribute('position').array as Float32Array;
    const triangles = Uint32Array.from({ length: positions.length / 3 }, (_, i) => i);
    for (let layer = 1; layer <= 24; layer += 1) {
      const z = ((TOPS[layer - 1] ?? 0) + (TOPS[layer] ?? 0)) / 2;
      const mask = sliceMask(positions, triangles, z, 60, 60, SAMPLE_MM);
      const wanted = heights.data.map((layers) => (layers >= layer ? 1 : 0));
      expect(Buffer.compare(Buffer.from(mask), Buffer.from(wanted)), `layer ${layer}`).to.equal(0);
    }
  });

  it('manifold-3d takes it as a solid, with the right volume; so it does each band', async () => {
    const {
      Manifold,
      Mesh: ManifoldMesh,
      setup,
    } = await ManifoldModule().then((module) => {
      module.setup();
      return module;
    });
    expect(setup).to.be.a('function');
    const asSolid = (part: Mesh) =>
      new Manifold(
        new ManifoldMesh({ numProp: 3, vertProperties: part.positions, triVerts: part.triangles }),
      );
    const whole = asSolid(mesh);
    expect(whole.status()).to.equal('NoError');
    expect(whole.volume()).to.be.closeTo(areaTimesHeight(heights), 0.01);
    let sum = 0;
    for (const [below, end] of [
      [0, 7],
      [7, 13],
      [13, 24],
    ] as const) {
      const part = bandHeights(heights, below, end);
      const levels = Float64Array.from(
        { length: end - below + 1 },
        (_, n) => (TOPS[below + n] ?? 0) - (TOPS[below] ?? 0),
      );
      const solid = asSolid(buildTerraceMesh(part, SAMPLE_MM, levels));
      expect(solid.status()).to.equal('NoError');
      sum += solid.volume();
    }
    expect(sum).to.be.closeTo(areaTimesHeight(heights), 0.01);
  });

  it('3MF: the package has the three parts of the specification and one object for each solid', () => {
    const pieces = write3mf(
      [
        { name: 'A Soot <&>', colour: '#101010', mesh, liftMm: 0 },
        {
          name: 'B empty',
          colour: '#ffffff',
          mesh: { positions: new Float32Array(), triangles: new Uint32Array() },
          liftMm: 1,
        },
      ],
      { Title: 'Test "one"' },
    );
    const files = unzipSync(joinPieces(pieces));
    expect(Object.keys(files)).to.have.members([
      '[Content_Types].xml',
      '_rels/.rels',
      '3D/3dmodel.model',
    ]);
    const model = new TextDecoder().decode(files['3D/3dmodel.model']);
    expect(model.match(/<object /g)).to.have.length(1);
    expect(model.match(/<triangle /g)).to.have.length(mesh.triangles.length / 3);
    expect(model).to.contain('A Soot &#60;&#38;&#62;').and.to.contain('displaycolor="#101010"');
  });
});
