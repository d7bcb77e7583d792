import type { Ramp } from '../optics/ramp.ts';
import { bandEnds, totalLayers, type Stack } from '../stack/stack.ts';
import { coverLayers } from '../stack/stack-ramp.ts';

/** Something about a plan that the maker should look at. `bandIndex` counts from 0 at the plate. */
export type Notice =
  | { readonly code: 'nothing-printed' }
  | { readonly code: 'no-room'; readonly leastLayers: number }
  | { readonly code: 'few-heights'; readonly heights: number }
  | { readonly code: 'squeezed'; readonly share: number; readonly heights: number }
  | { readonly code: 'finer-than-line'; readonly share: number }
  | {
      readonly code: 'prints-soft';
      readonly wantedPx: number;
      readonly partPx: number;
      readonly honestMm: number;
      /** A drawing, which can be drawn finer. */
      readonly drawing: boolean;
    }
  | { readonly code: 'thin-base'; readonly bandIndex: number; readonly cover: number }
  | { readonly code: 'dark-hides'; readonly bandIndex: number; readonly share: number }
  | { readonly code: 'never-shows'; readonly bandIndex: number; readonly cover: number }
  | { readonly code: 'same-neighbours'; readonly bandIndex: number }
  | { readonly code: 'unused-band'; readonly bandIndex: number }
  | { readonly code: 'idle-layers'; readonly bandIndex: number; readonly layers: number }
  | { readonly code: 'unused-top'; readonly bandIndex: number; readonly layers: number };

/** So few heights make a picture look squeezed. */
const FEW_HEIGHTS = 3;

/** A picture is squeezed when this share of it lies in {@link FEW_HEIGHTS} neighbouring layers of a stack at least this tall. */
const SQUEEZED_SHARE = 0.9;
const ROOMY_LAYERS = 9;

/** A first band that covers the plate less than this is seen through. */
const BASE_COVER = 0.9;

/** A band that never covers more than this never shows its own colour, only a tint of it. */
const TINT_COVER = 0.15;

/** Share of a print that may be finer than a line before it is worth a notice: a little is in every picture. */
export const FINE_SHARE = 0.05;

/** L* that a band must fall by for it to count as dark over light, and the share of the picture that must end in it. */
const DARK_FALL = 15;
const DARK_SHARE = 0.6;

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
  let highest = 0;
  for (let layers = 1; layers < counts.length; layers += 1)
    if ((counts[layers] as number) > 0) {
      heights += 1;
      highest = layers;
    }
  if (heights === 0) return [{ code: 'nothing-printed' }];
  if (totalLayers(stack.bands) <= leastLayers) notices.push({ code: 'no-room', leastLayers });
  else if (heights <= FEW_HEIGHTS) notices.push({ code: 'few-heights', heights });
  else {
    const share = largestRunShare(counts, FEW_HEIGHTS);
    if (share >= SQUEEZED_SHARE && totalLayers(stack.bands) >= ROOMY_LAYERS)
      notices.push({ code: 'squeezed', share, heights: FEW_HEIGHTS });
  }
  notices.push(...seenBands(stack, ramp, counts));
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
    // The last band may end above all that is printed: those layers are in no file.
    const isLast = bandIndex === stack.bands.length - 1;
    const unused = isLast && area > 0 ? Math.max(0, end - highest) : 0;
    if (unused > 0) notices.push({ code: 'unused-top', bandIndex, layers: unused });
    const layers = Math.max(0, (idle[bandIndex] ?? 0) - unused);
    if (layers > 0) notices.push({ code: 'idle-layers', bandIndex, layers });
    below = end;
  });
  return notices;
}

/** Largest share of the picture that ends within `run` neighbouring layers. */
function largestRunShare(counts: Uint32Array, run: number): number {
  let total = 0;
  let within = 0;
  let most = 0;
  for (let layers = 1; layers < counts.length; layers += 1) {
    total += counts[layers] as number;
    within += counts[layers] as number;
    if (layers > run) within -= counts[layers - run] as number;
    if (within > most) most = within;
  }
  return total === 0 ? 0 : most / total;
}

/** What is wrong with how bands look: a base that is seen through, dark over light, tints that never become a colour. */
function seenBands(stack: Stack, ramp: Ramp, counts: Uint32Array): Notice[] {
  const notices: Notice[] = [];
  const printed = counts.subarray(1).reduce((sum, count) => sum + count, 0);
  const covered = coverLayers(stack, ramp);
  let below = 0;
  bandEnds(stack.bands).forEach((end, bandIndex) => {
    let most = 0;
    for (let layer = below + 1; layer <= end; layer += 1)
      most = Math.max(most, ramp[layer - 1]?.cover ?? 0);
    const under = ramp[below - 1];
    const top = ramp[end - 1];
    const coveredAt = covered[bandIndex];
    if (bandIndex === 0) {
      if (most < BASE_COVER) notices.push({ code: 'thin-base', bandIndex, cover: most });
    } else if (most < TINT_COVER) notices.push({ code: 'never-shows', bandIndex, cover: most });
    else if (under && top && coveredAt !== undefined && under.lab[0] - top.lab[0] >= DARK_FALL) {
      let area = 0;
      for (let layer = coveredAt; layer <= end; layer += 1) area += counts[layer] as number;
      const share = printed === 0 ? 0 : area / printed;
      if (share >= DARK_SHARE) notices.push({ code: 'dark-hides', bandIndex, share });
    }
    below = end;
  });
  return notices;
}
