import { expect } from 'chai';
import { converter } from 'culori';
import * as munsell from 'munsell';
import { makeRandom } from '#core/base/random.ts';
import { FIRST_SETTINGS } from '#core/edit/artwork-edit.ts';
import { MinCut } from '#core/edit/cutout/min-cut.ts';
import { signedDistances } from '#core/edit/distance.ts';
import { paintLabels, reduceColours } from '#core/edit/flat/reduce-colours.ts';
import { codesOfLch, hueMap, lchOfCodes, recolourMap, wrap180 } from '#core/edit/hue.ts';
import { writeRuleScale } from '#core/edit/similar.ts';
import { measureSlant, TRUST } from '#core/edit/straighten.ts';
import { rasterOf } from '../helpers/scenes.ts';

const still = (): void => undefined;
const toOklch = converter('oklch');
const toRgb = converter('rgb');
const toOklab = converter('oklab');

describe('hues, against culori (its own code of Ottosson 2020)', () => {
  const random = makeRandom(11);
  const colours = Array.from({ length: 400 }, () =>
    Float64Array.of(random.next(), random.next(), random.next()),
  );

  it('lightness, chroma and hue of any colour', () => {
    for (const codes of colours) {
      const [r = 0, g = 0, b = 0] = codes;
      const truth = toOklch({ mode: 'rgb', r, g, b });
      const [lightness, chroma, hue] = lchOfCodes(codes);
      expect(lightness).to.be.closeTo(truth.l, 1e-6);
      expect(chroma).to.be.closeTo(truth.c, 1e-6);
      if (chroma > 0.01) expect(wrap180(hue - (truth.h ?? 0))).to.be.closeTo(0, 1e-3);
    }
  });

  it('the same numbers as a colour in the rule scale, by table', () => {
    const out = new Float64Array(3);
    for (const codes of colours) {
      const [r = 0, g = 0, b = 0] = codes.map((one) => Math.round(255 * one));
      const truth = toOklab({ mode: 'rgb', r: r / 255, g: g / 255, b: b / 255 });
      writeRuleScale(r, g, b, out);
      expect(out[0]).to.be.closeTo(100 * truth.l, 0.03);
      expect(out[1]).to.be.closeTo(200 * truth.a, 0.1);
      expect(out[2]).to.be.closeTo(200 * truth.b, 0.1);
    }
  });

  it('out of the gamut lightness and hue stay, and only chroma goes', () => {
    const out = new Float64Array(3);
    for (let hue = 0; hue < 360; hue += 15) {
      codesOfLch([0.62, 0.4, hue], out);
      const truth = toOklch({
        mode: 'rgb',
        r: out[0] ?? 0,
        g: out[1] ?? 0,
        b: out[2] ?? 0,
      });
      expect(truth.l).to.be.closeTo(0.62, 0.004);
      expect(wrap180((truth.h ?? 0) - hue)).to.be.closeTo(0, 0.6);
      const wider = toRgb({ mode: 'oklch', l: 0.62, c: truth.c + 0.004, h: hue });
      const most = Math.max(wider.r, wider.g, wider.b);
      const least = Math.min(wider.r, wider.g, wider.b);
      expect(most > 1 || least < 0, `${hue} degrees reach the rim`).to.equal(true);
    }
  });

  it('a turn moves the range by its weight and leaves the rest as it is', () => {
    const turn = hueMap({ ...FIRST_SETTINGS.hue, centre: 40, turn: 30 });
    const moved = Float64Array.of(0, 0, 0);
    codesOfLch([0.65, 0.1, 40], moved);
    turn(moved);
    expect(lchOfCodes(moved)[2]).to.be.closeTo(70, 0.05);
    expect(lchOfCodes(moved)[0]).to.be.closeTo(0.65, 1e-4);
    const far = Float64Array.of(0.2, 0.3, 0.8);
    turn(far);
    expect([...far]).to.deep.equal([0.2, 0.3, 0.8]);
    const greyish = new Float64Array(3);
    codesOfLch([0.65, 0.015, 40], greyish);
    const before = [...greyish];
    turn(greyish);
    expect([...greyish]).to.deep.equal(before);
  });
});

