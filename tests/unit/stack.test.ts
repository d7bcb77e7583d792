import { expect } from 'chai';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { layerTopMm, USUAL_GRID } from '#core/stack/layer-grid.ts';
import {
  bandEnds,
  bandLetter,
  bandOfLayer,
  boundaryRange,
  insertBand,
  joinWithBelow,
  moveBoundary,
  removeBand,
  restoreTotal,
  reorderBand,
  replaceFilament,
  scaleStack,
  splitBand,
  totalLayers,
  type Band,
} from '#core/stack/stack.ts';
import { coverLayers, rampOfStack } from '#core/stack/stack-ramp.ts';
import { planSwaps } from '#core/schedule/plan-swaps.ts';
import { hidingMm, sameColour } from '#core/stack/same-colour.ts';
import { demoFilaments } from '../helpers/demo.ts';
import { FILAMENTS, stackOf } from '../helpers/stacks.ts';

const layersOf = (bands: readonly Band[]): number[] => bands.map(({ layers }) => layers);

describe('layer grid', () => {
  it('tops of layers 9, 17 and 28 at 0.16 / 0.08 are 0.80, 1.44 and 2.32 mm (common practice, no source)', () => {
    expect([9, 17, 28].map((n) => layerTopMm(USUAL_GRID, n))).to.deep.equal([0.8, 1.44, 2.32]);
  });

  it('a 2 mm plate at 0.2 mm is layers 1 to 10, and letters start in layer 11 (common practice, no source)', () => {
    const grid = { firstLayerMm: 0.2, layerMm: 0.2 };
    expect(layerTopMm(grid, 10)).to.equal(2);
    const [swap] = planSwaps({ grid, bands: stackOf(10, 10).bands });
    expect(swap).to.include({ layerNumber: 11, stopAfterMm: 2, layerTopMm: 2.2 });
  });

  it('4 mm at 0.3 with 0.3 first takes 13 layers, rounded; letters start in layer 7 over 1.8 mm (common practice, no source)', () => {
    const grid = { firstLayerMm: 0.3, layerMm: 0.3 };
    expect(layerTopMm(grid, 13)).to.equal(3.9);
    expect(planSwaps({ grid, bands: stackOf(6, 7).bands })[0]).to.include({
      layerNumber: 7,
      stopAfterMm: 1.8,
    });
  });

  it('the plate itself is at 0 mm', () => {
    expect(layerTopMm(USUAL_GRID, 0)).to.equal(0);
  });
});

describe('stack', () => {
  const { bands } = stackOf(6, 4, 5);

  it('letters bands from the plate up, past Z as well', () => {
    expect([0, 1, 25, 26, 27, 52].map(bandLetter)).to.deep.equal(['A', 'B', 'Z', 'AA', 'AB', 'BA']);
  });

  it('knows ends, total and the band of a layer', () => {
    expect(bandEnds(bands)).to.deep.equal([6, 10, 15]);
    expect(totalLayers(bands)).to.equal(15);
    expect([1, 6, 7, 10, 11, 15, 99].map((n) => bandOfLayer(bands, n))).to.deep.equal([
      0, 0, 1, 1, 2, 2, 2,
    ]);
  });

  it('moves a boundary by trading layers with the band above', () => {
    expect(layersOf(moveBoundary(bands, 0, 8))).to.deep.equal([8, 2, 5]);
    expect(layersOf(moveBoundary(bands, 1, 7))).to.deep.equal([6, 1, 8]);
  });

  it('moves the topmost boundary by changing the height of the stack', () => {
    expect(layersOf(moveBoundary(bands, 2, 20))).to.deep.equal([6, 4, 10]);
    expect(layersOf(moveBoundary(bands, 2, 5000))).to.deep.equal([6, 4, MAX_LAYERS - 10]);
  });

  it('never lets a band end at or below the one under it, nor swallow the one above', () => {
    expect(boundaryRange(bands, 1)).to.deep.equal({ least: 7, greatest: 14 });
    expect(layersOf(moveBoundary(bands, 1, -3))).to.deep.equal([6, 1, 8]);
    expect(layersOf(moveBoundary(bands, 1, 15))).to.deep.equal([6, 8, 1]);
    expect(moveBoundary(bands, 1, 10)).to.equal(bands);
    expect(moveBoundary(bands, 7, 3)).to.equal(bands);
  });

  it('adds, removes, reorders and replaces', () => {
    expect(layersOf(insertBand(bands, 1, { filamentId: 'x', layers: 3 }))).to.deep.equal([
      6, 3, 4, 5,
    ]);
    expect(totalLayers(insertBand(bands, 3, { filamentId: 'x', layers: 999 }))).to.equal(
      MAX_LAYERS,
    );
    expect(layersOf(removeBand(bands, 0))).to.deep.equal([4, 5]);
    expect(removeBand(bands.slice(0, 1), 0)).to.have.length(1);
    expect(layersOf(reorderBand(bands, 0, 2))).to.deep.equal([4, 5, 6]);
    expect(layersOf(reorderBand(bands, 2, 0))).to.deep.equal([5, 6, 4]);
    expect(replaceFilament(bands, 1, 'x').map(({ filamentId }) => filamentId)).to.deep.equal([
      'soot',
      'x',
      'ivory',
    ]);
  });
});

