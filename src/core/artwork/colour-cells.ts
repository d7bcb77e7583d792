import type { RgbaRaster } from '../base/raster.ts';
import { linearOfOklab, oklabOfLinear } from '../colour/oklab.ts';
import { bytesOfLinear, formatHex, LINEAR_OF_BYTE } from '../colour/srgb.ts';

/** Bits of each colour channel that tell cells apart: 64 x 64 x 64 cells. */
const CELL_BITS = 6;
const CELL_TOTAL = 1 << (3 * CELL_BITS);

/** Stands for what is cut away until the number of cells is known. */
const CUT_AWAY = 0xffffffff;

/**
 * The colours of a picture, gathered: neighbouring colours share a cell, and a picture of a million samples has only a few
 * thousand of them. What depends on colour alone is worked out once a cell.
 */
export interface ColourCells {
  readonly width: number;
  readonly height: number;
  /** Cell of each sample; the number of cells where it is cut away. Two bytes each where that is enough. */
  readonly cell: Uint16Array | Uint32Array;
  /** Oklab L, a, b of each cell: the mean colour of its samples, a and b doubled, all times 100. */
  readonly colour: Float32Array;
  /** Samples in each cell. */
  readonly count: Uint32Array;
}

/**
 * Scale of colour differences in height rules: Oklab times 100 with a and b doubled. Plain Oklab undervalues differences of
 * colour against those of lightness; doubled it orders layers much as CIEDE2000 does, at a fraction of the cost.
 */
export function ruleColourOf(linear: readonly [number, number, number]): [number, number, number] {
  const [lightness, a, b] = oklabOfLinear(linear);
  return [100 * lightness, 200 * a, 200 * b];
}

/** A position on the scale of {@link ruleColourOf} as `#rrggbb`. */
export function hexOfRuleColour(lightness: number, a: number, b: number): string {
  return formatHex(bytesOfLinear(linearOfOklab([lightness / 100, a / 200, b / 200])));
}

/** Gathers the colours of samples; those with alpha below one half are cut away. */
export function gatherColours({ width, height, data }: RgbaRaster): ColourCells {
  const total = width * height;
  const numbers = new Int32Array(CELL_TOTAL).fill(-1);
  const cell = new Uint32Array(total);
  const sums: number[] = [];
  const counts: number[] = [];
  const shift = 8 - CELL_BITS;
  for (let i = 0, at = 0; i < total; i += 1, at += 4) {
    if ((data[at + 3] as number) < 128) {
      cell[i] = CUT_AWAY;
      continue;
    }
    const red = data[at] as number;
    const green = data[at + 1] as number;
    const blue = data[at + 2] as number;
    const key =
      ((red >> shift) << (2 * CELL_BITS)) | ((green >> shift) << CELL_BITS) | (blue >> shift);
    let number = numbers[key] as number;
    if (number < 0) {
      number = counts.length;
      numbers[key] = number;
      counts.push(0);
      sums.push(0, 0, 0);
    }
    cell[i] = number;
    counts[number] = (counts[number] as number) + 1;
    sums[3 * number] = (sums[3 * number] as number) + (LINEAR_OF_BYTE[red] as number);
    sums[3 * number + 1] = (sums[3 * number + 1] as number) + (LINEAR_OF_BYTE[green] as number);
    sums[3 * number + 2] = (sums[3 * number + 2] as number) + (LINEAR_OF_BYTE[blue] as number);
  }
  const colour = new Float32Array(3 * counts.length);
  counts.forEach((count, n) => {
    colour.set(
      ruleColourOf([
        (sums[3 * n] as number) / count,
        (sums[3 * n + 1] as number) / count,
        (sums[3 * n + 2] as number) / count,
      ]),
      3 * n,
    );
  });
  const cells = counts.length;
  // Half the memory is half the time to read it, at every change of the stack.
  const narrow = cells < 65536 ? new Uint16Array(total) : new Uint32Array(total);
  for (let i = 0; i < total; i += 1) narrow[i] = Math.min(cells, cell[i] as number);
  return { width, height, cell: narrow, colour, count: Uint32Array.from(counts) };
}
