import { expect } from 'chai';
import { blurPlane } from '#core/base/blur.ts';
import { differenceOf } from '#core/heights/difference.ts';
import { paintPrint } from '#core/heights/height-map.ts';
import {
  againstSpread,
  linearFromFront,
  paintSeen,
  spreadLight,
} from '#core/heights/spread-print.ts';
import { gaussiansOfSpread } from '#core/optics/spread.ts';
import { meanSpreadMm } from '#core/stack/filament.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { planningFilaments, readStoredRack } from '../../src/state/rack-store.ts';
import { demoFilament } from '../helpers/wedges.ts';

const GRID = { firstLayerMm: 0.16, layerMm: 0.08 };
const BANDS = [
  { filamentId: 'soot', layers: 4 },
  { filamentId: 'milk', layers: 12 },
];

function rampWith(spreadMm: number | undefined) {
  const table = Object.fromEntries(
    ['soot', 'milk'].map((id) => [id, { ...demoFilament(id), spreadMm }]),
  );
  return rampOfStack({ grid: GRID, bands: BANDS }, table);
}

/** Left half black, right half white. */
function edge(width: number, height: number) {
  return {
    width,
    height,
    data: Uint8Array.from({ length: width * height }, (_, i) => (i % width < width / 2 ? 4 : 16)),
  };
}

