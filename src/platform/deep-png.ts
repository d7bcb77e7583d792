import { decode } from 'fast-png';
import type { RgbaRaster } from '#core/base/raster.ts';

/**
 * Decodes a PNG of 16 bits a sample, rounded to 8.
 * @throws where it cannot be read
 */
export function decodeDeepPng(bytes: Uint8Array): RgbaRaster {
  const { width, height, data, channels, transparency } = decode(bytes);
  const out = new Uint8Array(4 * width * height);
  const grey = channels <= 2;
  const alphaAt = channels === 2 || channels === 4 ? channels - 1 : -1;
  // One colour may stand for nothing at all (tRNS).
  const clear = transparency && alphaAt < 0 ? [...transparency].slice(0, channels) : undefined;
  for (let i = 0; i < width * height; i += 1) {
    const at = i * channels;
    for (let c = 0; c < 3; c += 1)
      out[4 * i + c] = Math.round((data[at + (grey ? 0 : c)] as number) / 257);
    const isClear = clear?.every((value, c) => data[at + c] === value) ?? false;
    out[4 * i + 3] = isClear
      ? 0
      : alphaAt < 0
        ? 255
        : Math.round((data[at + alphaAt] as number) / 257);
  }
  return { width, height, data: out };
}
