/**
 * The heights that tones are spread over, from the least one to the top of a stack. Positions on it run from 0 to 1 by
 * height above the plate, not by number of layers: thicker layers in the base take as much of it as they are thick, so a
 * picture keeps its shape when the base is printed in fewer layers.
 */
export interface HeightScale {
  readonly least: number;
  readonly layers: number;
  /** Where the top of each layer lies, element 0 for the first; see `evenTops`. */
  readonly tops: readonly number[] | undefined;
}

/**
 * @param leastLayers heights below are not used; the top alone, where the stack is no taller
 * @param tops see `evenTops`; without them all layers are alike
 */
export function heightScale(
  layers: number,
  leastLayers: number,
  tops?: readonly number[],
): HeightScale {
  return { least: Math.min(leastLayers, layers), layers, tops };
}

/** Where the top of a layer lies; just its number where all layers are alike. */
export function topOnScale({ tops }: HeightScale, layerNumber: number): number {
  return tops?.[layerNumber - 1] ?? layerNumber;
}

/** How far the scale reaches: half a layer beyond its lowest and highest top, so that each of even layers has an equal part. */
function reach(scale: HeightScale): number {
  return topOnScale(scale, scale.layers) - topOnScale(scale, scale.least) + 1;
}

/** The place of a position, on the scale of `topOnScale`. */
export function placeOnScale(scale: HeightScale, position: number): number {
  return topOnScale(scale, scale.least) - 0.5 + position * reach(scale);
}

/** The layer whose top is nearest to a position; of two as near, the upper one. */
export function layerAtPosition(scale: HeightScale, position: number): number {
  const { least, layers, tops } = scale;
  const choices = layers - least + 1;
  // Without rounding errors where layers are alike.
  if (!tops) return least + Math.min(choices - 1, Math.floor(position * choices));
  const place = placeOnScale(scale, position);
  let layer = least;
  while (
    layer < layers &&
    topOnScale(scale, layer + 1) - place <= place - topOnScale(scale, layer) + 1e-9
  )
    layer += 1;
  return layer;
}

/** The position that lies just on the top of a layer. */
export function positionOfLayer(scale: HeightScale, layerNumber: number): number {
  return (topOnScale(scale, layerNumber) - topOnScale(scale, scale.least) + 0.5) / reach(scale);
}
