import type { Filament } from '../stack/filament.ts';
import { bandEnds, type Stack } from '../stack/stack.ts';
import type { FilamentTable } from '../stack/stack-ramp.ts';
import { layerTopMm } from '../stack/layer-grid.ts';
import { estimateTime, estimateUse, tallest, type BandUse } from './estimate.ts';
import { planSwaps, type Swap } from './plan-swaps.ts';

/** One filament's line on the sheet. */
export interface SheetBand extends BandUse {
  readonly filament: Filament;
  /** First and last layer, counted from 1. */
  readonly firstLayer: number;
  readonly lastLayer: number;
  /** Height at which the band is finished, mm. */
  readonly endMm: number;
}

/** Everything that stands beside the printer. */
export interface SwapSheet {
  readonly title: string;
  readonly stamp: string;
  readonly firstLayerMm: number;
  readonly layerMm: number;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly layers: number;
  readonly thicknessMm: number;
  readonly bands: readonly SheetBand[];
  readonly swaps: readonly Swap[];
  readonly totalS: number;
  readonly swapsS: number;
}

/** What a sheet is made from. */
export interface SheetSource {
  readonly title: string;
  readonly stamp: string;
  readonly stack: Stack;
  readonly filaments: FilamentTable;
  /** Samples at each height. */
  readonly counts: Uint32Array;
  readonly detailMm: number;
  readonly widthMm: number;
  readonly heightMm: number;
}

/** Puts the sheet together. Bands above the tallest printed spot are left out, and so are their swaps. */
export function makeSwapSheet(source: SheetSource): SwapSheet {
  const { stack, filaments, counts, detailMm } = source;
  const top = tallest(stack, counts);
  const swaps = planSwaps(stack, top.layers);
  const uses = estimateUse(stack, filaments, counts, detailMm);
  let below = 0;
  const bands = bandEnds(stack.bands).flatMap((end, i): SheetBand[] => {
    const use = uses[i];
    const filament = use && filaments[use.filamentId];
    const firstLayer = below + 1;
    below = end;
    if (!filament || firstLayer > top.layers) return [];
    const lastLayer = Math.min(end, top.layers);
    return [{ ...use, filament, firstLayer, lastLayer, endMm: layerTopMm(stack.grid, lastLayer) }];
  });
  const { totalS, swapsS } = estimateTime(stack, counts, detailMm, swaps.length);
  return {
    title: source.title,
    stamp: source.stamp,
    firstLayerMm: stack.grid.firstLayerMm,
    layerMm: stack.grid.layerMm,
    widthMm: source.widthMm,
    heightMm: source.heightMm,
    layers: top.layers,
    thicknessMm: top.mm,
    bands,
    swaps,
    totalS,
    swapsS,
  };
}

/** One print setting and the reason for it. */
export interface PrintSetting {
  readonly setting: string;
  readonly value: string;
  readonly reason: string;
}

/**
 * What to set in the slicing program. Values other than the layer heights are common practice, no source.
 */
export function printSettings(sheet: Pick<SwapSheet, 'firstLayerMm' | 'layerMm'>): PrintSetting[] {
  return [
    {
      setting: 'First layer height',
      value: formatMm(sheet.firstLayerMm),
      reason: 'every swap height is counted from it',
    },
    {
      setting: 'Layer height',
      value: formatMm(sheet.layerMm),
      reason: 'the same for the whole print; adaptive layers off',
    },
    {
      setting: 'Infill',
      value: '100 % solid, straight lines',
      reason: 'hollow spots would show as stains',
    },
    { setting: 'Supports', value: 'none', reason: 'nothing overhangs' },
    { setting: 'Brim', value: 'none', reason: 'it would have to be cut off the edge' },
    { setting: 'Seam', value: 'nearest corner', reason: 'keeps it out of the picture' },
    {
      setting: 'Scaling',
      value: 'X and Y only',
      reason: 'scaling Z moves every layer off its swap height',
    },
  ];
}

/** A length in mm as makers read it: two decimals at least, more only where they carry something. */
export function formatMm(mm: number): string {
  const text = mm.toFixed(4).replace(/0{1,2}$/, '');
  return `${text} mm`;
}

/** The sentence that matters most on the sheet. */
export function describeSwap(swap: Swap, toName: string): string {
  return (
    `Layer ${swap.layerNumber} is the first one in ${toName}. ` +
    `The printer stops when ${formatMm(swap.stopAfterMm)} is finished.`
  );
}

/** Hours and minutes, to the minute. */
export function formatDuration(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  const hours = Math.floor(minutes / 60);
  return hours > 0 ? `${hours} h ${minutes % 60} min` : `${minutes} min`;
}
