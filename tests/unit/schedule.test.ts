import { expect } from 'chai';
import { pauseSnippet } from '#core/formats/sheet/pause-snippet.ts';
import { swapCalendar } from '#core/formats/sheet/swap-calendar.ts';
import { swapSheetText } from '#core/formats/sheet/swap-sheet-text.ts';
import { countEdges, countHeights } from '#core/heights/height-map.ts';
import { SHIPPED_PRINTERS, USUAL_PRINTER } from '#core/printer/printer.ts';
import { swapSteps } from '#core/schedule/checklist.ts';
import { LAYER_PAUSE_S, layerSeconds, TRAVEL_SHARE } from '#core/schedule/estimate.ts';
import { sumBatches } from '#core/schedule/batches.ts';
import {
  arrangePieces,
  batchesOf,
  compareWays,
  hopSeconds,
  HOP_PAUSE_S,
  NEXT_PIECE_S,
} from '#core/schedule/pieces.ts';
import { planSwaps } from '#core/schedule/plan-swaps.ts';
import { planSplices } from '#core/schedule/splice.ts';
import { makeSwapSheet, type SheetSource, type SwapSheet } from '#core/schedule/swap-sheet.ts';
import { formatCountdown, freshWatch, nextStop, resumed, stepBack } from '#core/schedule/watch.ts';
import { layerTopMm, withThickBase } from '#core/stack/layer-grid.ts';
import { FILAMENTS, stackOf } from '../helpers/stacks.ts';

const HEIGHTS = { width: 3, height: 2, data: Uint8Array.of(27, 27, 12, 27, 5, 0) };

function sheetOf(over: Partial<SheetSource> = {}): SwapSheet {
  return makeSwapSheet({
    title: 'Dome at dusk',
    stamp: '7K2Q-M9XD',
    stack: stackOf(8, 8, 11),
    filaments: FILAMENTS,
    counts: countHeights(HEIGHTS),
    edges: countEdges(HEIGHTS),
    sampleMm: 10,
    widthMm: 30,
    heightMm: 20,
    ...over,
  });
}

describe('numbers of the trade (common practice, no source)', () => {
  it('0.16 and 0.08 mm: swaps at layers 9, 17 and 28 are at 0.80, 1.44 and 2.32', () => {
    expect(
      planSwaps(stackOf(8, 8, 11, 5)).map(({ layerNumber, layerTopMm: top }) => [layerNumber, top]),
    ).to.deep.equal([
      [9, 0.8],
      [17, 1.44],
      [28, 2.32],
    ]);
  });

  it('a base of 0.72 mm is 9 layers of 0.08, but 3 of 0.24: the swap after it is at the same height', () => {
    const even = { firstLayerMm: 0.08, layerMm: 0.08 };
    expect(layerTopMm(even, 9)).to.equal(0.72);
    const thick = withThickBase({ firstLayerMm: 0.24, layerMm: 0.08 }, 0.72, 0.24);
    if (!thick.ok) throw new Error(thick.fault.code);
    expect(layerTopMm(thick.value, 3)).to.equal(0.72);
    const [swap] = planSwaps({ grid: thick.value, bands: stackOf(3, 8).bands });
    expect(swap).to.include({ layerNumber: 4, stopAfterMm: 0.72, layerTopMm: 0.8 });
  });

  it('2 mm and 2 mm at 0.2: the plate is layers 1 to 10, letters begin with 11, or 10 counted from 0', () => {
    const grid = { firstLayerMm: 0.2, layerMm: 0.2 };
    const [swap] = planSwaps({ grid, bands: stackOf(10, 10).bands });
    expect(swap).to.include({ layerNumber: 11, stopAfterMm: 2, layerTopMm: 2.2 });
    const sheet = sheetOf({ stack: { grid, bands: stackOf(10, 17).bands } });
    expect(swapSheetText(sheet)).to.contain('counted from 0 it is layer 10');
    expect(sheet.bands[0]).to.include({ firstLayer: 1, lastLayer: 10 });
  });

  it('4 mm at 0.3 mm: 13 layers, letters on a plate of six begin in layer 7', () => {
    const grid = { firstLayerMm: 0.3, layerMm: 0.3 };
    expect(layerTopMm(grid, 13)).to.equal(3.9);
    expect(planSwaps({ grid, bands: stackOf(6, 7).bands })[0]?.layerNumber).to.equal(7);
  });
});

