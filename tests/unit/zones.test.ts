import { expect } from 'chai';
import fc from 'fast-check';
import { gatherColours, hexOfRuleColour } from '#core/artwork/colour-cells.ts';
import { measureBrightness } from '#core/artwork/brightness.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import { findStack } from '#core/find/find-stack.ts';
import type { FindRequest } from '#core/find/request.ts';
import { makeRandom } from '#core/base/random.ts';
import { ZonedPrice } from '#core/find/zoned-price.ts';
import { readZonesJson } from '#core/formats/project/zones-json.ts';
import { MOST_LEAN } from '#core/stack/lean.ts';
import { cheapestLayers, coloursOfRamp, differencesOfCells } from '#core/heights/closest.ts';
import { heightsByRule, ruleJson, type HeightRule } from '#core/heights/height-rules.ts';
import { cellsOfZones, planZones, type Zone, type ZonesRule } from '#core/heights/zones.ts';
import { fitZones } from '#core/heights/fit-zones.ts';
import { zoneOrders } from '#core/heights/zone-orders.ts';
import { placesOfCurve } from '#core/heights/tone.ts';
import { USUAL_GRID } from '#core/stack/layer-grid.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { nameOfColour } from '#core/zones/colour-name.ts';
import {
  bestOrderOf,
  binOfLightness,
  cheapestOrder,
  solveCurves,
  ZONE_BINS,
  type ZoneCosts,
  type ZoneRun,
} from '#core/zones/curves.ts';
import { labelSamples, otherZones, zoneCounts } from '#core/zones/labels.ts';
import { proposeZones, seedsOf, splitZone } from '#core/zones/propose.ts';
import { randomFrom } from '../../demo/draw/shading.ts';
import { FILAMENTS, stackOf } from '../helpers/stacks.ts';

const RAMP = rampOfStack(stackOf(4, 5, 6, 5), FILAMENTS);
const COLOURS = coloursOfRamp(RAMP);
const LAYERS = RAMP.length;
const LIMITS = { layers: LAYERS, leastLayers: 3, sampleMm: 0.2 };

const free: ZoneRun = { reversed: false, span: null };

/** Costs of zones whose lightness classes are few: [zone][class][layer from 1]. */
function costsOf(table: readonly (readonly (readonly number[])[])[], layers: number): ZoneCosts {
  const stride = layers + 1;
  const costs = new Float64Array(table.length * ZONE_BINS * stride);
  const counts = new Float64Array(table.length * ZONE_BINS);
  table.forEach((classes, zone) => {
    classes.forEach((row, k) => {
      const place = zone * ZONE_BINS + 7 * k + 3;
      counts[place] = 1;
      row.forEach((cost, l) => {
        costs[place * stride + l + 1] = cost;
      });
    });
  });
  return { zones: table.length, layers, costs, counts };
}

/** All rising ways of classes over layers of a range. */
function* rising(classes: number, from: number, to: number): Generator<number[]> {
  if (classes === 0) yield [];
  else
    for (let layer = from; layer <= to; layer += 1)
      for (const rest of rising(classes - 1, layer, to)) yield [layer, ...rest];
}

/** The least price by trying all heights of all classes. */
function bruteForce(
  table: readonly (readonly (readonly number[])[])[],
  order: readonly number[],
  least: number,
  layers: number,
  shared: number,
  reversed: readonly boolean[],
): number {
  const go = (place: number, above: number): number => {
    const zone = order[place];
    if (zone === undefined) return 0;
    const own = table[zone] ?? [];
    const classes = reversed[zone] ? [...own].reverse() : own;
    let best = Infinity;
    for (const way of rising(classes.length, least, layers)) {
      if (place > 0 && above > (way[0] ?? 0) - 1 + shared) continue;
      const here = way.reduce((sum, layer, k) => sum + (classes[k]?.[layer - 1] ?? 0), 0);
      best = Math.min(best, here + go(place + 1, way.at(-1) ?? 0));
    }
    return best;
  };
  return go(0, 0);
}

const tables = fc
  .tuple(fc.integer({ min: 1, max: 3 }), fc.integer({ min: 4, max: 6 }))
  .chain(([zones, layers]) =>
    fc.record({
      layers: fc.constant(layers),
      shared: fc.integer({ min: 0, max: 3 }),
      reversed: fc.array(fc.boolean(), { minLength: zones, maxLength: zones }),
      table: fc.array(
        fc.array(
          fc.array(fc.integer({ min: 0, max: 9 }), { minLength: layers, maxLength: layers }),
          {
            minLength: 1,
            maxLength: 3,
          },
        ),
        { minLength: zones, maxLength: zones },
      ),
    }),
  );