describe('ramp of a stack', () => {
  it('has one colour for each height, in the right band, ending near the opaque colour of the last filament', () => {
    const stack = stackOf(6, 10, 120);
    const ramp = rampOfStack(stack, FILAMENTS);
    expect(ramp).to.have.length(136);
    expect(ramp.map(({ bandIndex }) => bandIndex)).to.deep.equal([
      ...Array<number>(6).fill(0),
      ...Array<number>(10).fill(1),
      ...Array<number>(120).fill(2),
    ]);
    const top = ramp[135]?.colour ?? [0, 0, 0];
    [240, 232, 214].forEach((wanted, i) => expect(top[i]).to.be.closeTo(wanted, 6));
  });

  it('cover grows through a band and starts again in the next', () => {
    const ramp = rampOfStack(stackOf(6, 10, 120), FILAMENTS);
    const covers = ramp.slice(6, 16).map(({ cover }) => cover);
    covers.slice(1).forEach((cover, i) => expect(cover).to.be.at.least(covers[i] ?? 1));
    expect(ramp[16]?.cover).to.be.lessThan(0.5);
    expect(coverLayers(stackOf(6, 10, 120), ramp)[2]).to.be.within(40, 136);
  });

  it('over a white wall a thin first band looks lighter', () => {
    const stack = stackOf(3);
    const dark = rampOfStack(
      { ...stack, bands: [{ filamentId: 'ivory', layers: 3 }] },
      FILAMENTS,
      0,
    );
    const white = rampOfStack(
      { ...stack, bands: [{ filamentId: 'ivory', layers: 3 }] },
      FILAMENTS,
      0.8,
    );
    expect(white[0]?.lab[0]).to.be.greaterThan((dark[0]?.lab[0] ?? 100) + 10);
  });

  it('names the filament that is missing', () => {
    expect(() => rampOfStack(stackOf(3), {})).to.throw(RangeError, 'soot');
  });
});

