import { bandVolumeMm3 } from '../relief/band-heights.ts';
import type { Printer } from '../printer/printer.ts';
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
  /** What the filament costs; undefined where its price is not known. */
  readonly cost?: number | undefined;
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
  sampleMm: number,
): BandUse[] {
  const topsMm = layerTopsMm(stack.grid, totalLayers(stack.bands));
  let below = 0;
  return bandEnds(stack.bands).map((end, bandIndex) => {
    const filamentId = stack.bands[bandIndex]?.filamentId ?? '';
    const filament = filaments[filamentId];
    const volumeMm3 = bandVolumeMm3(counts, below, end, topsMm, sampleMm);
    below = end;
    return {
      bandIndex,
      letter: bandLetter(bandIndex),
      filamentId,
      volumeMm3,
      grams: filament ? gramsOf(volumeMm3, filament) : 0,
      metres: filament ? metresOf(volumeMm3, filament) : 0,
      ...(filament?.pricePerKg === undefined
        ? {}
        : { cost: (gramsOf(volumeMm3, filament) / 1000) * filament.pricePerKg }),
    };
  });
}

/** The samples of a relief, counted. */
export interface Counted {
  /** Samples at each height; see `countHeights`. */
  readonly counts: Uint32Array;
  /** Sides of samples in the outlines of each layer; see `countEdges`. Without them outlines count as solid. */
  readonly edges?: Uint32Array | undefined;
  readonly sampleMm: number;
}

/** What of a printer decides how long it takes. */
export type Pace = Pick<
  Printer,
  'firstLayerMmS' | 'solidMmS' | 'outlineMmS' | 'travelMmS' | 'lineMm' | 'swapS'
>;

/** Lifting, drawing back and going on, seconds a layer: common practice, no source. */
export const LAYER_PAUSE_S = 3;

/** Way without printing, as a share of the way that is printed: common practice, no source. */
export const TRAVEL_SHARE = 0.15;

/** An outline of sample sides is this much longer than the smooth one that it stands for, on average over directions. */
const STAIRS = 4 / Math.PI;

/**
 * Seconds that each layer takes to print: one line along all outlines, solid lines over the rest, travel in proportion, and
 * a short pause.
 * @returns element n is layer n; layers that are not printed take none
 */
export function layerSeconds(
  stack: Pick<Stack, 'bands'>,
  { counts, edges, sampleMm }: Counted,
  pace: Pace,
): Float64Array {
  const layers = totalLayers(stack.bands);
  const seconds = new Float64Array(Math.max(counts.length, layers + 1));
  let samples = 0;
  for (let n = counts.length - 1; n >= 1; n -= 1) {
    samples += counts[n] as number;
    if (samples === 0 || n > layers) continue;
    const areaMm2 = samples * sampleMm * sampleMm;
    const rimMm = ((edges?.[n] ?? 0) * sampleMm) / STAIRS;
    const outlineMm = Math.min(rimMm, areaMm2 / pace.lineMm);
    const solidMm = areaMm2 / pace.lineMm - outlineMm;
    const first = n === 1;
    seconds[n] =
      outlineMm / (first ? Math.min(pace.firstLayerMmS, pace.outlineMmS) : pace.outlineMmS) +
      solidMm / (first ? Math.min(pace.firstLayerMmS, pace.solidMmS) : pace.solidMmS) +
      (TRAVEL_SHARE * (outlineMm + solidMm)) / pace.travelMmS +
      LAYER_PAUSE_S;
  }
  return seconds;
}

/** A print's duration in seconds. */
export interface Duration {
  readonly totalS: number;
  readonly swapsS: number;
}

/** Time of a print with its swaps; see {@link layerSeconds}. */
export function estimateTime(
  stack: Pick<Stack, 'bands'>,
  counted: Counted,
  swaps: number,
  pace: Pace,
): Duration {
  const swapsS = swaps * pace.swapS;
  const printS = layerSeconds(stack, counted, pace).reduce((sum, seconds) => sum + seconds, 0);
  return { totalS: printS + swapsS, swapsS };
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
