import { expect } from 'chai';
import fc from 'fast-check';
import { measureBrightness } from '#core/artwork/brightness.ts';
import { gatherColours, ruleColourOf } from '#core/artwork/colour-cells.ts';
import type { HeightMap } from '#core/base/raster.ts';
import { ciede2000 } from '#core/colour/ciede2000.ts';
import { linearOfBytes, type Triple } from '#core/colour/srgb.ts';
import { withoutIslands } from '#core/heights/islands.ts';
import { closestHeights, coloursOfRamp } from '#core/heights/closest.ts';
import { bandTops, flatOfPicture } from '#core/heights/flat.ts';
import { heightsByRule, type HeightRule } from '#core/heights/height-rules.ts';
import { PLAIN_TONE, toneHeights, tidyTone } from '#core/heights/tone.ts';
import { evenTops, layerTopMm } from '#core/stack/layer-grid.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { randomFrom } from '../../demo/draw/shading.ts';
import { countHeights } from '#core/heights/height-map.ts';
import { solveFilamentOptics } from '#core/optics/filament-optics.ts';
import { computeRamp } from '#core/optics/ramp.ts';
import { countMesh, countOutlineCorners } from '#core/relief/count-mesh.ts';
import { traceOutlines } from '#core/relief/outlines.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import { buildTerraceMesh } from '#core/relief/terrace-mesh.ts';
import { estimateUse } from '#core/schedule/estimate.ts';
import { planSwaps } from '#core/schedule/plan-swaps.ts';
import { bandEnds, moveBoundary, totalLayers } from '#core/stack/stack.ts';
import { readRackCsv, writeRackCsv } from '#core/formats/rack/rack-csv.ts';
import { countBadEdges, countFlatTriangles, meshVolume, sliceMask } from '../helpers/meshes.ts';
import { FILAMENTS, stackOf } from '../helpers/stacks.ts';

const byte = fc.integer({ min: 0, max: 255 });
const colour = fc.tuple(byte, byte, byte) as fc.Arbitrary<Triple>;

