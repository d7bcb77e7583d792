import { whatToBuy } from '#core/find/buy.ts';
import { findStack } from '#core/find/find-stack.ts';
import type { FoundStack } from '#core/find/request.ts';
import { risingCurve } from '#core/find/tone-curve.ts';
import { coloursOfRamp } from '#core/heights/closest.ts';
import { MOST_LEAN } from '#core/stack/lean.ts';
import { flatOnStack } from '#core/heights/flat.ts';
import { GREATEST_CURVE_POINTS } from '#core/heights/tone.ts';
import type { Filament } from '#core/stack/filament.ts';
import { evenTops } from '#core/stack/layer-grid.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import type { FindJobs, SearchRequest, SuggestedStack } from './jobs.ts';
import type { Handlers } from '../serve.ts';

/** A stack with the tone curve that goes with it, where heights are to follow tone. */
function suggest(
  { cells, grid, rule, leastLayers, lean, zones, zoneColours, flat }: SearchRequest,
  filaments: readonly Filament[],
  stack: FoundStack,
): SuggestedStack {
  if (rule === 'zones')
    return {
      ...stack,
      tone: null,
      lean: zones?.price ?? MOST_LEAN,
      ...(zoneColours ? { zoneColours } : {}),
    };
  if (rule !== 'tone' && !flat) return { ...stack, tone: null, lean: lean?.price ?? 0 };
  const table = Object.fromEntries(filaments.map((filament) => [filament.id, filament]));
  const ramp = rampOfStack({ grid, bands: stack.bands }, table);
  if (flat)
    return {
      ...stack,
      tone: null,
      lean: 0,
      flat: flatOnStack(flat, cells, coloursOfRamp(ramp), leastLayers),
    };
  const tops = evenTops(grid, ramp.length);
  return {
    ...stack,
    tone: risingCurve(cells, ramp, leastLayers, GREATEST_CURVE_POINTS, tops),
    lean: 0,
  };
}

/** The jobs of looking for stacks. */
export function findHandlers(): Handlers<FindJobs> {
  return {
    find: (request, checkpoint, tell) => {
      const suggested = (stack: FoundStack): SuggestedStack =>
        suggest(request, request.filaments, stack);
      const found = findStack(request, {
        onPause: checkpoint,
        onBest: (best) => {
          tell(suggested(best));
        },
      });
      if (!found.ok) return found;
      const { curve, others } = found.value;
      return { ok: true, value: { curve: curve.map(suggested), others: others.map(suggested) } };
    },

    buy: ({ request, extra, best }) => ({
      purchases: whatToBuy(request, extra, best).map(({ filamentId, stack }) => ({
        filamentId,
        stack: suggest(request, [...request.filaments, ...extra], stack),
      })),
    }),
  };
}