/** Bars of flat colours with a little noise, and a cut-away rim. */
function bars(colours: readonly (readonly number[])[], width = 60, height = 40): RgbaRaster {
  const random = randomFrom(5);
  const data = new Uint8ClampedArray(4 * width * height);
  for (let i = 0; i < width * height; i += 1) {
    const x = i % width;
    const own = colours[Math.floor((x * colours.length) / width)] ?? [0, 0, 0];
    data.set([...own.map((value) => value + 12 * random()), i < width ? 0 : 255], 4 * i);
  }
  return { width, height, data };
}

function artworkOf(samples: RgbaRaster) {
  const cells = gatherColours(samples);
  return { brightness: measureBrightness(samples), cells: () => cells };
}

const RED = [200, 40, 40];
const BLUE = [40, 60, 190];
const YELLOW = [230, 210, 60];

function ruleOf(zones: readonly Zone[], over: Partial<ZonesRule> = {}): ZonesRule {
  return { zones, painted: [], shared: 3, lean: MOST_LEAN, softMm: 0, colours: COLOURS, ...over };
}

function zonesOf(picture: RgbaRaster, count = 3): Zone[] {
  return proposeZones(gatherColours(picture), count).map((zone) => ({ ...zone, ...free }));
}

describe('zones', () => {
  it('curves cost as little as any heights tried one by one', () => {
    fc.assert(
      fc.property(tables, ({ table, layers, shared, reversed }) => {
        const order = table.map((_, zone) => zone);
        const least = 2;
        const runs = reversed.map((own) => ({ reversed: own, span: null }));
        const costs = costsOf(table, layers);
        const { curves, price } = solveCurves(costs, runs, order, { least, layers, shared });
        expect(price).to.equal(bruteForce(table, order, least, layers, shared, reversed));
        // The curves are ways that cost just that.
        let sum = 0;
        let below = 0;
        table.forEach((classes, zone) => {
          const own = classes.map((row, k) => {
            const layer = curves[zone]?.[7 * k + 3] ?? 0;
            sum += row[layer - 1] ?? Infinity;
            return layer;
          });
          const upwards = reversed[zone] ? [...own].reverse() : own;
          expect([...upwards].sort((a, b) => a - b)).to.deep.equal(upwards);
          if (zone > 0) expect(below).to.be.at.most((upwards[0] ?? 0) - 1 + shared);
          below = upwards.at(-1) ?? 0;
        });
        expect(sum).to.equal(price);
      }),
      { numRuns: 150 },
    );
  });

  it('the cheapest order is the cheapest of all orders', () => {
    const orders = (all: readonly number[]): number[][] =>
      all.length === 0
        ? [[]]
        : all.flatMap((one) =>
            orders(all.filter((other) => other !== one)).map((rest) => [one, ...rest]),
          );
    fc.assert(
      fc.property(tables, ({ table, layers, shared, reversed }) => {
        const runs = reversed.map((own) => ({ reversed: own, span: null }));
        const costs = costsOf(table, layers);
        const room = { least: 1, layers, shared };
        const found = cheapestOrder(costs, runs, room);
        const prices = orders(table.map((_, zone) => zone)).map(
          (order) => solveCurves(costs, runs, order, room).price,
        );
        expect(found.price).to.equal(Math.min(...prices));
        expect(solveCurves(costs, runs, found.order, room).price).to.equal(found.price);
      }),
      { numRuns: 60 },
    );
  });

  it('where all orders are equal the given one stays; an empty zone takes no layers and comes last', () => {
    const level = costsOf([[[1, 1, 1, 1]], [[1, 1, 1, 1]]], 4);
    expect(
      cheapestOrder(level, [free, free], { least: 1, layers: 4, shared: null }).order,
    ).to.deep.equal([0, 1]);
    const costs = costsOf([[], [[3, 0, 0, 3]], [[5, 5, 1, 0]]], 4);
    const room = { least: 1, layers: 4, shared: 0 };
    const { curves, price } = solveCurves(costs, [free, free, free], [0, 1, 2], room);
    expect(curves[0]).to.equal(undefined);
    expect(price).to.equal(0);
    expect(cheapestOrder(costs, [free, free, free], room).order).to.deep.equal([1, 2, 0]);
    expect(bestOrderOf<number[]>([], 0, () => [0])).to.deep.equal({ order: [], price: 0 });
  });

  it('a span of a zone is kept, those beside it take what is left, and more zones than layers share', () => {
    const flat = Array.from({ length: 8 }, () => 1);
    const costs = costsOf([[flat], [flat], [flat]], 8);
    const held: ZoneRun = { reversed: false, span: [4, 5] };
    const { curves } = solveCurves(costs, [free, held, free], [0, 1, 2], {
      least: 2,
      layers: 8,
      shared: 0,
    });
    expect(curves[0]?.[3]).to.be.within(2, 3);
    expect(curves[1]?.[3]).to.be.within(4, 5);
    expect(curves[2]?.[3]).to.be.within(6, 8);
    const squeezed = solveCurves(costsOf([[[1]], [[1]]], 1), [free, free], [0, 1], {
      least: 1,
      layers: 1,
      shared: 0,
    });
    expect(squeezed.curves.map((curve) => curve?.[3])).to.deep.equal([1, 1]);
    // A span beyond the stack is taken back into it.
    const beyond = solveCurves(costs, [{ reversed: false, span: [40, 90] }], [0], {
      least: 2,
      layers: 8,
      shared: 0,
    });
    expect(beyond.curves[0]?.[3]).to.equal(8);
  });

  it('parts drawn art by its colours; each bar is a zone, the darkest lowest', () => {
    const picture = bars([RED, BLUE, YELLOW]);
    const cells = gatherColours(picture);
    const zones = proposeZones(cells, 3);
    expect(zones).to.have.length(3);
    const labels = labelSamples(cells, zones);
    const at = (x: number, y: number): number => labels[y * 60 + x] ?? 0;
    expect(new Set([at(10, 20), at(30, 20), at(50, 20)])).to.have.length(3);
    for (const x of [10, 30, 50])
      for (let y = 1; y < 40; y += 1) expect(at(x, y)).to.equal(at(x, 20));
    expect([...labels.subarray(0, 60)].every((label) => label === 0)).to.equal(true);
    expect(at(50, 20)).to.equal(3);
    const counts = zoneCounts(labels, 3);
    expect(counts.reduce((sum, one) => sum + one, 0)).to.equal(60 * 39);
    expect(zones.map(({ colours }) => nameOfColour(colours))).to.have.members([
      'blue',
      'red',
      'light yellow',
    ]);
    // One colour is one zone, whatever is asked for.
    expect(proposeZones(gatherColours(bars([RED])), 6).length).to.be.within(1, 6);
    expect(
      proposeZones(gatherColours({ width: 2, height: 1, data: new Uint8ClampedArray(8) }), 3),
    ).to.deep.equal([]);
    expect(seedsOf(cells).reduce((sum, { weight }) => sum + weight, 0)).to.equal(60 * 39);
  });

  it('a zone is parted in two by its own colours, and the others keep theirs', () => {
    const picture = bars([RED, BLUE, YELLOW]);
    const cells = gatherColours(picture);
    const [one, two] = proposeZones(cells, 2);
    if (!one || !two) throw new Error('two zones were asked for');
    const before = labelSamples(cells, [one, two]);
    const mixed = [one, two].find(
      (_, zone) => new Set([10, 30, 50].filter((x) => before[20 * 60 + x] === zone + 1)).size === 2,
    );
    if (!mixed) throw new Error('one zone has two bars');
    const other = mixed === one ? two : one;
    const parts = splitZone(cells, mixed, [other]);
    expect(parts).to.have.length(2);
    const after = labelSamples(cells, [...parts, other]);
    expect(new Set([10, 30, 50].map((x) => after[20 * 60 + x]))).to.have.length(3);
  });

  it('what is painted stays, specks go, and borders grow smoother', () => {
    const random = randomFrom(9);
    const picture = bars([RED, BLUE]);
    const { data } = picture;
    // A speck of the other colour, and a ragged border.
    for (let i = 60; i < 60 * 40; i += 1)
      if ((i % 60 === 10 && i < 60 * 9) || (Math.abs((i % 60) - 30) < 3 && random() < 0.4))
        data.set([...(i % 60 < 30 ? BLUE : RED), 255], 4 * i);
    const cells = gatherColours(picture);
    const zones = [RED, BLUE].map((colour) => ({
      colours: [`#${colour.map((value) => value.toString(16).padStart(2, '0')).join('')}`],
    }));
    const rough = (labels: Uint8Array): number => {
      let borders = 0;
      labels.forEach((label, i) => {
        if (i % 60 < 59 && label !== labels[i + 1]) borders += 1;
        if (i + 60 < labels.length && i >= 60 && label !== labels[i + 60]) borders += 1;
      });
      return borders;
    };
    const nearest = Uint8Array.from(cells.cell, (_, i) =>
      i < 60 ? 0 : (data[4 * i] as number) > (data[4 * i + 2] as number) ? 1 : 2,
    );
    const labels = labelSamples(cells, zones);
    expect(rough(labels)).to.be.below(0.7 * rough(nearest));
    expect(labels[60 * 5 + 10]).to.equal(1);
    const samples = new Uint8Array(labels.length);
    samples[60 * 20 + 10] = 255;
    samples[5] = 255;
    const painted = labelSamples(cells, zones, [{ zone: 1, samples }]);
    expect(painted[60 * 20 + 10]).to.equal(2);
    expect(painted[5], 'what is cut away has no zone').to.equal(0);
    // Without colours of its own a zone has what was painted alone.
    const third = labelSamples(cells, [...zones, { colours: [] }], [{ zone: 2, samples }]);
    expect(zoneCounts(third, 3)[2]).to.equal(1);
  });

  it('the other zone near a border is the nearest one, as far as it reaches', () => {
    const width = 12;
    const labels = Uint8Array.from({ length: 12 * 5 }, (_, i) => (i % width < 6 ? 1 : 2));
    labels[0] = 0;
    const others = otherZones(labels, width, 2);
    for (let i = 0; i < labels.length; i += 1) {
      const x = i % width;
      const near = x < 6 ? x >= 4 : x < 8;
      expect(others[i], `${i}`).to.equal(labels[i] === 0 || !near ? 0 : x < 6 ? 2 : 1);
    }
  });
});

