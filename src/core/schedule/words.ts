import type { Batch } from './pieces.ts';
import { LAYER_PAUSE_S, type Pace } from './estimate.ts';
import type { ReturnSwap, Swap } from './plan-swaps.ts';

/** A length in mm as makers read it: two decimals at least, more only where they carry something. */
export function formatMm(mm: number): string {
  const text = mm.toFixed(4).replace(/0{1,2}$/, '');
  return `${text} mm`;
}

/** The size of a piece: width x height, to hundredths of a millimetre where they carry something. */
export function formatSize({
  widthMm,
  heightMm,
}: {
  readonly widthMm: number;
  readonly heightMm: number;
}): string {
  return `${Number(widthMm.toFixed(2))} x ${Number(heightMm.toFixed(2))} mm`;
}

/** The sentence that matters most on the sheet. */
export function describeSwap(swap: Swap, toName: string): string {
  if (swap.inside === 'face')
    return (
      `The printer stops when ${formatMm(swap.stopAfterMm)} of inlays is finished. They stay on the bed: ` +
      `${toName} begins beside them, at layer 1.`
    );
  if (swap.inside === 'layer')
    return `Inside layer ${swap.layerNumber} (top at ${formatMm(swap.layerTopMm)}): what is laid of it next is in ${toName}.`;
  return (
    `Layer ${swap.layerNumber} is the first one in ${toName}. ` +
    `The printer stops when ${formatMm(swap.stopAfterMm)} is finished.`
  );
}

/** What is to be done between two pieces that are printed one after the other. */
export function describeReturn(
  { fromLetter, toLetter }: ReturnSwap,
  fromName: string,
  toName: string,
): string {
  return `Before each further piece change back from ${fromLetter} ${fromName} to ${toLetter} ${toName}.`;
}

/**
 * Pieces in layers of one height: `2 pieces in layers of 0.12 mm`.
 * @param usualMm height of the project's own layers, mm
 */
export function describeBatch({ copies, layerMm }: Batch, usualMm: number): string {
  return `${copies} ${copies === 1 ? 'piece' : 'pieces'} in layers of ${formatMm(layerMm ?? usualMm)}`;
}

/** Hours and minutes, to the minute. */
export function formatDuration(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  const hours = Math.floor(minutes / 60);
  return hours > 0 ? `${hours} h ${minutes % 60} min` : `${minutes} min`;
}

/** A length of strand: millimetres below a metre, metres above. */
export function formatStrand(mm: number): string {
  return mm < 1000 ? `${Math.round(mm)} mm` : `${(mm / 1000).toFixed(2)} m`;
}

/** What an estimate of time counts on. */
export function describePace(pace: Pace): string {
  return (
    `Lines ${pace.lineMm} mm wide: outlines at ${pace.outlineMmS} mm/s, solid at ${pace.solidMmS} mm/s, ` +
    `the first layer at ${pace.firstLayerMmS} mm/s, travel at ${pace.travelMmS} mm/s; ` +
    `${LAYER_PAUSE_S} s between layers, ${formatDuration(pace.swapS)} a swap.`
  );
}
