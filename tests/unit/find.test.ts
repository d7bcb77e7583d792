import { expect } from 'chai';
import { gatherColours } from '#core/artwork/colour-cells.ts';
import {
  importanceOfCells,
  MARK_FACTORS,
  paintImportance,
  type ImportanceStroke,
  type Mark,
} from '#core/artwork/importance.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import { ciede2000, ciede2000Of } from '#core/colour/ciede2000.ts';
import { whatToBuy } from '#core/find/buy.ts';
import { cellsAsClusters, cellWeights, clusterCells, mergeCells } from '#core/find/clusters.ts';
import { makeDraft, StackEvaluator, type FindRule } from '#core/find/evaluator.ts';
import { labOfBytes } from '#core/colour/lab.ts';
import { formatHex, parseHex } from '#core/colour/srgb.ts';
import { cellsOfFlat } from '#core/heights/flat.ts';
import { prepareDifferences, writeDifferences } from '#core/colour/fast-difference.ts';
import { findStack } from '#core/find/find-stack.ts';
import { Judge } from '#core/find/judge.ts';
import { limitsOf, type FindRequest } from '#core/find/request.ts';
import { makeRandom } from '#core/base/random.ts';
import { risingCurve } from '#core/find/tone-curve.ts';
import { curvePosition, PLAIN_TONE, placesOfTone, tonePosition } from '#core/heights/tone.ts';
import { opticsOf } from '#core/stack/filament.ts';
import { USUAL_GRID } from '#core/stack/layer-grid.ts';
import { rampOfStack, type FilamentTable } from '#core/stack/stack-ramp.ts';
import type { Band } from '#core/stack/stack.ts';
import { findHandlers } from '../../src/workers/find/handlers.ts';
import { findInSteps } from '#core/find/find-in-steps.ts';
import { mergeCurves } from '#core/find/merge-curves.ts';
import { agreed, MOST_TURNS, SEARCHES, seedsOf, stepsOf } from '#core/find/turns.ts';
import { carryLocked, withSuggestion } from '../../src/state/suggestion.ts';
import { testDocument } from '../helpers/documents.ts';
import { demoFilaments } from '../helpers/demo.ts';
import { FILAMENTS } from '../helpers/stacks.ts';

const RACK = Object.values(FILAMENTS);

/** A picture of a few blended colours. */
function picture(seed: number, ends: readonly (readonly [number, number, number])[]): RgbaRaster {
  const random = makeRandom(seed);
  const data = new Uint8ClampedArray(4 * 400);
  for (let i = 0; i < 400; i += 1) {
    const one = ends[random.below(ends.length)] ?? [0, 0, 0];
    const other = ends[random.below(ends.length)] ?? [0, 0, 0];
    const share = random.next();
    for (let k = 0; k < 3; k += 1)
      data[4 * i + k] = (one[k] ?? 0) * share + (other[k] ?? 0) * (1 - share);
    data[4 * i + 3] = 255;
  }
  return { width: 20, height: 20, data };
}

const CELLS = gatherColours(
  picture(3, [
    [20, 20, 24],
    [168, 69, 31],
    [240, 232, 214],
    [60, 110, 170],
  ]),
);

function request(over: Partial<FindRequest> = {}): FindRequest {
  return {
    cells: CELLS,
    filaments: RACK,
    grid: USUAL_GRID,
    rule: 'closest',
    mostSwaps: 2,
    mostLayers: 9,
    leastLayers: 3,
    leastPerBand: 1,
    must: [],
    bottom: null,
    top: null,
    rare: 0,
    seconds: 0.3,
    seed: 7,
    ...over,
  };
}

/** Price of a stack the long way: ramp and CIEDE2000 of the core, every colour against every height. */
function longPrice(bands: readonly Band[], rule: FindRule, cells = mergeCells(CELLS)): number {
  const { lab, weight } = cellsAsClusters(cells, cellWeights(cells.count));
  const ramp = rampOfStack({ grid: USUAL_GRID, bands }, FILAMENTS).slice(2);
  const of = (k: number, h: number): number =>
    (weight[k] ?? 0) *
    ciede2000(
      [lab[3 * k] ?? 0, lab[3 * k + 1] ?? 0, lab[3 * k + 2] ?? 0],
      ramp[h]?.lab ?? [0, 0, 0],
    );
  if (rule === 'closest') {
    let sum = 0;
    for (let k = 0; k < weight.length; k += 1) sum += Math.min(...ramp.map((_, h) => of(k, h)));
    return sum;
  }
  // The best rising heights, one colour after the other.
  let ending = ramp.map(() => 0);
  for (let k = 0; k < weight.length; k += 1) {
    let least = Infinity;
    ending = ending.map((before, h) => {
      least = Math.min(least, before);
      return least + of(k, h);
    });
  }
  return Math.min(...ending);
}

