import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import type { HeightMap } from '#core/base/raster.ts';
import { measureBrightness } from '#core/artwork/brightness.ts';
import { sampleArtwork } from '#core/artwork/sample-artwork.ts';
import { deviationMm, MotionClock } from '#core/gcode/motion-time.ts';
import { MOVE, MOVE_LENGTH } from '#core/gcode/machine.ts';
import { withoutIslands } from '#core/heights/islands.ts';
import { cropHeights } from '#core/heights/height-map.ts';
import { PLAIN_TONE, toneHeights } from '#core/heights/tone.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import { decodePicture } from '../../src/platform/node/decode-picture.ts';
import { laidQuality, made, ownPrint } from '../helpers/own-gcode.ts';
import { fixture } from '../helpers/pictures.ts';

const LAYERS = 24;
/** Points of the fine grid along the side of a sample. */
const FINE = 4;

/** A picture as heights by brightness, islands smaller than a nozzle levelled. */
async function heightsOf(path: string, width: number, height: number): Promise<HeightMap> {
  const picture = await decodePicture(readFileSync(path));
  if (!picture.ok) return expect.fail(picture.fault.code);
  const samples = sampleArtwork(picture.value, width, height);
  const heights = toneHeights(measureBrightness(samples), PLAIN_TONE, LAYERS, 3);
  return cropHeights(partDiagonals(withoutIslands(heights, 4)).heights);
}

const demo = (name: string): string =>
  new URL(`../../demo/art/${name}.png`, import.meta.url).pathname;

/**
 * Pictures of the fixtures (see SOURCES.md there) and of the demo. What is swept is found point by point from the file alone: a line is as
 * wide as its strand fills (conservation of volume), and covers what lies within half of that. Wanted shares: measured designs of the trade,
 * common practice, no source.
 */
describe('what is laid, against the samples of a picture', () => {
  for (const [name, path, columns, rows, sampleMm] of [
    ['a cat', fixture('s24_cat.webp'), 250, 180, 0.2],
    ['the dome', demo('dome-at-dusk'), 250, 166, 0.4],
    ['a badge', demo('dome-badge'), 300, 300, 0.2],
  ] as const)
    it(`${name}: covered, hardly overflowing, and as much plastic as the relief has`, async () => {
      const heights = await heightsOf(path, columns, rows);
      const { own, text } = await made(ownPrint(heights, [6, 6, 6, 6], { sampleMm }));
      expect(own.findings).to.deep.equal([]);
      const laid = laidQuality(heights, text, { sampleMm, layers: LAYERS, fine: FINE });
      expect(laid.over, 'covered').to.be.at.least(0.985);
      expect(laid.worst, 'worst layer').to.be.at.least(0.89);
      expect(laid.beyond, 'overflow').to.be.at.most(0.005);
      expect(laid.plastic, 'plastic').to.be.within(0.99, 1.015);
    });
});

describe('corners and acceleration', () => {
  /** Seconds of two ways of 10 mm at 60 mm/s with a corner of some degrees between them. */
  const cornered = (degrees: number, accelerationMmS2: number, cornerMmS: number): number => {
    const clock = new MotionClock({ accelerationMmS2, cornerMmS });
    const turn = (degrees * Math.PI) / 180;
    const way = (x0: number, y0: number, x1: number, y1: number): void => {
      const move = new Float64Array(MOVE_LENGTH);
      move[MOVE.x0] = x0;
      move[MOVE.y0] = y0;
      move[MOVE.x1] = x1;
      move[MOVE.y1] = y1;
      move[MOVE.planar] = Math.hypot(x1 - x0, y1 - y0);
      move[MOVE.length] = move[MOVE.planar] ?? 0;
      move[MOVE.speed] = 60;
      clock.move(move);
    };
    way(0, 0, 10, 0);
    way(10, 0, 10 + 10 * Math.cos(turn), 10 * Math.sin(turn));
    clock.end();
    return clock.total;
  };
  /** By hand: from rest to 60, down to the corner's speed, up again and to rest; v^2 = u^2 + 2 a s. */
  const byHand = (corner: number, a: number): number => {
    const rise = (60 * 60) / (2 * a);
    const fall = (60 * 60 - corner * corner) / (2 * a);
    return 2 * (60 / a + (60 - corner) / a + (10 - rise - fall) / 60);
  };

  it('a right angle is taken at just the corner speed of the printer, at any acceleration', () => {
    for (const a of [500, 1500, 5000])
      for (const corner of [2, 8, 15])
        expect(cornered(90, a, corner)).to.be.closeTo(byHand(corner, a), 1e-9);
  });

  it('the speed at other angles is that of the circle which leaves the corner by the same way (junction deviation)', () => {
    const [a, corner] = [1500, 8];
    const d = deviationMm({ accelerationMmS2: a, cornerMmS: corner });
    for (const degrees of [30, 60, 120]) {
      // The circle touches both ways and passes the corner at d: r = d s / (1 - s); on it v^2 = a r.
      const s = Math.cos((degrees * Math.PI) / 360);
      const speed = Math.min(60, Math.sqrt((a * d * s) / (1 - s)));
      expect(cornered(degrees, a, corner)).to.be.closeTo(byHand(speed, a), 1e-9);
    }
    expect(deviationMm({ accelerationMmS2: 1500 })).to.equal(0.02);
  });
});
