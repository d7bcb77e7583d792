import { expect } from 'chai';
import fc from 'fast-check';
import type { HeightMap } from '#core/base/raster.ts';
import { calmHeights } from '#core/heights/calm-lines.ts';
import { calmQuickly, energyOf, type CalmInput } from '#core/heights/calm.ts';
import { withoutIslands } from '#core/heights/islands.ts';
import { growDetails } from '#core/heights/details.ts';

/** A picture of classes with costs of every height, some of it cut away. */
const inputs = fc
  .record({
    width: fc.integer({ min: 1, max: 9 }),
    height: fc.integer({ min: 1, max: 7 }),
    layers: fc.integer({ min: 1, max: 14 }),
    classes: fc.integer({ min: 1, max: 5 }),
  })
  .chain(({ width, height, layers, classes }) =>
    fc
      .record({
        of: fc.array(fc.integer({ min: 0, max: classes }), {
          minLength: width * height,
          maxLength: width * height,
        }),
        // Wide enough that some heights are never looked at.
        costs: fc.array(fc.integer({ min: 0, max: 40 }), {
          minLength: classes * (layers + 1),
          maxLength: classes * (layers + 1),
        }),
        greys: fc.array(fc.integer({ min: 0, max: 40 }), {
          minLength: classes,
          maxLength: classes,
        }),
      })
      .map(({ of, costs, greys }): CalmInput => {
        const table = Float32Array.from(costs, (cost, i) =>
          i % (layers + 1) === 0 ? Infinity : cost,
        );
        const cheapest = greys.map((_, own) => {
          const row = [...table.subarray(own * (layers + 1) + 1, (own + 1) * (layers + 1))];
          return 1 + row.indexOf(Math.min(...row));
        });
        return {
          heights: { width, height, data: Uint8Array.from(of, (own) => cheapest[own] ?? 0) },
          classes: Uint16Array.from(of),
          costs: table,
          colours: Float32Array.from(greys.flatMap((grey) => [grey, 0, 0])),
          layers,
        };
      }),
  );

/** The least that heights of a line can weigh, by trying all. */
function leastOfLine(input: CalmInput, calm: number): number {
  const { width, height, data } = input.heights;
  let best = Infinity;
  const present = Uint8Array.from(data);
  const go = (i: number): void => {
    if (i === data.length) {
      best = Math.min(
        best,
        energyOf({ ...input, heights: { width, height, data: present } }, calm),
      );
      return;
    }
    if (data[i] === 0) {
      go(i + 1);
      return;
    }
    for (let layer = 1; layer <= input.layers; layer += 1) {
      present[i] = layer;
      go(i + 1);
    }
  };
  go(0);
  return best;
}

const weigh = (input: CalmInput, heights: HeightMap, calm: number): number =>
  energyOf({ ...input, heights }, calm);

describe('calm', () => {
  it('a single line is as good as any heights tried one by one', () => {
    fc.assert(
      fc.property(
        inputs.filter(
          ({ heights, layers }) =>
            Math.min(heights.width, heights.height) === 1 && layers ** heights.data.length <= 3000,
        ),
        fc.constantFrom(0.3, 0.6, 1),
        (input, calm) => {
          expect(weigh(input, calmHeights(input, calm), calm)).to.be.closeTo(
            leastOfLine(input, calm),
            1e-4,
          );
        },
      ),
      { numRuns: 80 },
    );
  });

  it('what it weighs never rises: not from the rule to a quick calm, and not from that to whole lines', () => {
    fc.assert(
      fc.property(inputs, fc.double({ min: 0, max: 1, noNaN: true }), (input, calm) => {
        const before = energyOf(input, calm);
        const quick = weigh(input, calmQuickly(input, calm), calm);
        const lines = calmHeights(input, calm);
        expect(quick).to.be.at.most(before + 1e-4);
        expect(weigh(input, lines, calm)).to.be.at.most(quick + 1e-4);
        lines.data.forEach((layer, i) => {
          if (input.heights.data[i] === 0) expect(layer).to.equal(0);
          else expect(layer).to.be.within(1, input.layers);
        });
      }),
      { numRuns: 200 },
    );
  });

  it('calm 0 is what it was given, and rows are calmed as columns are', () => {
    fc.assert(
      fc.property(inputs, (input) => {
        expect([...calmHeights(input, 0).data]).to.deep.equal([...input.heights.data]);
        expect([...calmQuickly(input, 0).data]).to.deep.equal([...input.heights.data]);
      }),
      { numRuns: 20 },
    );
    // A lone step in a row, and the same in a column.
    const line = (width: number, height: number): CalmInput => ({
      heights: { width, height, data: Uint8Array.of(3, 3, 4, 3, 3) },
      classes: Uint16Array.of(0, 0, 1, 0, 0),
      costs: Float32Array.of(Infinity, 9, 9, 0, 1, Infinity, 9, 9, 0.5, 0),
      colours: Float32Array.of(50, 0, 0, 51, 0, 0),
      layers: 4,
    });
    for (const [width, height] of [
      [5, 1],
      [1, 5],
    ] as const)
      expect([...calmHeights(line(width, height), 1).data]).to.deep.equal([3, 3, 3, 3, 3]);
  });
});

