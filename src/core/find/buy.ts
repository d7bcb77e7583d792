import type { Filament } from '../stack/filament.ts';
import { copyDraft, makeDraft, type Draft } from './evaluator.ts';
import { Judge } from './judge.ts';
import { keepsTo, type Limits } from './limits.ts';
import { draftOfBands, limitsOf, type FindRequest, type FoundStack } from './request.ts';
import { forEachNeighbour } from './search.ts';

/** What one more filament would bring. */
export interface Purchase {
  readonly filamentId: string;
  readonly stack: FoundStack;
}

/** Less than this is not worth a spool, CIEDE2000. */
const LEAST_GAIN = 0.05;

/** Filaments that are told at most. */
const MOST_TOLD = 3;

/**
 * Which filament that is not at hand would help most: each in turn takes the place of each band of the best stack, and the
 * layers are settled anew. A whole search with it might find still more, never less.
 * @param extra filaments that could be bought
 * @param best the best stack of `request` without them
 */
export function whatToBuy(
  request: FindRequest,
  extra: readonly Filament[],
  best: FoundStack,
): Purchase[] {
  const wider = { ...request, filaments: [...request.filaments, ...extra], start: null };
  const checked = limitsOf(wider);
  if (!checked.ok || extra.length === 0) return [];
  const limits = checked.value;
  const judge = new Judge(wider, limits);
  const from = draftOfBands(best.bands, wider.filaments, limits);
  const purchases = extra.flatMap((filament, n): Purchase[] => {
    let found: Draft | undefined;
    let least = Infinity;
    for (let band = 0; band < from.count; band += 1) {
      const draft = makeDraft(from.filament.length);
      copyDraft(from, draft);
      draft.filament[band] = request.filaments.length + n;
      const settled = settleLayers(judge, draft, limits);
      if (!keepsTo(settled, limits)) continue;
      const price = judge.close.price(settled);
      if (price >= least) continue;
      least = price;
      found = settled;
    }
    if (!found) return [];
    const stack = judge.judge({
      filament: [...found.filament.subarray(0, found.count)],
      layers: [...found.layers.subarray(0, found.count)],
      price: least,
    });
    return stack.price <= best.price - LEAST_GAIN ? [{ filamentId: filament.id, stack }] : [];
  });
  return purchases.sort((a, b) => a.stack.meanDeltaE - b.stack.meanDeltaE).slice(0, MOST_TOLD);
}

/** Goes downhill over layers alone. */
function settleLayers(judge: Judge, start: Draft, limits: Limits): Draft {
  const best = makeDraft(start.filament.length);
  copyDraft(start, best);
  let price = judge.coarse.price(best);
  const candidate = makeDraft(start.filament.length);
  const next = makeDraft(start.filament.length);
  for (;;) {
    let least = price;
    // No filaments to choose from: only layers move.
    forEachNeighbour(best, candidate, { ...limits, filaments: 0 }, () => {
      if (!sameFilaments(best, candidate) || !keepsTo(candidate, limits)) return;
      const here = judge.coarse.price(candidate);
      if (here < least - 1e-9) {
        least = here;
        copyDraft(candidate, next);
      }
    });
    if (least >= price - 1e-9) return best;
    price = least;
    copyDraft(next, best);
  }
}

function sameFilaments(one: Draft, other: Draft): boolean {
  for (let i = 0; i < one.count; i += 1) if (one.filament[i] !== other.filament[i]) return false;
  return true;
}
