import { expect } from 'chai';
import { Cancelled } from '#core/base/checkpoint.ts';
import type { HeightMap } from '#core/base/raster.ts';
import { joinPieces } from '#core/base/byte-pieces.ts';
import { writeStl } from '#core/formats/mesh/write-stl.ts';
import { partDiagonals, type HeightPrices } from '#core/relief/part-diagonals.ts';
import { coarsenSamples, planSamples } from '#core/relief/sampling.ts';
import { buildTerraceMesh } from '#core/relief/terrace-mesh.ts';
import { countBadEdges, heightsOf, meshVolume } from '../helpers/meshes.ts';

const LEVELS = Float64Array.from({ length: 10 }, (_, n) => n);

describe('samples of a relief', () => {
  it('are square and whole, and say the real size', () => {
    expect(planSamples(100, 66.7, 0.2)).to.deep.equal({
      columns: 500,
      rows: 334,
      sampleMm: 0.2,
      widthMm: 100,
      heightMm: 66.8,
    });
    expect(planSamples(0.1, 5, 1)).to.include({ columns: 1, rows: 5 });
  });

  it('are coarsened for showing only where there are too many', () => {
    const grid = planSamples(300, 300, 0.2);
    const shown = coarsenSamples(grid, 1_000_000);
    expect(shown.columns * shown.rows).to.be.within(900_000, 1_010_000);
    expect(coarsenSamples(planSamples(100, 100, 0.2), 1_000_000).columns).to.equal(500);
  });
});

describe('diagonal contacts', () => {
  it('raises the higher neighbour to the lower of the two', () => {
    const { heights, raisedSamples } = partDiagonals(heightsOf([5, 1], [2, 4]));
    expect([...heights.data]).to.deep.equal([5, 1, 4, 4]);
    expect(raisedSamples).to.equal(1);
  });

  it('prints a cut-away sample where the picture hangs together only by a corner', () => {
    const { heights } = partDiagonals(heightsOf([3, 0], [0, 3]));
    expect([...heights.data].filter((layers) => layers === 3)).to.have.length(3);
  });

  describe('by what heights cost', () => {
    // Class 0 is best at 2 layers, class 1 at 5; a layer off costs 1, but class 1 is dear to lower.
    const layers = 5;
    const costs = Float32Array.from([
      ...[0, 1, 2, 3, 4, 5].map((at) => Math.abs(at - 2)),
      ...[0, 1, 2, 3, 4, 5].map((at) => 9 * Math.abs(at - 5)),
    ]);
    const prices = (source: HeightMap, classes: number[], leastLayers = 1): HeightPrices => ({
      classes: Uint16Array.from(classes),
      costs,
      layers,
      own: source,
      leastLayers,
    });
    const parted = (classes: number[], leastLayers?: number): number[] => {
      const source = heightsOf([4, 2], [2, 4]);
      const { heights } = partDiagonals(source, () => prices(source, classes, leastLayers));
      return [...heights.data];
    };

    it('lowers one of the two where that is cheaper, else raises', () => {
      // Two of class 0 stand at 4 and gain by coming down; the others are where they are best.
      expect(parted([0, 0, 0, 0])).to.deep.equal([2, 2, 2, 4]);
      // Those that stand are dear to lower.
      expect(parted([1, 0, 0, 1])).to.deep.equal([4, 4, 2, 4]);
      // Nothing goes below the least height.
      expect(parted([0, 0, 0, 0], 3)).to.deep.equal([4, 4, 2, 4]);
    });

    it('what a border made is never lowered, and prices are asked for only where something touches', () => {
      const own = heightsOf([1, 2], [2, 1]);
      const { heights } = partDiagonals(heightsOf([4, 2], [2, 4]), () => prices(own, [0, 0, 0, 0]));
      expect([...heights.data]).to.deep.equal([4, 4, 2, 4]);
      partDiagonals(heightsOf([1, 2], [1, 2]), () => {
        throw new Error('nothing touches');
      });
    });

    it('a cut-away sample is printed as before: nothing is cut away instead', () => {
      const source = heightsOf([3, 0], [0, 3]);
      const { heights } = partDiagonals(source, () => prices(source, [0, 2, 2, 0]));
      expect([...heights.data].filter((at) => at === 3)).to.have.length(3);
    });
  });

  it('leaves clean maps, and its input, alone', () => {
    const source = heightsOf([1, 2, 3], [1, 2, 3]);
    expect(partDiagonals(source)).to.deep.equal({
      heights: source,
      raisedSamples: 0,
      loweredSamples: 0,
    });
    const touched = heightsOf([5, 1], [1, 5]);
    partDiagonals(touched);
    expect([...touched.data]).to.deep.equal([5, 1, 1, 5]);
  });
});

