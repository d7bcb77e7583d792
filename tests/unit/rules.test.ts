import { expect } from 'chai';
import { gatherColours } from '#core/artwork/colour-cells.ts';
import { measureBrightness } from '#core/artwork/brightness.ts';
import type { HeightMap, RgbaRaster } from '#core/base/raster.ts';
import { ciede2000 } from '#core/colour/ciede2000.ts';
import { labOfBytes, labOfLinear, labOfXyz, linearOfLab } from '#core/colour/lab.ts';
import { WHITE_D65, xyzOfLinear } from '#core/colour/xyz.ts';
import { linearOfOklab, oklabOfLinear } from '#core/colour/oklab.ts';
import { linearOfBytes, parseHex } from '#core/colour/srgb.ts';
import { calmHeights } from '#core/heights/calm-lines.ts';
import { islandSamples, withoutIslands } from '#core/heights/islands.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import { partWithoutIslands } from '#core/relief/part-without-islands.ts';
import {
  aimColours,
  closestHeights,
  coloursOfRamp,
  heightsOfCells,
  nearestLayersExactly,
  onlyBands,
} from '#core/heights/closest.ts';
import { meanColourError } from '#core/heights/colour-error.ts';
import {
  differenceOf,
  DIFFERENCE_STEPS,
  NO_DIFFERENCE,
  rarestDifference,
} from '#core/heights/difference.ts';
import { seenDifferenceOf } from '#core/heights/seen-difference.ts';
import { bandTops, flatOfPicture, reduceColours } from '#core/heights/flat.ts';
import { heightsByRule } from '#core/heights/height-rules.ts';
import { differenceColour, heightShades } from '#core/heights/shades.ts';
import {
  curveOfPoints,
  curvePosition,
  equalisedCurve,
  matchedCurve,
  PLAIN_TONE,
  STRAIGHT_CURVE,
  tonePosition,
} from '#core/heights/tone.ts';
import { bandEnds } from '#core/stack/stack.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { randomFrom } from '../../demo/draw/shading.ts';
import { FILAMENTS, stackOf } from '../helpers/stacks.ts';

const STACK = stackOf(6, 6, 6, 6);
const RAMP = rampOfStack(STACK, FILAMENTS);
const COLOURS = coloursOfRamp(RAMP);

/** A picture of smooth colours with noise, with a cut-away corner. */
function painting(width: number, height: number, seed = 3): RgbaRaster {
  const random = randomFrom(seed);
  const data = new Uint8ClampedArray(4 * width * height);
  for (let i = 0; i < width * height; i += 1) {
    const x = i % width;
    const y = Math.floor(i / width);
    data[4 * i] = (255 * x) / width + 24 * random();
    data[4 * i + 1] = (200 * y) / height + 24 * random();
    data[4 * i + 2] = 128 + 90 * Math.sin(x / 9) + 24 * random();
    data[4 * i + 3] = x + y < 6 ? 0 : 255;
  }
  return { width, height, data };
}

function mapOf(...rows: number[][]): HeightMap {
  return { width: rows[0]?.length ?? 0, height: rows.length, data: Uint8Array.from(rows.flat()) };
}

describe('colour cells', () => {
  it('gather every printed sample once, with its colour in the cell within one cell', () => {
    const picture = painting(60, 40);
    const cells = gatherColours(picture);
    expect(cells.count.reduce((a, b) => a + b)).to.equal(
      [...cells.cell].filter((cell) => cell < cells.count.length).length,
    );
    expect(cells.cell[0]).to.equal(cells.count.length);
    for (let i = 300; i < 2400; i += 37) {
      const cell = cells.cell[i] as number;
      if (cell === cells.count.length) continue;
      const [l = 0, a = 0, b = 0] = cells.colour.subarray(3 * cell, 3 * cell + 3);
      const mean = labOfLinear(linearOfOklab([l / 100, a / 200, b / 200]));
      const own = labOfBytes([
        picture.data[4 * i] ?? 0,
        picture.data[4 * i + 1] ?? 0,
        picture.data[4 * i + 2] ?? 0,
      ]);
      expect(ciede2000(mean, own)).to.be.below(4);
    }
  });

  it('Oklab goes back to linear light', () => {
    for (const bytes of [
      [255, 0, 0],
      [12, 200, 97],
      [255, 255, 255],
    ] as const)
      linearOfOklab(oklabOfLinear(linearOfBytes(bytes))).forEach((value, i) => {
        expect(value).to.be.closeTo(linearOfBytes(bytes)[i] ?? Number.NaN, 1e-5);
      });
  });
});