describe('hues, against the Munsell renotation (Newhall, Nickerson, Judd 1943; tables of the package munsell)', () => {
  /** Standard deviation of the hue angle over one perceived hue at many values and chromas, degrees. */
  function spread(hueOf: (codes: Float64Array) => number): number {
    let [sum, count] = [0, 0];
    for (let hue100 = 0; hue100 < 100; hue100 += 5) {
      const angles: number[] = [];
      for (let value = 3; value <= 8; value += 1)
        for (let chroma = 4; chroma <= 12; chroma += 4) {
          const rgb = munsell.mhvcToRgb(hue100, value, chroma);
          if (rgb.some((one) => one < 0 || one > 1)) continue;
          angles.push(hueOf(Float64Array.from(rgb)));
        }
      if (angles.length < 4) continue;
      const [first = 0] = angles;
      const off = angles.map((angle) => wrap180(angle - first));
      const mean = off.reduce((all, one) => all + one, 0) / off.length;
      for (const one of off) sum += (one - mean) ** 2;
      count += off.length;
    }
    return Math.sqrt(sum / count);
  }

  it('one perceived hue keeps its number within a few degrees, better than in CIELCh', () => {
    const own = spread((codes) => lchOfCodes(codes)[2]);
    const toLch = converter('lch65');
    const lch = spread(([r = 0, g = 0, b = 0]) => toLch({ mode: 'rgb', r, g, b }).h ?? 0);
    expect(own).to.be.below(4);
    expect(own).to.be.below(lch);
  });

  it('one tone family gives colours of any Munsell hue one hue, and keeps their order of lightness', () => {
    const recolour = recolourMap({ hue: 70, chroma: 0.08, lightness: 0 }, 0.08);
    for (let hue100 = 0; hue100 < 100; hue100 += 20) {
      const seen: number[] = [];
      for (let value = 3; value <= 8; value += 1) {
        const codes = Float64Array.from(munsell.mhvcToRgb(hue100, value, 4));
        const before = lchOfCodes(codes)[0];
        recolour(codes);
        const [lightness, chroma, hue] = lchOfCodes(codes);
        expect(lightness).to.be.closeTo(before, 0.003);
        if (chroma > 0.02) expect(wrap180(hue - 70)).to.be.closeTo(0, 1);
        seen.push(lightness);
      }
      expect(seen).to.deep.equal([...seen].sort((a, b) => a - b));
    }
  });
});

describe('distances, against looking at every pixel', () => {
  it('of random masks', () => {
    const random = makeRandom(3);
    for (const [width, height] of [
      [17, 11],
      [1, 9],
      [23, 1],
    ] as const) {
      const mask = Uint8Array.from({ length: width * height }, () =>
        random.next() < 0.3 ? 255 : 0,
      );
      const found = signedDistances(mask, width, height);
      mask.forEach((one, i) => {
        let nearest = Infinity;
        mask.forEach((other, k) => {
          if (other === one) return;
          const d = Math.hypot(
            (k % width) - (i % width),
            Math.floor(k / width) - Math.floor(i / width),
          );
          nearest = Math.min(nearest, d);
        });
        if (nearest < Infinity)
          expect(found[i]).to.be.closeTo(one === 255 ? nearest - 0.5 : 0.5 - nearest, 1e-4);
      });
    }
  });
});

describe('least cuts, against trying every cut', () => {
  it('of small random grids', () => {
    const random = makeRandom(5);
    const [width, height] = [5, 5];
    const inner = [6, 7, 8, 11, 12, 13, 16, 17, 18];
    const steps = [-6, -5, -4, -1, 1, 4, 5, 6];
    for (let round = 0; round < 60; round += 1) {
      const links = new Float32Array(8 * width * height);
      const ties = new Float32Array(width * height);
      for (const i of inner) {
        ties[i] = Math.round(20 * (random.next() - 0.5));
        steps.forEach((step, d) => {
          if (inner.includes(i + step)) links[8 * i + d] = Math.round(6 * random.next());
        });
      }
      const price = (side: (i: number) => boolean): number => {
        let sum = 0;
        for (const i of inner) {
          const tie = ties[i] ?? 0;
          if (tie > 0 && !side(i)) sum += tie;
          if (tie < 0 && side(i)) sum -= tie;
          if (side(i))
            steps.forEach((step, d) => {
              if (inner.includes(i + step) && !side(i + step)) sum += links[8 * i + d] ?? 0;
            });
        }
        return sum;
      };
      let least = Infinity;
      for (let bits = 0; bits < 512; bits += 1)
        least = Math.min(
          least,
          price((i) => ((bits >> inner.indexOf(i)) & 1) === 1),
        );
      const cut = new MinCut(width, height, links.slice(), ties.slice()).run();
      expect(price((i) => cut[i] === 1)).to.be.closeTo(least, 1e-3);
    }
  });
});

