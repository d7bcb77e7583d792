import { expect } from 'chai';
import { planSwaps } from '#core/schedule/plan-swaps.ts';
import { bandEnds } from '#core/stack/stack.ts';
import type { SliceFigures, SwapSheet } from '#core/schedule/swap-sheet.ts';
import { sheetsOfBatches } from '../../src/state/batch-sheets.ts';
import { batchesOfDocument, documentOfBatch } from '../../src/state/batches.ts';
import { createDocumentStore } from '../../src/state/document-store.ts';
import { stackOf } from '../../src/state/document-facts.ts';
import { changePieces, setOwnLayers, setSliced } from '../../src/state/edits/print-edits.ts';
import { loadShippedFaces } from '../../src/platform/node/load-faces.ts';
import { readyForTags } from '../../src/state/ready-for-tags.ts';
import { stampOfDocument } from '../../src/state/project-export.ts';
import type { ProjectDocument } from '../../src/state/project-document.ts';
import { testDocument } from '../helpers/documents.ts';
import { letters, tagDocument, tagOf } from '../helpers/tags.ts';

/** Three copies, one by one, one of them in layers of its own. */
function withOwn(document: ProjectDocument, layerMm: number): ProjectDocument {
  const store = createDocumentStore(document);
  store.getState().change(changePieces({ copies: 3, way: 'apart' }));
  store.getState().change(setOwnLayers(0, { copies: 1, layerMm }));
  return store.getState().document;
}

describe('pieces in layers of their own', () => {
  before(() => readyForTags(loadShippedFaces));

  it('a tag of 2 + 2 mm: swap at layer 11 of 0.2 mm, at layer 20 of 0.1 mm, after 2 mm in both', () => {
    const document = withOwn(tagDocument(tagOf([letters('7', { layers: 10, level: 10 })])), 0.1);
    const [usual, finer, more] = batchesOfDocument(document);
    expect(more).to.equal(undefined);
    expect([usual?.batch, finer?.batch]).to.deep.equal([
      { copies: 2, layerMm: null },
      { copies: 1, layerMm: 0.1 },
    ]);
    const swapOf = (one: ProjectDocument | null | undefined): readonly number[][] =>
      one
        ? planSwaps(stackOf(one)).map(({ layerNumber, stopAfterMm }) => [layerNumber, stopAfterMm])
        : [];
    // By hand: 0.2 + 9 x 0.2 = 2; 0.2 + 18 x 0.1 = 2.
    expect(swapOf(usual?.document)).to.deep.equal([[11, 2]]);
    expect(swapOf(finer?.document)).to.deep.equal([[20, 2]]);
    const tops = [usual, finer].map((one) => bandEnds(one?.document?.stack.bands ?? []).at(-1));
    // 0.2 + 19 x 0.2 = 4; 0.2 + 38 x 0.1 = 4.
    expect(tops).to.deep.equal([20, 39]);
    expect(usual?.document?.print.pieces).to.deep.include({ copies: 2, own: [] });
    expect(stampOfDocument(document)).to.not.equal(stampOfDocument(documentOfBatch(document, 1)));
    expect(stampOfDocument(document)).to.equal(stampOfDocument(documentOfBatch(document, 0)));
  });

  it('are worked out once a state, fall back where there are none, and forget what was said of other layers', () => {
    const plain = testDocument();
    expect(documentOfBatch(plain, 0)).to.equal(plain);
    const store = createDocumentStore(plain);
    store.getState().change(setSliced('slicedMinutes', 90));
    const document = withOwn(store.getState().document, 0.04);
    expect(documentOfBatch(document, 1)).to.equal(documentOfBatch(document, 1));
    expect(documentOfBatch(document, 1).print.slicedMinutes).to.equal(null);
    expect(documentOfBatch(document, 0).print.slicedMinutes).to.equal(90);
    expect(documentOfBatch(document, 7)).to.equal(documentOfBatch(document, 0));
    // More layers than can be counted: no document, and the sheet is that of the others.
    const tall = withOwn(
      tagDocument(tagOf([], { plate: { ...tagOf([]).plate, layers: 200 } })),
      0.02,
    );
    expect(batchesOfDocument(tall).map((one) => one.document === null)).to.deep.equal([
      false,
      true,
    ]);
    expect(documentOfBatch(tall, 1)).to.equal(documentOfBatch(tall, 0));
  });

  it('what is known of one height is known of the others in proportion', () => {
    const document = withOwn(testDocument(), 0.04);
    const of = (told: Partial<ProjectDocument['print']>, slice: SliceFigures | null = null) => {
      const whole = { ...document, print: { ...document.print, ...told } };
      return sheetsOfBatches(
        batchesOfDocument(whole).map((one, i) => {
          const own = one.document ?? whole;
          const layers = bandEnds(own.stack.bands).at(-1) ?? 0;
          // Every sample at its full height.
          const counts = Uint32Array.from({ length: layers + 1 }, (_, n) =>
            n === layers ? 40_000 : 0,
          );
          return { document: own, counts: { counts }, slice: i === 1 ? slice : null };
        }),
      );
    };
    const printed = (sheet: SwapSheet | undefined): number =>
      (sheet?.totalS ?? 0) - (sheet?.swapsS ?? 0);
    const grams = (sheet: SwapSheet | undefined): number =>
      sheet?.bands.reduce((sum, band) => sum + band.grams, 0) ?? 0;
    const [usual, finer] = of({});
    expect(printed(finer) / printed(usual), 'finer layers take longer').to.be.above(1.5);
    // Told: half as long again as the estimate, and a tenth less plastic.
    const told = of({
      slicedMinutes: (1.5 * printed(usual)) / 60,
      slicedGrams: 0.9 * grams(usual),
    });
    expect(printed(told[0])).to.be.closeTo(1.5 * printed(usual), 1e-6);
    expect(printed(told[1])).to.be.closeTo(1.5 * printed(finer), 1e-6);
    expect(grams(told[0])).to.be.closeTo(0.9 * grams(usual), 1e-9);
    expect(grams(told[1])).to.be.closeTo(0.9 * grams(finer), 1e-9);
    expect(told[1]?.swaps).to.have.length(finer?.swaps.length ?? 0);
    // From G-code of the second one: the first follows.
    const layerS = Array.from({ length: (finer?.layers ?? 0) + 1 }, (_, n) => (n > 0 ? 60 : 0));
    const sliced = of({}, { layerS, strandMm: layerS });
    const factor = printed(sliced[1]) / printed(finer);
    expect(printed(sliced[1])).to.be.closeTo(60 * (finer?.layers ?? 0), 0.3 * printed(finer));
    expect(printed(sliced[0])).to.be.closeTo(factor * printed(usual), 1e-6);
  });
});