describe('closest blend', () => {
  it('is hardly worse than a brute-force search with CIEDE2000', () => {
    const picture = painting(48, 36);
    const cells = gatherColours(picture);
    const quick = closestHeights(cells, COLOURS, 3);
    const heights = heightsOfCells(cells, nearestLayersExactly(cells, COLOURS, 3));
    let best = 0;
    let printed = 0;
    for (let i = 0; i < heights.data.length; i += 1) {
      if ((picture.data[4 * i + 3] ?? 0) < 128) {
        expect(heights.data[i]).to.equal(0);
        continue;
      }
      const lab = labOfBytes([
        picture.data[4 * i] ?? 0,
        picture.data[4 * i + 1] ?? 0,
        picture.data[4 * i + 2] ?? 0,
      ]);
      best += Math.min(...RAMP.slice(2).map((step) => ciede2000(lab, step.lab)));
      printed += 1;
    }
    const mean = meanColourError(picture, heights, RAMP, 0.2) ?? Number.NaN;
    // What gathering colours in cells costs, and what the plainer measure of distance costs besides.
    expect(mean - best / printed).to.be.within(0, 0.05);
    expect((meanColourError(picture, quick, RAMP, 0.2) ?? Number.NaN) / mean).to.be.within(1, 1.08);
  });

  it('keeps to the bands that are allowed, and to the least height', () => {
    const cells = gatherColours(painting(40, 30));
    const only = closestHeights(cells, onlyBands(COLOURS, RAMP, new Set([1])), 3);
    expect(new Set(only.data)).to.satisfy((set: Set<number>) =>
      [...set].every((height) => height === 0 || (height > 6 && height <= 12)),
    );
    expect(Math.min(...[...closestHeights(cells, COLOURS, 5).data].filter(Boolean))).to.be.at.least(
      5,
    );
  });

  it('aim colours bend the way from the lowest to the highest layer', () => {
    expect(aimColours(COLOURS, [])).to.equal(COLOURS);
    const aimed = aimColours(COLOURS, [{ colour: '#ffffff', layerNumber: 12 }]);
    expect([...aimed.subarray(0, 3)]).to.deep.equal([...COLOURS.subarray(0, 3)]);
    expect([...aimed.subarray(69)]).to.deep.equal([...COLOURS.subarray(69)]);
    expect(aimed[33]).to.be.closeTo(100, 0.1);
    expect(aimed[30]).to.be.within(COLOURS[0] ?? 0, 100);
  });
});

describe('flat areas', () => {
  it('find the colours of flat art in spite of its soft fringes, and give each its own band', () => {
    const colours = ['#18274f', '#b14a30', '#dda328', '#f0ebdf'];
    const width = 80;
    const data = new Uint8ClampedArray(4 * width * width);
    for (let i = 0; i < width * width; i += 1) {
      const band = Math.min(3, Math.floor((i % width) / 20));
      const fringe = (i % width) % 20 === 19 && band < 3;
      const a = parseHex(colours[band] ?? '') ?? [0, 0, 0];
      const b = parseHex(colours[band + 1] ?? '') ?? a;
      for (let k = 0; k < 3; k += 1)
        data[4 * i + k] = fringe ? ((a[k] ?? 0) + (b[k] ?? 0)) / 2 : (a[k] ?? 0);
      data[4 * i + 3] = 255;
    }
    const picture = { width, height: width, data };
    const cells = gatherColours(picture);
    expect(reduceColours(cells, 4)).to.have.length(12);
    const flat = flatOfPicture(cells, 4, bandTops(bandEnds(STACK.bands), RAMP));
    expect(new Set(flat.map(({ layers }) => layers))).to.deep.equal(new Set([6, 12, 18, 24]));
    for (const { colour } of flat) {
      const nearest = Math.min(
        ...colours.map((wanted) =>
          ciede2000(
            labOfBytes(parseHex(wanted) ?? [0, 0, 0]),
            labOfBytes(parseHex(colour) ?? [0, 0, 0]),
          ),
        ),
      );
      expect(nearest, colour).to.be.below(3);
    }
    const heights = heightsByRule(
      { brightness: measureBrightness(picture), cells: () => cells },
      { kind: 'flat', flat, calm: 0, smallestMm: 0 },
      { layers: 24, leastLayers: 3, sampleMm: 0.2 },
    );
    expect(new Set(heights.data)).to.deep.equal(new Set([6, 12, 18, 24]));
  });

  it('one colour, and more colours than there are', () => {
    const white = { width: 4, height: 4, data: new Uint8ClampedArray(64).fill(255) };
    expect(reduceColours(gatherColours(white), 8)).to.have.length(3);
    const clear = { width: 4, height: 4, data: new Uint8ClampedArray(64) };
    expect(reduceColours(gatherColours(clear), 8)).to.have.length(0);
  });
});