/** Price of a stack of some rack with closest blend, the long way. */
function closestPrice(bands: readonly Band[], table: FilamentTable): number {
  const cells = mergeCells(CELLS);
  const { lab, weight } = cellsAsClusters(cells, cellWeights(cells.count));
  const ramp = rampOfStack({ grid: USUAL_GRID, bands }, table).slice(2);
  let sum = 0;
  weight.forEach((share, k) => {
    const own = [lab[3 * k] ?? 0, lab[3 * k + 1] ?? 0, lab[3 * k + 2] ?? 0] as const;
    sum += share * Math.min(...ramp.map((step) => ciede2000(own, step.lab)));
  });
  return sum;
}

function answerOf(over: Partial<FindRequest> = {}) {
  const found = findStack(request(over));
  if (!found.ok) throw new Error(found.fault.code);
  return found.value;
}

describe('fast differences', () => {
  it('are CIEDE2000 within 0.3, and within 0.02 in the mean, all over the colour space', () => {
    const random = makeRandom(5);
    const lab = Float64Array.from({ length: 300 }, (_, i) =>
      i % 3 === 0 ? 100 * random.next() : 200 * (random.next() - 0.5),
    );
    // Greys have no hue.
    lab.set([50, 0, 0, 0, 0, 0, 100, 0, 0]);
    const fast = prepareDifferences({ lab, weight: new Float64Array(100).fill(1) });
    const out = new Float32Array(100);
    let worst = 0;
    let sum = 0;
    for (let n = 0; n < 400; n += 1) {
      const spread = n % 4 === 0 ? 0 : 200 * random.next();
      const [l, a, b] = [
        100 * random.next(),
        spread * (random.next() - 0.5),
        spread * random.next() - spread / 2,
      ];
      writeDifferences(fast, l, a, b, out, 0);
      for (let k = 0; k < 100; k += 1) {
        const exact = ciede2000Of(
          l,
          a,
          b,
          lab[3 * k] ?? 0,
          lab[3 * k + 1] ?? 0,
          lab[3 * k + 2] ?? 0,
        );
        worst = Math.max(worst, Math.abs(exact - (out[k] ?? 0)));
        sum += Math.abs(exact - (out[k] ?? 0));
      }
    }
    expect(worst).to.be.below(0.3);
    expect(sum / 40_000).to.be.below(0.025);
  });
});