describe('terrace mesh', () => {
  it('is a box of 12 triangles for one height, however many samples', () => {
    const mesh = buildTerraceMesh(heightsOf([2]), 0.5, LEVELS);
    expect(mesh.triangles).to.have.length(36);
    expect(meshVolume(mesh)).to.be.closeTo(0.5, 1e-9);
    const wide = buildTerraceMesh(heightsOf([2, 2, 2, 2]), 0.5, LEVELS);
    expect(wide.triangles).to.have.length(36);
  });

  it('is empty where nothing is printed', () => {
    expect(buildTerraceMesh(heightsOf([0, 0], [0, 0]), 1, LEVELS).triangles).to.have.length(0);
  });

  it('is not mirrored: x to the right, y up the picture, underside at z = 0', () => {
    const { positions } = buildTerraceMesh(heightsOf([0, 9], [0, 0]), 1, LEVELS);
    const values = (axis: number) => [...positions].filter((_, i) => i % 3 === axis);
    expect([Math.min(...values(0)), Math.max(...values(0))]).to.deep.equal([1, 2]);
    expect([Math.min(...values(1)), Math.max(...values(1))]).to.deep.equal([1, 2]);
    expect([Math.min(...values(2)), Math.max(...values(2))]).to.deep.equal([0, 9]);
  });

  it('splits walls where more than two heights meet at a corner', () => {
    const mesh = buildTerraceMesh(heightsOf([9, 5], [3, 1]), 1, LEVELS);
    expect(countBadEdges(mesh)).to.equal(0);
    expect(meshVolume(mesh)).to.be.closeTo(18, 1e-6);
  });

  it('holds holes and separate pieces', () => {
    const mesh = buildTerraceMesh(
      heightsOf([2, 2, 2, 0, 1], [2, 0, 2, 0, 1], [2, 2, 2, 0, 1]),
      1,
      LEVELS,
    );
    expect(countBadEdges(mesh)).to.equal(0);
    expect(meshVolume(mesh)).to.be.closeTo(19, 1e-6);
  });

  it('can be cancelled', () => {
    expect(() =>
      buildTerraceMesh(heightsOf([1], [1]), 1, LEVELS, () => {
        throw new Cancelled();
      }),
    ).to.throw(Cancelled);
  });
});

describe('STL', () => {
  it('has 84 bytes and 50 more a triangle, its header in ASCII and not beginning with "solid"', () => {
    const bytes = joinPieces(
      writeStl(buildTerraceMesh(heightsOf([1]), 1, LEVELS), 'Zesty Strata – test'),
    );
    expect(bytes).to.have.length(84 + 12 * 50);
    expect(new TextDecoder().decode(bytes.subarray(0, 19))).to.equal('Zesty Strata ? test');
    expect(new DataView(bytes.buffer).getUint32(80, true)).to.equal(12);
  });

  it('writes unit normals that point out', () => {
    const bytes = joinPieces(writeStl(buildTerraceMesh(heightsOf([1]), 1, LEVELS), 'x'));
    const view = new DataView(bytes.buffer);
    const ups = Array.from({ length: 12 }, (_, i) => view.getFloat32(84 + 50 * i + 8, true));
    expect(ups.filter((z) => z === 1)).to.have.length(2);
    expect(ups.filter((z) => z === -1)).to.have.length(2);
  });
});