describe('calm and islands', () => {
  it('islands smaller than the limit go, larger ones and cut-away parts stay', () => {
    const before = mapOf(
      [5, 5, 5, 5, 5, 0],
      [5, 9, 5, 7, 7, 0],
      [5, 5, 5, 7, 7, 5],
      [5, 2, 5, 5, 5, 5],
    );
    expect([...withoutIslands(before, 4).data]).to.deep.equal([
      ...[5, 5, 5, 5, 5, 0],
      ...[5, 5, 5, 7, 7, 0],
      ...[5, 5, 5, 7, 7, 5],
      ...[5, 5, 5, 5, 5, 5],
    ]);
    expect(withoutIslands(before, 1)).to.equal(before);
    // A tower on a tower is lowered to the part that is large enough.
    expect([...withoutIslands(mapOf([1, 1, 1, 8, 9, 8, 1, 1, 1]), 3).data]).to.deep.equal([
      1, 1, 1, 8, 8, 8, 1, 1, 1,
    ]);
  });

  it('contacts parted and islands gone hold at once, whatever the heights are', () => {
    /** Spots at any height, raised or sunken, that are too small and lie beside what they could be levelled to. */
    const islandsOf = ({ width, height, data }: HeightMap, least: number): number => {
      let found = 0;
      for (const sunken of [false, true])
        for (let level = 1; level <= 9; level += 1) {
          const inside = (i: number): boolean =>
            (data[i] as number) > 0 &&
            (sunken ? (data[i] as number) <= level : (data[i] as number) >= level);
          const seen = new Set<number>();
          for (let start = 0; start < data.length; start += 1) {
            if (seen.has(start) || !inside(start)) continue;
            const spot = [start];
            seen.add(start);
            let beside = false;
            for (const i of spot) {
              const x = i % width;
              const near = [
                ...(x > 0 ? [i - 1] : []),
                ...(x + 1 < width ? [i + 1] : []),
                ...(i >= width ? [i - width] : []),
                ...(i + width < width * height ? [i + width] : []),
              ];
              for (const k of near)
                if (!inside(k)) beside ||= (data[k] as number) > 0;
                else if (!seen.has(k)) {
                  seen.add(k);
                  spot.push(k);
                }
            }
            if (spot.length < least && beside) found += 1;
          }
        }
      return found;
    };
    let before = 0;
    for (let seed = 1; seed <= 40; seed += 1) {
      const random = randomFrom(seed);
      const [width, height] = [24, 18];
      const raw = {
        width,
        height,
        data: Uint8Array.from({ length: width * height }, (_, i) =>
          random() < 0.06 ? 0 : 1 + Math.floor(8 * random() * (0.4 + (0.6 * (i % width)) / width)),
        ),
      };
      for (const least of [4, 6]) {
        const clean = withoutIslands(raw, least);
        expect(islandsOf(clean, least), 'to begin with').to.equal(0);
        before += islandsOf(partDiagonals(clean).heights, least);
        const { heights, raisedSamples, loweredSamples } = partWithoutIslands(clean, least);
        expect(islandsOf(heights, least), `seed ${seed}`).to.equal(0);
        const again = partDiagonals(heights);
        expect([again.raisedSamples, again.loweredSamples]).to.deep.equal([0, 0]);
        const changed = heights.data.filter((layers, i) => layers !== clean.data[i]).length;
        expect(raisedSamples + loweredSamples).to.equal(changed);
      }
    }
    expect(before, 'islands that parting alone made').to.be.greaterThan(5);
  });

  it('counts samples of one nozzle square', () => {
    expect(islandSamples(0.4, 0.2)).to.equal(4);
    expect(islandSamples(0.4, 0.3)).to.equal(2);
    expect(islandSamples(0, 0.2)).to.equal(0);
  });

  it('calm 0 changes nothing; more of it leaves fewer steps between neighbours, and detail at edges stays', () => {
    const picture = painting(80, 60);
    const cells = gatherColours(picture);
    const artwork = { brightness: measureBrightness(picture), cells: () => cells };
    const limits = { layers: 24, leastLayers: 3, sampleMm: 0.2 };
    const heightsAt = (calm: number): HeightMap =>
      heightsByRule(artwork, { kind: 'closest', colours: COLOURS, calm, smallestMm: 0 }, limits);
    const steps = ({ width, data }: HeightMap): number =>
      data.reduce((sum, height, i) => sum + (i % width > 0 && height !== data[i - 1] ? 1 : 0), 0);
    expect(heightsAt(0).data).to.deep.equal(
      heightsOfCells(cells, nearestLayersExactly(cells, COLOURS, 3)).data,
    );
    expect(steps(heightsAt(0.5))).to.be.below(steps(heightsAt(0)));
    expect(steps(heightsAt(1))).to.be.at.most(steps(heightsAt(0.5)));
    const plain = meanColourError(picture, heightsAt(0), RAMP, 0.2) ?? 0;
    expect((meanColourError(picture, heightsAt(0.5), RAMP, 0.2) ?? 99) / plain).to.be.below(1.1);
    const map = mapOf([3, 3, 24, 24]);
    expect(
      calmHeights(
        {
          heights: map,
          classes: Uint16Array.of(0, 0, 1, 1),
          costs: Float32Array.from({ length: 50 }, (_, i) => (i === 3 || i === 49 ? 0 : 50)),
          colours: Float32Array.of(0, 0, 0, 100, 0, 0),
          layers: 24,
        },
        1,
      ).data,
    ).to.deep.equal(map.data);
  });
});