describe('small details', () => {
  /** A face of class 0 at height 5 with spots of other classes. */
  const face = (
    spots: readonly (readonly [x: number, y: number, own: number])[],
    costs: readonly (readonly number[])[],
  ): CalmInput => {
    const [width, height] = [12, 10];
    const classes = new Uint16Array(width * height);
    for (const [x, y, own] of spots) classes[y * width + x] = own;
    const heightOf = costs.map((row) => row.indexOf(Math.min(...row)));
    return {
      heights: { width, height, data: Uint8Array.from(classes, (own) => heightOf[own] ?? 0) },
      classes,
      costs: Float32Array.from(costs.flat()),
      colours: new Float32Array(3 * costs.length),
      layers: 9,
    };
  };
  const none = Infinity;
  const skin = [none, 9, 8, 6, 3, 0, 3, 6, 8, 9];
  const eye = [none, 0, 9, 30, 60, 90, 90, 90, 90, 90];
  const speck = [none, 9, 9, 9, 9, 2, 1, 0, 1, 2];

  it('an eye grows to one nozzle, a speck goes, and nothing is left that is too small', () => {
    const input = face(
      [
        [3, 3, 1],
        [8, 3, 1],
        [8, 4, 1],
        [6, 7, 2],
      ],
      [skin, eye, speck],
    );
    const levelled = withoutIslands(input.heights, 4).data;
    expect(new Set(levelled)).to.deep.equal(new Set([5]));
    const grown = growDetails(input, 2);
    const { data } = withoutIslands(grown, 4);
    expect(data[3 * 12 + 3]).to.equal(1);
    expect(data[3 * 12 + 8]).to.equal(1);
    expect(data[7 * 12 + 6]).to.equal(5);
    expect(data.filter((layer) => layer === 1)).to.have.length(8);
  });

  it('a detail in a corner of the print grows inside it, and cut-away parts stay cut away', () => {
    const input = face([[0, 0, 1]], [skin, eye]);
    const { data } = withoutIslands(growDetails(input, 2), 4);
    expect([data[0], data[1], data[12], data[13]]).to.deep.equal([1, 1, 1, 1]);
    const cut = { ...input, heights: { ...input.heights, data: input.heights.data.slice() } };
    cut.heights.data[1] = 0;
    expect(growDetails(cut, 2).data[1]).to.equal(0);
    expect(growDetails(input, 1)).to.equal(input.heights);
  });

  it('never costs more than levelling, whatever the picture', () => {
    const costOf = ({ costs, classes, layers }: CalmInput, data: ArrayLike<number>): number =>
      Array.from(data).reduce<number>(
        (sum, layer, i) =>
          layer === 0 ? sum : sum + (costs[(classes[i] ?? 0) * (layers + 1) + layer] ?? 0),
        0,
      );
    fc.assert(
      fc.property(inputs, (input) => {
        const grown = growDetails(input, 2);
        expect(
          grown.data.every((layer, i) => (layer === 0) === (input.heights.data[i] === 0)),
        ).to.equal(true);
      }),
      { numRuns: 200 },
    );
    // Certain of one lone spot on a ground that stays whole when the spot grows; of many that meet it is not, for what is too
    // small afterwards is levelled after all.
    const lone = fc
      .record({ width: fc.integer({ min: 4, max: 9 }), height: fc.integer({ min: 4, max: 7 }) })
      .chain(({ width, height }) =>
        fc.record({
          width: fc.constant(width),
          height: fc.constant(height),
          spot: fc.integer({ min: 0, max: width * height - 1 }),
          levels: fc.uniqueArray(fc.integer({ min: 1, max: 6 }), { minLength: 2, maxLength: 2 }),
          costs: fc.array(fc.integer({ min: 1, max: 12 }), { minLength: 14, maxLength: 14 }),
        }),
      );
    fc.assert(
      fc.property(lone, ({ width, height, spot, levels: [ground = 1, own = 2], costs }) => {
        const classes = new Uint16Array(width * height);
        classes[spot] = 1;
        const table = Float32Array.from(costs, (cost, i) => (i % 7 === 0 ? Infinity : cost));
        table[ground] = 0;
        table[7 + own] = 0;
        const input: CalmInput = {
          heights: { width, height, data: Uint8Array.from(classes, (at) => (at ? own : ground)) },
          classes,
          costs: table,
          colours: new Float32Array(6),
          layers: 6,
        };
        const { data } = withoutIslands(growDetails(input, 2), 4);
        const levelled = costs[7 + ground] ?? 0;
        expect(costOf(input, data)).to.be.at.most(levelled);
        // Growing costs three samples of ground at the spot's height, each the same.
        expect(costOf(input, data)).to.equal(Math.min(levelled, 3 * (costs[own] ?? 0)));
      }),
      { numRuns: 200 },
    );
  });
});
