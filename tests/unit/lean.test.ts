import { expect } from 'chai';
import fc from 'fast-check';
import { gatherColours } from '#core/artwork/colour-cells.ts';
import { measureBrightness } from '#core/artwork/brightness.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import { ciede2000 } from '#core/colour/ciede2000.ts';
import { labOfLinear } from '#core/colour/lab.ts';
import { linearOfOklab } from '#core/colour/oklab.ts';
import { firstRequest, flatColoursOf } from '#core/find/first-look.ts';
import { limitsOf } from '#core/find/request.ts';
import {
  cheapestLayers,
  coloursOfRamp,
  differencesOfCells,
  heightsOfCells,
  leaningCosts,
  meanOfCosts,
  onlyBands,
} from '#core/heights/closest.ts';
import { heightsByRule, ruleJson, type HeightRule } from '#core/heights/height-rules.ts';
import { naturalness } from '#core/heights/natural.ts';
import { PLAIN_TONE, placesOfTone, tonePosition } from '#core/heights/tone.ts';
import { USUAL_GRID } from '#core/stack/layer-grid.ts';
import { chooseForMood, MOODS } from '#core/stack/moods.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { randomFrom } from '../../demo/draw/shading.ts';
import { setLean } from '../../src/state/edits/height-edits.ts';
import { takeFirst } from '../../src/state/edits/project-edits.ts';
import { keyOfBands } from '../../src/state/suggestion.ts';
import { FIRST_LEAN } from '../../src/state/new-project.ts';
import { stampOfDocument } from '../../src/state/project-export.ts';
import { demoFilaments } from '../helpers/demo.ts';
import { testDocument } from '../helpers/documents.ts';
import { FILAMENTS, stackOf } from '../helpers/stacks.ts';

const RAMP = rampOfStack(stackOf(4, 5, 6, 5), FILAMENTS);
const COLOURS = coloursOfRamp(RAMP);
const LAYERS = RAMP.length;
const LEAST = 3;
const TONE = { ...PLAIN_TONE, blackPoint: 10, whitePoint: 90, midpoint: 40 };

function painting(width: number, height: number, seed: number): RgbaRaster {
  const random = randomFrom(seed);
  const data = new Uint8ClampedArray(4 * width * height);
  for (let i = 0; i < width * height; i += 1)
    data.set(
      [
        255 * random(),
        120 + 100 * Math.sin(i / 7) * random(),
        (200 * (i % width)) / width,
        i % 11 === 0 ? 0 : 255,
      ],
      4 * i,
    );
  return { width, height, data };
}

/** Spearman's coefficient the long way: every rank counted by itself. */
function spearman(pairs: readonly (readonly [number, number])[]): number {
  const rankOf = (side: 0 | 1): number[] =>
    pairs.map((own) => {
      const [lower, equal] = [
        pairs.filter((one) => one[side] < own[side]).length,
        pairs.filter((one) => one[side] === own[side]).length,
      ];
      return lower + (equal + 1) / 2;
    });
  const [a, b] = [rankOf(0), rankOf(1)];
  const mean = (pairs.length + 1) / 2;
  const sum = (one: number[], other: number[]): number =>
    one.reduce((total, rank, i) => total + (rank - mean) * ((other[i] ?? 0) - mean), 0);
  return sum(a, b) / Math.sqrt(sum(a, a) * sum(b, b));
}

/** Huber's function over k, put together from its two pieces as he gives them (1964); k: less, the more heights lean. */
function farOffLong(off: number, lean: number): number {
  const k = 0.45 - 0.015 * lean;
  const t = Math.abs(off);
  return (t < k ? t ** 2 / 2 : k * t - k ** 2 / 2) / k;
}

