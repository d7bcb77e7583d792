import { rampInRoom, type LampLight } from '#core/heights/lamp.ts';
import type { LightKind } from '#core/optics/lights.ts';
import type { Ramp } from '#core/optics/ramp.ts';
import { useLive, useView } from './project-context.ts';
import type { ViewState } from './view-store.ts';

/** The light that the front is seen in. */
export function roomOf({ roomKind = 'd65' }: Pick<LampLight, 'roomKind'>): LightKind {
  return roomKind;
}

let last: { readonly of: Ramp; readonly room: LightKind; readonly seen: Ramp } | undefined;

/** The ramp as it is seen in the light of the room: the same object for the same ramp and light. */
export function rampSeen(ramp: Ramp, light: Pick<LampLight, 'roomKind'>): Ramp {
  const room = roomOf(light);
  if (last?.of !== ramp || last.room !== room)
    last = { of: ramp, room, seen: rampInRoom(ramp, room) };
  return last.seen;
}

/** {@link rampSeen} of the open project. */
export function useRampSeen(): Ramp {
  const ramp = useLive((state) => state.ramp);
  const light = useView((state) => state.light);
  return rampSeen(ramp, light);
}

/** Is the difference one that is worked out for where and in what light it is seen, other than side by side in daylight? */
export function isSeenApart({
  light,
  seenFromMm,
}: Pick<ViewState, 'light' | 'seenFromMm'>): boolean {
  return seenFromMm > 0 || roomOf(light) !== 'd65';
}
