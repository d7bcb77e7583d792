import { expect } from 'chai';
import fc from 'fast-check';
import { padSamples, printedBox } from '#core/artwork/sample-artwork.ts';
import { cropHeights } from '#core/heights/height-map.ts';
import { checkMesh, isSoundMesh } from '#core/relief/check-mesh.ts';
import { FINE_GAP, FINE_RIDGE, findFineParts } from '#core/relief/fine-parts.ts';
import { fitWidthMm, misfits } from '#core/relief/fit.ts';
import { missesPrint, placeForHole } from '#core/relief/hole-place.ts';
import { outlineArea, traceOutlines } from '#core/relief/outlines.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import {
  coarsenSamples,
  planSamples,
  shareInPicture,
  shareInPiece,
} from '#core/relief/sampling.ts';
import { padOfShape, PLAIN_SHAPE, shapePiece, type PieceShape } from '#core/relief/shape.ts';
import { buildTerraceMesh } from '#core/relief/terrace-mesh.ts';
import { printSettings } from '#core/schedule/print-settings.ts';
import {
  baseTopMm,
  layerInGrid,
  layerThicknessMm,
  layerTopMm,
  withThickBase,
} from '#core/stack/layer-grid.ts';
import { totalLayers } from '#core/stack/stack.ts';
import { withGrid } from '../../src/state/regrid.ts';
import { newProject } from '../../src/state/new-project.ts';
import { heightMmOf, pieceSizeOf, samplesOf } from '../../src/state/document-facts.ts';
import { heightsOf } from '../helpers/meshes.ts';
import { FILAMENTS } from '../helpers/stacks.ts';

function document(box = { left: 0.25, top: 0.1, width: 0.5, height: 0.8 }) {
  return newProject(
    {
      name: 'Cut-out',
      artwork: {
        fileName: 'a.png',
        kind: 'png',
        digest: '0'.repeat(64),
        width: 200,
        height: 100,
        box,
      },
      histogram: new Uint32Array(4096).fill(1),
    },
    Object.values(FILAMENTS),
    [
      ['soot', 8],
      ['rust', 8],
      ['ivory', 10],
    ],
  );
}

