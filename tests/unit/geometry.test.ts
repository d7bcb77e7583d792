import { expect } from 'chai';
import fc from 'fast-check';
import { findNotices, idleLayers } from '#core/heights/notices.ts';
import { USUAL_GRID, layerTopMm } from '#core/stack/layer-grid.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import {
  axisMarks,
  layerAt,
  placeLabels,
  sectionScale,
  yOf,
} from '../../src/features/stack/section-geometry.ts';
import {
  fitScale,
  frameOf,
  spotAt,
  zoomAt,
  type Placement,
} from '../../src/features/stage/view-geometry.ts';
import { FILAMENTS, stackOf } from '../helpers/stacks.ts';

describe('section geometry', () => {
  it('finds the layer whose top was drawn at a place, at every scale', () => {
    for (const height of [200, 480, 900]) {
      for (const layers of [3, 30, 120]) {
        const scale = sectionScale(height, layerTopMm(USUAL_GRID, layers), USUAL_GRID.layerMm);
        for (let n = 1; n <= layers; n += 1) {
          const y = yOf(scale, layerTopMm(USUAL_GRID, n));
          expect(y).to.be.at.least(0);
          expect(layerAt(scale, USUAL_GRID, y)).to.equal(n);
        }
        expect(layerAt(scale, USUAL_GRID, scale.plateY)).to.equal(0);
      }
    }
  });

  it('finds it above a thicker base too', () => {
    const grid = { firstLayerMm: 0.16, layerMm: 0.08, baseLayerMm: 0.24, baseLayers: 3 };
    for (const height of [200, 480, 900]) {
      const scale = sectionScale(height, layerTopMm(grid, 24), grid.layerMm);
      for (let n = 1; n <= 24; n += 1) {
        const y = yOf(scale, layerTopMm(grid, n));
        for (const near of [y - 0.4, y, y + 0.4])
          expect(layerAt(scale, grid, near), `layer ${n}`).to.equal(n);
      }
      expect(layerAt(scale, grid, scale.plateY)).to.equal(0);
    }
  });

  it('marks the axis in round steps', () => {
    const scale = sectionScale(480, 2, 0.08);
    expect(axisMarks(scale, 2)).to.deep.equal([0, 0.4, 0.8, 1.2, 1.6, 2]);
  });

  it('labels never overlap, keep their order and stay where they want to be when there is room', () => {
    expect(
      placeLabels(
        [
          { middle: 50, height: 20 },
          { middle: 100, height: 20 },
        ],
        0,
        200,
      ),
    ).to.deep.equal([40, 90]);
    const wish = fc.record({
      middle: fc.integer({ min: 0, max: 400 }),
      height: fc.integer({ min: 10, max: 40 }),
    });
    fc.assert(
      fc.property(fc.array(wish, { maxLength: 10 }), (wishes) => {
        const sorted = [...wishes].sort((a, b) => a.middle - b.middle);
        const tops = placeLabels(sorted, 0, 400);
        tops.forEach((top, i) => {
          expect(top).to.be.at.least(-1e-9);
          expect(top + (sorted[i]?.height ?? 0)).to.be.at.most((tops[i + 1] ?? 400) + 1e-9);
        });
      }),
    );
  });
});

describe('stage geometry', () => {
  const placement = {
    stageWidth: 900,
    stageHeight: 700,
    widthMm: 150,
    heightMm: 100,
    zoom: null,
    panX: 0,
    panY: 0,
  };

  it('fits the picture into the middle', () => {
    const frame = frameOf(placement);
    expect(frame.scale).to.equal(fitScale(placement));
    expect(frame.left + frame.width / 2).to.be.closeTo(450, 1e-9);
    expect(frame.width).to.be.at.most(900);
    expect(frame.height).to.be.at.most(700);
  });

  it('zooms around the pointer: the spot under it stays', () => {
    let now: Placement = { ...placement };
    const before = spotAt(frameOf(now), 300, 260);
    for (const factor of [1.5, 2, 0.7]) now = { ...now, ...zoomAt(now, factor, 300, 260) };
    const after = spotAt(frameOf(now), 300, 260);
    expect(after?.x).to.be.closeTo(before?.x ?? -1, 1e-9);
    expect(after?.y).to.be.closeTo(before?.y ?? -1, 1e-9);
    expect(spotAt(frameOf(now), -5000, 0)).to.equal(null);
  });
});