describe('tone curves', () => {
  it('go through their points, straight between them and level beyond', () => {
    const curve = [
      { lightness: 20, position: 0.1 },
      { lightness: 60, position: 0.5 },
      { lightness: 80, position: 0.4 },
    ];
    [0, 20, 40, 60, 70, 80, 100].forEach((lightness, i) => {
      const wanted = [0.1, 0.1, 0.3, 0.5, 0.45, 0.4, 0.4][i] ?? Number.NaN;
      expect(curvePosition(curve, lightness)).to.be.closeTo(wanted, 1e-12);
    });
    expect(tonePosition({ ...PLAIN_TONE, curve, reversed: true }, 60)).to.equal(0.5);
    const points = curveOfPoints({ ...PLAIN_TONE, blackPoint: 10, midpoint: 40, whitePoint: 90 });
    for (const { lightness, position } of points)
      expect(
        tonePosition({ ...PLAIN_TONE, blackPoint: 10, midpoint: 40, whitePoint: 90 }, lightness),
      ).to.equal(position);
  });

  it('equalised: every height gets about the same area', () => {
    const histogram = new Uint32Array(4096);
    // Twice as many dark samples as light ones.
    histogram.fill(2, 0, 2048);
    histogram.fill(1, 2048);
    const curve = equalisedCurve(histogram);
    expect(curvePosition(curve, 50)).to.be.closeTo(2 / 3, 0.02);
    expect(curvePosition(curve, 25)).to.be.closeTo(1 / 3, 0.02);
    expect(equalisedCurve(new Uint32Array(4096))).to.equal(STRAIGHT_CURVE);
  });

  it('matched: a brightness goes to the layer that is as bright', () => {
    const lightnesses = [10, 20, 30, 40, 50, 60, 70, 80, 90];
    const curve = matchedCurve(lightnesses, 1);
    const heightOf = (lightness: number): number => Math.ceil(curvePosition(curve, lightness) * 9);
    expect(heightOf(10)).to.be.within(1, 2);
    expect(heightOf(50)).to.be.within(4, 6);
    expect(heightOf(95)).to.equal(9);
  });
});