describe('flat colours of drawn art with known areas', () => {
  const PAPER = [240, 236, 226];
  const INK = [28, 34, 60];
  const RED = [190, 60, 44];
  const GOLD = [224, 170, 40];
  const COLOURS = [PAPER, INK, RED, GOLD];

  /** Discs, a bar and thin lines; drawn at eight times the size and mixed down in codes, as programs do. */
  function drawn(width: number, height: number) {
    const fine = 8;
    const labelAt = (x: number, y: number): number => {
      if (Math.hypot(x - width * 0.35, y - height * 0.45) < width * 0.22) return 2;
      if (Math.abs((x - width * 0.75) * 0.6 + (y - height * 0.5) * 0.8) < 1.1) return 1;
      if (Math.hypot(x - width * 0.72, y - height * 0.3) < width * 0.13) return 3;
      if (Math.abs(y - height * 0.86) < 6 + 3 * Math.sin(x / 9)) return 1;
      return 0;
    };
    const truth = new Uint8Array(width * height);
    const mixed = new Uint8Array(width * height);
    const raster = rasterOf(width, height, (x, y) => {
      const counts = [0, 0, 0, 0];
      for (let dy = 0; dy < fine; dy += 1)
        for (let dx = 0; dx < fine; dx += 1) {
          const label = labelAt(x + (dx + 0.5) / fine, y + (dy + 0.5) / fine);
          counts[label] = (counts[label] ?? 0) + 1;
        }
      const most = counts.indexOf(Math.max(...counts));
      truth[y * width + x] = most;
      mixed[y * width + x] = Math.max(...counts) < fine * fine ? 1 : 0;
      return [0, 1, 2].map((c) =>
        Math.round(
          counts.reduce((sum, n, k) => sum + n * (COLOURS[k]?.[c] ?? 0), 0) / (fine * fine),
        ),
      );
    });
    return { raster, truth, mixed };
  }

  it('the number by itself, the colours, and no third colour at the edges', () => {
    const { raster, truth, mixed } = drawn(300, 220);
    const reduced = reduceColours(raster, FIRST_SETTINGS.colours, still);
    expect(reduced.proposed).to.equal(4);
    const names = reduced.palette.map(({ seed }) => seed);
    const own = COLOURS.map(([r = 0, g = 0, b = 0]) => {
      const near = names.findIndex((name) => {
        const v = Number.parseInt(name.slice(1), 16);
        return (
          Math.abs((v >> 16) - r) < 5 &&
          Math.abs(((v >> 8) & 255) - g) < 5 &&
          Math.abs((v & 255) - b) < 5
        );
      });
      return near;
    });
    expect(own, names.join(' ')).to.not.include(-1);
    let [third, edge, right] = [0, 0, 0];
    truth.forEach((label, i) => {
      if (mixed[i] === 0) {
        expect(reduced.labels[i]).to.equal(own[label]);
        return;
      }
      edge += 1;
      const found = own.indexOf(reduced.labels[i] ?? 255);
      if (found === label) right += 1;
      const [x, y] = [i % 300, Math.floor(i / 300)];
      const around = new Set<number>();
      for (let dy = -1; dy <= 1; dy += 1)
        for (let dx = -1; dx <= 1; dx += 1) around.add(truth[(y + dy) * 300 + x + dx] ?? 0);
      if (!around.has(found)) third += 1;
    });
    expect(third / edge, 'third colours').to.be.at.most(0.006);
    expect(right / edge, 'edges right').to.be.at.least(0.93);
  });

  it('what the list says of a colour only paints its areas anew', () => {
    const { raster } = drawn(200, 150);
    const first = reduceColours(raster, FIRST_SETTINGS.colours, still);
    const palette = first.palette.map((one, i) => (i === 1 ? { ...one, colour: '#123456' } : one));
    const again = reduceColours(raster, { ...FIRST_SETTINGS.colours, palette }, still);
    expect(again.labels).to.deep.equal(first.labels);
    const painted = paintLabels(raster, again);
    const at = again.labels.indexOf(1);
    expect([...painted.data.subarray(4 * at, 4 * at + 3)]).to.deep.equal([0x12, 0x34, 0x56]);
  });
});

describe('straightening', () => {
  it('lettering and lines tell the angle within 0.2 degrees; noise tells nothing', () => {
    for (const degrees of [-7.3, -1.2, 3.4]) {
      const angle = (degrees * Math.PI) / 180;
      const raster = rasterOf(300, 300, (x, y) => {
        const u = Math.cos(angle) * (x - 150) + Math.sin(angle) * (y - 150);
        const v = -Math.sin(angle) * (x - 150) + Math.cos(angle) * (y - 150);
        // A soft edge, as a camera makes it.
        const wave = Math.min(1, Math.max(0, 0.5 + 2 * Math.sin(u / 9) * Math.sin(v / 13)));
        return [255 * wave, 255 * wave, 255 * wave];
      });
      const slant = measureSlant(raster);
      expect(slant.trust).to.be.at.least(TRUST);
      expect(slant.degrees).to.be.closeTo(-degrees, 0.2);
    }
    const random = makeRandom(9);
    const noise = rasterOf(300, 300, () => Array<number>(3).fill(255 * random.next()));
    expect(measureSlant(noise).trust).to.be.below(TRUST);
  });
});
