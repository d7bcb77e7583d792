import { bandLetter } from '../stack/stack.ts';
import type { SwapSheet } from './swap-sheet.ts';
import { formatMm } from './words.ts';

/** One print setting and the reason for it. */
export interface PrintSetting {
  readonly setting: string;
  readonly value: string;
  readonly reason: string;
}

/**
 * What to set in the slicing program. Values other than the layer heights are common practice, no source.
 */
export function printSettings(
  sheet: Pick<SwapSheet, 'firstLayerMm' | 'layerMm' | 'base' | 'ironing'>,
): PrintSetting[] {
  return [
    {
      setting: 'First layer height',
      value: formatMm(sheet.firstLayerMm),
      reason: 'every swap height is counted from it',
    },
    ...(sheet.base
      ? [
          {
            setting: 'Thicker base',
            value: `${formatMm(sheet.base.layerMm)} layers up to ${formatMm(sheet.base.topMm)}`,
            reason: 'a height range of its own; place swaps by height then, never by number',
          },
        ]
      : []),
    {
      setting: 'Layer height',
      value: formatMm(sheet.layerMm),
      reason: sheet.base
        ? 'above the base; adaptive layers off'
        : 'the same for the whole print; adaptive layers off',
    },
    {
      setting: 'Infill',
      value: '100 % solid, straight lines',
      reason: 'hollow spots would show as stains',
    },
    {
      setting: 'Outlines',
      value: 'one or two',
      reason: 'clean edges; more only shrink the infill',
    },
    ...(sheet.ironing
      ? [
          {
            setting: 'Ironing',
            value:
              `tops of ${sheet.ironing.bands.map(bandLetter).join(', ')}: lines ${formatMm(sheet.ironing.spacingMm)} apart, ` +
              `${Math.round(100 * sheet.ironing.flow)} % flow, ${sheet.ironing.speedMmS} mm/s`,
            reason: 'smooth where it is seen; ironing all tops takes longer',
          },
        ]
      : []),
    { setting: 'Supports', value: 'none', reason: 'nothing overhangs' },
    {
      setting: 'Brim',
      value: 'none unless corners lift',
      reason: 'it would have to be cut off the edge',
    },
    { setting: 'Seam', value: 'nearest corner', reason: 'keeps it out of the picture' },
    {
      setting: 'Scaling',
      value: 'X and Y only',
      reason: 'scaling Z moves every layer off its swap height',
    },
  ];
}
