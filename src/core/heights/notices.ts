import type { Ramp } from '../optics/ramp.ts';
import { bandEnds, totalLayers, type Stack } from '../stack/stack.ts';
import { coverLayers } from '../stack/stack-ramp.ts';

/** Something about a plan that the maker should look at. `bandIndex` counts from 0 at the plate. */
export type Notice =
  | { readonly code: 'nothing-printed' }
  | { readonly code: 'no-room'; readonly leastLayers: number }
  | { readonly code: 'few-heights'; readonly heights: number }
  | { readonly code: 'same-neighbours'; readonly bandIndex: number }
  | { readonly code: 'unused-band'; readonly bandIndex: number }
  | { readonly code: 'idle-layers'; readonly bandIndex: number; readonly layers: number };

/** Heights fewer than this make a picture look squeezed. */
const FEW_HEIGHTS = 3;

/**
 * Layers of each band above the one at which it has covered: they change nothing to be seen. The topmost `leastLayers` of
 * the first band are never counted, since no spot may be lower than that.
 */
export function idleLayers(stack: Stack, ramp: Ramp, leastLayers: number): number[] {
  const ends = bandEnds(stack.bands);
  return coverLayers(stack, ramp).map((covered, i) => {
    if (covered === undefined) return 0;
    const needed = Math.max(covered, i === 0 ? leastLayers : 0);
    return Math.max(0, (ends[i] ?? 0) - needed);
  });
}

/**
 * Looks a plan over.
 * @param counts samples at each height (see `countHeights`)
 */
export function findNotices(
  stack: Stack,
  ramp: Ramp,
  counts: Uint32Array,
  leastLayers: number,
): Notice[] {
  const notices: Notice[] = [];
  let heights = 0;
  for (let layers = 1; layers < counts.length; layers += 1)
    if ((counts[layers] as number) > 0) heights += 1;
  if (heights === 0) return [{ code: 'nothing-printed' }];
  if (totalLayers(stack.bands) <= leastLayers) notices.push({ code: 'no-room', leastLayers });
  else if (heights <= FEW_HEIGHTS) notices.push({ code: 'few-heights', heights });
  const idle = idleLayers(stack, ramp, leastLayers);
  let below = 0;
  bandEnds(stack.bands).forEach((end, bandIndex) => {
    let area = 0;
    for (let layers = below + 1; layers <= end; layers += 1) area += counts[layers] as number;
    // The first band is always under everything; it need not be seen itself.
    if (area === 0 && bandIndex > 0) notices.push({ code: 'unused-band', bandIndex });
    if (
      bandIndex > 0 &&
      stack.bands[bandIndex]?.filamentId === stack.bands[bandIndex - 1]?.filamentId
    )
      notices.push({ code: 'same-neighbours', bandIndex });
    const layers = idle[bandIndex] ?? 0;
    if (layers > 0) notices.push({ code: 'idle-layers', bandIndex, layers });
    below = end;
  });
  return notices;
}