describe('heights by zones', () => {
  const picture = bars([RED, BLUE, YELLOW]);
  const artwork = artworkOf(picture);
  const cells = artwork.cells();
  const zones = zonesOf(picture);

  it('walls: nothing leaves its zone; each height is that of its class', () => {
    const plan = planZones(artwork, ruleOf(zones, { shared: 0 }), LIMITS);
    expect(
      plan.facts.map(({ share }) => share).reduce((sum, share) => sum + share, 0),
    ).to.be.closeTo(1, 1e-9);
    let top = 0;
    for (const { span } of plan.facts) {
      expect(span?.[0]).to.be.above(top);
      top = span?.[1] ?? 0;
    }
    plan.heights.data.forEach((height, i) => {
      const label = plan.labels[i] as number;
      const span = plan.facts[label - 1]?.span;
      if (label === 0) expect(height).to.equal(0);
      else expect(height).to.be.within(span?.[0] ?? 0, span?.[1] ?? 0);
    });
  });

  it('without lean it is closest blend, with more lean it comes nearer to walls and costs more', () => {
    const differences = differencesOfCells(cells, COLOURS, 3);
    const closest = cheapestLayers(differences, LAYERS);
    const none = planZones(artwork, ruleOf(zones, { lean: 0 }), LIMITS).heights.data;
    none.forEach((height, i) => {
      const own = cells.cell[i] as number;
      expect(height).to.equal(own < cells.count.length ? closest[own] : 0);
    });
    const walls = planZones(artwork, ruleOf(zones), LIMITS).heights.data;
    let near = Infinity;
    let cheap = -Infinity;
    for (const lean of [0, 6, 15, 29]) {
      const { data } = planZones(artwork, ruleOf(zones, { lean }), LIMITS).heights;
      let apart = 0;
      let error = 0;
      data.forEach((height, i) => {
        if (height === 0) return;
        apart += Math.abs(height - (walls[i] as number));
        error += differences[(cells.cell[i] as number) * (LAYERS + 1) + height] as number;
      });
      expect(apart).to.be.at.most(near);
      expect(error).to.be.at.least(cheap - 1e-6);
      near = apart;
      cheap = error;
    }
  });

  it('a span, a direction and a curve of its own are kept', () => {
    const [low, middle, high] = zones;
    if (!low || !middle || !high) throw new Error('three zones');
    const own: Zone = {
      ...middle,
      span: [10, 14],
      reversed: true,
      curve: [
        { lightness: 0, position: 0 },
        { lightness: 100, position: 1 },
      ],
    };
    const plan = planZones(artwork, ruleOf([low, own, high]), LIMITS);
    expect(plan.facts[1]?.span).to.deep.equal([10, 14]);
    const seen = new Map<number, number>();
    plan.heights.data.forEach((height, i) => {
      if (plan.labels[i] !== 2) return;
      expect(height).to.be.within(10, 14);
      const bin = binOfLightness((artwork.brightness.data[i] ?? 0) / 40.95);
      seen.set(bin, height);
    });
    const along = [...seen].sort((a, b) => a[0] - b[0]).map(([, height]) => height);
    expect(along).to.deep.equal([...along].sort((a, b) => b - a));
  });

  it('in a soft border the better of both curves counts, and heights between the two never come up', () => {
    const hard = planZones(artwork, ruleOf(zones, { shared: 0 }), LIMITS);
    const soft = planZones(artwork, ruleOf(zones, { shared: 0, softMm: 0.6 }), LIMITS);
    const differences = differencesOfCells(cells, COLOURS, 3);
    const price = (heights: Uint8Array): number =>
      heights.reduce(
        (sum, height, i) =>
          height === 0
            ? sum
            : sum + (differences[(cells.cell[i] as number) * (LAYERS + 1) + height] as number),
        0,
      );
    expect(price(Uint8Array.from(soft.heights.data))).to.be.at.most(
      price(Uint8Array.from(hard.heights.data)),
    );
    const known = new Set(hard.heights.data);
    expect([...new Set(soft.heights.data)].every((height) => known.has(height))).to.equal(true);
  });

  it('any zones in any picture keep heights in range', () => {
    const pictures = [
      picture,
      bars([RED], 1, 50),
      bars([YELLOW, BLUE], 500, 1),
      { width: 3, height: 3, data: new Uint8ClampedArray(36) },
      { width: 2, height: 2, data: Uint8ClampedArray.of(...Array<number>(16).fill(255)) },
    ];
    const zone = fc.record({
      colours: fc.array(
        fc
          .tuple(fc.double({ min: 0, max: 100, noNaN: true }), fc.integer({ min: -60, max: 60 }))
          .map(([l, a]) => hexOfRuleColour(l, a, -a)),
        { maxLength: 4 },
      ),
      reversed: fc.boolean(),
      span: fc.option(fc.tuple(fc.integer({ min: 1, max: 60 }), fc.integer({ min: 1, max: 60 }))),
      curve: fc.option(
        fc.constant([
          { lightness: 20, position: 0.9 },
          { lightness: 80, position: 0.1 },
        ]),
        { nil: undefined },
      ),
    });
    fc.assert(
      fc.property(
        fc.array(zone, { minLength: 1, maxLength: 6 }),
        fc.constantFrom(...pictures),
        fc.record({
          shared: fc.option(fc.integer({ min: 0, max: 9 })),
          lean: fc.constantFrom(0, 4, 15, 30),
          softMm: fc.constantFrom(0, 0.4, 2),
        }),
        fc.record({ calm: fc.constantFrom(0, 0.5), smallestMm: fc.constantFrom(0, 0.4) }),
        (list, own, over, calming) => {
          const rule: HeightRule = { kind: 'zones', ...ruleOf(list, over), ...calming };
          const { data } = heightsByRule(artworkOf(own), rule, LIMITS);
          data.forEach((height, i) => {
            if ((own.data[4 * i + 3] as number) < 128) expect(height).to.equal(0);
            else expect(height).to.be.within(3, LAYERS);
          });
          expect(JSON.parse(JSON.stringify(ruleJson(rule)))).to.deep.equal(ruleJson(rule));
        },
      ),
      { numRuns: 120 },
    );
  });

  it('orders have prices: the found one is the least of all that keep to it, by hand is what it costs now', () => {
    const turned = [...zones].reverse();
    const rule = ruleOf(turned);
    const orders = zoneOrders(artwork, rule, LIMITS);
    const priceOf = (by: string): number => orders.find((one) => one.by === by)?.meanDeltaE ?? NaN;
    for (const { meanDeltaE } of orders) expect(priceOf('found')).to.be.at.most(meanDeltaE + 1e-9);
    expect(orders.find(({ by }) => by === 'dark')?.order).to.deep.equal([2, 1, 0]);
    expect(orders.find(({ by }) => by === 'hand')?.order).to.deep.equal([0, 1, 2]);
    // A disc on a ground: the ground lies along the rim.
    const scene = bars([BLUE]);
    for (let i = 0; i < 60 * 40; i += 1)
      if (Math.hypot((i % 60) - 30, Math.floor(i / 60) - 20) < 12)
        scene.data.set([...YELLOW, 255], 4 * i);
    const parts = zonesOf(scene, 2);
    const lit = [parts[1], parts[0]].flatMap((one) => one ?? []);
    const background = zoneOrders(artworkOf(scene), ruleOf(lit), LIMITS).find(
      ({ by }) => by === 'background',
    );
    expect(background?.order).to.deep.equal([1, 0]);
  });

  it('fitting to the stack costs no more than before, and loses no colour', () => {
    const random = randomFrom(3);
    const wild: RgbaRaster = {
      width: 50,
      height: 50,
      data: Uint8ClampedArray.from({ length: 10_000 }, (_, i) =>
        i % 4 === 3 ? 255 : 255 * random(),
      ),
    };
    const own = artworkOf(wild);
    const rule = ruleOf(zonesOf(wild));
    const fitted = fitZones(own, rule, LIMITS, true);
    const price = (list: readonly Zone[]): number =>
      zoneOrders(own, ruleOf(list), LIMITS).find(({ by }) => by === 'hand')?.meanDeltaE ?? NaN;
    expect(price(fitted.zones.map((zone) => ({ ...zone, ...free })))).to.be.below(
      price(rule.zones),
    );
    expect(fitted.zones.flatMap(({ colours }) => colours)).to.have.members(
      rule.zones.flatMap(({ colours }) => colours),
    );
    // Few colours are too few to move: the picture is asked for more.
    const few = rule.zones.map(({ colours, ...rest }) => ({
      ...rest,
      colours: colours.slice(0, 1),
    }));
    expect(
      fitZones(own, ruleOf(few), LIMITS, false).zones.flatMap(({ colours }) => colours).length,
    ).to.be.above(24);
  });
});