describe('pricing stacks', () => {
  for (const rule of ['closest', 'tone'] as const)
    it(`${rule}: is what ramp and CIEDE2000 give the long way, whatever was priced before`, () => {
      const cells = mergeCells(CELLS);
      const clusters = cellsAsClusters(cells, cellWeights(cells.count));
      const fast = new StackEvaluator(clusters, RACK.map(opticsOf), USUAL_GRID, {
        rule,
        leastLayers: 3,
        mostBands: 6,
      });
      const random = makeRandom(11);
      const draft = makeDraft(6);
      for (let n = 0; n < 120; n += 1) {
        // Half of the time only the end changes, so that the beginning is taken over.
        const keep = n % 2 === 0 ? 0 : Math.min(2, draft.count);
        draft.count = keep + 1 + random.below(3);
        for (let i = keep; i < draft.count; i += 1) {
          draft.filament[i] = random.below(RACK.length);
          draft.layers[i] = 1 + random.below(6);
        }
        while ([...draft.layers.subarray(0, draft.count)].reduce((a, b) => a + b, 0) < 3)
          draft.layers[0] = (draft.layers[0] ?? 0) + 1;
        const bands = [...draft.filament.subarray(0, draft.count)].map((filament, i) => ({
          filamentId: RACK[filament]?.id ?? '',
          layers: draft.layers[i] ?? 0,
        }));
        expect(fast.price(draft)).to.be.closeTo(longPrice(bands, rule, cells), 0.25);
      }
    });

  it('leaning: is the least of difference and price of place, at any total height, and tells the difference apart', () => {
    const cells = mergeCells(CELLS);
    const clusters = cellsAsClusters(cells, cellWeights(cells.count));
    const tone = { ...PLAIN_TONE, blackPoint: 20, whitePoint: 85, midpoint: 40 };
    const lean = { price: 15, places: placesOfTone(tone) };
    const options = { rule: 'closest' as const, leastLayers: 3, mostBands: 6, lean };
    const kept = new StackEvaluator(clusters, RACK.map(opticsOf), USUAL_GRID, options);
    const random = makeRandom(7);
    const draft = makeDraft(6);
    for (let n = 0; n < 60; n += 1) {
      const keep = n % 2 === 0 ? 0 : Math.min(2, draft.count);
      draft.count = keep + 1 + random.below(3);
      for (let i = keep; i < draft.count; i += 1) {
        draft.filament[i] = random.below(RACK.length);
        draft.layers[i] = 3 + random.below(6);
      }
      const bands = [...draft.filament.subarray(0, draft.count)].map((filament, i) => ({
        filamentId: RACK[filament]?.id ?? '',
        layers: draft.layers[i] ?? 0,
      }));
      const ramp = rampOfStack({ grid: USUAL_GRID, bands }, FILAMENTS);
      const least = Math.min(3, ramp.length);
      let [price, error] = [0, 0];
      clusters.weight.forEach((share, k) => {
        const own = [0, 1, 2].map((i) => clusters.lab[3 * k + i] ?? 0) as [number, number, number];
        const aim = tonePosition(tone, own[0]);
        const costs = ramp.slice(least - 1).map(({ lab }, i) => {
          const difference = ciede2000(own, lab);
          const off = Math.abs((i + 0.5) / (ramp.length - least + 1) - aim);
          // A lean of 15: near is within 0.225 of the stack.
          const away = off < 0.225 ? (off * off) / 0.45 : off - 0.1125;
          return { difference, cost: difference + 15 * away };
        });
        const best = costs.reduce((a, b) => (b.cost < a.cost ? b : a));
        price += share * best.cost;
        error += share * best.difference;
      });
      expect(kept.price(draft)).to.be.closeTo(price, 0.3);
      // Where two heights cost about the same, the other one may be taken.
      expect(kept.error).to.be.closeTo(error, 0.8);
    }
  });

  it('care: each difference counts by its square', () => {
    const cells = mergeCells(CELLS);
    const clusters = cellsAsClusters(cells, cellWeights(cells.count));
    const options = { rule: 'closest' as const, leastLayers: 3, mostBands: 4, care: 2 };
    const evaluator = new StackEvaluator(clusters, RACK.map(opticsOf), USUAL_GRID, options);
    const draft = makeDraft(4);
    draft.filament.set([0, 2]);
    draft.layers.set([4, 5]);
    draft.count = 2;
    const bands = [0, 2].map((filament, i) => ({
      filamentId: RACK[filament]?.id ?? '',
      layers: [4, 5][i] ?? 0,
    }));
    const ramp = rampOfStack({ grid: USUAL_GRID, bands }, FILAMENTS).slice(2);
    let sum = 0;
    clusters.weight.forEach((share, k) => {
      const own = [0, 1, 2].map((i) => clusters.lab[3 * k + i] ?? 0) as [number, number, number];
      sum += share * Math.min(...ramp.map(({ lab }) => ciede2000(own, lab))) ** 2;
    });
    expect(evaluator.price(draft) / sum).to.be.closeTo(1, 0.03);
  });

  it('clusters keep the whole weight and the mean colour, darkest first', () => {
    const weights = cellWeights(CELLS.count);
    const { lab, weight } = clusterCells(CELLS, weights, 16);
    expect(weight).to.have.length(16);
    expect(weight.reduce((a, b) => a + b)).to.be.closeTo(1, 1e-9);
    const lightness = Array.from(weight, (_, k) => lab[3 * k] ?? 0);
    expect(lightness).to.deep.equal([...lightness].sort((a, b) => a - b));
    expect(cellWeights([4, 100], 1)).to.deep.equal(Float64Array.of(1, 1));
    const merged = mergeCells(CELLS);
    expect(merged.count.reduce((a, b) => a + b)).to.equal(400);
    expect(merged.count.length).to.be.at.most(CELLS.count.length);
  });
});

