import { expect } from 'chai';
import fc from 'fast-check';
import { countEdges, countHeights } from '#core/heights/height-map.ts';
import { SHIPPED_PRINTERS } from '#core/printer/printer.ts';
import { arrangePieces } from '#core/schedule/pieces.ts';
import { planSwaps } from '#core/schedule/plan-swaps.ts';
import { planSplices } from '#core/schedule/splice.ts';
import { makeSwapSheet } from '#core/schedule/swap-sheet.ts';
import { layerInGrid, layerTopMm, type LayerGrid } from '#core/stack/layer-grid.ts';
import { FILAMENTS, stackOf } from '../helpers/stacks.ts';

/** Any grid, with or without a thicker base, in steps of 0.01 mm. */
const GRIDS: fc.Arbitrary<LayerGrid> = fc
  .record({
    first: fc.integer({ min: 4, max: 40 }),
    layer: fc.integer({ min: 4, max: 40 }),
    base: fc.option(
      fc.record({
        layer: fc.integer({ min: 4, max: 60 }),
        layers: fc.integer({ min: 2, max: 20 }),
      }),
    ),
  })
  .map(({ first, layer, base }) => ({
    firstLayerMm: first / 100,
    layerMm: layer / 100,
    ...(base ? { baseLayerMm: base.layer / 100, baseLayers: base.layers } : {}),
  }));

const BANDS = fc.array(fc.integer({ min: 1, max: 20 }), { minLength: 1, maxLength: 8 });

describe('properties of the schedule', () => {
  it('stops and layers strictly rise, and layer and height say the same both ways, whatever the grid', () => {
    fc.assert(
      fc.property(GRIDS, BANDS, (grid, layers) => {
        const swaps = planSwaps({ grid, bands: stackOf(...layers).bands });
        expect(swaps).to.have.length(layers.length - 1);
        let layerNumber = 0;
        let stopMm = 0;
        for (const swap of swaps) {
          expect(swap.layerNumber).to.be.above(layerNumber);
          expect(swap.stopAfterMm).to.be.above(stopMm);
          expect(swap.layerTopMm).to.be.above(swap.stopAfterMm);
          // From the layer to the height, and from the height back to the layer.
          expect(swap.stopAfterMm).to.equal(layerTopMm(grid, swap.layerNumber - 1));
          expect(layerNumberAt(grid, swap.layerTopMm)).to.equal(swap.layerNumber);
          expect(layerInGrid(swap.layerNumber, grid, grid)).to.equal(swap.layerNumber);
          ({ layerNumber, stopAfterMm: stopMm } = swap);
        }
      }),
    );
  });

  it('a sheet agrees with itself: times add up, lengths are volume over cross-section, grams volume x density', () => {
    fc.assert(
      fc.property(
        GRIDS,
        BANDS,
        fc.array(fc.integer({ min: 0, max: 60 }), { minLength: 4, maxLength: 60 }),
        fc.constantFrom(...SHIPPED_PRINTERS),
        fc.integer({ min: 1, max: 12 }),
        fc.constantFrom('together' as const, 'apart' as const),
        (grid, layers, cells, printer, copies, way) => {
          const tallest = layers.reduce((a, b) => a + b);
          const heights = {
            width: cells.length,
            height: 1,
            data: Uint8Array.from(cells, (n) => Math.min(n, tallest)),
          };
          const sheet = makeSwapSheet({
            title: 't',
            stamp: 's',
            stack: { grid, bands: stackOf(...layers).bands },
            filaments: FILAMENTS,
            counts: countHeights(heights),
            edges: countEdges(heights),
            sampleMm: 2,
            widthMm: 2 * cells.length,
            heightMm: 2,
            printer,
            pieces: { copies, spacingMm: 4, way },
          });
          const printing = sheet.swaps.reduce((sum, { sinceS }) => sum + sinceS, 0) + sheet.lastS;
          expect(printing + sheet.swapsS).to.be.closeTo(sheet.totalS, 1e-6 * (1 + sheet.totalS));
          const plan = planSplices(sheet, 0);
          const area = Math.PI * 0.875 ** 2;
          const volume = sheet.bands.reduce((sum, band) => sum + band.volumeMm3, 0);
          const strand = plan.reduce((sum, { printMm }) => sum + printMm, 0);
          const shared = copies;
          expect(strand * area).to.be.closeTo(volume * shared, 1e-6 * (1 + volume * shared));
          for (const { grams, volumeMm3 } of sheet.bands)
            expect(grams).to.be.closeTo((volumeMm3 / 1000) * 1.24, 1e-9);
          let mark = 0;
          for (const piece of plan) {
            expect(piece.markMm).to.be.at.least(mark);
            mark = piece.markMm;
          }
          // What is to be done for several pieces is never less than for one.
          const { ways } = sheet;
          const ends = sheet.bands.at(-1)?.filamentId !== sheet.bands[0]?.filamentId;
          expect(ways.apart.swaps).to.equal(sheet.swaps.length * copies + (ends ? copies - 1 : 0));
          expect(ways.together.swaps).to.equal(sheet.swaps.length);
        },
      ),
    );
  });

  it('copies that are said to fit lie on the bed, and one more than there is room for does not', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 10, max: 260 }),
        fc.integer({ min: 10, max: 260 }),
        fc.integer({ min: 0, max: 20 }),
        fc.integer({ min: 1, max: 40 }),
        fc.constantFrom(...SHIPPED_PRINTERS),
        (widthMm, depthMm, spacingMm, copies, { bed }) => {
          const laid = arrangePieces(bed, widthMm, depthMm, { copies, spacingMm });
          expect(laid.columns * laid.rows).to.be.at.least(copies);
          expect(laid.fits).to.equal(copies <= laid.room);
          if (!laid.fits) return;
          const reach =
            bed.shape === 'round'
              ? Math.hypot(laid.widthMm, laid.depthMm) <= bed.diameterMm + 1e-6
              : laid.widthMm <= bed.widthMm && laid.depthMm <= bed.depthMm;
          expect(reach).to.equal(true);
        },
      ),
    );
  });
});

/** The layer whose top is at a height, counted by adding layers up. */
function layerNumberAt(grid: LayerGrid, mm: number): number {
  let top = grid.firstLayerMm;
  let number = 1;
  while (top < mm - 1e-6) {
    number += 1;
    const inBase = grid.baseLayerMm !== undefined && number <= (grid.baseLayers ?? 1);
    top += inBase ? (grid.baseLayerMm ?? 0) : grid.layerMm;
  }
  return number;
}
