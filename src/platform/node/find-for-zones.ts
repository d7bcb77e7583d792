import { succeed, type Result } from '#core/base/result.ts';
import { findStack, type FindAnswer } from '#core/find/find-stack.ts';
import type { FindFault, FindRequest } from '#core/find/request.ts';
import { BEFORE_FITTING } from '#core/find/turns.ts';
import type { FittedZones } from '#core/heights/fit-zones.ts';
import type { Zone } from '#core/heights/zones.ts';
import type { Band } from '#core/stack/stack.ts';

/**
 * Looks for stack, order and colours of zones together: half-way the zones are fitted to the stack that was found, which is then
 * improved for them; the better of both is taken.
 * @param zones lowest first
 * @param ask what is looked for with some zones, whose ids are their places, with a share of the work
 * @param fit fits zones, lowest first, to a stack
 */
export function findForZones(
  zones: readonly Zone[],
  ask: (zones: readonly Zone[], share: number) => FindRequest,
  fit: (zones: readonly Zone[], bands: readonly Band[]) => FittedZones,
): Result<{ readonly answer: FindAnswer; readonly zones: readonly Zone[] }, FindFault> {
  const first = findStack(ask(zones, BEFORE_FITTING));
  if (!first.ok) return first;
  const half = first.value.curve.at(-1);
  if (!half) return succeed({ answer: first.value, zones });
  const ordered = (half.zoneIds ?? []).flatMap((id) => zones[Number(id)] ?? []);
  const fitted = fit(ordered, half.bands);
  const moved = fitted.zones.flatMap(({ colours }, place) => {
    const own = ordered[fitted.order[place] ?? -1];
    return own ? [{ ...own, colours }] : [];
  });
  const second = findStack({ ...ask(moved, 1 - BEFORE_FITTING), start: half.bands });
  const improved = second.ok && (second.value.curve.at(-1)?.price ?? Infinity) < half.price;
  return succeed(
    improved ? { answer: second.value, zones: moved } : { answer: first.value, zones },
  );
}
