import { HOP_MM } from '../stack/flush.ts';
import { layerTopMm } from '../stack/layer-grid.ts';
import type { SwapSheet } from './swap-sheet.ts';
import { formatMm } from './words.ts';

/** What is told of a face on the bed, in order, for those who slice it elsewhere; G-code of our own does it all. */
export function faceSteps({
  flush,
  grid,
  bands,
}: Pick<SwapSheet, 'flush' | 'grid' | 'bands'>): string[] {
  if (!flush) return [];
  const topMm = layerTopMm(grid, flush.layers);
  const nameOf = (id: string): string =>
    bands.find(({ filamentId }) => filamentId === id)?.filament.name ?? id;
  const names = flush.filaments.map(nameOf).join(', then ');
  const layers = flush.layers === 1 ? 'layer 1' : `layers 1 to ${flush.layers}`;
  if (flush.print === 'within')
    return [
      `The face lies on the bed, mirrored: the inlays (${names}) are ${formatMm(topMm)} thick.`,
      `Slice the 3MF with a filament for each solid, and make swaps of the tool changes of ${layers}: ${flush.filaments.length} in each of them at least.`,
      'Above them there is one filament a layer again.',
    ];
  return [
    `The face lies on the bed, mirrored. Print the inlays first, without skirt and brim: ${layers} in ${names}, ${formatMm(topMm)} thick.`,
    'Leave them where they lie: neither take them off nor move the bed, and keep it hot.',
    `Then print the body over them from layer 1, at the same place (both files have the same middle), with a lift of ${formatMm(topMm + HOP_MM)} at each way of ${layers}: ${formatMm(HOP_MM)} over the inlays.`,
  ];
}
