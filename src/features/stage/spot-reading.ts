import { clamp } from '#core/base/numbers.ts';
import { ciede2000 } from '#core/colour/ciede2000.ts';
import { labOfBytes } from '#core/colour/lab.ts';
import { formatHex, type Triple } from '#core/colour/srgb.ts';
import { shareInPicture } from '#core/relief/sampling.ts';
import type { LiveState } from '../../state/live-print.ts';
import type { Spot } from '../../state/view-store.ts';

/** What lies at one spot of the picture. */
export interface SpotReading {
  readonly artwork: string;
  readonly print: string;
  /** CIEDE2000 */
  readonly difference: number;
  readonly layerNumber: number;
  readonly bandIndex: number;
}

/** Reads a spot; undefined where nothing is printed, null before there are heights. */
export function readSpot(
  spot: Spot,
  {
    edited: { stage },
    heights,
    ramp,
    shown,
  }: Pick<LiveState, 'edited' | 'heights' | 'ramp' | 'shown'>,
): SpotReading | undefined | null {
  if (!heights) return null;
  // Beside the picture, on its border or plate, the nearest of its pixels stands for the artwork.
  const within = (share: number, count: number): number =>
    clamp(Math.floor(share * count), 0, count - 1);
  const x = within(shareInPicture(spot.x, shown.columns, shown.pad), stage.width);
  const y = within(shareInPicture(spot.y, shown.rows, shown.pad), stage.height);
  const pixel = (y * stage.width + x) * 4;
  const artwork: Triple = [
    stage.data[pixel] ?? 0,
    stage.data[pixel + 1] ?? 0,
    stage.data[pixel + 2] ?? 0,
  ];
  const layerNumber =
    heights.data[
      Math.floor(spot.y * heights.height) * heights.width + Math.floor(spot.x * heights.width)
    ] ?? 0;
  const step = ramp[Math.min(layerNumber, ramp.length) - 1];
  if (layerNumber === 0 || !step) return undefined;
  return {
    artwork: formatHex(artwork),
    print: formatHex(step.colour),
    difference: ciede2000(labOfBytes(artwork), step.lab),
    layerNumber,
    bandIndex: step.bandIndex,
  };
}