describe('time', () => {
  it('outlines of a layer are the sides where it ends, the rim included', () => {
    // Two samples of one layer side by side, and one of two layers above the left one.
    const edges = countEdges({ width: 2, height: 2, data: Uint8Array.of(2, 0, 1, 1) });
    expect([...edges.subarray(1, 4)]).to.deep.equal([8, 4, 0]);
  });

  it('a layer takes its outline and its solid lines at their speeds, travel in proportion, and a pause', () => {
    const one = { width: 1, height: 1, data: Uint8Array.of(2) };
    const pace = { ...USUAL_PRINTER, lineMm: 0.5 };
    const [, first = 0, second = 0] = layerSeconds(
      stackOf(2),
      { counts: countHeights(one), edges: countEdges(one), sampleMm: 10 },
      pace,
    );
    // 100 mm2 in lines of 0.5 mm are 200 mm, of which the four sides, smoothed, are 40 pi / 4.
    const rim = 10 * Math.PI;
    const travel = (TRAVEL_SHARE * 200) / 150 + LAYER_PAUSE_S;
    expect(first).to.be.closeTo(200 / 30 + travel, 1e-9);
    expect(second).to.be.closeTo(rim / 60 + (200 - rim) / 80 + travel, 1e-9);
  });

  it('the print is what lies between the stops, and the swaps', () => {
    const sheet = sheetOf();
    const since = sheet.swaps.reduce((sum, { sinceS }) => sum + sinceS, 0);
    expect(since + sheet.lastS + 2 * USUAL_PRINTER.swapS).to.be.closeTo(sheet.totalS, 1e-6);
    const [first, second] = sheet.swaps;
    expect(first?.atS).to.equal(first?.sinceS);
    expect(second?.atS).to.be.closeTo((first?.atS ?? 0) + 180 + (second?.sinceS ?? 0), 1e-6);
  });

  it('the slicing program’s own figures take the place of the estimate, for time and for grams', () => {
    const sheet = sheetOf({ slicedS: 7200, slicedG: 50 });
    expect(sheet.totalS).to.be.closeTo(7200 + 360, 1e-6);
    expect(sheet.bands.reduce((sum, { grams }) => sum + grams, 0)).to.be.closeTo(50, 1e-9);
    expect(sheet.sliced).to.deep.equal({ time: true, grams: true, own: false });
    const plain = sheetOf();
    const share = (one: SwapSheet): number =>
      (one.swaps[0]?.sinceS ?? 0) / (one.totalS - one.swapsS);
    expect(share(sheet)).to.be.closeTo(share(plain), 1e-9);
  });

  it('G-code of our own gives each layer its seconds and its strand; what a slicing program said goes before it', () => {
    const plain = sheetOf();
    const layerS = Array.from({ length: plain.layers + 1 }, (_, n) => (n === 0 ? 0 : 10 + n));
    const strandMm = layerS.map((_, n) => (n === 0 ? 0 : 100));
    const sheet = sheetOf({ slice: { layerS, strandMm } });
    expect(sheet.sliced).to.deep.equal({ time: true, grams: true, own: true });
    let atS = 0;
    for (const [n, swap] of sheet.swaps.entries()) {
      const from = sheet.swaps[n - 1]?.layerNumber ?? 1;
      const sinceS = layerS.slice(from, swap.layerNumber).reduce((sum, one) => sum + one, 0);
      expect(swap.sinceS).to.be.closeTo(sinceS, 1e-9);
      atS += sinceS;
      expect(swap.atS).to.be.closeTo(atS + n * USUAL_PRINTER.swapS, 1e-9);
    }
    const section = (Math.PI / 4) * USUAL_PRINTER.filamentMm ** 2;
    for (const { firstLayer, lastLayer, volumeMm3, grams, filament } of sheet.bands) {
      expect(volumeMm3).to.be.closeTo(100 * (lastLayer - firstLayer + 1) * section, 1e-6);
      expect(grams).to.be.closeTo((volumeMm3 / 1000) * filament.densityGCm3, 1e-9);
    }
    const told = sheetOf({ slice: { layerS, strandMm }, slicedS: 7200, slicedG: 50 });
    expect(told.sliced.own).to.equal(false);
    expect(told.totalS).to.be.closeTo(7200 + 360, 1e-6);
    expect(told.bands.reduce((sum, { grams }) => sum + grams, 0)).to.be.closeTo(50, 1e-9);
  });

  it('a printer that was measured to print longer stretches every time but that of swaps; what a slicing program said stays', () => {
    const plain = sheetOf();
    const slow = { ...USUAL_PRINTER, timeFactor: 1.25 };
    const sheet = sheetOf({ printer: slow });
    expect(sheet.totalS - sheet.swapsS).to.be.closeTo(1.25 * (plain.totalS - plain.swapsS), 1e-6);
    sheet.swaps.forEach(({ sinceS }, n) => {
      expect(sinceS).to.be.closeTo(1.25 * (plain.swaps[n]?.sinceS ?? 0), 1e-6);
    });
    expect(sheetOf({ printer: slow, slicedS: 7200 }).totalS).to.be.closeTo(7200 + 360, 1e-6);
  });
});