describe('swaps', () => {
  it('come with layer, stop and top height, and letters', () => {
    const swaps = planSwaps(stackOf(8, 8, 11));
    expect(swaps).to.have.length(2);
    expect(swaps[0]).to.deep.equal({
      swapNumber: 1,
      layerNumber: 9,
      stopAfterMm: 0.72,
      layerTopMm: 0.8,
      fromFilamentId: 'soot',
      toFilamentId: 'rust',
      fromLetter: 'A',
      toLetter: 'B',
    });
    expect(swaps[1]).to.include({
      swapNumber: 2,
      layerNumber: 17,
      stopAfterMm: 1.36,
      layerTopMm: 1.44,
    });
  });

  it('are not needed between bands of one filament, nor above what is printed', () => {
    const stack = stackOf(4, 4, 4);
    const same = { ...stack, bands: replaceFilament(stack.bands, 1, 'soot') };
    expect(
      planSwaps(same).map(({ swapNumber, layerNumber }) => [swapNumber, layerNumber]),
    ).to.deep.equal([[1, 9]]);
    expect(planSwaps(stack, 8)).to.have.length(1);
    expect(planSwaps(stack, 9)).to.have.length(2);
  });

  it('splits a band, joins it again, and scales a whole stack by equal shares', () => {
    const bands = stackOf(5, 4, 1).bands;
    const split = splitBand(bands, 0, (band) => ({ ...band }));
    expect(split.map(({ layers }) => layers)).to.deep.equal([3, 2, 4, 1]);
    expect(split[1]?.filamentId).to.equal('soot');
    expect(joinWithBelow(split, 1)).to.deep.equal(bands);
    expect(splitBand(bands, 2, (band) => band)).to.equal(bands);
    expect(joinWithBelow(bands, 0)).to.equal(bands);
    const layersAt = (total: number): number[] =>
      scaleStack(bands, total).map(({ layers }) => layers);
    expect(layersAt(20)).to.deep.equal([10, 8, 2]);
    expect(layersAt(10)).to.deep.equal([5, 4, 1]);
    for (const total of [3, 4, 7, 11, 33, 250, 999])
      expect(layersAt(total).reduce((a, b) => a + b)).to.equal(Math.min(250, total));
    expect(Math.min(...layersAt(1))).to.equal(1);
  });

  it('locked bands keep their layers: edges slide them, scaling goes around them', () => {
    const bands = [
      { filamentId: 'a', layers: 6 },
      { filamentId: 'b', layers: 4, locked: true },
      { filamentId: 'c', layers: 5 },
    ];
    expect(layersOf(moveBoundary(bands, 0, 8))).to.deep.equal([8, 4, 3]);
    expect(layersOf(moveBoundary(bands, 1, 8))).to.deep.equal([4, 4, 7]);
    expect(boundaryRange(bands, 1)).to.deep.equal({ least: 5, greatest: 14 });
    expect(layersOf(scaleStack(bands, 26))).to.deep.equal([12, 4, 10]);
    const onTop = bands.map((band, i) => ({ ...band, locked: i > 0 }));
    expect(layersOf(moveBoundary(onTop, 0, 9))).to.deep.equal([9, 4, 5]);
    const all = bands.map((band) => ({ ...band, locked: true }));
    expect(moveBoundary(all, 1, 12)).to.equal(all);
    expect(scaleStack(all, 30)).to.equal(all);
  });

  it('a held total: inner edges trade, the top edge stays, and what is taken out goes to the neighbours', () => {
    const bands = [
      { filamentId: 'a', layers: 6 },
      { filamentId: 'b', layers: 4 },
      { filamentId: 'c', layers: 5 },
    ];
    const hold = { holdTotal: true };
    expect(moveBoundary(bands, 2, 20, hold)).to.equal(bands);
    expect(layersOf(moveBoundary(bands, 0, 8, hold))).to.deep.equal([8, 2, 5]);
    expect(layersOf(restoreTotal(removeBand(bands, 1), 15, 0.5))).to.deep.equal([10, 5]);
    const grown = insertBand(bands, 1, { filamentId: 'x', layers: 8 });
    expect(layersOf(restoreTotal(grown, 15, 1))).to.deep.equal([1, 8, 1, 5]);
    const locked = bands.map((band, i) => ({ ...band, locked: i < 2 }));
    expect(layersOf(restoreTotal(locked, 18, 1))).to.deep.equal([6, 4, 8]);
  });
});

describe('filaments of one colour', () => {
  const rack = demoFilaments();

  it('are offered by how much more or less light they let through, near twins and others left out', () => {
    const rust = rack.rust ?? expect.fail();
    const found = sameColour(rust, Object.values(rack));
    expect(found.map(({ filament }) => filament.id)).to.include('rust-veil');
    for (const { filament, times } of found) {
      expect(Math.abs(times - 1)).to.be.at.least(0.15);
      expect(times).to.be.closeTo(hidingMm(filament) / hidingMm(rust), 1e-9);
    }
    const twin = { ...rust, id: 'twin', transmissionMm: rust.transmissionMm * 1.05 };
    const thinner = { ...rust, id: 'thinner', transmissionMm: rust.transmissionMm * 0.5 };
    const green = { ...thinner, id: 'green', colour: '#20a040' };
    expect(sameColour(rust, [rust, twin, thinner, green])).to.deep.equal([
      { filament: thinner, times: 0.5 },
    ]);
  });

  it('values told by light through are compared by hiding', () => {
    const veil = rack['rust-veil'] ?? expect.fail();
    expect(veil.basis.kind).to.equal('light-through');
    expect(hidingMm(veil)).to.be.lessThan(veil.transmissionMm);
  });
});
