import type { HeightMap, RgbaRaster } from '../base/raster.ts';
import { MAX_LAYERS } from '../base/raster.ts';
import type { Triple } from '../colour/srgb.ts';
import type { Ramp } from '../optics/ramp.ts';

/** How many samples end at each height: element 0 counts what is cut away, element n the samples n layers tall. */
export function countHeights(heights: HeightMap): Uint32Array {
  const counts = new Uint32Array(MAX_LAYERS + 1);
  for (const layers of heights.data) counts[layers] = (counts[layers] as number) + 1;
  return counts;
}

/** Packed colours, one for each byte a height can be. Alpha, blue, green, red from the top byte: canvas order on little-endian machines. */
export type Palette = Uint32Array;

/** An opaque colour of sRGB bytes as a {@link Palette} holds it. */
export function packColour([red, green, blue]: Triple): number {
  return ((255 << 24) | (blue << 16) | (green << 8) | red) >>> 0;
}

/**
 * Colour of each height: 0 is fully transparent, and heights above the stack show its top (a picture whose heights are
 * just being recomputed stays sensible for that moment).
 */
export function paletteOf(ramp: Ramp): Palette {
  const palette = new Uint32Array(256);
  for (let layers = 1; layers < 256; layers += 1) {
    const step = ramp[Math.min(layers, ramp.length) - 1];
    if (!step) continue;
    palette[layers] = packColour(step.colour);
  }
  return palette;
}

/** Paints a height map through a palette into `out` (one packed colour a sample). */
export function recolour(heights: Uint8Array, palette: Palette, out: Uint32Array): void {
  for (let i = 0; i < heights.length; i += 1) out[i] = palette[heights[i] as number] as number;
}

/** The predicted print, one pixel a sample; transparent where nothing is printed. */
export function paintPrint(heights: HeightMap, ramp: Ramp): RgbaRaster {
  const packed = new Uint32Array(heights.data.length);
  recolour(heights.data, paletteOf(ramp), packed);
  return { width: heights.width, height: heights.height, data: new Uint8Array(packed.buffer) };
}