describe('heights that lean', () => {
  const picture = painting(30, 20, 4);
  const cells = gatherColours(picture);
  const labOfCell = (n: number) => {
    const [l = 0, a = 0, b = 0] = cells.colour.subarray(3 * n, 3 * n + 3);
    return labOfLinear(linearOfOklab([l / 100, a / 200, b / 200]));
  };

  it('cost CIEDE2000 and the price of the place, and the cheapest height is taken', () => {
    const costs = leaningCosts(cells, COLOURS, { price: 12, tone: TONE }, LEAST);
    const heights = cheapestLayers(costs, LAYERS);
    for (let n = 0; n < cells.count.length; n += 5) {
      const own = labOfCell(n);
      const aim = tonePosition(TONE, own[0]);
      const long = RAMP.map(({ lab }, i) => {
        const place = (i + 1 - LEAST + 0.5) / (LAYERS - LEAST + 1);
        return i + 1 < LEAST ? Infinity : ciede2000(own, lab) + 12 * farOffLong(place - aim, 12);
      });
      long.forEach((cost, i) => {
        const fast = costs[n * (LAYERS + 1) + i + 1] ?? 0;
        if (cost === Infinity) expect(fast).to.equal(Infinity);
        else expect(fast).to.be.closeTo(cost, 0.3);
      });
      expect(long[(heights[n] ?? 0) - 1]).to.be.at.most(Math.min(...long) + 0.6);
    }
  });

  it('bands that are left out are never taken, however much heights lean', () => {
    const some = onlyBands(COLOURS, RAMP, new Set([1, 3]));
    for (const price of [0.1, 6, 30]) {
      const costs = leaningCosts(cells, some, { price, tone: TONE }, LEAST);
      for (const height of cheapestLayers(costs, LAYERS))
        expect([1, 3]).to.include(RAMP[height - 1]?.bandIndex);
    }
  });

  it('the more they lean, the larger the error and the nearer the place: never the other way about', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 99 }), fc.boolean(), (seed, reversed) => {
        const own = gatherColours(painting(12, 9, seed));
        const tone = { ...TONE, reversed };
        const differences = differencesOfCells(own, COLOURS, LEAST);
        let [error, away] = [-1, Infinity];
        for (const price of [0, 2, 6, 15, 30, 200]) {
          const costs = leaningCosts(own, COLOURS, { price, tone }, LEAST);
          const unit = leaningCosts(own, COLOURS, { price: 1, tone }, LEAST);
          const map = heightsOfCells(own, cheapestLayers(costs, LAYERS));
          for (const height of map.data) expect(height).to.be.within(0, LAYERS);
          const nextError = meanOfCosts(own, differences, map) ?? 0;
          const nextAway = (meanOfCosts(own, unit, map) ?? 0) - nextError;
          expect(nextError).to.be.at.least(error - 1e-4);
          expect(nextAway).to.be.at.most(away + 1e-4);
          [error, away] = [nextError, nextAway];
        }
      }),
      { numRuns: 30 },
    );
  });

  it('work on empty, one-colour and thin pictures, with any number of layers, calm and islands', () => {
    const one = (width: number, height: number, alpha: number): RgbaRaster => ({
      width,
      height,
      data: new Uint8ClampedArray(4 * width * height).map((_, i) => (i % 4 === 3 ? alpha : 90)),
    });
    for (const art of [one(6, 4, 0), one(6, 4, 255), one(1, 5000, 255), painting(5000, 1, 2)])
      for (const layers of [1, 2, LAYERS]) {
        const colours = COLOURS.slice(0, 3 * layers);
        const rule: HeightRule = {
          kind: 'closest',
          colours,
          lean: { price: 15, tone: TONE },
          calm: 0.5,
          smallestMm: 0.4,
        };
        const samples = { brightness: measureBrightness(art), cells: () => gatherColours(art) };
        const { data } = heightsByRule(samples, rule, { layers, leastLayers: 3, sampleMm: 0.2 });
        data.forEach((height, i) => {
          const printed = (art.data[4 * i + 3] ?? 0) >= 128;
          expect(height).to.be.within(printed ? Math.min(3, layers) : 0, printed ? layers : 0);
        });
      }
  });

  it('are part of the stamp, with the tone that they lean to, and are limited to their range', () => {
    const document = testDocument();
    const closest = { ...document, heights: { ...document.heights, rule: 'closest' as const } };
    const at = (price: number) => setLean(price)(closest);
    expect(at(15).heights.closest.lean).to.equal(15);
    expect(at(-3).heights.closest.lean).to.equal(0);
    expect(at(99).heights.closest.lean).to.equal(30);
    expect(at(Number.NaN).heights.closest.lean).to.equal(0);
    expect(stampOfDocument(at(15))).to.not.equal(stampOfDocument(at(6)));
    expect(stampOfDocument(at(0))).to.not.equal(stampOfDocument(at(6)));
    const darker = (price: number) => ({
      ...at(price),
      heights: {
        ...at(price).heights,
        tone: { ...at(price).heights.tone, blackPoint: 1 + at(price).heights.tone.blackPoint },
      },
    });
    expect(stampOfDocument(darker(0)), 'nothing leans').to.equal(stampOfDocument(at(0)));
    expect(stampOfDocument(darker(6))).to.not.equal(stampOfDocument(at(6)));
    const rule = { kind: 'closest' as const, colours: COLOURS, calm: 0, smallestMm: 0 };
    expect(ruleJson(rule)).to.not.have.property('lean');
  });
});

describe('how natural a relief is', () => {
  it("is Spearman's rank correlation, counted rank by rank", () => {
    const picture = painting(14, 9, 8);
    const brightness = measureBrightness(picture);
    const random = randomFrom(2);
    const data = Uint8Array.from(brightness.data, (step) =>
      step > 4095 ? 0 : 1 + Math.floor((step / 4096) * 5 + 4 * random()),
    );
    const pairs = [...data].flatMap((height, i) =>
      height > 0 ? [[brightness.data[i] ?? 0, height] as const] : [],
    );
    const told = naturalness(brightness, { width: 14, height: 9, data });
    expect(told).to.be.closeTo(spearman(pairs), 1e-9);
  });

  it('is 1 where lighter is higher, -1 the other way about, and nothing where all is level', () => {
    const brightness = { width: 4, height: 1, data: Uint16Array.of(10, 400, 2000, 65535) };
    const of = (...heights: number[]): number | undefined =>
      naturalness(brightness, { width: 4, height: 1, data: Uint8Array.from(heights) });
    expect(of(3, 5, 9, 0)).to.be.closeTo(1, 1e-12);
    expect(of(9, 5, 3, 0)).to.be.closeTo(-1, 1e-12);
    expect(of(4, 4, 4, 0)).to.equal(undefined);
    expect(of(0, 0, 0, 0)).to.equal(undefined);
  });
});