describe('light that goes sideways', () => {
  it('a blur keeps all light that stays within, narrow and wide', () => {
    for (const deviation of [0, 0.8, 1.3, 4.9, 5.1, 12.7]) {
      const plane = new Float32Array(161 * 121);
      plane[60 * 161 + 80] = 1000;
      const out = blurPlane(plane, 161, 121, deviation);
      const sum = out.reduce((total, one) => total + one, 0);
      expect(sum, `deviation ${deviation}`).to.be.closeTo(1000, 3);
      let variance = 0;
      out.forEach((value, i) => (variance += value * ((i % 161) - 80) ** 2));
      expect(Math.sqrt(variance / sum), `deviation ${deviation}`).to.be.closeTo(
        deviation,
        0.02 * deviation + 0.02,
      );
    }
  });

  it('wide blurs go over into narrow ones, and what is blurred over an end is lost', () => {
    const plane = Float32Array.from({ length: 60 * 50 }, (_, i) => ((i * 7919) % 101) / 101);
    const [narrow, wide] = [4.999, 5].map((deviation) => blurPlane(plane, 60, 50, deviation));
    narrow?.forEach((value, i) => {
      expect(value).to.be.closeTo(wide?.[i] ?? Number.NaN, 0.006);
    });
  });

  /*
   * Source: the modulation transfer of exp(-r / d) / (2 pi d r) is 1 / sqrt(1 + (k d)^2): table of Hankel transforms in R. N. Bracewell,
   * "The Fourier Transform and Its Applications", chapter 12 (exp(-ar)/r and 2 pi / sqrt(4 pi^2 q^2 + a^2)).
   */
  it('the parts have the modulation transfer of the point spread', () => {
    const parts = gaussiansOfSpread(0.5);
    expect(parts.reduce((sum, { share }) => sum + share, 0)).to.be.closeTo(1, 1e-9);
    for (const cyclesPerMm of [0.02, 0.1, 0.25, 0.4]) {
      const k = 2 * Math.PI * cyclesPerMm;
      const left = parts.reduce(
        (sum, { share, deviation }) => sum + share * Math.exp(-0.5 * (k * deviation) ** 2),
        0,
      );
      expect(left, `${cyclesPerMm} / mm`).to.be.closeTo(1 / Math.hypot(1, k * 0.5), 0.01);
    }
  });

  it('what is printed comes near the point spread itself, summed ring by ring', () => {
    // A white half-plane: its edge is the integral of the line spread, K0(x / d) / (pi d), summed here from the point spread.
    const [d, sampleMm, width] = [0.6, 0.1, 121];
    const ramp = rampWith(d);
    const [red] = spreadLight(edge(width, 201), linearFromFront(ramp), ramp, sampleMm);
    const colours = linearFromFront(ramp);
    const [black, white] = [colours[4]?.[0] ?? 0, colours[16]?.[0] ?? 0];
    const shareBeyond = (x: number): number => {
      // Half of all directions lead over the edge at x: those with r cos(angle) > x.
      let sum = 0;
      for (let r = 0.0005; r < 40 * d; r += 0.001) {
        const ring = (Math.exp(-r / d) / d) * 0.001;
        sum += ring * (r > x ? Math.acos(x / r) / Math.PI : 0);
      }
      return sum;
    };
    for (const steps of [1, 3, 6, 12, 20]) {
      // Middles of samples left of the edge, which lies between samples 59 and 60 at 60.5 - 0.5.
      const x = (steps - 0.5) * sampleMm;
      const at = 100 * width + Math.round(width / 2) - steps;
      const share = ((red[at] ?? 0) - black) / (white - black);
      expect(share, `${x.toFixed(2)} mm`).to.be.closeTo(shareBeyond(x), 0.03);
    }
  });

  it('no spread changes nothing, and level faces stay as they are with one', () => {
    const map = edge(40, 30);
    const straight = rampWith(undefined);
    expect(paintSeen(map, straight, 0.2)).to.deep.equal(paintPrint(map, straight));
    const level = { ...map, data: map.data.map(() => 9) };
    const wide = rampWith(0.7);
    const [seen, sharp] = [paintSeen(level, wide, 0.2), paintPrint(level, wide)];
    seen.data.forEach((byte, i) => {
      expect(Math.abs(byte - (sharp.data[i] ?? 0))).to.be.at.most(1);
    });
  });

  it('cut away is cut away: nothing shines in from there', () => {
    const map = { width: 5, height: 1, data: Uint8Array.of(0, 16, 16, 16, 0) };
    const ramp = rampWith(1);
    const seen = paintSeen(map, ramp, 0.2);
    expect([seen.data[3], seen.data[19]]).to.deep.equal([0, 0]);
    expect(Math.abs((seen.data[8] ?? 0) - (ramp[15]?.colour[0] ?? 0))).to.be.at.most(1);
  });

  it('the difference grows by what is softened, and a picture sharpened against it has more contrast', () => {
    const map = {
      width: 64,
      height: 64,
      data: Uint8Array.from({ length: 4096 }, (_, i) => (((i >> 2) + (i >> 8)) % 2 ? 5 : 9)),
    };
    const art = paintPrint(map, rampWith(undefined));
    const sharp = differenceOf(art, map, rampWith(undefined), 0.2)?.mean ?? Number.NaN;
    const soft = differenceOf(art, map, rampWith(0.4), 0.2)?.mean ?? Number.NaN;
    expect(sharp).to.be.below(0.5);
    expect(soft).to.be.above(2);
    const contrast = (data: ArrayLike<number>): number => {
      let [low, high] = [255, 0];
      for (let i = 0; i < data.length; i += 4) {
        low = Math.min(low, data[i] ?? 0);
        high = Math.max(high, data[i] ?? 0);
      }
      return high - low;
    };
    expect(contrast(againstSpread(art, 0.4, 0.2).data)).to.be.above(contrast(art.data));
    expect(againstSpread(art, 0, 0.2)).to.equal(art);
  });

  it('each filament has its own reach: a sharp one beside a wide one stays sharp', () => {
    const table = {
      soot: { ...demoFilament('soot'), spreadMm: 0 },
      milk: { ...demoFilament('milk'), spreadMm: 1 },
    };
    const ramp = rampOfStack({ grid: GRID, bands: BANDS }, table);
    const map = edge(40, 20);
    const colours = linearFromFront(ramp);
    const [red] = spreadLight(map, colours, ramp, 0.2);
    expect(red[10 * 40 + 19]).to.be.closeTo(colours[4]?.[0] ?? 0, 1e-6);
    expect(red[10 * 40 + 20]).to.be.below(0.9 * (colours[16]?.[0] ?? 0));
  });

  it('the rack fills in what a filament does not say, and nothing where it says nothing itself', () => {
    const own = { ...demoFilament('milk'), spreadMm: 0.9 };
    const rack = { filaments: [demoFilament('soot'), own], tuning: 1 };
    expect(planningFilaments(rack).map(({ spreadMm }) => spreadMm)).to.deep.equal([undefined, 0.9]);
    const told = planningFilaments({ ...rack, spreadMm: 0.5 });
    expect(told.map(({ spreadMm }) => spreadMm)).to.deep.equal([0.5, 0.9]);
    expect(meanSpreadMm(told)).to.be.closeTo(0.7, 1e-12);
    expect(meanSpreadMm([])).to.equal(0);
    expect(readStoredRack({ ...rack, spreadMm: 0.5 })?.spreadMm).to.equal(0.5);
    expect(readStoredRack({ ...rack, spreadMm: 50 })?.spreadMm).to.equal(undefined);
  });
});
