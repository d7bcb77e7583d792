import { keepsTo, type Limits } from './limits.ts';
import { makeDraft } from './evaluator.ts';
import { draftOf, forEachNeighbour, foundOf, type Found, type Pricer } from './search.ts';

/** How much dearer by many colours a neighbour may be, as a share, to be asked for its price by all. */
const NEAR = 0.012;

/** Rounds at most. */
const MOST_ROUNDS = 4;

/**
 * The last steps downhill, by the price over all colours: stacks that many colours hardly tell apart can be some
 * thousandths apart by all of them. To price all neighbours so would take too long; those that are near by many colours do.
 * @param exactly the price by all colours
 * @param mostNear neighbours that are priced by all colours in one round, at most
 * @param pause called with the stacks priced by many colours since
 */
export function settle(
  found: Found,
  close: Pricer,
  exactly: (found: Found) => number,
  limits: Limits,
  mostNear: number,
  pause: (priced: number) => void,
): Found {
  let best = found;
  let price = exactly(best);
  const candidate = makeDraft(limits.mostBands + 2);
  for (let round = 0; round < MOST_ROUNDS; round += 1) {
    const draft = draftOf(best, limits.mostBands + 2);
    const most = close.price(draft) * (1 + NEAR);
    const near: Found[] = [];
    let priced = 1;
    forEachNeighbour(draft, candidate, limits, () => {
      if (!keepsTo(candidate, limits)) return;
      priced += 1;
      const own = close.price(candidate);
      if (own <= most) near.push(foundOf(candidate, own));
    });
    pause(priced);
    const before = price;
    for (const one of near.sort((a, b) => a.price - b.price).slice(0, mostNear)) {
      const exact = exactly(one);
      if (exact >= price - 1e-9) continue;
      price = exact;
      best = one;
    }
    if (price >= before) return best;
  }
  return best;
}
