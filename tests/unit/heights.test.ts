import { expect } from 'chai';
import { Cancelled } from '#core/base/checkpoint.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import { brightnessHistogram, measureBrightness, NO_BRIGHTNESS } from '#core/artwork/brightness.ts';
import { sampleArtwork } from '#core/artwork/sample-artwork.ts';
import { meanColourError } from '#core/heights/colour-error.ts';
import { countHeights, packColour, paintPrint, paletteOf } from '#core/heights/height-map.ts';
import { fitTone, PLAIN_TONE, tidyTone, toneHeights, tonePosition } from '#core/heights/tone.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { FILAMENTS, stackOf } from '../helpers/stacks.ts';

function picture(
  width: number,
  ...pixels: readonly (readonly [number, number, number, number])[]
): RgbaRaster {
  return { width, height: pixels.length / width, data: Uint8ClampedArray.from(pixels.flat()) };
}

const grey = (byte: number, alpha = 255) => [byte, byte, byte, alpha] as const;

describe('sampling artwork', () => {
  it('averages in linear light: half black, half white is 188, not 128', () => {
    const out = sampleArtwork(picture(2, grey(0), grey(255)), 1, 1);
    expect([...out.data]).to.deep.equal([188, 188, 188, 255]);
  });

  it('does not let the colour of transparent pixels bleed in', () => {
    const out = sampleArtwork(picture(2, grey(200), [255, 0, 0, 0]), 1, 1);
    expect([...out.data]).to.deep.equal([200, 200, 200, 255]);
  });

  it('prints a sample from half coverage on, and cuts it away below', () => {
    const half = sampleArtwork(picture(2, grey(9), grey(9, 2)), 1, 1);
    const less = sampleArtwork(picture(4, grey(9), grey(9, 0), grey(9, 0), grey(9, 120)), 1, 1);
    expect(half.data[3]).to.equal(255);
    expect(less.data[3]).to.equal(0);
  });

  it('keeps a picture of the right size as it is, and spreads a smaller one', () => {
    const source = picture(2, grey(10), grey(90), grey(200), grey(250));
    expect([...sampleArtwork(source, 2, 2).data]).to.deep.equal([...source.data]);
    const out = sampleArtwork(source, 4, 4);
    expect([0, 1, 2, 3].map((x) => out.data[x * 4])).to.deep.equal([10, 10, 90, 90]);
  });

  it('handles a factor that is not whole, without losing light', () => {
    const source = picture(3, grey(0), grey(255), grey(0));
    const out = sampleArtwork(source, 2, 1);
    expect(out.data[0]).to.equal(out.data[4]);
    // A third of the light in each half: linear 1/3 is sRGB 156.
    expect(out.data[0]).to.equal(156);
  });

  it('stops when it is cancelled', () => {
    const source = picture(1, ...Array.from({ length: 64 }, () => grey(7)));
    expect(() =>
      sampleArtwork(source, 3, 33, (fraction) => {
        if (fraction > 0.4) throw new Cancelled();
      }),
    ).to.throw(Cancelled);
  });
});

describe('tone', () => {
  const shades = picture(5, grey(0), grey(118), grey(119), grey(255), grey(99, 0));
  const brightness = measureBrightness(shades);

  it('measures brightness as L*, and marks what is cut away', () => {
    expect(brightness.data[0]).to.equal(0);
    expect(brightness.data[3]).to.equal(4095);
    // sRGB 119 is L* 50.03 (worked out with CIE 15 and IEC 61966-2-1).
    expect((brightness.data[2] as number) / 40.95).to.be.closeTo(50.03, 0.02);
    expect(brightness.data[4]).to.equal(NO_BRIGHTNESS);
    expect(brightnessHistogram(brightness).reduce((a, b) => a + b)).to.equal(4);
  });

  it('puts dark low and light high, from the least height to the whole stack', () => {
    expect([...toneHeights(brightness, PLAIN_TONE, 20).data]).to.deep.equal([3, 11, 12, 20, 0]);
  });

  it('reversed puts light low', () => {
    const heights = toneHeights(brightness, { ...PLAIN_TONE, reversed: true }, 20).data;
    expect([heights[0], heights[3], heights[4]]).to.deep.equal([20, 3, 0]);
  });

  it('goes through the points: black is 0, the midpoint one half, white 1', () => {
    const rule = { ...PLAIN_TONE, blackPoint: 10, midpoint: 30, whitePoint: 90 };
    expect([5, 10, 30, 90, 99].map((l) => Number(tonePosition(rule, l).toFixed(9)))).to.deep.equal([
      0, 0, 0.5, 1, 1,
    ]);
  });

  it('works on a stack no taller than the least height', () => {
    expect([...toneHeights(brightness, PLAIN_TONE, 2).data]).to.deep.equal([2, 2, 2, 2, 0]);
  });

  it('fits its points to the picture, and keeps the plain rule for one brightness or none', () => {
    const histogram = new Uint32Array(4096);
    histogram.fill(10, 819, 2458);
    const rule = fitTone(histogram);
    expect(rule.blackPoint).to.be.closeTo(20, 1);
    expect(rule.whitePoint).to.be.closeTo(60, 1);
    expect(fitTone(new Uint32Array(4096))).to.deep.equal(PLAIN_TONE);
    expect(fitTone(brightnessHistogram(measureBrightness(picture(1, grey(80)))))).to.deep.equal(
      PLAIN_TONE,
    );
  });

  it('keeps points in order', () => {
    expect(tidyTone({ ...PLAIN_TONE, blackPoint: 70, midpoint: 20, whitePoint: 60 })).to.include({
      blackPoint: 70,
      midpoint: 71,
      whitePoint: 72,
    });
  });
});

describe('painting', () => {
  const stack = stackOf(4, 4, 4);
  const ramp = rampOfStack(stack, FILAMENTS);

  it('gives every height its ramp colour, transparent where nothing is printed, the top colour above the stack', () => {
    const print = paintPrint({ width: 3, height: 1, data: Uint8Array.of(0, 5, 200) }, ramp);
    expect([...print.data.slice(0, 4)]).to.deep.equal([0, 0, 0, 0]);
    expect([...print.data.slice(4, 8)]).to.deep.equal([...(ramp[4]?.colour ?? []), 255]);
    expect([...print.data.slice(8)]).to.deep.equal([...(ramp[11]?.colour ?? []), 255]);
    expect(paletteOf(ramp)[1]).to.equal(packColour(ramp[0]?.colour ?? [0, 0, 0]));
  });

  it('counts heights', () => {
    const counts = countHeights({ width: 4, height: 1, data: Uint8Array.of(0, 3, 3, 9) });
    expect([counts[0], counts[3], counts[9]]).to.deep.equal([1, 2, 1]);
  });

  it('the colour error of a print of its own colours is only rounding; of something else it is large', () => {
    const heights = { width: 3, height: 1, data: Uint8Array.of(2, 7, 0) };
    const own = paintPrint(heights, ramp);
    expect(meanColourError(own, heights, ramp, 0.2)).to.be.lessThan(0.5);
    expect(
      meanColourError(picture(3, grey(255), grey(255), grey(0)), heights, ramp, 0.2),
    ).to.be.greaterThan(20);
    expect(
      meanColourError(own, { width: 3, height: 1, data: new Uint8Array(3) }, ramp, 0.2),
    ).to.equal(undefined);
  });
});