describe('a search for zones', () => {
  it('a stack costs zones what the best of all heights cost', () => {
    fc.assert(
      fc.property(tables, ({ table, layers, shared, reversed }) => {
        const zone = table.flatMap((classes, own) => classes.map(() => own));
        const weight = Float64Array.from(zone, () => 1);
        const priced = new ZonedPrice(
          {
            zones: reversed.map((own, i) => ({ id: String(i), reversed: own })),
            shared,
            price: null,
            anyOrder: true,
          },
          zone,
          weight,
          weight,
        );
        const flat = table.flat();
        for (let layer = 1; layer <= layers; layer += 1)
          priced.put(
            layer,
            Float32Array.from(flat, (row) => row[layer - 1] ?? 0),
            0,
          );
        const order = table.map((_, own) => own);
        expect(priced.price(1, layers)).to.equal(
          bruteForce(table, order, 1, layers, shared, reversed),
        );
        const best = priced.cheapestOrder();
        priced.stand(best);
        expect(priced.price(1, layers)).to.equal(
          bruteForce(table, best, 1, layers, shared, reversed),
        );
        expect(priced.error).to.be.at.most(bruteForce(table, order, 1, layers, shared, reversed));
      }),
      { numRuns: 60 },
    );
  });

  it('a stack costs the same whatever was priced before: other heights, other orders, walls or not', () => {
    const zone = [0, 0, 0, 1, 1, 2, 2, 2];
    const clusters = zone.length;
    const weight = Float64Array.from(zone, () => 1 / clusters);
    const lightness = [10, 40, 80, 20, 60, 0, 50, 90];
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1e6 }),
        fc.constantFrom(0, 1, 3, null),
        fc.constantFrom(null, 6, 15),
        fc.array(fc.tuple(fc.integer({ min: 1, max: 12 }), fc.integer({ min: 1, max: 12 })), {
          minLength: 2,
          maxLength: 12,
        }),
        (seed, shared, price, steps) => {
          const random = makeRandom(seed);
          const fresh = (): ZonedPrice =>
            new ZonedPrice(
              {
                zones: [0, 1, 2].map((own) => ({ id: String(own), reversed: own === 1 })),
                shared,
                price,
                anyOrder: true,
              },
              zone,
              weight,
              lightness,
            );
          const kept = fresh();
          let order: readonly number[] = [0, 1, 2];
          const heights: Float32Array[] = [];
          const row = (): Float32Array => Float32Array.from(zone, () => random.next());
          for (const [from, highest] of steps) {
            // All from some height on is another stack's; what was higher before is put down once more.
            for (let height = 1; height <= highest; height += 1)
              if (height >= from || !heights[height]) {
                const own = row();
                heights[height] = own;
                kept.put(height, own, 0);
              }
            heights.length = Math.min(heights.length, highest + 1);
            if (random.below(4) === 0) {
              kept.price(1, highest);
              order = kept.cheapestOrder();
              kept.stand(order);
            }
            const undo = random.below(3) === 0 ? kept.swap(random) : undefined;
            if (undo) kept.price(1, highest);
            undo?.();
            const other = fresh();
            other.stand(order);
            for (let height = 1; height <= highest; height += 1)
              other.put(height, heights[height] ?? row(), 0);
            expect(kept.price(1, highest)).to.equal(other.price(1, highest));
            expect(kept.error).to.equal(other.error);
          }
        },
      ),
      { numRuns: 200 },
    );
  });

  it('a zone with a curve of its own stands by it, within the span that it has by colour', () => {
    // Three spots of L* 0, 50 and 100, one zone, five heights; what each height costs each of them.
    const costs = [
      [0, 4, 5, 9, 9],
      [9, 7, 2, 0, 6],
      [9, 9, 8, 7, 1],
    ];
    const priced = (
      price: number | null,
      places: readonly number[] | undefined,
      reversed: boolean,
    ) => {
      const made = new ZonedPrice(
        { zones: [{ id: 'a', reversed, places }], shared: 0, price, anyOrder: false },
        [0, 0, 0],
        Float64Array.of(1, 1, 1),
        [0, 50, 100],
      );
      for (let layer = 1; layer <= 5; layer += 1)
        made.put(
          layer,
          Float32Array.from(costs, (row) => row[layer - 1] ?? 0),
          0,
        );
      return [made.price(1, 5), made.error];
    };
    // By colour at 1, 4 and 5.
    expect(priced(null, undefined, false)).to.deep.equal([1, 1]);
    // Straight: at 1, 3 and 5. A wall keeps it there.
    expect(priced(null, [0, 0.5, 1], false)).to.deep.equal([3, 3]);
    // Half a layer's price: one layer up is worth its fifth of a whole stack.
    const [cost, error] = priced(5, [0, 0.5, 1], false);
    expect([cost, error]).to.deep.equal([2, 1]);
    // The other way round by colour all at one height, so the curve has nothing to spread over.
    const [upside] = priced(null, [0, 0.5, 1], true);
    expect(upside).to.equal(priced(null, undefined, true)[0]);
  });

  const request = (over: Partial<FindRequest>): FindRequest => ({
    cells: gatherColours(bars([RED, BLUE, YELLOW])),
    filaments: Object.values(FILAMENTS),
    grid: USUAL_GRID,
    rule: 'closest',
    mostSwaps: 3,
    mostLayers: 20,
    leastLayers: 3,
    leastPerBand: 1,
    must: [],
    bottom: null,
    top: null,
    rare: 0,
    seconds: 0.05,
    seed: 1,
    ...over,
  });

  it('finds stack and order together, says what heights then have, and lean asks for less', () => {
    const picture = bars([RED, BLUE, YELLOW, [120, 60, 140]]);
    const artwork = artworkOf(picture);
    const zones = zonesOf(picture);
    const cells = cellsOfZones(artwork, { zones, painted: [] });
    const curve = [
      { lightness: 10, position: 0 },
      { lightness: 45, position: 1 },
    ];
    const bent = zones.map((zone) => ({ ...zone, curve }));
    const search = (anyOrder: boolean, price: number | null, curved = false) => {
      const found = findStack(
        request({
          cells,
          rule: 'zones',
          zones: {
            zones: zones.map(({ reversed }, i) => ({
              id: String(i),
              reversed,
              ...(curved ? { places: placesOfCurve(curve) } : {}),
            })),
            shared: 1,
            price,
            anyOrder,
          },
        }),
      );
      const best = found.ok ? found.value.curve.at(-1) : undefined;
      if (!best) throw new Error('nothing found');
      return best;
    };
    const any = search(true, null);
    expect([...(any.zoneIds ?? [])].sort()).to.deep.equal(['0', '1', '2']);
    expect(search(false, null).zoneIds).to.deep.equal(['0', '1', '2']);
    const soft = search(true, 6);
    expect(soft.meanDeltaE).to.be.below(any.meanDeltaE);
    const own = search(true, null, true);
    const handOf = (best: typeof any, lean: number, from: readonly Zone[]): number | undefined => {
      const ramp = rampOfStack({ grid: USUAL_GRID, bands: best.bands }, FILAMENTS);
      const list = (best.zoneIds ?? []).flatMap((id) => from[Number(id)] ?? []);
      const colours = coloursOfRamp(ramp);
      const limits = { ...LIMITS, layers: ramp.length };
      const told = zoneOrders(artwork, ruleOf(list, { colours, lean, shared: 1 }), limits);
      return told.find(({ by }) => by === 'hand')?.meanDeltaE;
    };
    for (const [best, lean, from] of [
      [any, MOST_LEAN, zones],
      [soft, 6, zones],
      [own, MOST_LEAN, bent],
    ] as const)
      expect(handOf(best, lean, from)).to.be.closeTo(
        best.meanDeltaE,
        0.12 * best.meanDeltaE + 0.15,
      );
    // Curves of their own cost colour, and less with a stack that was found for them.
    expect(own.meanDeltaE).to.be.above(any.meanDeltaE);
    expect(handOf(own, MOST_LEAN, bent)).to.be.at.most(handOf(any, MOST_LEAN, bent) ?? NaN);
  });

  it('zones that follow a stack of another rule cost more than those that were asked for', () => {
    const picture = bars([RED, BLUE, YELLOW]);
    const artwork = artworkOf(picture);
    const zones = zonesOf(picture);
    const cells = cellsOfZones(artwork, { zones, painted: [] });
    const errorOf = (over: Partial<FindRequest>): number => {
      const found = findStack(request(over));
      const best = found.ok ? found.value.curve.at(-1) : undefined;
      const ramp = rampOfStack({ grid: USUAL_GRID, bands: best?.bands ?? [] }, FILAMENTS);
      const limits = { ...LIMITS, layers: ramp.length };
      const rule = ruleOf(zones, { colours: coloursOfRamp(ramp), shared: 0 });
      return zoneOrders(artwork, rule, limits).find(({ by }) => by === 'found')?.meanDeltaE ?? NaN;
    };
    const own = errorOf({
      cells,
      seconds: 0.3,
      rule: 'zones',
      zones: {
        zones: zones.map(({ reversed }, i) => ({ id: String(i), reversed })),
        shared: 0,
        price: null,
        anyOrder: true,
      },
    });
    expect(own).to.be.at.most(errorOf({ seconds: 0.3 }) + 0.05);
  });
});

