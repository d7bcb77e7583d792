import { keptSpread } from '#core/wedge/edge-spread.ts';
import { expect } from 'chai';
import { Matrix, solve } from 'ml-matrix';
import { encodeSrgb, linearOfBytes, parseHex, type Triple } from '#core/colour/srgb.ts';
import { transmissionIn, type FilamentOptics } from '#core/optics/filament-optics.ts';
import { BIN_COUNT, LINEAR_WEIGHTS, linearOfSpectrum } from '#core/optics/spectral-bins.ts';
import { colourOverGround, fitWedge, MODEL_SHARE } from '#core/optics/fit-wedge.ts';
import {
  decayOf,
  reflectanceAlone,
  reflectanceOver,
  transmittanceOf,
} from '#core/optics/kubelka-munk.ts';
import { reflectanceOfColour } from '#core/optics/reflectance-of-colour.ts';
import { opticsOf } from '#core/stack/filament.ts';
import { attitudeOf, perspectiveOf, projectPoint, type Quad } from '#core/wedge/straighten.ts';
import {
  DEMO_RACK,
  demoFilament,
  gaussFrom,
  photographWedge,
  suggestedPlan,
} from '../helpers/wedges.ts';

function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[values.length >> 1] ?? Number.NaN;
}

describe('light through piles of layers', () => {
  /**
   * Source: G. G. Stokes, "On the intensity of the light reflected from or transmitted through a pile of plates",
   * Proceedings of the Royal Society 11 (1862), 545-556: for m plates that each reflect r and transmit t,
   * R / (b^m - b^-m) = T / (a - 1/a) = 1 / (a b^m - 1 / (a b^m)), with a and b from one plate.
   */
  function stokes(r: number, t: number, m: number): [number, number] {
    const delta = Math.sqrt((1 + r * r - t * t) ** 2 - 4 * r * r);
    const a = (1 + r * r - t * t + delta) / (2 * r);
    const b = (1 - r * r + t * t + delta) / (2 * t);
    const below = a * b ** m - 1 / (a * b ** m);
    return [(b ** m - b ** -m) / below, (a - 1 / a) / below];
  }

  it('m equal layers reflect and transmit as Stokes worked out for m plates', () => {
    for (const opaque of [0.02, 0.2, 0.6, 0.95])
      for (const scatter of [0.3, 2, 15]) {
        const decay = decayOf(opaque, scatter, 0.08);
        const r = reflectanceAlone(opaque, decay);
        const t = transmittanceOf(opaque, decay);
        let piledR = 0;
        let piledT = 1;
        for (let m = 1; m <= 12; m += 1) {
          piledT = (piledT * t) / (1 - piledR * r);
          piledR = reflectanceOver(piledR, opaque, decay);
          const [wantedR, wantedT] = stokes(r, t, m);
          expect(piledR).to.be.closeTo(wantedR, 1e-12);
          expect(piledT).to.be.closeTo(wantedT, 1e-12);
        }
      }
  });

  it('no layer gives back more light than it gets: R + T <= 1, and equal to 1 only without absorption', () => {
    for (let opaque = 0.004; opaque < 0.99; opaque += 0.03)
      for (const depth of [1e-6, 0.01, 0.3, 2, 50]) {
        const decay = decayOf(opaque, 1, depth);
        const sum = reflectanceAlone(opaque, decay) + transmittanceOf(opaque, decay);
        expect(sum).to.be.at.most(1 + 1e-12);
        expect(sum).to.be.at.least(0);
      }
    const nearlyLossless = decayOf(1 - 1e-9, 3, 0.5);
    const sum =
      reflectanceAlone(1 - 1e-9, nearlyLossless) + transmittanceOf(1 - 1e-9, nearlyLossless);
    expect(sum).to.be.closeTo(1, 1e-6);
  });

  it('limits: no layer changes nothing, an endless one shows only itself, a clear one lets all through', () => {
    for (const opaque of [0.004, 0.3, 0.985]) {
      expect(reflectanceOver(0.42, opaque, decayOf(opaque, 5, 0))).to.be.closeTo(0.42, 1e-12);
      expect(transmittanceOf(opaque, decayOf(opaque, 5, 0))).to.be.closeTo(1, 1e-12);
      expect(reflectanceOver(0.42, opaque, decayOf(opaque, 5, 1e6))).to.be.closeTo(opaque, 1e-12);
      expect(transmittanceOf(opaque, decayOf(opaque, 5, 1e6))).to.be.closeTo(0, 1e-12);
      expect(transmittanceOf(opaque, decayOf(opaque, 1e-12, 1))).to.be.closeTo(1, 1e-6);
    }
  });
});

