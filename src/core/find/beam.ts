import { copyDraft, makeDraft, type Draft, type StackEvaluator } from './evaluator.ts';
import type { Limits } from './limits.ts';
import { layersOf } from './limits.ts';

/** Stacks that are kept at each height for each number of bands. */
const WIDTH = 12;

/** Layerings of one order of filaments among them: variety is worth more than the last hundredth. */
const LAYERINGS = 2;

interface Kept {
  readonly draft: Draft;
  readonly price: number;
}

/**
 * Builds stacks from the plate up, a layer at a time: the best few of each height and number of bands go on, each with one
 * more layer or with a first layer of any other filament (B. T. Lowerre, "The HARPY speech recognition system", Carnegie
 * Mellon University 1976, for the beam). Quick and greedy: what comes out is what annealing begins with.
 * @param onTrials called now and then with the stacks priced since
 * @returns for each number of bands, from 1 on, the best stacks of the whole height, best first
 */
export function beamStacks(
  evaluator: StackEvaluator,
  limits: Limits,
  onTrials: (count: number) => void,
): readonly (readonly Kept[])[] {
  const room = limits.mostBands + 2;
  const first = Math.min(limits.mostLayers, Math.max(limits.leastLayers, limits.leastPerBand));
  let beams: Kept[][] = Array.from({ length: limits.mostBands }, () => []);
  const bottoms =
    limits.bottom >= 0
      ? [limits.bottom]
      : Array.from({ length: limits.filaments }, (_, filament) => filament);
  for (const filament of bottoms) {
    const draft = makeDraft(room);
    draft.filament[0] = filament;
    draft.layers[0] = first;
    draft.count = 1;
    beams[0]?.push({ draft, price: evaluator.price(draft) });
  }
  const candidate = makeDraft(room);
  for (let height = first; height < limits.mostLayers; height += 1) {
    const next: Kept[][] = beams.map(() => []);
    let priced = 0;
    beams.forEach((beam, bands) => {
      for (const { draft } of beam) {
        // A band that began above goes on; its layers are whatever the height asks.
        const top = draft.count - 1;
        if (layersOf(draft) > height) {
          next[bands]?.push({ draft, price: evaluator.price(draft) });
          continue;
        }
        copyDraft(draft, candidate);
        candidate.layers[top] = (candidate.layers[top] as number) + 1;
        priced += 1;
        keep(next[bands], candidate, evaluator.price(candidate), room);
        if (bands + 1 >= limits.mostBands || height + limits.leastPerBand > limits.mostLayers)
          continue;
        for (let filament = 0; filament < limits.filaments; filament += 1) {
          if (filament === draft.filament[top]) continue;
          copyDraft(draft, candidate);
          candidate.filament[top + 1] = filament;
          candidate.layers[top + 1] = limits.leastPerBand;
          candidate.count = draft.count + 1;
          priced += 1;
          keep(next[bands + 1], candidate, evaluator.price(candidate), room);
        }
      }
    });
    onTrials(priced);
    beams = next.map(best);
  }
  return beams.map(best);
}

function keep(beam: Kept[] | undefined, draft: Draft, price: number, room: number): void {
  if (!beam) return;
  const copy = makeDraft(room);
  copyDraft(draft, copy);
  beam.push({ draft: copy, price });
}

/** The best of a beam, few of each order of filaments. */
function best(beam: readonly Kept[]): Kept[] {
  const counts = new Map<string, number>();
  const kept: Kept[] = [];
  for (const one of [...beam].sort((a, b) => a.price - b.price)) {
    const key = one.draft.filament.subarray(0, one.draft.count).join();
    const count = counts.get(key) ?? 0;
    if (count >= LAYERINGS) continue;
    counts.set(key, count + 1);
    kept.push(one);
    if (kept.length === WIDTH) break;
  }
  return kept;
}