describe('finding a stack', () => {
  for (const rule of ['closest', 'tone'] as const)
    it(`${rule}: finds the best of all stacks of four filaments, two swaps and nine layers`, () => {
      let best = Infinity;
      const bands: Band[] = [];
      const tryAll = (room: number): void => {
        const layers = bands.reduce((sum, band) => sum + band.layers, 0);
        if (layers >= 3) best = Math.min(best, longPrice(bands, rule));
        if (bands.length === 3) return;
        for (const { id } of RACK)
          if (bands.at(-1)?.filamentId !== id)
            for (let count = 1; count <= room; count += 1) {
              bands.push({ filamentId: id, layers: count });
              tryAll(room - count);
              bands.pop();
            }
      };
      // All stacks of just nine layers, and of fewer: about 3,000.
      tryAll(9);
      const { curve } = answerOf({ rule, seconds: 0.5 });
      const found = curve.at(-1)?.bands ?? [];
      expect(longPrice(found, rule)).to.be.at.most(best * (rule === 'tone' ? 1.02 : 1.005) + 0.05);
    }).timeout(300_000);

  it('a lean makes the price larger, the error too, and the request counts in every part of the search', () => {
    const lean = { price: 30, places: placesOfTone(PLAIN_TONE) };
    const free = answerOf({ seconds: 0.2 }).curve.at(-1) ?? expect.fail();
    const leaning = answerOf({ seconds: 0.2, lean }).curve.at(-1) ?? expect.fail();
    expect(leaning.price).to.be.above(leaning.meanDeltaE);
    expect(leaning.meanDeltaE).to.be.at.least(free.meanDeltaE - 0.05);
    const caring = answerOf({ seconds: 0.2, care: 2 }).curve.at(-1) ?? expect.fail();
    // What is told is the mean over all colours, whatever the search weighs.
    expect(caring.meanDeltaE).to.be.at.least(free.meanDeltaE - 0.05);
    expect(caring.price).to.be.above(caring.meanDeltaE);
  });

  it('the same request gives the same answer; another seed may not', () => {
    const one = answerOf();
    expect(answerOf()).to.deep.equal(one);
    expect(one.looked).to.be.greaterThan(1000);
  });

  it('keeps to swaps, layers and pins, and more swaps are never worse', () => {
    const rack = Object.values(demoFilaments());
    for (const [mostSwaps, mostLayers, seed] of [
      [0, 12, 1],
      [3, 12, 2],
      [5, 24, 3],
      [8, 30, 4],
    ] as const) {
      const { curve, others } = answerOf({
        filaments: rack,
        mostSwaps,
        mostLayers,
        seed,
        seconds: 0.1,
        leastPerBand: 2,
        must: mostSwaps > 0 ? ['rust'] : [],
        bottom: 'soot',
        top: mostSwaps > 2 ? 'chalk' : null,
      });
      let before = Infinity;
      for (const { bands, meanDeltaE } of [...curve, ...others]) {
        expect(bands.length).to.be.at.most(mostSwaps + 1);
        expect(bands.reduce((sum, { layers }) => sum + layers, 0)).to.be.within(3, mostLayers);
        expect(Math.min(...bands.map(({ layers }) => layers))).to.be.at.least(2);
        expect(bands[0]?.filamentId).to.equal('soot');
        if (mostSwaps > 2) expect(bands.at(-1)?.filamentId).to.equal('chalk');
        if (mostSwaps > 0) expect(bands.map(({ filamentId }) => filamentId)).to.include('rust');
        bands.forEach(({ filamentId }, i) => {
          expect(filamentId).not.to.equal(bands[i - 1]?.filamentId);
        });
        if (others.some((other) => other.bands === bands)) continue;
        expect(meanDeltaE).to.be.at.most(before);
        before = meanDeltaE;
      }
      expect(curve.length).to.be.at.least(1);
    }
  });

  it('the last steps are by all colours: no layer moved from one band to another is better', () => {
    for (const seed of [1, 2, 3]) {
      const asked = request({
        filaments: Object.values(demoFilaments()).slice(0, 12),
        mostSwaps: 3,
        mostLayers: 24,
        // Too short for a look by many colours.
        seconds: 0.05,
        seed,
      });
      const found = findStack(asked);
      const limits = limitsOf(asked);
      if (!found.ok || !limits.ok) return expect.fail();
      const judge = new Judge(asked, limits.value);
      const best = found.value.curve.at(-1) ?? expect.fail();
      const filament = best.bands.map(({ filamentId }) =>
        asked.filaments.findIndex(({ id }) => id === filamentId),
      );
      const layers = best.bands.map((band) => band.layers);
      const price = judge.exactly({ filament, layers, price: 0 });
      expect(price).to.equal(best.meanDeltaE);
      for (let one = 0; one < layers.length; one += 1)
        for (let other = 0; other < layers.length; other += 1) {
          if (one === other || (layers[one] ?? 0) < 2) continue;
          const moved = [...layers];
          moved[one] = (moved[one] ?? 0) - 1;
          moved[other] = (moved[other] ?? 0) + 1;
          expect(judge.exactly({ filament, layers: moved, price: 0 })).to.be.at.least(price - 1e-9);
        }
    }
  });

  it('says what cannot be: nothing printed, no filament, unknown or too many pins, too few layers', () => {
    const codeOf = (over: Partial<FindRequest>): string => {
      const found = findStack(request(over));
      return found.ok ? 'ok' : found.fault.code;
    };
    expect(codeOf({ cells: { colour: new Float32Array(), count: new Uint32Array() } })).to.equal(
      'nothing-printed',
    );
    expect(codeOf({ filaments: [] })).to.equal('no-filaments');
    expect(codeOf({ must: ['nowhere'] })).to.equal('unknown-filament');
    expect(codeOf({ mostSwaps: 1, must: ['soot', 'rust', 'sky'] })).to.equal('too-many-pins');
    expect(codeOf({ mostLayers: 5, leastPerBand: 3, must: ['soot', 'rust'] })).to.equal(
      'too-few-layers',
    );
    expect(codeOf({ filaments: RACK.slice(0, 1) })).to.equal('ok');
  });

  it('one filament, one colour, and a picture of one pixel have an answer', () => {
    const { curve } = answerOf({ filaments: RACK.slice(0, 1), mostSwaps: 4, seconds: 0.05 });
    expect(curve.at(-1)?.bands).to.have.length(1);
    const plain = gatherColours({ width: 1, height: 1, data: Uint8ClampedArray.of(9, 9, 9, 255) });
    expect(answerOf({ cells: plain, seconds: 0.05 }).curve.at(-1)?.meanDeltaE).to.be.below(6);
  });

  it('tells better stacks as they come, and ends where it is told to', () => {
    const told: number[] = [];
    const fractions: number[] = [];
    findStack(request({ filaments: Object.values(demoFilaments()), mostSwaps: 4 }), {
      onBest: ({ meanDeltaE }) => told.push(meanDeltaE),
      onPause: (fraction) => fractions.push(fraction),
    });
    expect(told.length).to.be.at.least(1);
    expect(told).to.deep.equal([...told].sort((a, b) => b - a));
    expect(fractions.at(-1)).to.equal(1);
    expect(() =>
      findStack(request(), {
        onPause: (fraction) => {
          if (fraction > 0.3) throw new Error('stop');
        },
      }),
    ).to.throw('stop');
  });

  it('a rising curve never falls, has few points, and comes with every suggestion for tone', async () => {
    const bands = [
      { filamentId: 'soot', layers: 4 },
      { filamentId: 'rust', layers: 5 },
      { filamentId: 'ivory', layers: 6 },
    ];
    const ramp = rampOfStack({ grid: USUAL_GRID, bands }, FILAMENTS);
    const curve = risingCurve(CELLS, ramp, 3, 16);
    expect(curve.length).to.be.within(2, 16);
    let before = -1;
    for (let lightness = 0; lightness <= 100; lightness += 1) {
      const position = curvePosition(curve, lightness);
      expect(position).to.be.within(Math.max(0, before), 1);
      before = position;
    }
    const answer = await findHandlers().find(
      request({ rule: 'tone', seconds: 0.05 }),
      () => undefined,
      () => undefined,
    );
    if (!answer.ok) throw new Error(answer.fault.code);
    for (const { tone } of answer.value.curve) expect(tone?.length).to.be.at.least(2);
  });

  it('improving goes on from a stack, is never worse, and leaves locked bands as they are', () => {
    const rack = Object.values(demoFilaments());
    const start = [
      { filamentId: 'soot', layers: 5 },
      { filamentId: 'rust', layers: 6, locked: true },
      { filamentId: 'ivory', layers: 7 },
      { filamentId: 'sage', layers: 4 },
    ].filter(({ filamentId }) => rack.some(({ id }) => id === filamentId));
    const over = { filaments: rack, start, mostSwaps: 4, mostLayers: 24 };
    for (const seed of [1, 2]) {
      const { curve } = answerOf({ ...over, seed, seconds: 0.3 });
      for (const { bands } of curve)
        expect(
          bands.some(({ filamentId, layers }) => filamentId === 'rust' && layers === 6),
        ).to.equal(true);
      expect(curve.at(-1)?.meanDeltaE).to.be.at.most(closestPrice(start, demoFilaments()) + 0.05);
    }
    const failed = findStack(request({ filaments: rack, start, mostSwaps: 4, mostLayers: 10 }));
    expect(failed.ok ? 'ok' : failed.fault.code).to.equal('no-stack');
  });

  it('tells which filament that is not at hand would help, and only where it does', () => {
    const [soot, rust, ivory, sky] = RACK;
    if (!soot || !rust || !ivory || !sky) throw new Error('a filament is missing');
    const blue = gatherColours(
      picture(4, [
        [20, 20, 24],
        [47, 111, 180],
        [240, 232, 214],
      ]),
    );
    const poor = request({
      cells: blue,
      filaments: [soot, rust, ivory],
      mostLayers: 24,
      mostSwaps: 2,
    });
    const found = findStack(poor);
    const best = found.ok ? found.value.curve.at(-1) : undefined;
    if (!best) throw new Error('nothing was found');
    const [purchase] = whatToBuy(poor, [sky], best);
    expect(purchase?.filamentId).to.equal('sky');
    expect(purchase?.stack.meanDeltaE).to.be.below(best.meanDeltaE - 0.04);
    expect(purchase?.stack.bands.map(({ filamentId }) => filamentId)).to.include('sky');
    const twin = { ...rust, id: 'twin' };
    expect(whatToBuy(poor, [twin], best).map(({ stack }) => stack.meanDeltaE)).to.satisfy(
      (errors: number[]) => errors.every((error) => error < best.meanDeltaE),
    );
    expect(whatToBuy(poor, [], best)).to.deep.equal([]);
  });

  it('flat colours are looked for as few, and each comes with the layer that is nearest to it', async () => {
    // What three layers of a stack look like, and one colour that nothing goes to.
    const stack = [
      { filamentId: 'ivory', layers: 4 },
      { filamentId: 'rust', layers: 3 },
      { filamentId: 'soot', layers: 2 },
    ];
    const seen = rampOfStack({ grid: USUAL_GRID, bands: stack }, FILAMENTS);
    const wished = [4, 6, 9].map((layers) => ({
      colour: formatHex(seen[layers - 1]?.colour ?? [0, 0, 0]),
      layers: 1,
    }));
    const flat = [...wished, { colour: '#00ff00', layers: 1 }];
    const data = new Uint8ClampedArray(4 * 60);
    for (let n = 0; n < 60; n += 1) {
      const [r = 0, g = 0, b = 0] = seen[(n < 30 ? 4 : n < 50 ? 6 : 9) - 1]?.colour ?? [];
      data.set([r, g, b, 255], 4 * n);
    }
    const whole = gatherColours({ width: 10, height: 6, data });
    const importance = Float64Array.from(whole.count, (count) => (count === 10 ? 4 : 1));
    const cells = cellsOfFlat({ ...whole, importance }, flat);
    expect([...cells.count]).to.deep.equal([30, 20, 10, 0]);
    expect([...(cells.importance as Float64Array)]).to.deep.equal([1, 1, 4, 1]);
    const answer = await findHandlers().find(
      { ...request({ cells, mostLayers: 9, mostSwaps: 2 }), flat },
      () => undefined,
      () => undefined,
    );
    if (!answer.ok) throw new Error(answer.fault.code);
    const best = answer.value.curve.at(-1);
    if (!best) throw new Error('nothing found');
    // The stack that they were taken from has no error but for the rounding of its colours to bytes.
    expect(best.meanDeltaE).to.be.below(0.4);
    const ramp = rampOfStack({ grid: USUAL_GRID, bands: best.bands }, FILAMENTS);
    best.flat?.slice(0, 3).forEach(({ colour, layers }, k) => {
      expect(colour).to.equal(wished[k]?.colour);
      expect(layers).to.be.within(3, ramp.length);
      const off = ramp.map((at) =>
        ciede2000(labOfBytes(parseHex(colour) ?? [0, 0, 0]), labOfBytes(at.colour)),
      );
      // None of the layers that are tall enough is nearer.
      expect(off[layers - 1]).to.be.at.most(Math.min(...off.slice(2)) + 1e-6);
    });
    const document = withSuggestion(testDocument(), best, RACK);
    expect(document.heights.rule).to.equal('flat');
    expect(document.heights.flat.colours).to.deep.equal(best.flat);
    expect(document.heights.found?.rule).to.equal('flat');
  });

  it('a stack for zones brings their order and colours; their own spans, set for another stack, go', () => {
    const zone = (id: string, colours: string[], span: [number, number] | null = null) => ({
      id,
      name: id,
      colours,
      span,
      reversed: false,
      curve: null,
    });
    const before = testDocument();
    const heights = {
      ...before.heights,
      rule: 'zones' as const,
      zones: {
        ...before.heights.zones,
        list: [
          zone('sky', ['#8090ff'], [1, 4]),
          zone('hill', ['#308030']),
          zone('sea', ['#2040a0']),
        ],
      },
    };
    const stack = {
      bands: before.stack.bands.map(({ filamentId, layers }) => ({ filamentId, layers })),
      mostSwaps: 2,
      meanDeltaE: 9,
      price: 9,
      whenOff: [9, 9] as const,
      tone: null,
      lean: 30,
      zoneIds: ['sea', 'sky', 'hill'],
    };
    const told = (zoneColours?: { id: string; colours: string[] }[]) =>
      withSuggestion(
        { ...before, heights },
        { ...stack, ...(zoneColours ? { zoneColours } : {}) },
        RACK,
      ).heights.zones.list.map(({ id, colours, span }) => [id, colours, span]);
    expect(told()).to.deep.equal([
      ['sea', ['#2040a0'], null],
      ['sky', ['#8090ff'], null],
      ['hill', ['#308030'], null],
    ]);
    const moved = [
      { id: 'hill', colours: ['#308030', '#2040a0'] },
      { id: 'sky', colours: ['#8090ff'] },
    ];
    expect(told(moved)).to.deep.equal([
      ['sea', ['#2040a0'], null],
      ['sky', ['#8090ff'], null],
      ['hill', ['#308030', '#2040a0'], null],
    ]);
  });

  it('bands that were locked are themselves where they come up again, from the plate up', () => {
    const before = [
      { filamentId: 'soot', layers: 3, locked: true, id: 'a' },
      { filamentId: 'chalk', layers: 2, id: 'b' },
      { filamentId: 'soot', layers: 3, locked: true, id: 'c' },
    ];
    const found = [
      { filamentId: 'soot', layers: 3 },
      { filamentId: 'chalk', layers: 2 },
      { filamentId: 'soot', layers: 4 },
      { filamentId: 'soot', layers: 3 },
    ];
    const carried = carryLocked(found, before, (band) => ({ ...band, id: 'fresh' }));
    expect(carried.map(({ id }) => id)).to.deep.equal(['a', 'fresh', 'fresh', 'c']);
  });

  it('two searches agree when their prices are as good as one; a second turn has seeds of its own', () => {
    expect(agreed([5, 5])).to.equal(true);
    expect(agreed([5.002, 5])).to.equal(true);
    expect(agreed([5, 5.01])).to.equal(false);
    expect(agreed([0, 0])).to.equal(true);
    expect(agreed([0, 0.5])).to.equal(false);
    const seeds = Array.from({ length: MOST_TURNS }, (_, turn) => seedsOf(1, turn)).flat();
    expect(seeds[0]).to.equal(1);
    expect(new Set(seeds).size).to.equal(MOST_TURNS * SEARCHES);
  });

  it('more effort never ends in a dearer stack: what a shorter search finds is found again', () => {
    expect(stepsOf(0.4)).to.deep.equal([0.4]);
    expect(stepsOf(1)).to.deep.equal([1]);
    expect(stepsOf(3)).to.deep.equal([1, 3]);
    expect(stepsOf(5)).to.deep.equal([1, 3, 5]);
    expect(stepsOf(10)).to.deep.equal([1, 3, 10]);
    const asked = (seconds: number) => {
      const found = findInSteps(request({ seconds, filaments: Object.values(demoFilaments()) }));
      if (!found.ok) throw new Error(found.fault.code);
      return found.value;
    };
    const short = asked(1);
    const longer = asked(1.2);
    for (const { mostSwaps, price } of longer.curve) {
      const before = short.curve.find((one) => one.mostSwaps === mostSwaps);
      if (before) expect(price, `${mostSwaps} swaps`).to.be.at.most(before.price);
    }
    expect(longer.looked).to.be.greaterThan(short.looked);
  });

  it('curves of several searches are merged swap by swap', () => {
    const stack = (mostSwaps: number, meanDeltaE: number) => ({
      bands: [],
      mostSwaps,
      meanDeltaE,
      price: meanDeltaE,
      whenOff: [0, 0] as const,
      tone: null,
      lean: 0,
    });
    const merged = mergeCurves([
      [stack(0, 9), stack(1, 5), stack(2, 4)],
      [stack(1, 8), stack(2, 6), stack(3, 4.5)],
    ]);
    expect(merged.map(({ mostSwaps, meanDeltaE }) => [mostSwaps, meanDeltaE])).to.deep.equal([
      [0, 9],
      [1, 5],
      [2, 4],
      [3, 4],
    ]);
    expect(mergeCurves([[stack(2, 9)], []]).map(({ mostSwaps }) => mostSwaps)).to.deep.equal([2]);
  });

  it('needs at most 0.6 of the error of dark-to-light evenly spaced, with as many swaps', () => {
    const rack = Object.values(demoFilaments());
    const sorted = [...rack].sort((a, b) => opticsOf(a).opaqueLab[0] - opticsOf(b).opaqueLab[0]);
    const usual = [0, 1, 2, 3, 4].map((i) => ({
      filamentId: sorted[Math.round((i * (sorted.length - 1)) / 4)]?.id ?? '',
      layers: 6,
    }));
    const byHand = closestPrice(usual, demoFilaments());
    const { curve } = answerOf({ filaments: rack, mostSwaps: 4, mostLayers: 30, seconds: 1 });
    expect(curve.at(-1)?.meanDeltaE).to.be.at.most(0.6 * byHand);
  });
});