describe('several pieces', () => {
  const many = { copies: 4, spacingMm: 5, way: 'together' } as const;

  it('are laid out squarely, turned where only that fits, and room is counted', () => {
    const bed = { shape: 'rectangle', widthMm: 220, depthMm: 120 } as const;
    expect(arrangePieces(bed, 100, 50, many)).to.deep.equal({
      columns: 2,
      rows: 2,
      turned: false,
      widthMm: 205,
      depthMm: 105,
      fits: true,
      room: 4,
    });
    expect(arrangePieces(bed, 110, 50, { copies: 4, spacingMm: 5 })).to.include({
      turned: true,
      columns: 4,
      fits: true,
    });
    expect(arrangePieces(bed, 300, 50, { copies: 1, spacingMm: 5 })).to.include({
      fits: false,
      room: 0,
    });
    const round = { shape: 'round', diameterMm: 200 } as const;
    expect(arrangePieces(round, 60, 60, { copies: 4, spacingMm: 5 }).fits).to.equal(true);
    expect(arrangePieces(round, 70, 70, { copies: 4, spacingMm: 5 }).fits).to.equal(false);
  });

  it('together they share swaps and go from piece to piece in each layer; one by one they swap anew', () => {
    const { ways, swapsS, totalS } = sheetOf({ pieces: many });
    const one = sheetOf();
    const hops = 27 * hopSeconds(many, 30, 20, USUAL_PRINTER.travelMmS);
    expect(ways.together).to.include({ swaps: 2 });
    // Two in each of four pieces, and three times back from the last filament to the first.
    expect(ways.apart).to.include({ swaps: 11 });
    expect(ways.apart.totalS).to.be.closeTo(
      4 * (one.totalS - one.swapsS) + 11 * 180 + 3 * NEXT_PIECE_S,
      1e-6,
    );
    expect(ways.together.totalS).to.be.closeTo(4 * (one.totalS - one.swapsS) + hops + 360, 1e-6);
    expect(totalS).to.be.closeTo(ways.together.totalS, 1e-6);
    expect(swapsS).to.equal(360);
    expect(hopSeconds(many, 30, 20, 150)).to.be.closeTo(4 * (30 / 150 + HOP_PAUSE_S), 1e-9);
    // By hand, one by one: the sheet tells of one piece, and all need the same strand as before.
    const apart = sheetOf({ pieces: { ...many, way: 'apart' } });
    expect(apart.totalS).to.be.closeTo(one.totalS, 1e-6);
    const purge = (sheet: SwapSheet): number =>
      sheet.needs.reduce((sum, { purgeG }) => sum + purgeG, 0);
    const back = (60 * Math.PI * 0.875 ** 2 * 1.24) / 1000;
    expect(apart.back).to.include({
      fromLetter: 'C',
      toLetter: 'A',
      toLighter: false,
      purgeMm: 60,
    });
    expect(purge(apart)).to.be.closeTo(4 * purge(one) + 3 * back, 1e-9);
    expect([one.back, sheetOf({ pieces: many }).back]).to.deep.equal([null, null]);
    expect(purge(sheetOf({ pieces: many }))).to.be.closeTo(purge(one), 1e-9);
  });

  it('ten copies of two filaments, one by one, need nineteen changes, in sheet, purge, splices and watch', () => {
    const stack = stackOf(8, 8, 11);
    const two = { ...stack, bands: stack.bands.slice(0, 2) };
    const pieces = { copies: 10, spacingMm: 5, way: 'apart' } as const;
    const sheet = sheetOf({ stack: two, pieces });
    expect(sheet.ways.apart.swaps).to.equal(19);
    // Counted by hand: every purge but that of the first loading.
    const plan = planSplices(sheet, 0);
    expect(plan).to.have.length(20);
    expect(plan.filter(({ purgeMm }) => purgeMm > 0)).to.have.length(19);
    expect(plan.slice(0, 3).map(({ letter, purgeMm }) => [letter, purgeMm])).to.deep.equal([
      ['1A', 0],
      ['1B', 150],
      ['2A', 60],
    ]);
    let watch = { ...freshWatch('s', 0) };
    const told: string[] = [];
    for (let n = 0; n < 20; n += 1) {
      const stop = nextStop(sheet, watch);
      told.push(`${stop.piece} ${stop.swap ? 'swap' : 'end'}`);
      expect(stop.over).to.equal(false);
      watch = resumed(watch, 1000 * n);
    }
    expect(told.slice(0, 4)).to.deep.equal(['1 swap', '1 end', '2 swap', '2 end']);
    expect(told.at(-1)).to.equal('10 end');
    expect(nextStop(sheet, watch).over).to.equal(true);
    // One that ends in the filament that it begins with needs no change in between.
    const same = {
      ...two,
      bands: [...two.bands, { ...two.bands[0], filamentId: 'soot', layers: 2 }],
    };
    const round = sheetOf({ stack: same, pieces });
    expect(round.back).to.equal(null);
    expect(planSplices(round, 0)).to.have.length(21);
    expect(planSplices(round, 0)[2]?.letter).to.equal('1C, 2A');
    const text = swapSheetText(sheet);
    expect(text).to.contain('BETWEEN PIECES').and.to.contain('In all there are 19 changes');
    const calendar = swapCalendar(sheet, 0);
    expect(calendar.ok && calendar.value.match(/BEGIN:VEVENT/g)).to.have.length(19);
  });

  it('pieces in layers of several heights: by how many, never all, and only one by one', () => {
    const own = [
      { copies: 2, layerMm: 0.12 },
      { copies: 9, layerMm: 0.1 },
    ];
    const batches = (copies: number, way: 'apart' | 'together'): unknown =>
      batchesOf({ copies, spacingMm: 5, way, own }).map(({ copies: n, layerMm }) => [n, layerMm]);
    expect(batches(20, 'apart')).to.deep.equal([
      [9, null],
      [2, 0.12],
      [9, 0.1],
    ]);
    expect(batches(5, 'apart')).to.deep.equal([
      [1, null],
      [2, 0.12],
      [2, 0.1],
    ]);
    expect(batches(2, 'apart')).to.deep.equal([
      [1, null],
      [1, 0.12],
    ]);
    expect(batches(20, 'together')).to.deep.equal([[20, null]]);
  });

  it('batches one after the other: each piece with its own time, a change back between all of them', () => {
    const apart = { spacingMm: 5, way: 'apart' } as const;
    const usual = sheetOf({ pieces: { ...apart, copies: 3 } });
    const thin = { ...stackOf(16, 16, 22), grid: { firstLayerMm: 0.16, layerMm: 0.04 } };
    const heights = { ...HEIGHTS, data: HEIGHTS.data.map((layers) => 2 * layers) };
    const finer = sheetOf({
      stack: thin,
      counts: countHeights(heights),
      edges: countEdges(heights),
      pieces: { ...apart, copies: 1 },
    });
    const sum = sumBatches([
      { batch: { copies: 3, layerMm: null }, sheet: usual },
      { batch: { copies: 1, layerMm: 0.04 }, sheet: finer },
    ]);
    // Four pieces of two swaps, and three times back.
    expect([sum.copies, sum.changes]).to.deep.equal([4, 11]);
    expect(sum.totalS).to.be.closeTo(
      3 * usual.totalS + finer.totalS + 3 * 180 + 3 * NEXT_PIECE_S,
      1e-6,
    );
    expect(sum.batches.map(({ layers, swaps }) => [layers, swaps])).to.deep.equal([
      [27, 2],
      [54, 2],
    ]);
    expect(sum.batches[0]?.moreS).to.equal(0);
    expect(sum.batches[1]?.moreS).to.be.closeTo(finer.totalS - usual.totalS, 1e-9);
    expect(sum.batches[1]?.moreS).to.be.above(300);
    // Three pieces of one sheet and one of the other; what is purged between the batches comes on top.
    const grams = (sheet: SwapSheet): number =>
      sheet.needs.reduce((all, need) => all + need.grams, 0);
    const back = (60 * Math.PI * 0.875 ** 2 * 1.24) / 1000;
    expect(sum.grams).to.be.closeTo(grams(usual) + grams(finer) + back, 1e-9);
    // Of one height alone it is what the sheet says of one by one.
    const alone = sumBatches([{ batch: { copies: 3, layerMm: null }, sheet: usual }]);
    expect(alone.totalS).to.be.closeTo(usual.ways.apart.totalS, 1e-6);
    expect(alone.changes).to.equal(usual.ways.apart.swaps);
  });

  it('the advice follows the times, the swaps and the bed', () => {
    const base = {
      pieces: many,
      onePieceS: 3600,
      hopS: 6,
      layers: 24,
      swaps: 3,
      returns: true,
      swapS: 180,
      fits: true,
    };
    expect(compareWays(base).advice).to.equal('together');
    expect(compareWays({ ...base, fits: false }).advice).to.equal('apart');
    expect(compareWays({ ...base, swaps: 0, returns: false, hopS: 60 }).advice).to.equal('apart');
    // A feeder swaps fast, and many layers of many hops cost more than that.
    const fast = { ...base, swapS: 20, hopS: 120, layers: 100 };
    expect(compareWays(fast)).to.include({ advice: 'apart' });
    // A few minutes are not worth nine more swaps.
    expect(compareWays({ ...base, swapS: 20, hopS: 30, layers: 24 }).advice).to.equal('together');
    expect(compareWays({ ...base, pieces: { ...many, copies: 1 } }).reason).to.match(/one piece/);
  });
});

