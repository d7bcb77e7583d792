/** The best stack of a small job, by looking at every one. */
import {
  cellsAsClusters,
  cellWeights,
  clusterCells,
  mergeCells,
} from '../../src/core/find/clusters.ts';
import { makeDraft, StackEvaluator, type Draft } from '../../src/core/find/evaluator.ts';
import { limitsOf, type FindRequest } from '../../src/core/find/request.ts';
import { draftOf, type Found } from '../../src/core/find/search.ts';
import { opticsOf } from '../../src/core/stack/filament.ts';
import type { Band } from '../../src/core/stack/stack.ts';

/** Stacks that are priced over all colours in the end. */
const KEPT = 5_000;

/** Rows of differences: enough for every colour that the stacks of a small job show. */
const ROWS = 700_000;

/** A stack that the bench measures against. */
export interface KnownStack {
  readonly bands: readonly Band[];
  readonly meanDeltaE: number;
}

/**
 * Prices every order of filaments with every layering of the whole height by 64 clusters, and the best {@link KEPT} of them
 * over all colours of the picture. Lower stacks need not be looked at: with closest blend one more layer never costs.
 */
export function exhaust(request: FindRequest): KnownStack {
  const checked = limitsOf(request);
  if (!checked.ok) throw new Error(checked.fault.code);
  const limits = checked.value;
  const { filaments, grid, leastLayers } = request;
  const cells = mergeCells(request.cells);
  const pixels = cellWeights(cells.count);
  const optics = filaments.map(opticsOf);
  const options = { rule: 'closest' as const, leastLayers, mostBands: limits.mostBands + 2 };
  const coarse = new StackEvaluator(clusterCells(cells, pixels, 64), optics, grid, {
    ...options,
    mostRows: ROWS,
  });
  const exact = new StackEvaluator(cellsAsClusters(cells, pixels), optics, grid, {
    ...options,
    single: true,
  });
  const draft: Draft = makeDraft(limits.mostBands + 2);
  let kept: Found[] = [];
  let worst = Infinity;
  const offer = (): void => {
    const price = coarse.price(draft);
    if (price >= worst) return;
    kept.push({
      filament: [...draft.filament.subarray(0, draft.count)],
      layers: [...draft.layers.subarray(0, draft.count)],
      price,
    });
    if (kept.length < 2 * KEPT) return;
    kept = kept.sort((a, b) => a.price - b.price).slice(0, KEPT);
    worst = kept.at(-1)?.price ?? Infinity;
  };
  /** The last filament turns fastest, so that what lies under it is piled up once. */
  const extend = (band: number, bands: number, room: number): void => {
    const last = band === bands - 1;
    const most = last ? room : room - (bands - 1 - band);
    for (let filament = 0; filament < limits.filaments; filament += 1) {
      if (band > 0 && draft.filament[band - 1] === filament) continue;
      draft.filament[band] = filament;
      for (let layers = last ? most : 1; layers <= most; layers += 1) {
        draft.layers[band] = layers;
        draft.count = bands;
        if (last) offer();
        else extend(band + 1, bands, room - layers);
      }
    }
  };
  for (let bands = 1; bands <= limits.mostBands; bands += 1) extend(0, bands, limits.mostLayers);
  let least = Infinity;
  let best: Found | undefined;
  for (const found of kept.sort((a, b) => a.price - b.price).slice(0, KEPT)) {
    const price = exact.price(draftOf(found, limits.mostBands + 2));
    if (price >= least) continue;
    least = price;
    best = found;
  }
  if (!best) throw new Error('no stack');
  return {
    meanDeltaE: least,
    bands: best.filament.map((filament, i) => ({
      filamentId: filaments[filament]?.id ?? '',
      layers: best.layers[i] ?? 1,
    })),
  };
}