describe('thicker layers in the base', () => {
  // Common practice, no source: 0.72 mm are 9 layers of 0.08, or 3 of 0.24.
  const thin = { firstLayerMm: 0.08, layerMm: 0.08 };

  it('0.72 mm is 9 layers of 0.08 but 3 of 0.24, and what lies above keeps its height', () => {
    expect(layerTopMm(thin, 9)).to.equal(0.72);
    const thick = withThickBase({ firstLayerMm: 0.24, layerMm: 0.08 }, 0.72, 0.24);
    if (!thick.ok) expect.fail(thick.fault.code);
    expect(thick.value.baseLayers).to.equal(3);
    expect(baseTopMm(thick.value)).to.equal(0.72);
    for (let layer = 10; layer <= 40; layer += 1) {
      expect(layerTopMm(thick.value, layer - 6)).to.equal(layerTopMm(thin, layer));
      expect(layerInGrid(layer, thin, thick.value)).to.equal(layer - 6);
    }
  });

  it('says the nearest heights where a base cannot be divided', () => {
    const grid = { firstLayerMm: 0.16, layerMm: 0.08 };
    const result = withThickBase(grid, 0.72, 0.24);
    expect(result).to.deep.include({ ok: false });
    if (result.ok) return;
    expect(result.fault).to.include({ code: 'not-divisible', detail: '0.64 0.88' });
    const low = withThickBase(grid, 0.1, 0.24);
    expect(!low.ok && low.fault).to.include({ code: 'below-first-layer', detail: '0.4' });
  });

  it('tops only rise, and thicknesses sum up to them, whatever the grid', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.04, max: 0.4, noNaN: true }),
        fc.double({ min: 0.04, max: 0.4, noNaN: true }),
        fc.double({ min: 0.04, max: 0.4, noNaN: true }),
        fc.integer({ min: 1, max: 20 }),
        (firstLayerMm, layerMm, baseLayerMm, baseLayers) => {
          const grid = { firstLayerMm, layerMm, baseLayerMm, baseLayers };
          let sum = 0;
          for (let layer = 1; layer <= 40; layer += 1) {
            sum += layerThicknessMm(grid, layer);
            expect(layerTopMm(grid, layer)).to.be.closeTo(sum, 1e-4);
            expect(layerTopMm(grid, layer)).to.be.greaterThan(layerTopMm(grid, layer - 1));
            expect(layerInGrid(layer, grid, grid)).to.equal(layer);
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  it('a document keeps the heights of its bands, and its sheet says to go by height', () => {
    const before = document();
    const grid = { firstLayerMm: 0.16, layerMm: 0.08, baseLayerMm: 0.16, baseLayers: 4 };
    const moved = withGrid(before, grid);
    if (!moved.ok) throw new Error(moved.fault.code);
    const after = moved.value;
    // 0.72, 1.36 and 2.16 mm: the first lies 0.08 above the base.
    expect(after.stack.bands.map(({ layers }) => layers)).to.deep.equal([5, 8, 10]);
    expect(totalLayers(after.stack.bands)).to.equal(totalLayers(before.stack.bands) - 3);
    expect(layerTopMm(grid, totalLayers(after.stack.bands))).to.equal(
      layerTopMm(before.stack.grid, totalLayers(before.stack.bands)),
    );
    const rows = printSettings({
      firstLayerMm: 0.16,
      layerMm: 0.08,
      ironing: null,
      base: { layerMm: 0.16, topMm: 0.64 },
    });
    expect(rows.find(({ setting }) => setting === 'Thicker base')).to.include({
      value: '0.16 mm layers up to 0.64 mm',
    });
  });
});

describe('size of a piece', () => {
  it('counts only what is printed where that is wanted', () => {
    const plain = document();
    expect([plain.piece.widthMm, heightMmOf(plain)]).to.deep.equal([150, 75]);
    expect(pieceSizeOf(plain)).to.deep.equal({ widthMm: 75, heightMm: 60 });
    const trimmed = { ...plain, piece: { ...plain.piece, trim: true, widthMm: 75 } };
    expect(heightMmOf(trimmed)).to.be.closeTo(60, 1e-9);
    expect(samplesOf(trimmed)).to.deep.equal(samplesOf(plain));
    expect(pieceSizeOf(trimmed)).to.deep.equal({ widthMm: 75, heightMm: 60 });
  });

  it('may have a height of its own, and grows by border and plate', () => {
    const apart = { ...document(), piece: { ...document().piece, heightMm: 150 } };
    expect(samplesOf(apart)).to.include({ columns: 750, rows: 750 });
    const shape = { ...PLAIN_SHAPE, border: { widthMm: 5, layers: 3 }, holes: [] };
    const shaped = { ...document(), piece: { ...document().piece, shape } };
    expect(samplesOf(shaped)).to.include({ columns: 800, rows: 425, pad: 25 });
    expect(pieceSizeOf(shaped)).to.deep.equal({ widthMm: 160, heightMm: 85 });
  });

  it('fits a bed either way round, a frame only upright and by its depth', () => {
    const size = { widthMm: 200, heightMm: 100, thicknessMm: 3 };
    const of = (kind: 'bed' | 'frame', widthMm: number, heightMm: number, depthMm: number | null) =>
      misfits(size, { kind, widthMm, heightMm, depthMm });
    expect(of('bed', 100, 200, null)).to.deep.equal([]);
    expect(of('frame', 100, 200, 5)).to.deep.equal(['too-wide']);
    expect(of('frame', 200, 90, 2)).to.deep.equal(['too-high', 'too-thick']);
    const bed = { kind: 'bed' as const, widthMm: 220, heightMm: 220, depthMm: null };
    expect(fitWidthMm(0.5, 5, bed)).to.equal(210);
    expect(fitWidthMm(2, 5, bed)).to.equal(105);
    expect(fitWidthMm(1, 120, bed)).to.equal(0);
    // On a round bed corners decide: 2w + 2 x 5 squared twice is 200 squared, by Pythagoras.
    const round = { kind: 'bed' as const, widthMm: 200, heightMm: 200, depthMm: null, round: true };
    expect(fitWidthMm(1, 5, round)).to.be.closeTo(200 / Math.SQRT2 - 10, 1e-9);
    expect(misfits({ widthMm: 120, heightMm: 160, thicknessMm: 2 }, round)).to.deep.equal([]);
    expect(misfits({ widthMm: 121, heightMm: 160, thicknessMm: 2 }, round)).to.deep.equal([
      'too-wide',
    ]);
    expect(fitWidthMm(1, 90, round)).to.equal(0);
  });

  it('keeps the space around the picture when shown coarser, and places shares either way', () => {
    const grid = planSamples(150, 75, 0.1, 5);
    const shown = coarsenSamples(grid, 200_000);
    expect((shown.pad ?? 0) * shown.sampleMm).to.be.closeTo(5, shown.sampleMm);
    for (const share of [0, 0.3, 1])
      expect(shareInPicture(shareInPiece(share, 800, 25), 800, 25)).to.be.closeTo(share, 1e-12);
    expect(shareInPicture(25 / 800, 800, 25)).to.be.closeTo(0, 1e-12);
  });

  it('knows the rectangle that is printed, adds space around it and takes it away', () => {
    const data = new Uint8ClampedArray(4 * 12);
    for (const i of [5, 6]) data.set([9, 9, 9, 255], 4 * i);
    const picture = { width: 4, height: 3, data };
    expect(printedBox(picture)).to.deep.equal({ left: 1, top: 1, width: 2, height: 1 });
    const padded = padSamples(picture, 2);
    expect([padded.width, padded.height]).to.deep.equal([8, 7]);
    expect(printedBox(padded)).to.deep.equal({ left: 3, top: 3, width: 2, height: 1 });
    expect(cropHeights(heightsOf([0, 0, 0], [0, 2, 3], [0, 0, 0]))).to.deep.equal(
      heightsOf([2, 3]),
    );
    expect(cropHeights(heightsOf([0, 0]))).to.deep.equal(heightsOf([0, 0]));
  });
});

describe('outline of a piece', () => {
  const blank = (width: number, height: number, layers = 0) => ({
    width,
    height,
    data: new Uint8Array(width * height).fill(layers),
  });
  const at = (map: { width: number; data: Uint8Array }, x: number, y: number) =>
    map.data[y * map.width + x];

  it('a border covers the edge in its height, never above the stack', () => {
    const shape: PieceShape = { ...PLAIN_SHAPE, border: { widthMm: 1, layers: 30 } };
    expect(padOfShape(shape)).to.equal(1);
    const map = shapePiece(blank(20, 10, 4), shape, 0.5, 12);
    expect([at(map, 0, 5), at(map, 1, 5), at(map, 2, 5), at(map, 10, 8)]).to.deep.equal([
      12, 12, 4, 12,
    ]);
  });

  it('a plate fills what is cut away, by its outline: area against the exact one', () => {
    const size = 200;
    const filled = (outline: 'rectangle' | 'rounded' | 'circle', cornerMm = 0): number =>
      shapePiece(
        blank(size, size),
        { ...PLAIN_SHAPE, cornerMm, plate: { outline, marginMm: 0, layers: 3 } },
        0.1,
        9,
      ).data.filter((layers) => layers === 3).length /
      size ** 2;
    expect(filled('rectangle')).to.equal(1);
    expect(filled('circle')).to.be.closeTo(Math.PI / 4, 0.002);
    // Four corners of radius r lose (4 - pi) r^2.
    expect(filled('rounded')).to.be.closeTo(1 - (4 - Math.PI) * 0.01, 0.002);
    expect(filled('rectangle', 5)).to.be.closeTo(1 - (4 - Math.PI) * 0.0625, 0.002);
  });

  it("the picture's own outline grows by just the margin, and the picture stays as it is", () => {
    const source = blank(61, 61);
    source.data[30 * 61 + 30] = 7;
    const plate = { outline: 'own' as const, marginMm: 2, layers: 2 };
    const map = shapePiece(source, { ...PLAIN_SHAPE, plate }, 0.1, 9);
    for (let y = 0; y < 61; y += 1)
      for (let x = 0; x < 61; x += 1) {
        const far = Math.hypot(x - 30, y - 30);
        expect(at(map, x, y)).to.equal(far === 0 ? 7 : far <= 20 ? 2 : 0);
      }
  });

  it('holes go through everything; whatever is cut stays a sound solid with the exact area', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 5 }), { minLength: 144, maxLength: 144 }),
        fc.integer({ min: 0, max: 4 }),
        fc.constantFrom('rectangle', 'rounded', 'circle', 'own' as const),
        fc.double({ min: 0.2, max: 3, noNaN: true }),
        (layers, cornerMm, outline, diameterMm) => {
          const shape: PieceShape = {
            border: { widthMm: 0.7, layers: 4 },
            plate: { outline: outline as 'own', marginMm: 1, layers: 2 },
            cornerMm,
            holes: [{ xMm: 3, yMm: 2.5, diameterMm }],
          };
          const source = { width: 12, height: 12, data: Uint8Array.from(layers) };
          const cut = shapePiece(source, shape, 0.5, 5);
          expect(at(cut, 6, 5) === 0 || diameterMm < 0.8).to.equal(true);
          const { heights } = partDiagonals(cut);
          const mesh = buildTerraceMesh(heights, 0.5, Float64Array.from([0, 1, 2, 3, 4, 5]));
          if (mesh.triangles.length > 0) expect(isSoundMesh(checkMesh(mesh))).to.equal(true);
          for (let level = 1; level <= 5; level += 1)
            expect(outlineArea(traceOutlines(heights, level))).to.equal(
              heights.data.filter((n) => n >= level).length,
            );
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('a hole for hanging', () => {
  it('is put near the middle of the upper edge, with material all around it', () => {
    const plate = { width: 100, height: 60, data: new Uint8Array(6000).fill(3) };
    expect(placeForHole(plate, 1, 4)).to.deep.equal({ xMm: 50, yMm: 5 });
    const cutOut = { ...plate, data: plate.data.map((n, i) => (i % 100 < 60 || i < 2000 ? 0 : n)) };
    const place = placeForHole(cutOut, 1, 4) ?? expect.fail();
    // Three millimetres of rim around a radius of two, to half a sample.
    expect(place.xMm).to.be.closeTo(65, 0.5);
    expect(place.yMm).to.be.closeTo(25, 0.5);
    const holes = [{ ...place, diameterMm: 4 }];
    const pierced = shapePiece(cutOut, { ...PLAIN_SHAPE, holes }, 1, 9);
    const next = placeForHole(pierced, 1, 4) ?? expect.fail();
    expect(Math.hypot(next.xMm - place.xMm, next.yMm - place.yMm), 'beside it').to.be.within(
      6.5,
      8,
    );
    expect(missesPrint(pierced, 1, holes[0] ?? expect.fail())).to.equal(false);
    expect(missesPrint(pierced, 1, { xMm: 20, yMm: 30, diameterMm: 4 })).to.equal(true);
  });

  it('has no place on what is too small', () => {
    expect(placeForHole({ width: 9, height: 9, data: new Uint8Array(81).fill(1) }, 1, 4)).to.equal(
      null,
    );
  });
});

describe('what is finer than a line', () => {
  it('marks ridges and gaps narrower than the line, and nothing that is as wide', () => {
    const rows = Array.from({ length: 12 }, () => [
      3, 3, 3, 3, 9, 3, 3, 3, 3, 9, 9, 9, 9, 1, 9, 9, 9, 9,
    ]);
    const { map, share } = findFineParts(heightsOf(...rows), 0.2, 0.42);
    const row = [...map.data.slice(5 * 18, 6 * 18)];
    expect(row.map((mark, i) => (mark ? [i, mark] : null)).filter(Boolean)).to.deep.equal([
      [4, FINE_RIDGE],
      [13, FINE_GAP],
    ]);
    expect(share).to.be.closeTo(2 / 18, 1e-9);
    expect(findFineParts(heightsOf(...rows), 0.42, 0.42).share).to.equal(0);
    // Thin bars with gaps between them: what is marked is a share of the whole, never more.
    const bars = Array.from({ length: 12 }, () => [5, 0, 5, 0, 5, 0, 5, 0, 5, 0, 5]);
    expect(findFineParts(heightsOf(...bars), 0.2, 0.42).share).to.be.within(0.9, 1);
  });
});
