import { bandVolumeMm3 } from '../relief/band-heights.ts';
import type { Filament } from '../stack/filament.ts';
import { layerThicknessMm, layerTopsMm } from '../stack/layer-grid.ts';
import { bandEnds, bandLetter, totalLayers, type Stack } from '../stack/stack.ts';
import type { FilamentTable } from '../stack/stack-ramp.ts';

/** What one band of a print uses. */
export interface BandUse {
  readonly bandIndex: number;
  readonly letter: string;
  readonly filamentId: string;
  readonly volumeMm3: number;
  readonly grams: number;
  readonly metres: number;
}

/** Grams of a volume: volume x density. */
export function gramsOf(volumeMm3: number, filament: Pick<Filament, 'densityGCm3'>): number {
  return (volumeMm3 / 1000) * filament.densityGCm3;
}

/** Metres of filament that a volume takes: volume over the cross-section of the strand. */
export function metresOf(volumeMm3: number, filament: Pick<Filament, 'diameterMm'>): number {
  return volumeMm3 / ((Math.PI / 4) * filament.diameterMm ** 2) / 1000;
}

/**
 * Filament in each band of a relief, purging not counted.
 * @param counts samples at each height (see `countHeights`)
 */
export function estimateUse(
  stack: Stack,
  filaments: FilamentTable,
  counts: Uint32Array,
  detailMm: number,
): BandUse[] {
  const topsMm = layerTopsMm(stack.grid, totalLayers(stack.bands));
  let below = 0;
  return bandEnds(stack.bands).map((end, bandIndex) => {
    const filamentId = stack.bands[bandIndex]?.filamentId ?? '';
    const filament = filaments[filamentId];
    const volumeMm3 = bandVolumeMm3(counts, below, end, topsMm, detailMm);
    below = end;
    return {
      bandIndex,
      letter: bandLetter(bandIndex),
      filamentId,
      volumeMm3,
      grams: filament ? gramsOf(volumeMm3, filament) : 0,
      metres: filament ? metresOf(volumeMm3, filament) : 0,
    };
  });
}

/** How fast a printer works. All values are common practice, no source. */
export interface Pace {
  /** Speed along solid infill, mm/s, and on the first layer. */
  readonly solidMmS: number;
  readonly firstLayerMmS: number;
  /** Width of one extruded line, mm. */
  readonly lineWidthMm: number;
  /** Travel, retraction and the step up, seconds for each layer. */
  readonly perLayerS: number;
  /** One manual swap with purging, seconds. */
  readonly perSwapS: number;
}

/** An unhurried printer with a 0.4 mm nozzle: common practice, no source. */
export const USUAL_PACE: Pace = {
  solidMmS: 80,
  firstLayerMmS: 30,
  lineWidthMm: 0.42,
  perLayerS: 6,
  perSwapS: 180,
};

/** A print's duration in seconds. */
export interface Duration {
  readonly totalS: number;
  readonly swapsS: number;
}

/**
 * Time of a print: for each layer its area over (line width x speed), plus a fixed share for each layer and swap.
 * @param counts samples at each height
 */
export function estimateTime(
  stack: Stack,
  counts: Uint32Array,
  detailMm: number,
  swaps: number,
  pace: Pace = USUAL_PACE,
): Duration {
  let samplesAbove = 0;
  let seconds = 0;
  for (let layerNumber = counts.length - 1; layerNumber >= 1; layerNumber -= 1) {
    samplesAbove += counts[layerNumber] as number;
    if (samplesAbove === 0 || layerNumber > totalLayers(stack.bands)) continue;
    const areaMm2 = samplesAbove * detailMm * detailMm;
    const speed = layerNumber === 1 ? pace.firstLayerMmS : pace.solidMmS;
    seconds += areaMm2 / (pace.lineWidthMm * speed) + pace.perLayerS;
  }
  const swapsS = swaps * pace.perSwapS;
  return { totalS: seconds + swapsS, swapsS };
}

/** Height in mm of the tallest printed sample, and its layer. */
export function tallest(
  stack: Stack,
  counts: Uint32Array,
): { readonly layers: number; readonly mm: number } {
  let layers = 0;
  for (let n = 1; n < counts.length; n += 1) if ((counts[n] as number) > 0) layers = n;
  let mm = 0;
  for (let n = 1; n <= layers; n += 1) mm += layerThicknessMm(stack.grid, n);
  return { layers, mm: Math.round(mm * 1e6) / 1e6 };
}
