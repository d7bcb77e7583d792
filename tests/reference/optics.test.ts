import { expect } from 'chai';
import { labOfLinear } from '#core/colour/lab.ts';
import { ciede2000 } from '#core/colour/ciede2000.ts';
import { linearOfBytes, parseHex, type Triple } from '#core/colour/srgb.ts';
import {
  contrastRatio,
  HIDING_CONTRAST,
  lightThrough,
  solveFilamentOptics,
  transmissionIn,
} from '#core/optics/filament-optics.ts';
import {
  decayOf,
  reflectanceAlone,
  reflectanceOver,
  transmittanceOf,
} from '#core/optics/kubelka-munk.ts';
import { computeRamp } from '#core/optics/ramp.ts';
import { reflectanceOfColour } from '#core/optics/reflectance-of-colour.ts';
import { linearOfSpectrum, TABLE_WHITE } from '#core/optics/spectral-bins.ts';
import { column, readTable } from '../helpers/csv.ts';

/** R_inf from the ratio K/S: Kubelka and Munk (1931). */
function opaqueOf(absorb: number, scatter: number): number {
  const ratio = absorb / scatter;
  return 1 + ratio - Math.sqrt(ratio * ratio + 2 * ratio);
}

/**
 * The two-flux equations integrated step by step (fourth-order Runge-Kutta), with no closed form in sight:
 * dR/dx = S - 2 (K + S) R + S R^2, and the transmitted share by dT/dx = T (S R - K - S).
 */
function integrate(absorb: number, scatter: number, thickness: number, ground: number) {
  const steps = 4000;
  const h = thickness / steps;
  const slopeR = (r: number): number => scatter - 2 * (absorb + scatter) * r + scatter * r * r;
  const slopeT = (r: number): number => scatter * r - absorb - scatter;
  let r = ground;
  let free = 0;
  let logT = 0;
  for (let i = 0; i < steps; i += 1) {
    const step = (value: number): number => {
      const k1 = slopeR(value);
      const k2 = slopeR(value + (h / 2) * k1);
      const k3 = slopeR(value + (h / 2) * k2);
      const k4 = slopeR(value + h * k3);
      return value + (h / 6) * (k1 + 2 * k2 + 2 * k3 + k4);
    };
    const next = step(free);
    const middle = (free + next) / 2 - (h / 8) * (slopeR(next) - slopeR(free));
    logT += (h / 6) * (slopeT(free) + 4 * slopeT(middle) + slopeT(next));
    free = next;
    r = step(r);
  }
  return { over: r, alone: free, through: Math.exp(logT) };
}