describe('a file of zones', () => {
  it('is read with what it leaves out, and refused by name', () => {
    const read = readZonesJson(
      '{"zones":[{"name":"sky","colours":["#102040"],"span":[3,9],"curve":[[80,1],[10,0]]},{"colours":["#ffeecc"],"reversed":true}],"lean":6}',
    );
    if (!read.ok) throw new Error(read.fault.code);
    expect(read.value).to.deep.include({ shared: 3, lean: 6, softMm: 0 });
    expect(read.value.zones[0]).to.deep.equal({
      colours: ['#102040'],
      reversed: false,
      span: [3, 9],
      curve: [
        { lightness: 10, position: 0 },
        { lightness: 80, position: 1 },
      ],
    });
    for (const [text, where] of [
      ['{"zones":[]}', 'zones'],
      ['{"zones":[{"colours":["red"]}]}', 'zones.0.colours.0'],
      ['{"zones":[{"colours":["#ffffff"],"colour":1}]}', 'colour'],
      ['{"zones":[{"colours":["#ffffff"]}],"lean":31}', 'lean'],
    ] as const) {
      const wrong = readZonesJson(text);
      expect(
        !wrong.ok && `${wrong.fault.code} ${wrong.fault.where ?? ''} ${wrong.fault.detail ?? ''}`,
        text,
      ).to.match(new RegExp(`not-zones .*${where}`));
    }
    const broken = readZonesJson('{');
    expect(!broken.ok && broken.fault.code).to.equal('not-json');
  });
});