describe('splice plan', () => {
  it('is volume over the cross-section of the strand, purges between, what is put by at the end', () => {
    const sheet = sheetOf();
    const plan = planSplices(sheet, 300);
    expect(plan.map(({ letter, purgeMm, marginMm }) => [letter, purgeMm, marginMm])).to.deep.equal([
      ['A', 0, 0],
      ['B', 150, 0],
      ['C', 150, 300],
    ]);
    plan.forEach((piece, i) => {
      const volumeMm3 = sheet.bands[i]?.volumeMm3 ?? 0;
      expect(piece.printMm).to.be.closeTo(volumeMm3 / (Math.PI * 0.875 ** 2), 1e-6);
      expect(piece.lengthMm).to.be.closeTo(piece.printMm + piece.purgeMm + piece.marginMm, 1e-9);
      expect(piece.markMm).to.be.closeTo((plan[i - 1]?.markMm ?? 0) + piece.lengthMm, 1e-9);
    });
    const four = planSplices(sheetOf({ pieces: { copies: 4, spacingMm: 5, way: 'together' } }), 0);
    expect(four[0]?.printMm).to.be.closeTo(4 * (plan[0]?.printMm ?? 0), 1e-6);
  });

  it('bands of one filament that follow each other are one piece', () => {
    const stack = stackOf(8, 8, 11);
    const bands = stack.bands.map((band, i) => (i === 1 ? { ...band, filamentId: 'soot' } : band));
    const plan = planSplices(sheetOf({ stack: { ...stack, bands } }), 0);
    expect(plan.map(({ letter }) => letter)).to.deep.equal(['A, B', 'C']);
  });
});