describe('optics against theory and standards', () => {
  it('Kubelka-Munk: the 40-digit table, wherever there is absorption', () => {
    let compared = 0;
    for (const row of readTable('kubelka_munk.csv')) {
      const absorb = column(row, 'K');
      const scatter = column(row, 'S');
      // Without absorption R_inf is 1, and without scattering 0: outside the model's 0.004..0.985.
      if (absorb === 0 || scatter === 0) continue;
      const opaque = opaqueOf(absorb, scatter);
      const decay = decayOf(opaque, scatter, column(row, 'thickness'));
      expect(reflectanceOver(column(row, 'R_background'), opaque, decay)).to.be.closeTo(
        column(row, 'R_total'),
        1e-9,
      );
      expect(reflectanceAlone(opaque, decay)).to.be.closeTo(column(row, 'R0_over_black'), 1e-9);
      expect(transmittanceOf(opaque, decay)).to.be.closeTo(column(row, 'T_layer'), 1e-9);
      compared += 1;
    }
    expect(compared).to.be.greaterThan(100);
  });

  it('Kubelka-Munk: R_infinity of the published ratios K/S', () => {
    for (const row of readTable('kubelka_munk_r_infinity.csv')) {
      const wanted = column(row, 'R_infinity');
      expect(opaqueOf(column(row, 'K_over_S'), 1)).to.be.closeTo(wanted, 1e-9);
      expect(reflectanceOver(0.3, wanted, decayOf(wanted, 1, 1e5))).to.be.closeTo(wanted, 1e-9);
    }
  });

  it('Kubelka-Munk: closed form equals the integrated two-flux equations', () => {
    for (const [absorb, scatter, thickness, ground] of [
      [0.1, 2, 0.5, 0.8],
      [3, 1, 0.3, 0],
      [0.01, 5, 1, 0.3],
      [10, 0.2, 0.2, 0.9],
    ] as const) {
      const opaque = opaqueOf(absorb, scatter);
      const decay = decayOf(opaque, scatter, thickness);
      const numeric = integrate(absorb, scatter, thickness, ground);
      expect(reflectanceOver(ground, opaque, decay)).to.be.closeTo(numeric.over, 1e-8);
      expect(reflectanceAlone(opaque, decay)).to.be.closeTo(numeric.alone, 1e-8);
      expect(transmittanceOf(opaque, decay)).to.be.closeTo(numeric.through, 1e-7);
    }
  });

  it('two layers piled up equal one of the summed thickness, seen and lit from behind', () => {
    const optics = solveFilamentOptics([190, 90, 40], 2.4);
    const ply = (thicknessMm: number) => ({ optics, thicknessMm, bandIndex: 0 });
    const piled = computeRamp([ply(0.13), ply(0.27)], 0.4)[1];
    const single = computeRamp([ply(0.4)], 0.4)[0];
    piled?.lab.forEach((value, i) =>
      expect(value).to.be.closeTo(single?.lab[i] ?? Number.NaN, 1e-9),
    );
    expect(piled?.lamp).to.deep.equal(single?.lamp);
  });

  it('a filament at its transmission has contrast ratio 0.98 (ISO 6504-3, ASTM D2805)', () => {
    for (const colour of ['#101010', '#f4f1e8', '#c02030', '#1f6fb0', '#e9b800', '#20604a']) {
      for (const transmissionMm of [0.3, 1.4, 6, 14]) {
        const { opaque, scatterPerMm } = solveFilamentOptics(
          parseHex(colour) as Triple,
          transmissionMm,
        );
        expect(contrastRatio(opaque, scatterPerMm, transmissionMm)).to.be.closeTo(
          HIDING_CONTRAST,
          1e-9,
        );
      }
    }
  });

  it('a light-through value lets just that share through, and reads 1 to 3.5 times the hiding value', () => {
    for (const colour of ['#f4f1e8', '#c02030', '#1f6fb0', '#e9b800', '#303438']) {
      const basis = { kind: 'light-through', threshold: 0.01 } as const;
      const optics = solveFilamentOptics(parseHex(colour) as Triple, 5, basis);
      expect(lightThrough(optics.opaque, optics.scatterPerMm, 5)).to.be.closeTo(0.01, 1e-9);
      const hidingMm = transmissionIn(optics, { kind: 'hiding' });
      expect(5 / hidingMm).to.be.within(0.95, 4);
    }
  });

  it('observer and daylight tables give the white of D65: x = 0.31272, y = 0.32903 (CIE 015:2018, table 5)', () => {
    const [x, y, z] = TABLE_WHITE;
    const sum = x + y + z;
    // The tables end at 730 nm here; what lies beyond moves the white by less than this.
    expect(x / sum).to.be.closeTo(0.31272, 2e-4);
    expect(y / sum).to.be.closeTo(0.32903, 2e-4);
  });

  it('opaque spectra give back the published chart colours that sRGB holds', () => {
    const inside = readTable('colorchecker24.csv').filter(
      (row) => column(row, 'out_of_srgb_gamut') === 0,
    );
    expect(inside.length).to.be.greaterThan(20);
    for (const row of inside) {
      const linear = linearOfBytes([
        column(row, 'sR255_float'),
        column(row, 'sG255_float'),
        column(row, 'sB255_float'),
      ]);
      const back = linearOfSpectrum(reflectanceOfColour(linear));
      expect(ciede2000(labOfLinear(back), labOfLinear(linear))).to.be.lessThan(0.01);
    }
  });

  it('yellow over blue turns green: common practice, no source', () => {
    const blue = solveFilamentOptics([31, 79, 176], 2);
    const yellow = solveFilamentOptics([245, 208, 32], 5);
    const plies = [
      ...Array.from({ length: 12 }, () => ({ optics: blue, thicknessMm: 0.08, bandIndex: 0 })),
      ...Array.from({ length: 3 }, () => ({ optics: yellow, thicknessMm: 0.08, bandIndex: 1 })),
    ];
    const [red, green, bluePart] = computeRamp(plies)[14]?.colour ?? [0, 0, 0];
    expect(green).to.be.greaterThan(red + 10);
    expect(green).to.be.greaterThan(bluePart + 40);
  });
});
