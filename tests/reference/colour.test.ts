import { expect } from 'chai';
import { differenceCiede2000, lab65, oklab, rgb } from 'culori';
import { ciede2000 } from '#core/colour/ciede2000.ts';
import { labOfBytes } from '#core/colour/lab.ts';
import { oklabOfBytes } from '#core/colour/oklab.ts';
import {
  bytesOfLinear,
  decodeSrgb,
  encodeSrgb,
  linearOfBytes,
  type Triple,
} from '#core/colour/srgb.ts';
import { linearOfXyz, xyzOfLinear } from '#core/colour/xyz.ts';
import { column, readTable } from '../helpers/csv.ts';

function triple(row: Record<string, number>, ...names: [string, string, string]): Triple {
  return [column(row, names[0]), column(row, names[1]), column(row, names[2])];
}

function expectClose(actual: Triple, wanted: Triple, tolerance: number): void {
  actual.forEach((value, i) => expect(value).to.be.closeTo(wanted[i] ?? Number.NaN, tolerance));
}

describe('colour against published values', () => {
  it('CIEDE2000: the 34 pairs of Sharma, Wu and Dalal (2005), table 1, both ways round', () => {
    const rows = readTable('ciede2000_sharma.csv');
    expect(rows).to.have.length(34);
    for (const row of rows) {
      const first = triple(row, 'L1', 'a1', 'b1');
      const second = triple(row, 'L2', 'a2', 'b2');
      expect(ciede2000(first, second)).to.be.closeTo(column(row, 'dE00'), 5e-5);
      expect(ciede2000(second, first)).to.be.closeTo(column(row, 'dE00'), 5e-5);
    }
  });

  it('sRGB curve: the values of IEC 61966-2-1 at its joint and ends', () => {
    expect(decodeSrgb(0)).to.equal(0);
    expect(decodeSrgb(1)).to.equal(1);
    expect(decodeSrgb(0.04045)).to.be.closeTo(0.0031308, 1e-7);
    // Code value 0.5 is linear 0.214041 (worked out by hand from the formula in the standard).
    expect(decodeSrgb(0.5)).to.be.closeTo(0.2140411, 1e-7);
    for (let byte = 0; byte < 256; byte += 1)
      expect(encodeSrgb(decodeSrgb(byte / 255))).to.be.closeTo(byte / 255, 1e-7);
  });

  it('linear light, XYZ, CIELAB D65 and Oklab: a table computed with colorjs.io', () => {
    for (const row of readTable('srgb_conversions.csv')) {
      const bytes = triple(row, 'R', 'G', 'B');
      const linear = linearOfBytes(bytes);
      expectClose(linear, triple(row, 'linR', 'linG', 'linB'), 1e-8);
      expectClose(xyzOfLinear(linear), triple(row, 'X65', 'Y65', 'Z65'), 1e-8);
      expectClose(labOfBytes(bytes), triple(row, 'L65', 'a65', 'b65'), 1e-5);
      expectClose(oklabOfBytes(bytes), triple(row, 'okL', 'oka', 'okb'), 2e-6);
      expect(bytesOfLinear(linearOfXyz(xyzOfLinear(linear)))).to.deep.equal(bytes);
    }
  });

  it('CIELAB, Oklab and CIEDE2000 agree with culori over a grid of sRGB', () => {
    const toLab = lab65;
    const difference = differenceCiede2000();
    let previous: Triple = [0, 0, 0];
    for (let code = 0; code < 4096; code += 7) {
      const bytes: Triple = [(code >> 8) * 17, ((code >> 4) & 15) * 17, (code & 15) * 17];
      const theirs = rgb({ mode: 'rgb', r: bytes[0] / 255, g: bytes[1] / 255, b: bytes[2] / 255 });
      const lab = toLab(theirs);
      expectClose(labOfBytes(bytes), [lab.l, lab.a, lab.b], 1e-4);
      const ok = oklab(theirs);
      expectClose(oklabOfBytes(bytes), [ok.l, ok.a, ok.b], 2e-6);
      const mine = labOfBytes(previous);
      const delta = difference(
        { mode: 'lab65', l: mine[0], a: mine[1], b: mine[2] },
        { mode: 'lab65', l: lab.l, a: lab.a, b: lab.b },
      );
      expect(ciede2000(mine, [lab.l, lab.a, lab.b])).to.be.closeTo(delta, 1e-9);
      previous = bytes;
    }
  });
});