describe('straightening', () => {
  it('the perspective map is that of the eight linear equations of its corners, solved by ml-matrix', () => {
    const quad: Quad = [
      { x: 307, y: 233 },
      { x: 938, y: 266 },
      { x: 932, y: 585 },
      { x: 259, y: 528 },
    ];
    const square = [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ] as const;
    const rows: number[][] = [];
    const right: number[] = [];
    square.forEach(([u, v], i) => {
      const { x, y } = quad[i] ?? { x: 0, y: 0 };
      rows.push([u, v, 1, 0, 0, 0, -u * x, -v * x], [0, 0, 0, u, v, 1, -u * y, -v * y]);
      right.push(x, y);
    });
    const wanted = solve(new Matrix(rows), Matrix.columnVector(right)).to1DArray();
    const map = perspectiveOf(quad);
    expect(map).to.not.equal(undefined);
    if (!map) return;
    const { a, b, c, d, e, f, g, h } = map;
    [a, b, c, d, e, f, g, h].forEach((value, i) => {
      expect(value).to.be.closeTo(wanted[i] ?? Number.NaN, 1e-9 * Math.max(1, Math.abs(value)));
    });
    const middle = projectPoint(map, 0.5, 0.5);
    // The diagonals of a quad cross where those of the square do.
    const cross = ({ x, y }: { x: number; y: number }, p: number, q: number): number => {
      const from = quad[p] ?? { x: 0, y: 0 };
      const to = quad[q] ?? { x: 0, y: 0 };
      return (to.x - from.x) * (y - from.y) - (to.y - from.y) * (x - from.x);
    };
    expect(cross(middle, 0, 2)).to.be.closeTo(0, 1e-6);
    expect(cross(middle, 1, 3)).to.be.closeTo(0, 1e-6);
  });

  it('tilt is that of a rectangle turned by a known angle and seen from far away', () => {
    for (const degrees of [0, 12, 25, 40]) {
      const short = 500 * Math.cos((degrees * Math.PI) / 180);
      const map = perspectiveOf([
        { x: 0, y: 0 },
        { x: 1080, y: 0 },
        { x: 1080, y: short },
        { x: 0, y: short },
      ]);
      expect(map && attitudeOf(map, 108, 50).tiltDegrees).to.be.closeTo(degrees, 0.05);
    }
  });
});