describe('properties', () => {
  it('relief: any heights give a closed, oriented solid of the right volume whose slices are the samples', () => {
    const map = fc.integer({ min: 1, max: 9 }).chain((width) =>
      fc
        .array(fc.integer({ min: 0, max: 4 }), { minLength: width, maxLength: width * 9 })
        .map((cells) => {
          const height = Math.floor(cells.length / width);
          return { width, height, data: Uint8Array.from(cells.slice(0, width * height)) };
        }),
    );
    const levels = Float64Array.of(0, 0.16, 0.24, 0.32, 0.4);
    const costs = fc.array(fc.integer({ min: 0, max: 9 }), { minLength: 15, maxLength: 15 });
    fc.assert(
      fc.property(map, fc.option(costs), (source, weights) => {
        // Three classes of samples with any prices, or none.
        const { heights } = partDiagonals(
          source,
          weights
            ? () => ({
                classes: Uint16Array.from(source.data, (_, i) => (7 * i) % 3),
                costs: Float32Array.from(weights),
                layers: 4,
                own: source,
                leastLayers: 1,
              })
            : undefined,
        );
        heights.data.forEach((layers, i) => {
          if (!weights) expect(layers).to.be.at.least(source.data[i] ?? 0);
          // What is printed stays printed.
          else if ((source.data[i] ?? 0) > 0) expect(layers).to.be.at.least(1);
          expect(layers).to.be.at.most(4);
        });
        const mesh = buildTerraceMesh(heights, 0.5, levels);
        // What is counted in the heights alone is what is built.
        const counted = countMesh(heights);
        expect(counted.triangles).to.equal(mesh.triangles.length / 3);
        expect(counted.corners).to.equal(mesh.positions.length / 3);
        const corners = countOutlineCorners(heights);
        for (let level = 1; level <= 4; level += 1)
          expect(corners[level]).to.equal(
            traceOutlines(heights, level).reduce((sum, outline) => sum + outline.length / 2, 0),
          );
        expect(countBadEdges(mesh)).to.equal(0);
        expect(countFlatTriangles(mesh)).to.equal(0);
        const volume = heights.data.reduce((sum, layers) => sum + (levels[layers] ?? 0) * 0.25, 0);
        expect(meshVolume(mesh)).to.be.closeTo(volume, 1e-5);
        for (const layer of [1, 2, 3, 4]) {
          const z = ((levels[layer - 1] ?? 0) + (levels[layer] ?? 0)) / 2;
          const mask = sliceMask(
            mesh.positions,
            mesh.triangles,
            z,
            heights.width,
            heights.height,
            0.5,
          );
          expect([...mask]).to.deep.equal(
            [...heights.data].map((layers) => (layers >= layer ? 1 : 0)),
          );
        }
      }),
      { numRuns: 400 },
    );
  });

  it('optics: seen colours and cover stay in range, light through only falls, thick piles reach the opaque colour', () => {
    fc.assert(
      fc.property(colour, fc.double({ min: 0.2, max: 20, noNaN: true }), (rgb, transmissionMm) => {
        const optics = solveFilamentOptics(rgb, transmissionMm);
        const plies = Array.from({ length: 24 }, () => ({
          optics,
          thicknessMm: transmissionMm / 4,
          bandIndex: 0,
        }));
        const ramp = computeRamp(plies);
        // Luminance, not the sum of bytes: in a blue that sRGB cannot show, red is cut off at nothing and comes back.
        let light = 1 + 1e-9;
        for (const { cover, through } of ramp) {
          expect(cover).to.be.within(0, 1);
          const luminance = 0.2126 * through[0] + 0.7152 * through[1] + 0.0722 * through[2];
          expect(luminance).to.be.at.most(light);
          light = luminance;
        }
        expect(ciede2000(ramp[23]?.lab ?? [0, 0, 0], optics.opaqueLab)).to.be.lessThan(1);
      }),
      { numRuns: 100 },
    );
  });

  it('CIEDE2000: never negative, zero only on itself, the same both ways', () => {
    const lab = fc.tuple(
      fc.double({ min: 0, max: 100, noNaN: true }),
      fc.double({ min: -110, max: 110, noNaN: true }),
      fc.double({ min: -110, max: 110, noNaN: true }),
    ) as fc.Arbitrary<Triple>;
    fc.assert(
      fc.property(lab, lab, (a, b) => {
        expect(ciede2000(a, a)).to.equal(0);
        expect(ciede2000(a, b)).to.be.at.least(0);
        expect(ciede2000(a, b)).to.be.closeTo(ciede2000(b, a), 1e-9);
      }),
    );
  });

  it('stack: no sequence of boundary moves breaks it, and swap heights strictly rise', () => {
    const moves = fc.array(
      fc.tuple(fc.integer({ min: -1, max: 6 }), fc.integer({ min: -50, max: 400 })),
      { maxLength: 30 },
    );
    fc.assert(
      fc.property(moves, (list) => {
        let bands = stackOf(5, 5, 5, 5).bands;
        for (const [band, layer] of list) bands = moveBoundary(bands, band, layer);
        expect(bands).to.have.length(4);
        bands.forEach(({ layers }) => expect(layers).to.be.at.least(1));
        expect(totalLayers(bands)).to.be.at.most(250);
        let last = 0;
        for (const swap of planSwaps({ ...stackOf(), bands })) {
          expect(swap.stopAfterMm).to.be.greaterThan(last);
          expect(swap.layerTopMm).to.be.greaterThan(swap.stopAfterMm);
          last = swap.stopAfterMm;
        }
        expect(
          planSwaps({ ...stackOf(), bands }).map(({ layerNumber }) => layerNumber - 1),
        ).to.deep.equal(bandEnds(bands).slice(0, -1));
      }),
    );
  });

  it('tone: heights stay in range and follow brightness, whatever the points', () => {
    const point = fc.double({ min: -20, max: 120, noNaN: true });
    fc.assert(
      fc.property(
        point,
        point,
        point,
        fc.boolean(),
        fc.integer({ min: 1, max: 250 }),
        (black, mid, white, reversed, layers) => {
          const rule = tidyTone({
            kind: 'tone',
            blackPoint: black,
            midpoint: mid,
            whitePoint: white,
            reversed,
          });
          const data = Uint16Array.from({ length: 4096 }, (_, i) => i);
          const heights = [...toneHeights({ width: 4096, height: 1, data }, rule, layers).data];
          const ordered = reversed ? heights.reverse() : heights;
          ordered.forEach((value, i) => {
            expect(value).to.be.within(Math.min(3, layers), layers);
            if (i > 0) expect(value).to.be.at.least(ordered[i - 1] as number);
          });
        },
      ),
      { numRuns: 60 },
    );
  });

  it('tone: a base in thicker layers keeps the shape: nothing above it moves, and below nothing by more than half of such a layer', () => {
    const brightness = {
      width: 256,
      height: 1,
      data: Uint16Array.from({ length: 256 }, (_, i) => 16 * i),
    };
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 5 }),
        fc.integer({ min: 1, max: 4 }),
        fc.integer({ min: 1, max: 20 }),
        fc.integer({ min: 20, max: 80 }),
        fc.boolean(),
        (times, thick, above, midpoint, twoAtLeast) => {
          // A base of `thick` layers, each as high as `times` of the others, over a first layer of any height.
          const fine = { firstLayerMm: 0.2, layerMm: 0.08 };
          const coarse = { ...fine, baseLayerMm: 0.08 * times, baseLayers: 1 + thick };
          const fineLayers = 1 + thick * times + above;
          const layers = 1 + thick + above;
          const tops = evenTops(coarse, layers);
          // The least heights end at one height too.
          const rule = { ...PLAIN_TONE, midpoint };
          const [least, fineLeast] = twoAtLeast ? [2, 1 + times] : [1, 1];
          const was = toneHeights(brightness, rule, fineLayers, fineLeast).data;
          const is = toneHeights(brightness, rule, layers, least, tops).data;
          is.forEach((layer, i) => {
            const before = layerTopMm(fine, was[i] ?? 0);
            const after = layerTopMm(coarse, layer);
            const base = layerTopMm(coarse, 1 + thick);
            if (before > base + (0.08 * times) / 2) expect(after).to.equal(before);
            else expect(Math.abs(after - before)).to.be.at.most(0.04 * times + 0.04 + 1e-9);
          });
        },
      ),
    );
  });

  it('filament use: volumes of the bands add up, grams are volume x density, lengths volume over cross-section', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 12 }), { minLength: 1, maxLength: 200 }),
        (cells) => {
          const counts = countHeights({
            width: cells.length,
            height: 1,
            data: Uint8Array.from(cells),
          });
          const uses = estimateUse(stackOf(5, 4, 3), FILAMENTS, counts, 0.2);
          const wanted = cells.reduce(
            (sum, n) => sum + (n === 0 ? 0 : 0.16 + (n - 1) * 0.08) * 0.04,
            0,
          );
          expect(uses.reduce((sum, { volumeMm3 }) => sum + volumeMm3, 0)).to.be.closeTo(
            wanted,
            1e-6,
          );
          for (const use of uses) {
            expect(use.grams).to.be.closeTo((use.volumeMm3 / 1000) * 1.24, 1e-9);
            expect(use.metres * 1000 * Math.PI * 0.875 ** 2).to.be.closeTo(use.volumeMm3, 1e-9);
          }
        },
      ),
    );
  });

  it('rack CSV: any texts and numbers survive being written and read', () => {
    const text = fc
      .oneof(fc.string({ maxLength: 30 }), fc.constantFrom('-', "'-", "''=1", "'", '+x', "'a"))
      .map((value) => value.trim());
    const filament = fc.record({
      id: fc.uuid(),
      maker: text,
      name: text.map((value) => `n${value}`),
      material: text.map((value) => `m${value}`),
      colour: fc
        .integer({ min: 0, max: 0xffffff })
        .map((n) => `#${n.toString(16).padStart(6, '0')}`),
      transmissionMm: fc.integer({ min: 1, max: 30000 }).map((n) => n / 100),
      basis: fc.oneof(
        fc.constant({ kind: 'hiding' as const }),
        fc
          .integer({ min: 1, max: 99 })
          .map((n) => ({ kind: 'light-through' as const, threshold: n / 100 })),
      ),
      found: fc.constant('label' as const),
      densityGCm3: fc.constant(1.24),
      diameterMm: fc.constant(1.75),
      onHand: fc.boolean(),
      note: text,
    });
    fc.assert(
      fc.property(
        fc.uniqueArray(filament, { minLength: 1, maxLength: 8, selector: ({ id }) => id }),
        (rack) => {
          expect(readRackCsv(writeRackCsv(rack))).to.deep.equal({ ok: true, value: rack });
        },
      ),
    );
  });

  it('islands: none below the limit is left at any height, inside or as a hole, and filtering again changes nothing', () => {
    const map = fc.record({
      width: fc.integer({ min: 1, max: 14 }),
      rows: fc.integer({ min: 1, max: 12 }),
      seed: fc.integer(),
      least: fc.integer({ min: 2, max: 6 }),
    });
    fc.assert(
      fc.property(map, ({ width, rows, seed, least }) => {
        const random = randomFrom(seed);
        const data = Uint8Array.from({ length: width * rows }, () => 1 + Math.floor(random() * 5));
        const filtered = withoutIslands({ width, height: rows, data }, least);
        expect(withoutIslands(filtered, least).data).to.deep.equal(filtered.data);
        if (width * rows < least) return;
        const low = Math.min(...filtered.data);
        const high = Math.max(...filtered.data);
        for (let level = low + 1; level <= high; level += 1)
          for (const inside of [true, false])
            for (const area of areasOf(filtered, (height) => height >= level === inside))
              expect(area).to.be.at.least(least);
      }),
      { numRuns: 150 },
    );
  });

  it('heights of every rule stay in range, whatever the picture, the stack and the calm', () => {
    const request = fc.record({
      kind: fc.constantFrom('tone', 'closest', 'flat'),
      layers: fc.array(fc.integer({ min: 1, max: 30 }), { minLength: 1, maxLength: 4 }),
      least: fc.integer({ min: 1, max: 8 }),
      calm: fc.double({ min: 0, max: 1, noNaN: true }),
      smallestMm: fc.constantFrom(0, 0.4, 2),
      seed: fc.integer(),
    });
    fc.assert(
      fc.property(request, ({ kind, layers, least, calm, smallestMm, seed }) => {
        const random = randomFrom(seed);
        const data = Uint8ClampedArray.from({ length: 4 * 63 }, (_, i) =>
          i % 4 === 3 ? (random() < 0.2 ? 0 : 255) : 255 * random(),
        );
        const picture = { width: 9, height: 7, data };
        const cells = gatherColours(picture);
        const stack = stackOf(...layers);
        const ramp = rampOfStack(stack, FILAMENTS);
        const calming = { calm, smallestMm };
        const rule: HeightRule =
          kind === 'tone'
            ? { kind, tone: PLAIN_TONE, ...calming }
            : kind === 'closest'
              ? { kind, colours: coloursOfRamp(ramp), ...calming }
              : {
                  kind: 'flat',
                  flat: flatOfPicture(cells, 4, bandTops(bandEnds(stack.bands), ramp)),
                  ...calming,
                };
        const total = ramp.length;
        const heights = heightsByRule(
          { brightness: measureBrightness(picture), cells: () => cells },
          rule,
          { layers: total, leastLayers: least, sampleMm: 0.2 },
        );
        heights.data.forEach((height, i) => {
          if ((data[4 * i + 3] ?? 0) < 128) expect(height).to.equal(0);
          else expect(height).to.be.within(Math.min(least, total), total);
        });
      }),
      { numRuns: 150 },
    );
  });
});