describe('difference', () => {
  const picture: RgbaRaster = {
    width: 4,
    height: 1,
    data: Uint8ClampedArray.of(
      ...(RAMP[4]?.colour ?? []),
      255,
      255,
      255,
      255,
      255,
      0,
      0,
      0,
      255,
      9,
      9,
      9,
      0,
    ),
  };
  const heights = mapOf([5, 5, 5, 0]);

  it('is 0 where the print is the artwork, and tells mean, 95th percentile and the gross share', () => {
    const found = differenceOf(picture, heights, RAMP, 0.2);
    if (!found) throw new Error('nothing printed');
    expect(found.map.data[0]).to.be.below(2 * DIFFERENCE_STEPS * 0.5);
    expect(found.map.data[3]).to.equal(NO_DIFFERENCE);
    expect(found.grossShare).to.be.closeTo(
      [1, 2].filter((i) => (found.map.data[i] ?? 0) > 10 * DIFFERENCE_STEPS).length / 3,
      1e-9,
    );
    expect(found.mean).to.equal(meanColourError(picture, heights, RAMP, 0.2));
    expect(found.percentile95).to.be.above(found.mean);
    expect(differenceOf(picture, mapOf([0, 0, 0, 0]), RAMP, 0.2)).to.equal(undefined);
  });

  it('seen from a distance: fine patterns melt into their mean, as the long way of blurring has it', () => {
    const [width, height] = [18, 14];
    const random = randomFrom(9);
    const art = painting(width, height, 6);
    const map = {
      width,
      height,
      data: Uint8Array.from({ length: width * height }, (_, i) =>
        i % 13 === 0 ? 0 : 1 + Math.floor(RAMP.length * random()),
      ),
    };
    const [sampleMm, distanceMm] = [0.4, 700];
    const planes = (of: (i: number) => readonly [number, number, number]) =>
      Array.from({ length: width * height }, (_, i) => {
        const [x, y, z] = xyzOfLinear(of(i));
        return [y, x / WHITE_D65[0] - y, z / WHITE_D65[2] - y];
      });
    const own = planes((i) =>
      linearOfBytes([art.data[4 * i] ?? 0, art.data[4 * i + 1] ?? 0, art.data[4 * i + 2] ?? 0]),
    );
    const print = planes((i) => linearOfLab(RAMP[(map.data[i] ?? 1) - 1]?.lab ?? [0, 0, 0]));
    const printed = (i: number): boolean => (map.data[i] ?? 0) > 0 && art.data[4 * i + 3] === 255;
    const blurredAt = (of: number[][], i: number): [number, number, number] => {
      const [y, x, z] = [0.02, 0.05, 0.05].map((degrees, c) => {
        const sd = (distanceMm * Math.tan((degrees * Math.PI) / 180)) / sampleMm;
        let [sum, weight] = [0, 0];
        for (let k = 0; k < of.length; k += 1) {
          const dx = (k % width) - (i % width);
          const dy = Math.floor(k / width) - Math.floor(i / width);
          if (!printed(k) || Math.max(Math.abs(dx), Math.abs(dy)) > Math.ceil(3 * sd)) continue;
          const g = Math.exp(-(dx * dx + dy * dy) / (2 * sd * sd));
          sum += g * (of[k]?.[c] ?? 0);
          weight += g;
        }
        return sum / weight;
      }) as [number, number, number];
      return [(x + y) * WHITE_D65[0], y, (z + y) * WHITE_D65[2]];
    };
    let [sum, count] = [0, 0];
    for (let i = 0; i < width * height; i += 1)
      if (printed(i)) {
        sum += ciede2000(labOfXyz(blurredAt(own, i)), labOfXyz(blurredAt(print, i)));
        count += 1;
      }
    const seen = seenDifferenceOf(art, map, RAMP, sampleMm, distanceMm);
    expect(seen?.mean).to.be.closeTo(sum / count, 2e-3);
    expect(seen?.mean).to.be.below(differenceOf(art, map, RAMP, 0.2)?.mean ?? 0);
    expect(seen?.map.data[0]).to.equal(NO_DIFFERENCE);
    const nothing = mapOf([0, 0, 0, 0]);
    expect(seenDifferenceOf(picture, nothing, RAMP, 0.2, 500)).to.equal(undefined);
  });

  it('the rarest colours: the mean over the samples whose colours are seldom', () => {
    // 57 samples of one colour, and three of others: the rarest 5 % are those three.
    const data = new Uint8ClampedArray(4 * 60);
    for (let i = 0; i < 60; i += 1)
      data.set(i < 57 ? [200, 200, 200, 255] : [250 - 40 * (i - 56), 0, 60 * (i - 56), 255], 4 * i);
    const art = { width: 60, height: 1, data };
    const map = { width: 60, height: 1, data: new Uint8Array(60).fill(8) };
    const told = differenceOf(art, map, RAMP, 0.2);
    if (!told) throw new Error('nothing printed');
    const three = [57, 58, 59].map((i) => (told.map.data[i] ?? 0) / DIFFERENCE_STEPS);
    expect(rarestDifference(gatherColours(art), told)).to.be.closeTo(
      three.reduce((a, b) => a + b) / 3,
      1e-9,
    );
  });

  it('colours run from dark to glowing, shades from dark to light', () => {
    const light = (difference: number): number => labOfBytes(differenceColour(difference))[0];
    for (let d = 0; d < 31; d += 1) expect(light(d + 1)).to.be.above(light(d));
    expect(differenceColour(99)).to.deep.equal(differenceColour(31));
    const shades = heightShades(24);
    expect(shades[0]).to.equal(0);
    expect((shades[24] ?? 0) & 255).to.be.above((shades[1] ?? 255) & 255);
  });
});