describe('notices', () => {
  const counts = (...pairs: readonly (readonly [number, number])[]): Uint32Array => {
    const out = new Uint32Array(251);
    for (const [layers, count] of pairs) out[layers] = count;
    return out;
  };
  const even = counts(...Array.from({ length: 28 }, (_, i) => [i + 1, 10] as const));
  const codes = (stack = stackOf(3, 4, 4), given = even, least = 3): string[] =>
    findNotices(stack, rampOfStack(stack, FILAMENTS), given, least).map(
      (notice) => notice.code + ('bandIndex' in notice ? ` ${notice.bandIndex}` : ''),
    );

  it('is quiet about a sound plan', () => {
    expect(codes()).to.deep.equal([]);
  });

  it('tells top layers that the picture never uses, once', () => {
    const low = counts(...Array.from({ length: 9 }, (_, i) => [i + 1, 10] as const));
    expect(codes(stackOf(3, 4, 4), low)).to.deep.equal(['unused-top 2']);
    expect(
      findNotices(stackOf(3, 4, 4), rampOfStack(stackOf(3, 4, 4), FILAMENTS), low, 3),
    ).to.deep.include({ code: 'unused-top', bandIndex: 2, layers: 2 });
    // A band that no spot ends in is told as that.
    const lower = counts(...Array.from({ length: 7 }, (_, i) => [i + 1, 10] as const));
    expect(codes(stackOf(3, 4, 4), lower)).to.deep.equal(['unused-band 2']);
  });

  it('tells layers that change nothing, but not those every spot needs', () => {
    const stack = stackOf(14, 4, 4);
    expect(codes(stack)).to.deep.equal(['idle-layers 0']);
    const ramp = rampOfStack(stack, FILAMENTS);
    const idle = idleLayers(stack, ramp, 3)[0] ?? 0;
    expect(ramp[14 - idle - 1]?.cover).to.be.at.least(0.95);
    expect(idleLayers(stack, ramp, 14)[0]).to.equal(0);
  });

  it('tells bands nobody sees, neighbours of one filament, and pictures without heights', () => {
    const onlyLow = counts([3, 5], [4, 5], [5, 5], [6, 5]);
    expect(codes(stackOf(3, 4, 4), onlyLow)).to.deep.equal(['unused-band 2']);
    const twice = {
      ...stackOf(4, 4),
      bands: stackOf(4, 4).bands.map((b) => ({ ...b, filamentId: 'rust' })),
    };
    expect(codes(twice)).to.include('same-neighbours 1');
    expect(codes(stackOf(3), counts([3, 9]))).to.deep.equal(['no-room']);
    expect(codes(stackOf(8), counts([3, 9], [8, 9]))).to.include('few-heights');
    expect(codes(stackOf(4, 4), counts([0, 9]))).to.deep.equal(['nothing-printed']);
  });

  it('tells a base that is seen through, tints, dark over light, and a picture squeezed together', () => {
    expect(codes(stackOf(1, 4, 4))).to.include('thin-base 0');
    const lightFirst = (dark: number): ReturnType<typeof stackOf> => ({
      ...stackOf(3),
      bands: [
        { filamentId: 'ivory', layers: 14 },
        { filamentId: 'soot', layers: dark },
      ],
    });
    const inDark = counts([12, 10], [14, 20], [18, 50], [20, 150], [21, 60]);
    expect(codes(lightFirst(8), inDark)).to.include('dark-hides 1');
    expect(codes(lightFirst(8), counts([12, 200], [13, 100], [14, 90], [22, 10]))).not.to.include(
      'dark-hides 1',
    );
    expect(codes(lightFirst(1))).not.to.include('dark-hides 1');
    const ivory = FILAMENTS.ivory ?? expect.fail();
    const table = { ...FILAMENTS, haze: { ...ivory, id: 'haze', transmissionMm: 60 } };
    const haze = {
      ...stackOf(3),
      bands: [
        { filamentId: 'ivory', layers: 30 },
        { filamentId: 'haze', layers: 1 },
        { filamentId: 'rust', layers: 5 },
      ],
    };
    const found = findNotices(haze, rampOfStack(haze, table), even, 3);
    expect(found.map(({ code }) => code)).to.include('never-shows');
    expect(codes(stackOf(3, 4, 4), counts([4, 5], [7, 300], [8, 300], [9, 300]))).to.include(
      'squeezed',
    );
  });
});
