import computerVision from '@techstark/opencv-js';
import { expect } from 'chai';
import type { RgbaRaster } from '#core/base/raster.ts';
import { FIRST_SETTINGS, type BrushLine, type PixelBox } from '#core/edit/artwork-edit.ts';
import { cutOutSubject, fitsPlain, proposeBox } from '#core/edit/cutout/cut-out.ts';
import { signedDistances } from '#core/edit/distance.ts';
import {
  alphaError,
  boxAround,
  compose,
  overlap,
  picture,
  shrink,
  type Scene,
} from '../helpers/scenes.ts';

const still = (): void => undefined;

/** What is used of the library; its own types say `any` where numbers are. */
interface Picture {
  readonly data: Uint8Array;
  readonly data32F: Float32Array;
  delete(): void;
}
type Place = object;
interface Vision {
  onRuntimeInitialized: () => void;
  readonly CV_8UC1: number;
  readonly CV_8UC4: number;
  readonly COLOR_RGBA2RGB: number;
  readonly GC_INIT_WITH_RECT: number;
  readonly GC_INIT_WITH_MASK: number;
  readonly GC_FGD: number;
  readonly GC_BGD: number;
  readonly DIST_L2: number;
  readonly DIST_MASK_PRECISE: number;
  readonly Mat?: new () => Picture;
  readonly Rect: new (left: number, top: number, width: number, height: number) => Place;
  readonly Point: new (x: number, y: number) => Place;
  readonly Scalar: new (value: number) => Place;
  matFromArray(rows: number, columns: number, type: number, values: readonly number[]): Picture;
  cvtColor(from: Picture, to: Picture, code: number): void;
  grabCut(
    picture: Picture,
    mask: Picture,
    box: Place,
    back: Picture,
    fore: Picture,
    rounds: number,
    mode: number,
  ): void;
  circle(mask: Picture, middle: Place, radius: number, value: Place, thickness: number): void;
  distanceTransform(from: Picture, to: Picture, kind: number, mask: number): void;
}
const cv = computerVision as unknown as Vision;

