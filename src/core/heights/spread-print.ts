import { blurPlane } from '../base/blur.ts';
import { clamp } from '../base/numbers.ts';
import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap, RgbaRaster } from '../base/raster.ts';
import { byteOfLinear, LINEAR_OF_BYTE, type Triple } from '../colour/srgb.ts';
import { linearOfLab } from '../colour/lab.ts';
import { isSpread, type Ramp } from '../optics/ramp.ts';
import { gaussiansOfSpread } from '../optics/spread.ts';
import { packColour, paintPrint, paletteOf, type Palette } from './height-map.ts';

/** Red, green and blue of each sample in linear light; what is not printed has no meaning. */
export type LightPlanes = readonly [Float32Array, Float32Array, Float32Array];

/** Planes whose light went sideways by a mean distance, in samples. */
function spreadPlanes(
  planes: readonly Float32Array[],
  width: number,
  height: number,
  spread: number,
  checkpoint: Checkpoint,
): readonly Float32Array[] {
  const parts = gaussiansOfSpread(spread);
  return planes.map((plane, p) => {
    const sum = new Float32Array(plane.length);
    parts.forEach(({ share, deviation }, part) => {
      const blurred = blurPlane(plane, width, height, deviation);
      for (let i = 0; i < sum.length; i += 1)
        sum[i] = (sum[i] as number) + share * (blurred[i] as number);
      checkpoint((p + (part + 1) / parts.length) / planes.length);
    });
    return sum;
  });
}

/** Linear sRGB of all heights as they are seen from the front, 0 first. */
export function linearFromFront(ramp: Ramp): readonly Triple[] {
  return [[0, 0, 0], ...ramp.map(({ lab }) => linearOfLab(lab))];
}

/**
 * The light of each sample after it went sideways: what comes out at a spot is gathered from around it, as far as light goes in the
 * topmost layer there. Only what is printed has a part in it: nothing comes from beyond its edge, and nothing is lost there.
 * @param colours linear sRGB of each height, 0 first
 * @param sampleMm side of a sample
 * @throws Cancelled from the checkpoint
 */
export function spreadLight(
  heights: HeightMap,
  colours: readonly Triple[],
  ramp: Ramp,
  sampleMm: number,
  checkpoint: Checkpoint = noCheckpoint,
): LightPlanes {
  const { width, height, data } = heights;
  const top = ramp.length;
  const sharp = [0, 1, 2].map((channel) =>
    Float32Array.from(data, (n) => (n === 0 ? 0 : (colours[Math.min(n, top)]?.[channel] ?? 0))),
  ) as unknown as LightPlanes;
  const printed = Float32Array.from(data, (n) => Math.min(1, n));
  const used = new Set<number>();
  for (const n of data) if (n > 0) used.add(ramp[Math.min(n, top) - 1]?.spreadMm ?? 0);
  const out = sharp.map((plane) => plane.slice()) as unknown as LightPlanes;
  const wide = [...used].filter((spreadMm) => spreadMm > 0);
  wide.forEach((spreadMm, nth) => {
    const part = partOf(checkpoint, nth / wide.length, (nth + 1) / wide.length);
    const sums = spreadPlanes([printed, ...sharp], width, height, spreadMm / sampleMm, part);
    const [there, ...light] = sums as [Float32Array, ...Float32Array[]];
    for (let i = 0; i < data.length; i += 1) {
      const n = data[i] as number;
      if (n === 0 || (ramp[Math.min(n, top) - 1]?.spreadMm ?? 0) !== spreadMm) continue;
      for (let channel = 0; channel < 3; channel += 1)
        (out[channel] as Float32Array)[i] =
          (light[channel]?.[i] as number) / Math.max(1e-6, there[i] as number);
    }
  });
  return out;
}

/** The predicted print as it is seen from the front, one pixel a sample; transparent where nothing is printed. */
export function paintSeen(
  heights: HeightMap,
  ramp: Ramp,
  sampleMm: number,
  checkpoint: Checkpoint = noCheckpoint,
): RgbaRaster {
  if (!isSpread(ramp)) return paintPrint(heights, ramp);
  const light = spreadLight(heights, linearFromFront(ramp), ramp, sampleMm, checkpoint);
  return paintSpread(heights, light, paletteOf(ramp));
}

/** Bytes of linear light in steps of 1/4096. */
const BYTES = Uint8Array.from({ length: 4097 }, (_, n) => byteOfLinear(n / 4096));

/**
 * A print whose light went sideways, one pixel a sample.
 * @param palette gives what is not printed its colour
 */
export function paintSpread(heights: HeightMap, light: LightPlanes, palette: Palette): RgbaRaster {
  const packed = new Uint32Array(heights.data.length);
  const [red, green, blue] = light;
  const byte = (value: number): number =>
    // The lower end of sRGB is too steep for a table.
    value < 1 / 64
      ? byteOfLinear(value)
      : (BYTES[Math.min(4096, Math.round(4096 * value))] as number);
  for (let i = 0; i < packed.length; i += 1)
    packed[i] =
      heights.data[i] === 0
        ? (palette[0] as number)
        : packColour([byte(red[i] as number), byte(green[i] as number), byte(blue[i] as number)]);
  return { width: heights.width, height: heights.height, data: new Uint8Array(packed.buffer) };
}

/**
 * A picture sharpened against the spread of plastic: what has to be printed so that, after its light went sideways, it comes near the
 * picture. One step of P. H. van Cittert, "Zum Einfluss der Spaltbreite auf die Intensitaetsverteilung in Spektrallinien II",
 * Zeitschrift fuer Physik 69 (1931). Pixels count as much as they are there; what would be darker than black or lighter than white ends
 * there.
 * @param sampleMm side of a pixel
 * @throws Cancelled from the checkpoint
 */
export function againstSpread(
  picture: RgbaRaster,
  spreadMm: number,
  sampleMm: number,
  checkpoint: Checkpoint = noCheckpoint,
): RgbaRaster {
  if (spreadMm <= 0) return picture;
  const { width, height, data } = picture;
  const area = width * height;
  const planes = [0, 1, 2, 3].map(() => new Float32Array(area));
  const [red, green, blue, there] = planes as [
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  for (let i = 0, at = 0; i < area; i += 1, at += 4) {
    const cover = (data[at + 3] as number) / 255;
    red[i] = cover * (LINEAR_OF_BYTE[data[at] as number] as number);
    green[i] = cover * (LINEAR_OF_BYTE[data[at + 1] as number] as number);
    blue[i] = cover * (LINEAR_OF_BYTE[data[at + 2] as number] as number);
    there[i] = cover;
  }
  const sums = spreadPlanes(planes, width, height, spreadMm / sampleMm, checkpoint);
  const out = new Uint8ClampedArray(data);
  for (let i = 0, at = 0; i < area; i += 1, at += 4) {
    if (data[at + 3] === 0) continue;
    const whole = Math.max(1e-6, sums[3]?.[i] as number);
    for (let c = 0; c < 3; c += 1) {
      const own = LINEAR_OF_BYTE[data[at + c] as number] as number;
      out[at + c] = byteOfLinear(clamp(2 * own - (sums[c]?.[i] as number) / whole, 0, 1));
    }
  }
  return { width, height, data: out };
}