describe('properties of closest blend and of history', () => {
  const distance = (a: ArrayLike<number>, b: ArrayLike<number>): number =>
    Math.hypot(...[0, 1, 2].map((k) => (a[k] ?? 0) - (b[k] ?? 0)));

  it('no layer is chosen that is worse than another by more than the cell error', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 20 }), { minLength: 1, maxLength: 4 }),
        fc.integer(),
        fc.integer({ min: 0, max: 255 }),
        (layers, seed, base) => {
          const random = randomFrom(seed);
          // Colours close together, so that cells hold several of them.
          const data = Uint8ClampedArray.from({ length: 4 * 80 }, (_, i) =>
            i % 4 === 3 ? 255 : base + 24 * random(),
          );
          const cells = gatherColours({ width: 10, height: 8, data });
          const colours = coloursOfRamp(rampOfStack(stackOf(...layers), FILAMENTS));
          const { data: heights } = closestHeights(cells, colours, 1);
          for (let i = 0; i < 80; i += 1) {
            const own = ruleColourOf(
              linearOfBytes([data[4 * i] ?? 0, data[4 * i + 1] ?? 0, data[4 * i + 2] ?? 0]),
            );
            const n = cells.cell[i] ?? 0;
            const cellError = distance(own, cells.colour.subarray(3 * n, 3 * n + 3));
            const to = (layer: number): number =>
              distance(own, colours.subarray(3 * layer - 3, 3 * layer));
            let best = Infinity;
            for (let layer = 1; layer <= colours.length / 3; layer += 1)
              best = Math.min(best, to(layer));
            expect(to(heights[i] ?? 0)).to.be.at.most(best + 2 * cellError + 1e-3);
          }
        },
      ),
      { numRuns: 200 },
    );
  });
});

/** Sizes of the four-connected parts whose heights answer to a question. */
function areasOf(
  { width, height, data }: HeightMap,
  belongs: (height: number) => boolean,
): number[] {
  const seen = new Uint8Array(data.length);
  const areas: number[] = [];
  for (let start = 0; start < data.length; start += 1) {
    if (seen[start] || !belongs(data[start] as number)) continue;
    let area = 0;
    const waiting = [start];
    seen[start] = 1;
    for (let i = waiting.pop(); i !== undefined; i = waiting.pop()) {
      area += 1;
      const x = i % width;
      const beside = [
        x > 0 ? i - 1 : -1,
        x + 1 < width ? i + 1 : -1,
        i - width,
        i + width < width * height ? i + width : -1,
      ];
      for (const next of beside)
        if (next >= 0 && !seen[next] && belongs(data[next] as number)) {
          seen[next] = 1;
          waiting.push(next);
        }
    }
    areas.push(area);
  }
  return areas;
}