describe('importance', () => {
  const stroke = (mark: Mark, points: number[], radius = 0.1): ImportanceStroke => ({
    mark,
    radius,
    points,
  });

  it('is painted as round-ended lines, the last stroke counts, and unmarked pictures have none', () => {
    expect(paintImportance([], 20, 10)).to.equal(undefined);
    expect(paintImportance([stroke('plain', [0.5, 0.5])], 20, 10)).to.equal(undefined);
    const map = paintImportance([stroke('more', [0.2, 0.5, 0.8, 0.5])], 20, 10);
    // Within 2 samples of the line from (4, 5) to (16, 5), and nowhere else.
    for (let row = 0; row < 10; row += 1)
      for (let column = 0; column < 20; column += 1) {
        const [x, y] = [column + 0.5, row + 0.5];
        const off = Math.hypot(x - Math.min(16, Math.max(4, x)), y - 5);
        expect(map?.data[row * 20 + column], `${column}, ${row}`).to.equal(off <= 2 ? 4 : 1);
      }
    const mended = paintImportance(
      [stroke('more', [0.5, 0.5], 0.3), stroke('less', [0.5, 0.5]), stroke('plain', [0.3, 0.5])],
      20,
      10,
    );
    expect(mended?.data[5 * 20 + 10]).to.equal(MARK_FACTORS.less);
    expect(mended?.data[5 * 20 + 6]).to.equal(1);
    expect(mended?.data[5 * 20 + 14]).to.equal(MARK_FACTORS.more);
  });

  it('an area counts as a stroke does, with its soft border between', () => {
    const samples = Uint8Array.of(0, 255, 255, 128);
    const map = paintImportance([{ mark: 'more', samples }, stroke('plain', [0.6, 0.5])], 4, 1);
    expect(map?.data[0]).to.equal(1);
    expect(map?.data[1]).to.equal(MARK_FACTORS.more);
    expect(map?.data[2], 'under the later stroke').to.equal(1);
    expect(map?.data[3]).to.be.closeTo(4 ** (128 / 255), 1e-6);
  });

  it('is the mean of the samples of each colour, and leaves out what is cut away', () => {
    const data = new Uint8ClampedArray([9, 9, 9, 255, 9, 9, 9, 255, 250, 0, 0, 255, 0, 0, 0, 0]);
    const cells = gatherColours({ width: 4, height: 1, data });
    const map = { width: 4, height: 1, data: new Float32Array([4, 1, 0.25, 4]) };
    expect([...importanceOfCells(cells, map)]).to.deep.equal([2.5, 0.25]);
  });

  it('draws a search to the colours that matter', () => {
    // A little blue in much rust: one swap serves the rust, unless the blue is painted over.
    const data = new Uint8ClampedArray(4 * 400);
    for (let i = 0; i < 400; i += 1)
      data.set(
        i < 20 ? [47, 111, 180, 255] : i % 2 ? [168, 69, 31, 255] : [238, 230, 212, 255],
        4 * i,
      );
    const cells = gatherColours({ width: 20, height: 20, data });
    const blueAt = cells.count.findIndex((count) => count === 20);
    const importance = Float32Array.from(cells.count, (_, n) => (n === blueAt ? 40 : 1));
    const plain = answerOf({ cells, mostSwaps: 1 });
    const painted = answerOf({ cells: { ...cells, importance }, mostSwaps: 1 });
    const has = (answer: typeof plain): boolean =>
      answer.curve.at(-1)?.bands.some(({ filamentId }) => filamentId === 'sky') === true;
    expect(has(plain)).to.equal(false);
    expect(has(painted)).to.equal(true);
    // Told is still the error over all pixels, so it is not the least any more.
    expect(painted.curve.at(-1)?.meanDeltaE).to.be.greaterThan(plain.curve.at(-1)?.meanDeltaE ?? 0);
  });
});

describe('stacks that bear it when transmissions are off', () => {
  it('have no greater mean error over 10 % less, as said, and more than others found in the same time', () => {
    const expected = (over: Partial<FindRequest>): number => {
      const stack = answerOf({ mostSwaps: 3, mostLayers: 16, seconds: 1, ...over }).curve.at(-1);
      if (!stack) throw new Error('no stack');
      return (stack.meanDeltaE + stack.whenOff[0] + stack.whenOff[1]) / 3;
    };
    expect(expected({ sturdy: true })).to.be.at.most(expected({}) + 0.01);
  });
});