describe('a first stack', () => {
  const blocks = (colours: readonly (readonly number[])[], noise: number): RgbaRaster => {
    const random = randomFrom(5);
    const data = new Uint8ClampedArray(4 * 3600);
    for (let i = 0; i < 3600; i += 1) {
      const [r = 0, g = 0, b = 0] = colours[Math.floor(((i % 60) * colours.length) / 60)] ?? [];
      const off = noise * (random() - 0.5);
      data.set([r + off, g + off, b - off, 255], 4 * i);
    }
    return { width: 60, height: 60, data };
  };
  const INKS = [
    [20, 30, 90],
    [200, 60, 40],
    [240, 235, 220],
    [40, 130, 70],
  ];

  it('flat art is told by few colours that make up most of it; a photo is none', () => {
    expect(flatColoursOf(gatherColours(blocks(INKS, 0)))).to.equal(4);
    expect(flatColoursOf(gatherColours(blocks(INKS.slice(0, 2), 2)))).to.equal(2);
    expect(flatColoursOf(gatherColours(painting(60, 60, 3)))).to.equal(undefined);
    const empty = { width: 2, height: 1, data: new Uint8ClampedArray(8) };
    expect(flatColoursOf(gatherColours(empty))).to.equal(undefined);
  });

  it('is asked for within what the rack and the grid allow', () => {
    const cells = gatherColours(blocks(INKS, 0));
    const lean = { price: FIRST_LEAN, places: placesOfTone(PLAIN_TONE) };
    const filaments = Object.values(FILAMENTS);
    for (const flat of [undefined, 2, 4, 6])
      for (const count of [2, 3, 4]) {
        const how = { grid: USUAL_GRID, leastLayers: 30 };
        const request = firstRequest(cells, filaments.slice(0, count), how, lean, flat);
        expect(limitsOf(request).ok).to.equal(true);
        expect(request.mostSwaps).to.be.within(1, count - 1);
        expect(request.lean === undefined).to.equal(flat !== undefined);
      }
  });

  it('is taken in one step, calmed, and remembers what it was found for', () => {
    const bands = [
      { filamentId: 'soot', layers: 5 },
      { filamentId: 'ivory', layers: 6 },
    ];
    const stack = {
      bands,
      mostSwaps: 1,
      meanDeltaE: 5,
      price: 6,
      whenOff: [5, 5] as const,
      tone: null,
      lean: FIRST_LEAN,
    };
    const rack = Object.values(FILAMENTS);
    const { heights, stack: own } = takeFirst(stack, rack, [])(testDocument());
    expect(heights).to.deep.include({ rule: 'closest', calm: 0.3 });
    expect(heights.closest.lean).to.equal(FIRST_LEAN);
    expect(heights.found).to.deep.equal({
      rule: 'closest',
      lean: FIRST_LEAN,
      meanDeltaE: 5,
      bands: keyOfBands(own.bands),
      first: true,
    });
    const flat = takeFirst(stack, rack, [{ colour: '#112233', layers: 5 }])(testDocument());
    expect(flat.heights).to.deep.include({ rule: 'flat' });
    expect(flat.heights.flat.colours).to.have.length(1);
  });
});

describe('moods', () => {
  const rack = Object.values(demoFilaments());

  it('take only what is on hand, always with the darkest and the lightest, and name what is missing', () => {
    for (const mood of MOODS) {
      const { filaments, missing } = chooseForMood(mood, rack);
      expect(filaments.every(({ onHand }) => onHand)).to.equal(true);
      expect(filaments.length, mood).to.be.at.least(3);
      expect(missing.length).to.be.at.most(2);
    }
    const ids = (mood: (typeof MOODS)[number]): string[] =>
      chooseForMood(mood, Object.values(FILAMENTS)).filaments.map(({ id }) => id);
    expect(ids('warm')).to.have.members(['soot', 'rust', 'ivory']);
    expect(ids('sea')).to.have.members(['soot', 'sky', 'ivory']);
    const { missing } = chooseForMood('woods', Object.values(FILAMENTS));
    expect(missing).to.include('a green');
    const put = Object.values(FILAMENTS).map((one) => ({ ...one, onHand: one.id !== 'sky' }));
    expect(chooseForMood('sea', put).missing).to.deep.equal(['a blue', 'a blue-green']);
  });

  it('of an empty rack are empty', () => {
    expect(chooseForMood('night', []).filaments).to.deep.equal([]);
  });
});
