import { expect } from 'chai';
import fc from 'fast-check';
import type { HeightMap } from '#core/base/raster.ts';
import { USUAL_PRINTER, type Printer } from '#core/printer/printer.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import {
  covered,
  made,
  ownPrint,
  plainMoves,
  widthOf,
  type PlainMove,
} from '../helpers/own-gcode.ts';

/** Reliefs with holes, islands, single samples and diagonals, some of them cut away. */
const reliefs = fc
  .record({ width: fc.integer({ min: 3, max: 22 }), height: fc.integer({ min: 3, max: 16 }) })
  .chain(({ width, height }) =>
    fc.record({
      width: fc.constant(width),
      height: fc.constant(height),
      noise: fc.array(fc.integer({ min: 0, max: 4 }), {
        minLength: width * height,
        maxLength: width * height,
      }),
      blocks: fc.array(
        fc.record({
          x: fc.integer({ min: 0, max: width - 1 }),
          y: fc.integer({ min: 0, max: height - 1 }),
          w: fc.integer({ min: 1, max: 12 }),
          h: fc.integer({ min: 1, max: 9 }),
          tall: fc.integer({ min: 0, max: 4 }),
        }),
        { maxLength: 6 },
      ),
      noisy: fc.boolean(),
    }),
  )
  .map(({ width, height, noise, blocks, noisy }): HeightMap => {
    const data = noisy ? Uint8Array.from(noise) : new Uint8Array(width * height).fill(2);
    for (const { x, y, w, h, tall } of blocks)
      for (let j = y; j < Math.min(height, y + h); j += 1)
        data.fill(tall, j * width + x, j * width + Math.min(width, x + w));
    // Something is printed, and it reaches the corners: then the box of the piece is the whole map.
    data[0] = 4;
    data[width * height - 1] = 4;
    return partDiagonals({ width, height, data }).heights;
  });

const isLaid = ({ strand, from, to, layer }: PlainMove): boolean =>
  strand > 0 && layer > 0 && Math.hypot(to[0] - from[0], to[1] - from[1]) > 0;

describe('slicing any relief', () => {
  it('goes over the middle of every sample, or tells how many stay open; no layer is lost', async () => {
    let fine = 0;
    let all = 0;
    await fc.assert(
      fc.asyncProperty(reliefs, fc.constantFrom(0.15, 0.2, 0.4, 0.7), async (heights, sampleMm) => {
        const { own, text } = await made(ownPrint(heights, [2, 2], { sampleMm }));
        const moves = plainMoves(text).filter(isLaid);
        const { width, height } = heights;
        const bed = USUAL_PRINTER.bed;
        const [left, front] =
          bed.shape === 'round'
            ? [0, 0]
            : [(bed.widthMm - width * sampleMm) / 2, (bed.depthMm - height * sampleMm) / 2];
        for (const { layer, samples, fineSamples, openSamples, lines } of own.layers) {
          expect(lines, `layer ${layer}`).to.be.greaterThan(0);
          const heightMm = layer === 1 ? 0.16 : 0.08;
          // One point a sample, in its middle. Written places are rounded to 0.001 mm.
          const over = covered(
            moves.filter((move) => move.layer === layer),
            { left, front, stepMm: sampleMm, columns: width, rows: height },
            (move) => widthOf(move, heightMm, USUAL_PRINTER) + 0.004,
          );
          let open = 0;
          let count = 0;
          heights.data.forEach((tall, i) => {
            if (tall < layer) return;
            count += 1;
            const row = height - 1 - Math.floor(i / width);
            if (over[row * width + (i % width)] === 0) open += 1;
          });
          expect(count).to.equal(samples);
          expect(open, `layer ${layer}: ${JSON.stringify([...heights.data])}`).to.be.at.most(
            openSamples,
          );
          fine += fineSamples;
          all += samples;
        }
        expect(own.findings.filter(({ code }) => code.startsWith('swap'))).to.deep.equal([]);
      }),
      { numRuns: 60 },
    );
    expect(all).to.be.greaterThan(1000);
    expect(fine).to.be.greaterThan(0);
  });

  it('never leaves the bed, goes below the plate, above its speeds, or through what is laid without a lift', async () => {
    const printers = fc.record({
      liftMm: fc.constantFrom(0, 0.3),
      retractMm: fc.constantFrom(0, 1, 4),
      purgeLine: fc.boolean(),
      solidMmS: fc.integer({ min: 10, max: 200 }),
      outlineMmS: fc.integer({ min: 10, max: 200 }),
      firstLayerMmS: fc.integer({ min: 5, max: 60 }),
      travelMmS: fc.integer({ min: 50, max: 400 }),
      nozzleC: fc.integer({ min: 180, max: 280 }),
      bedC: fc.integer({ min: 0, max: 110 }),
      fanPercent: fc.integer({ min: 0, max: 100 }),
    });
    const pieces = fc.record({
      copies: fc.integer({ min: 1, max: 3 }),
      spacingMm: fc.integer({ min: 1, max: 20 }),
      way: fc.constantFrom('together' as const, 'apart' as const),
    });
    await fc.assert(
      fc.asyncProperty(reliefs, printers, pieces, async (heights, part, several) => {
        const printer: Printer = { ...USUAL_PRINTER, ...part };
        const print = ownPrint(heights, [2, 2], { printer, pieces: several });
        const { own, text } = await made({
          ...print,
          plan: { ...print.plan, copies: several.copies, oneByOne: several.way === 'apart' },
        });
        // Of a piece of a few lines the reader cannot judge how solid it is, nor where its middle lies.
        const doubtful = ['not-solid', 'other-picture', 'size', 'turned', 'mirrored'];
        expect(
          own.findings.filter(
            ({ code, severity }) => severity === 'wrong' && !doubtful.includes(code),
          ),
        ).to.deep.equal([]);
        const { solidMmS, outlineMmS, firstLayerMmS, travelMmS, retractMmS, liftMm } = printer;
        const fastest = Math.max(solidMmS, outlineMmS, firstLayerMmS, travelMmS, retractMmS, 10);
        let owed = 0;
        for (const move of plainMoves(text)) {
          const { from, to, strand, feed, layer, line } = move;
          if (layer > 0) {
            expect(to[0], line).to.be.within(0, 220);
            expect(to[1], line).to.be.within(0, 220);
          }
          expect(to[2], line).to.be.at.least(0);
          expect(feed / 60, line).to.be.at.most(fastest + 0.01);
          const way = Math.hypot(to[0] - from[0], to[1] - from[1]);
          if (way === 0) owed = Math.max(0, owed - strand);
          else if (strand > 0) expect(owed, line).to.be.closeTo(0, 1e-9);
          if (way > 0 && strand > 0 && layer === 1) expect(feed / 60).to.be.at.most(firstLayerMmS);
          if (liftMm > 0 && layer > 0 && strand === 0 && way > 2.01 * printer.lineMm)
            expect(from[2], line).to.be.at.least(0.16 + 0.08 * (layer - 1) + liftMm - 1e-6);
        }
        for (const [, heat] of text.matchAll(/^M10[49] S(\d+)$/gm))
          expect(Number(heat)).to.be.oneOf([0, printer.nozzleC]);
        for (const [, heat] of text.matchAll(/^M1[49]0 S(\d+)$/gm))
          expect(Number(heat)).to.be.oneOf([0, printer.bedC]);
        for (const [, fan] of text.matchAll(/^M106 S(\d+)$/gm))
          expect(Number(fan)).to.be.within(0, 255);
      }),
      { numRuns: 60 },
    );
  });
});
