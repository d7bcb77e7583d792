import type { RgbaRaster } from '../base/raster.ts';

/** The ways in which a picture can lie, as EXIF numbers them: 1 is upright. */
export type Orientation = 1 | 2 | 3 | 4 | 5 | 6 | 7 | 8;

/**
 * Where a pixel of the upright picture comes from, by orientation: whether sides are exchanged, and whether the stored
 * columns and rows run backwards. Source: EXIF 2.32 (CIPA DC-008), tag Orientation.
 */
const LIES: Readonly<
  Record<Orientation, readonly [turned: boolean, backX: boolean, backY: boolean]>
> = {
  1: [false, false, false],
  2: [false, true, false],
  3: [false, true, true],
  4: [false, false, true],
  5: [true, false, false],
  6: [true, false, true],
  7: [true, true, true],
  8: [true, true, false],
};

/** Turns and mirrors a picture upright. */
export function uprightRaster(raster: RgbaRaster, orientation: Orientation): RgbaRaster {
  if (orientation === 1) return raster;
  const [turned, backX, backY] = LIES[orientation];
  const { width, height } = raster;
  const [columns, rows] = turned ? [height, width] : [width, height];
  const from = new Uint32Array(raster.data.slice().buffer);
  const out = new Uint32Array(from.length);
  for (let y = 0; y < rows; y += 1)
    for (let x = 0; x < columns; x += 1) {
      const [sx, sy] = turned ? [y, x] : [x, y];
      const column = backX ? width - 1 - sx : sx;
      const row = backY ? height - 1 - sy : sy;
      out[y * columns + x] = from[row * width + column] as number;
    }
  return { width: columns, height: rows, data: new Uint8ClampedArray(out.buffer) };
}