describe('step wedges of known filaments', function () {
  this.timeout(300_000);

  it('readings without noise give the filament back to a part in a million', () => {
    for (const filament of DEMO_RACK.slice(0, 8)) {
      const fit = fitWedge(readingOf(filament, 0, 1));
      expect(fit.ok, filament.id).to.equal(true);
      if (!fit.ok) continue;
      const wantedMm = transmissionIn(opticsOf(filament), { kind: 'hiding' });
      expect(fit.value.transmissionMm / wantedMm).to.be.closeTo(1, 1e-6);
      expect(fit.value.colour).to.equal(filament.colour);
    }
  });

  it('readings with a noise of 2 codes a patch: 4 % at the median, and the stated uncertainty is honest', () => {
    const errors: number[] = [];
    const inSigmas: number[] = [];
    DEMO_RACK.forEach((filament, i) => {
      const fit = fitWedge(readingOf(filament, 2, 100 + i));
      if (!fit.ok) throw new Error(`${filament.id}: ${fit.fault.code}`);
      const error =
        fit.value.transmissionMm / transmissionIn(opticsOf(filament), { kind: 'hiding' }) - 1;
      errors.push(Math.abs(error));
      inSigmas.push(Math.abs(error) / fit.value.noiseUncertainty);
      // No photo is surer than the model is; in squares.
      expect(fit.value.uncertainty ** 2).to.be.closeTo(
        fit.value.noiseUncertainty ** 2 + MODEL_SHARE ** 2,
        1e-12,
      );
    });
    expect(median(errors)).to.be.below(0.04);
    // Of normal errors half lie within 0.67 standard errors, and hardly any beyond 4.
    expect(median(inSigmas)).to.be.within(0.3, 1.4);
    expect(Math.max(...inSigmas)).to.be.below(5);
    const rms = Math.sqrt(inSigmas.reduce((sum, z) => sum + z * z, 0) / inSigmas.length);
    expect(rms, 'z in a world of the model').to.be.within(0.7, 1.4);
  });

  it('is honest too where plastics have other spectra than their colours suggest', () => {
    const inSigmas = [1, 2, 3].flatMap((draw) =>
      DEMO_RACK.map((filament, i) => {
        const own = opticsOf(filament);
        // Less than half of the way to the most unlike spectrum that still has the colour: that much is an assumption.
        const opaque = otherSpectrum(own.opaque, 1000 * draw + i, 0.45);
        linearOfSpectrum(opaque).forEach((value, channel) => {
          expect(value).to.be.closeTo(linearOfSpectrum(own.opaque)[channel] ?? 0, 1e-9);
        });
        const optics = { opaque, scatterPerMm: own.scatterPerMm };
        const fit = fitWedge(readingOf(filament, 2, 77 * draw + i, optics));
        if (!fit.ok) throw new Error(`${filament.id}: ${fit.fault.code}`);
        const { transmissionMm, uncertainty } = fit.value;
        return (transmissionMm / transmissionIn(optics, { kind: 'hiding' }) - 1) / uncertainty;
      }),
    );
    const rms = Math.sqrt(inSigmas.reduce((sum, z) => sum + z * z, 0) / inSigmas.length);
    expect(rms, 'z in a world of other spectra').to.be.within(0.7, 1.3);
  });

  /** A spectrum of the same colour in daylight: with something added that no eye sees, a share of as much as there is room for. */
  function otherSpectrum(own: Float64Array, seed: number, share: number): Float64Array {
    const gauss = gaussFrom(seed);
    const waves = [gauss(), gauss(), gauss(), gauss()];
    const raw = new Matrix([
      Array.from({ length: BIN_COUNT }, (_, bin) =>
        waves.reduce(
          (sum, a, k) => sum + a * Math.cos((Math.PI * (k + 1) * (bin + 0.5)) / BIN_COUNT),
          0,
        ),
      ),
    ]).transpose();
    const rows = new Matrix(
      [0, 1, 2].map((c) => [...LINEAR_WEIGHTS.subarray(c * BIN_COUNT, (c + 1) * BIN_COUNT)]),
    );
    const seen = solve(rows.mmul(rows.transpose()), rows.mmul(raw));
    const added = Matrix.sub(raw, rows.transpose().mmul(seen)).to1DArray();
    const room = Math.min(
      ...added.map((value, bin) =>
        value > 0
          ? (0.97 - (own[bin] ?? 0)) / value
          : value < 0
            ? ((own[bin] ?? 0) - 0.006) / -value
            : Infinity,
      ),
    );
    return own.map((value, bin) => value + share * Math.max(0, room) * (added[bin] ?? 0));
  }

  it('photos with noise of 2 codes and tilt up to 25 degrees: 4 % at the median, none above 15 %, whites and clears included', () => {
    const filaments = DEMO_RACK.filter((_, i) => i % 5 !== 3);
    expect(filaments).to.have.length(24);
    const errors = filaments.map((filament, i) => {
      const read = photographWedge(filament, {
        tiltDegrees: (25 * i) / (filaments.length - 1),
        leanDegrees: 53 * i,
        rollDegrees: (i % 7) * 4 - 12,
        unevenness: 0.1 + 0.03 * (i % 6),
        seed: 40 + i,
      });
      if (!read.ok) throw new Error(`${filament.id}: ${read.fault.code} ${read.fault.where ?? ''}`);
      const fit = fitWedge(read.value.reading);
      if (!fit.ok) throw new Error(`${filament.id}: ${fit.fault.code}`);
      const wantedMm = transmissionIn(opticsOf(filament), { kind: 'hiding' });
      return Math.abs(fit.value.transmissionMm / wantedMm - 1);
    });
    expect(median(errors)).to.be.at.most(0.04);
    expect(Math.max(...errors)).to.be.at.most(0.15);
  });

  /** What an ideal photo of a filament's wedge says, with normal noise on every code. */
  function readingOf(
    filament: (typeof DEMO_RACK)[number],
    noiseCodes: number,
    seed: number,
    optics: Pick<FilamentOptics, 'opaque' | 'scatterPerMm'> = opticsOf(filament),
  ) {
    const gauss = gaussFrom(seed);
    const grounds = { black: '#141519', white: '#f2f1ec' };
    return {
      kind: 'photo' as const,
      date: '2026-05-17',
      grounds,
      patches: (['black', 'white'] as const).flatMap((ground) => {
        const spectrum = reflectanceOfColour(linearOfBytes(parseHex(grounds[ground]) ?? [0, 0, 0]));
        return suggestedPlan(filament).stepsMm.map((thicknessMm) => ({
          ground,
          thicknessMm,
          code: colourOverGround(optics, spectrum, thicknessMm).map((value) =>
            Math.min(
              255,
              Math.max(0, 255 * encodeSrgb(Math.min(1, Math.max(0, value))) + noiseCodes * gauss()),
            ),
          ) as unknown as Triple,
        }));
      }),
    };
  }

  /*
   * The photos are drawn by following rays through the plastic (`demo/draw/wedge-photo.ts`), not by the Gaussians or the table that the
   * reading and the stage use.
   */
  it('how far light goes sideways is read off the rims of the steps', function () {
    this.timeout(120_000);
    for (const [id, spreadMm] of [
      ['milk', 0.5],
      ['rust', 0.3],
      ['tangerine', 0.9],
    ] as const) {
      const read = photographWedge(demoFilament(id), { spreadMm });
      if (!read.ok) throw new Error(read.fault.code);
      const { spread } = read.value;
      expect(spread?.spreadMm, id).to.be.within(0.93 * spreadMm - 0.02, 1.07 * spreadMm + 0.02);
      expect(spread?.uncertaintyMm, id).to.be.below(0.08);
    }
    const sharp = photographWedge(demoFilament('milk'));
    if (!sharp.ok || !sharp.value.spread) throw new Error('no spread');
    expect(keptSpread(sharp.value.spread)).to.equal(0);
    const dark = photographWedge(demoFilament('midnight'), { spreadMm: 0.5 });
    expect(dark.ok && dark.value.spread).to.equal(undefined);
  });
});