describe('cut-outs of scenes with known alpha', function () {
  let scenes: readonly Scene[] = [];
  let plain: Scene;
  before(async () => {
    // Its parts are there once it has been compiled, which may be over before this is asked. It has a `then` that gives itself:
    // awaiting it would never end.
    if (!cv.Mat)
      await new Promise<void>((resolve) => {
        cv.onRuntimeInitialized = resolve;
      });
    const flower = await picture('s23_daffodil_lossless.webp');
    const [cat, coffee] = [await picture('s24_cat.webp'), await picture('s25_coffee.avif')];
    const over = (ground: { width: number; height: number; data: ArrayLike<number> }) => {
      const small = shrink(ground as never, 480, 360);
      return compose(
        flower,
        (x, y) => Array.from(small.data.subarray(4 * (y * 480 + x), 4 * (y * 480 + x) + 3)),
        480,
        360,
        0.85,
      );
    };
    scenes = [over(cat), over(coffee)];
    plain = compose(
      flower,
      (x, y) => [196 + x / 40, 204 - y / 60, 212 + ((7 * x + 13 * y) % 5)],
      480,
      360,
      0.85,
    );
  });

  it('a plain background is seen by itself, and a busy one is not taken for one', () => {
    expect(fitsPlain(plain.raster).plain).to.equal(true);
    for (const { raster } of scenes) expect(fitsPlain(raster).plain).to.equal(false);
  });

  it('a plain background goes to the edge', () => {
    const cut = cutOutSubject(
      plain.raster,
      { ...FIRST_SETTINGS.cutout, way: 'plain' },
      undefined,
      still,
    );
    expect(overlap(plain.alpha, cut)).to.be.at.least(0.97);
    expect(alphaError(plain.alpha, cut)).to.be.below(0.075);
  });

  /** What the library's GrabCut keeps, from a box and dabs: the oracle for our own. */
  function cutByLibrary(
    { raster: { width, height, data } }: Scene,
    box: PixelBox,
    keep: readonly BrushLine[],
    drop: readonly BrushLine[],
  ): RgbaRaster {
    const rgba = cv.matFromArray(height, width, cv.CV_8UC4, Array.from(data));
    const Mat = cv.Mat ?? expect.fail('the library is not ready');
    const rgb = new Mat();
    cv.cvtColor(rgba, rgb, cv.COLOR_RGBA2RGB);
    const [mask, back, fore] = [new Mat(), new Mat(), new Mat()];
    const rect = new cv.Rect(box.left, box.top, box.width, box.height);
    cv.grabCut(rgb, mask, rect, back, fore, 5, cv.GC_INIT_WITH_RECT);
    for (const [lines, side] of [
      [keep, cv.GC_FGD],
      [drop, cv.GC_BGD],
    ] as const)
      for (const { radius, points } of lines)
        cv.circle(
          mask,
          new cv.Point(Math.floor(points[0] ?? 0), Math.floor(points[1] ?? 0)),
          radius,
          new cv.Scalar(side),
          -1,
        );
    if (keep.length + drop.length > 0)
      cv.grabCut(rgb, mask, rect, back, fore, 5, cv.GC_INIT_WITH_MASK);
    // Sure and likely ones are odd.
    const kept = Uint8Array.from(mask.data, (side) => side & 1);
    for (const mat of [rgba, rgb, mask, back, fore]) mat.delete();
    const out = new Uint8ClampedArray(data);
    kept.forEach((one, i) => {
      out[4 * i + 3] = 255 * one;
    });
    return { width, height, data: out };
  }

  it('are at least as good as those of a computer-vision library, from the same box and the same dabs', () => {
    const [scene] = scenes;
    if (!scene) throw new Error('no scene');
    const box = boxAround(scene, 8);
    const keep: BrushLine[] = [];
    const drop: BrushLine[] = [];
    for (const dabs of [0, 1, 2]) {
      const theirs = cutByLibrary(scene, box, keep, drop);
      const ours = cutOutSubject(
        scene.raster,
        {
          ...FIRST_SETTINGS.cutout,
          box,
          keep,
          drop,
          smallParts: true,
          edge: 'crisp',
          cleanColours: false,
        },
        undefined,
        still,
      );
      // It finds the subject too, or it would be no measure.
      expect(overlap(scene.alpha, theirs), `library, ${dabs} dabs`).to.be.at.least(0.5);
      expect(overlap(scene.alpha, ours), `${dabs} dabs`).to.be.at.least(
        overlap(scene.alpha, theirs),
      );
      // Dabs lie where the library is wrong, which is to its advantage.
      const wrong = worstPlace(scene, theirs);
      (wrong.missing ? keep : drop).push({ radius: 6, points: [...wrong.points] });
    }
  });

  it('distances are those of the library, to a hundredth of a pixel', () => {
    for (const { alpha, raster } of scenes) {
      const { width, height } = raster;
      const sides = Uint8Array.from(alpha, (one) => (one >= 128 ? 255 : 0));
      const signed = signedDistances(sides, width, height);
      for (const inside of [true, false]) {
        const mask = cv.matFromArray(
          height,
          width,
          cv.CV_8UC1,
          Array.from(sides, (one) => ((one === 255) === inside ? 255 : 0)),
        );
        const out = new (cv.Mat ?? expect.fail('the library is not ready'))();
        cv.distanceTransform(mask, out, cv.DIST_L2, cv.DIST_MASK_PRECISE);
        let worst = 0;
        out.data32F.forEach((truth, i) => {
          if (truth > 0)
            worst = Math.max(worst, Math.abs((inside ? 1 : -1) * (signed[i] ?? 0) + 0.5 - truth));
        });
        expect(worst).to.be.below(0.01);
        mask.delete();
        out.delete();
      }
    }
  });

  it('a box alone, then two strokes and then six', () => {
    const scores = new Map([0, 2, 6].map((strokes) => [strokes, 0]));
    for (const scene of scenes) {
      const settings = {
        ...FIRST_SETTINGS.cutout,
        box: boxAround(scene, 8),
        smallParts: true,
        edge: 'crisp' as const,
        cleanColours: false,
      };
      const keep: { radius: number; points: number[] }[] = [];
      const drop: { radius: number; points: number[] }[] = [];
      for (let stroke = 0; stroke <= 6; stroke += 1) {
        const cut = cutOutSubject(scene.raster, { ...settings, keep, drop }, undefined, still);
        const sum = scores.get(stroke);
        if (sum !== undefined) scores.set(stroke, sum + overlap(scene.alpha, cut) / scenes.length);
        // As a maker does: a dab where most is still wrong.
        const wrong = worstPlace(scene, cut);
        (wrong.missing ? keep : drop).push({ radius: 6, points: wrong.points });
      }
    }
    expect(scores.get(0), 'from a box').to.be.at.least(0.87);
    expect(scores.get(2), 'two strokes').to.be.at.least(0.91);
    expect(scores.get(6), 'six strokes').to.be.at.least(0.96);
  });

  it('clean colours come nearer to the truth than what was seen', async () => {
    const flower = await picture('s23_daffodil_lossless.webp');
    const [scene] = scenes;
    if (!scene) throw new Error('no scene');
    const truth = compose(flower, () => [0, 0, 0], 480, 360, 0.85);
    // With the right alpha, so that only the colours are judged.
    const selected = scene.alpha;
    const off = (clean: boolean): number => {
      const cut = cutOutSubject(
        scene.raster,
        { ...FIRST_SETTINGS.cutout, edge: 'crisp', cleanColours: clean },
        selected,
        still,
      );
      let [sum, count] = [0, 0];
      scene.alpha.forEach((one, i) => {
        const alpha = cut.data[4 * i + 3] ?? 0;
        if (one < 100 || one > 250 || alpha < 60 || alpha > 250) return;
        for (let c = 0; c < 3; c += 1) {
          const lit = (truth.raster.data[4 * i + c] ?? 0) / 255;
          const own = 255 * Math.min(1, (lit ** 2.2 / (one / 255)) ** (1 / 2.2));
          sum += Math.abs(own - (cut.data[4 * i + c] ?? 0));
        }
        count += 3;
      });
      return sum / count;
    };
    expect(off(true)).to.be.below(0.9 * off(false));
  });

  it('a first box holds most of what stands out', () => {
    const box = proposeBox(plain.raster);
    let [held, all] = [0, 0];
    plain.alpha.forEach((one, i) => {
      if (one < 128) return;
      all += 1;
      const [x, y] = [i % 480, Math.floor(i / 480)];
      if (x >= box.left && x < box.left + box.width && y >= box.top && y < box.top + box.height)
        held += 1;
    });
    expect(held / all).to.be.at.least(0.85);
  });
});

/** The middle of the widest part that is still wrong: how a maker strokes. */
function worstPlace(
  { raster: { width, height }, alpha }: Scene,
  cut: { readonly data: ArrayLike<number> },
): { readonly missing: boolean; readonly points: number[] } {
  let best = { missing: true, at: 0, depth: -1 };
  for (const missing of [true, false]) {
    const wrong = Uint8Array.from(alpha, (one, i) => {
      const has = (cut.data[4 * i + 3] ?? 0) >= 128;
      return (missing ? one >= 200 && !has : one <= 50 && has) ? 255 : 0;
    });
    if (!wrong.includes(255)) continue;
    signedDistances(wrong, width, height).forEach((depth, at) => {
      if (depth > best.depth) best = { missing, at, depth };
    });
  }
  return {
    missing: best.missing,
    points: [(best.at % width) + 0.5, Math.floor(best.at / width) + 0.5],
  };
}
