import { expect } from 'chai';
import { converter } from 'culori';
import type { Triple } from '#core/colour/srgb.ts';
import { ciede2000 } from '#core/colour/ciede2000.ts';
import { colourBeforeLamp, rampInRoom } from '#core/heights/lamp.ts';
import {
  adaptToD65,
  daylightOf,
  kelvinOf,
  LED_KELVIN,
  LIGHT_KINDS,
  mixOfWhites,
  weightsUnder,
  whiteOf,
} from '#core/optics/lights.ts';
import {
  BIN_COUNT,
  DAYLIGHT,
  LINEAR_WEIGHTS,
  linearOfSpectrum,
} from '#core/optics/spectral-bins.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { demoFilament } from '../helpers/wedges.ts';

const xy = ([x, y, z]: Triple): readonly [number, number] => [x / (x + y + z), y / (x + y + z)];

describe('lights', () => {
  /** Source of the chromaticities: CIE 015:2018, table T.3 (2 degree observer). */
  it('have the chromaticities of the standard', () => {
    for (const [kind, x, y] of [
      ['d65', 0.31272, 0.32903],
      ['d50', 0.34567, 0.35851],
      ['a', 0.44758, 0.40745],
    ] as const) {
      const [ownX, ownY] = xy(whiteOf(kind));
      expect(ownX, kind).to.be.closeTo(x, 0.0012);
      expect(ownY, kind).to.be.closeTo(y, 0.0012);
    }
  });

  it('the components of daylight make the D65 that was typed in apart', () => {
    daylightOf((6500 * 1.4388) / 1.438).forEach((power, i) => {
      expect(power, `${380 + 10 * i} nm`).to.be.closeTo(DAYLIGHT[i] ?? Number.NaN, 0.35);
    });
  });

  it('have the colour temperatures that they are called by', () => {
    expect(kelvinOf(whiteOf('a'))).to.be.closeTo(2856, 15);
    expect(kelvinOf(whiteOf('d50'))).to.be.closeTo(5003, 15);
    expect(kelvinOf(whiteOf('d65'))).to.be.closeTo(6504, 15);
    expect(kelvinOf(whiteOf('led'))).to.be.closeTo(LED_KELVIN, 5);
    // Near the black body: y of 4000 K is 0.3767 on it, by Planck's law and the same observer.
    expect(xy(whiteOf('led'))[1]).to.be.closeTo(0.377, 0.015);
  });

  it('adaptation is that of another library', () => {
    const white50: Triple = [0.3457 / 0.3585, 1, (1 - 0.3457 - 0.3585) / 0.3585];
    const to65 = converter('xyz65');
    for (const [x, y, z] of [
      [0.2, 0.3, 0.1],
      [0.7, 0.6, 0.2],
      [0.05, 0.04, 0.3],
    ] as const) {
      const own = adaptToD65([x, y, z], white50);
      const other = to65({ mode: 'xyz50', x, y, z });
      expect(own[0]).to.be.closeTo(other.x, 3e-4);
      expect(own[1]).to.be.closeTo(other.y, 3e-4);
      expect(own[2]).to.be.closeTo(other.z, 3e-4);
    }
  });

  it('a grey stays the same grey in each of them, to an eye that is adapted', () => {
    const grey = new Float64Array(BIN_COUNT).fill(0.4);
    for (const kind of LIGHT_KINDS)
      for (const value of linearOfSpectrum(grey, 0, weightsUnder(kind, whiteOf(kind))))
        expect(value, kind).to.be.closeTo(0.4, 1e-6);
    expect(weightsUnder('d65', mixOfWhites(['d65', 1], ['d65', 0.3]))).to.equal(LINEAR_WEIGHTS);
  });
});

describe('a print in other light', () => {
  const ids = ['soot', 'rust', 'tangerine', 'milk'] as const;
  const filaments = Object.fromEntries(ids.map((id) => [id, demoFilament(id)]));
  const bands = ids.map((filamentId) => ({ filamentId, layers: 5 }));
  const ramp = rampOfStack({ grid: { firstLayerMm: 0.16, layerMm: 0.08 }, bands }, filaments);

  it('daylight is how it was; a warm bulb moves colours by a few units, most of all saturated ones', () => {
    expect(rampInRoom(ramp, 'd65')).to.equal(ramp);
    const moved = (kind: (typeof LIGHT_KINDS)[number]): number[] =>
      rampInRoom(ramp, kind).map(({ lab }, i) => ciede2000(lab, ramp[i]?.lab ?? [0, 0, 0]));
    const mean = (values: readonly number[]): number =>
      values.reduce((sum, one) => sum + one, 0) / values.length;
    expect(mean(moved('a'))).to.be.within(1, 8);
    expect(mean(moved('d50'))).to.be.within(0.1, mean(moved('a')));
    expect(Math.max(...moved('a').slice(5, 15))).to.be.above(moved('a')[19] ?? 0);
  });

  it('a warm lamp alone is white, and warm beside daylight', () => {
    const all = { behind: new Float64Array(BIN_COUNT).fill(1), front: new Float64Array(BIN_COUNT) };
    const alone = colourBeforeLamp(all, { lamp: 0.5, room: 0, lampKind: 'a' });
    expect(Math.max(...alone) - Math.min(...alone)).to.be.at.most(1);
    const [red, green, blue] = colourBeforeLamp(all, { lamp: 0.5, room: 1, lampKind: 'a' });
    expect(red).to.be.above(green);
    expect(green).to.be.above(blue);
    const inWarm = { behind: new Float64Array(BIN_COUNT), front: all.behind };
    const [, , cool] = colourBeforeLamp(inWarm, { lamp: 1, room: 0.3, lampKind: 'a' });
    const [warm] = colourBeforeLamp(inWarm, { lamp: 1, room: 0.3, lampKind: 'a' });
    expect(cool).to.be.above(warm);
  });
});