describe('beside the printer', () => {
  it('purging and the steps follow the direction: light after dark takes more', () => {
    const up = sheetOf();
    expect(up.swaps.map(({ toLighter, purgeMm }) => [toLighter, purgeMm])).to.deep.equal([
      [true, 150],
      [true, 150],
    ]);
    const stack = stackOf(8, 8, 11);
    const down = sheetOf({ stack: { ...stack, bands: [...stack.bands].reverse() } });
    expect(down.swaps.map(({ purgeMm }) => purgeMm)).to.deep.equal([60, 60]);
    const steps = swapSteps(USUAL_PRINTER, 'to-light').join(' ');
    expect(steps).to.contain('170 degrees').and.to.contain('150 mm').and.to.contain('pink');
    expect(swapSteps(USUAL_PRINTER, 'to-dark').join(' ')).to.contain('60 mm');
    const feeder = SHIPPED_PRINTERS.find((printer) => printer.feeder) ?? USUAL_PRINTER;
    expect(swapSteps(feeder, 'to-dark').join(' ')).to.contain('feeder').and.not.to.contain('Cut');
  });

  it('what is left of a spool, and what does not last, is counted with purging', () => {
    const filaments = Object.fromEntries(
      Object.entries(FILAMENTS).map(([id, one]) => [
        id,
        { ...one, leftG: id === 'rust' ? 0.1 : 500 },
      ]),
    );
    const { needs } = sheetOf({ filaments });
    const rust = needs.find(({ filament }) => filament.id === 'rust');
    expect(rust?.restG).to.be.closeTo(0.1 - (rust?.grams ?? 0), 1e-9);
    expect(rust?.restG).to.be.below(0);
    expect(rust?.purgeG).to.be.closeTo((150 * Math.PI * 0.875 ** 2 * 1.24) / 1000, 1e-9);
    expect(sheetOf().needs[0]?.restG).to.equal(undefined);
  });

  it('counts down from the start, then from each time it was resumed, and can be taken back', () => {
    const sheet = sheetOf();
    const open = freshWatch('s', null);
    const one = { piece: 1, pieces: 1, over: false };
    expect(nextStop(sheet, open)).to.deep.equal({ ...one, swap: sheet.swaps[0], dueMs: null });
    const started = { ...open, startedMs: 1000 };
    expect(nextStop(sheet, started).dueMs).to.equal(1000 + 1000 * (sheet.swaps[0]?.sinceS ?? 0));
    const first = resumed(started, 5_000_000);
    expect(nextStop(sheet, first)).to.deep.equal({
      ...one,
      swap: sheet.swaps[1],
      dueMs: 5_000_000 + 1000 * (sheet.swaps[1]?.sinceS ?? 0),
    });
    const second = resumed(first, 9_000_000);
    expect(nextStop(sheet, second)).to.deep.equal({
      ...one,
      swap: null,
      dueMs: 9_000_000 + 1000 * sheet.lastS,
    });
    expect(stepBack(second)).to.deep.equal(first);
    expect(stepBack(started)).to.deep.equal(open);
    expect([3729, 249, -61, 0].map(formatCountdown)).to.deep.equal([
      '1:02:09',
      '4:09',
      '+1:01',
      '0:00',
    ]);
  });

  it('lines to paste say where they go, by layer, from 0 and by height', () => {
    const text = pauseSnippet(sheetOf(), { command: 'M25', text: '' });
    expect(text.split('\n')).to.deep.equal([
      '; Dome at dusk, stamp 7K2Q-M9XD',
      '; swap 1: before layer 9 (number 8 where layers are counted from 0),',
      '; when 0.72 mm is finished; the layer viewer shows 0.80 mm',
      'M25',
      '; swap 2: before layer 17 (number 16 where layers are counted from 0),',
      '; when 1.36 mm is finished; the layer viewer shows 1.44 mm',
      'M25',
      '',
    ]);
  });
});
