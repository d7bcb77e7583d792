/**
 * A rectangular grid of values, row-major, origin at the top left.
 * `data` holds `width * height * channels` values.
 */
export interface Raster<Data> {
  readonly width: number;
  readonly height: number;
  readonly data: Data;
}

/** Four bytes a pixel: sRGB-coded red, green, blue and straight (not premultiplied) alpha. */
export type RgbaRaster = Raster<Uint8Array | Uint8ClampedArray>;

/**
 * Height of the print at each sample in whole layers: 0 where nothing is printed, otherwise 1..MAX_LAYERS.
 * A byte a sample keeps a megapixel small enough to be sent between threads at every change.
 */
export type HeightMap = Raster<Uint8Array>;

/** The tallest stack that a {@link HeightMap} can hold, in layers. */
export const MAX_LAYERS = 250;
