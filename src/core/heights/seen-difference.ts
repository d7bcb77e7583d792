import { blurPlane } from '../base/blur.ts';
import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap, RgbaRaster } from '../base/raster.ts';
import { ciede2000Of } from '../colour/ciede2000.ts';
import { labOfXyz, linearOfLab } from '../colour/lab.ts';
import { LINEAR_OF_BYTE } from '../colour/srgb.ts';
import { WHITE_D65, xyzOfLinear } from '../colour/xyz.ts';
import { isSpread, type Ramp } from '../optics/ramp.ts';
import { DifferenceTally, type Difference } from './difference.ts';
import { linearFromFront, spreadLight } from './spread-print.ts';

/**
 * What the eye blurs, as standard deviations of visual angle: light, and the two opponent channels. Rounded from the widths of X.
 * Zhang and B. A. Wandell, "A spatial extension of CIELAB for digital color-image reproduction" (1997), one Gaussian each.
 */
const LIGHT_DEGREES = 0.02;
const COLOUR_DEGREES = 0.05;

/**
 * How far the print is from the artwork to somebody who stands away from it: both are blurred as the eye blurs them, in linear
 * light, then compared by CIEDE2000. What is not printed takes no part.
 * @param sampleMm side of a sample
 * @param distanceMm of the eye, above 0
 * @throws Cancelled from the checkpoint
 */
export function seenDifferenceOf(
  samples: RgbaRaster,
  heights: HeightMap,
  ramp: Ramp,
  sampleMm: number,
  distanceMm: number,
  checkpoint: Checkpoint = noCheckpoint,
): Difference | undefined {
  const { width, height } = heights;
  const area = width * height;
  const artwork = [0, 1, 2].map(() => new Float32Array(area));
  const print = [0, 1, 2].map(() => new Float32Array(area));
  const printed = new Float32Array(area);
  const layers = ramp.map(({ lab }) => opponentOf(linearOfLab(lab)));
  const spread = isSpread(ramp)
    ? spreadLight(heights, linearFromFront(ramp), ramp, sampleMm, partOf(checkpoint, 0, 0.1))
    : undefined;
  const { data } = samples;
  for (let i = 0, at = 0; i < area; i += 1, at += 4) {
    const own = heights.data[i] as number;
    const layer = layers[Math.min(own, layers.length) - 1];
    if (!layer || (data[at + 3] as number) < 128) continue;
    printed[i] = 1;
    const step = spread
      ? opponentOf([spread[0][i] as number, spread[1][i] as number, spread[2][i] as number])
      : layer;
    const seen = opponentOf([
      LINEAR_OF_BYTE[data[at] as number] as number,
      LINEAR_OF_BYTE[data[at + 1] as number] as number,
      LINEAR_OF_BYTE[data[at + 2] as number] as number,
    ]);
    for (let c = 0; c < 3; c += 1) {
      (artwork[c] as Float32Array)[i] = seen[c] as number;
      (print[c] as Float32Array)[i] = step[c] as number;
    }
  }
  checkpoint(0.2);
  const deviation = (degrees: number): number =>
    (distanceMm * Math.tan((degrees * Math.PI) / 180)) / sampleMm;
  const light = deviation(LIGHT_DEGREES);
  const colour = deviation(COLOUR_DEGREES);
  const weights = [light, colour].map((one) => blurPlane(printed, width, height, one));
  const blurred = [...artwork, ...print].map((plane, n) => {
    const out = blurPlane(plane, width, height, n % 3 === 0 ? light : colour);
    checkpoint(0.2 + 0.1 * (n + 1));
    return out;
  });
  const tally = new DifferenceTally(width, height);
  for (let i = 0; i < area; i += 1) {
    if (printed[i] === 0) continue;
    if ((i & 0x7fff) === 0) checkpoint(0.8 + (0.2 * i) / area);
    const at = (plane: number): number =>
      (blurred[plane]?.[i] as number) / (weights[plane % 3 === 0 ? 0 : 1]?.[i] as number);
    const [l, a, b] = labOfOpponent(at(0), at(1), at(2));
    const [l2, a2, b2] = labOfOpponent(at(3), at(4), at(5));
    tally.add(i, ciede2000Of(l, a, b, l2, a2, b2));
  }
  return tally.finish();
}

type Triple = readonly [number, number, number];

/** Y, and what X and Z have beyond it, both over the white. */
function opponentOf(linear: Triple): Triple {
  const [x, y, z] = xyzOfLinear(linear);
  return [y, x / WHITE_D65[0] - y, z / WHITE_D65[2] - y];
}

function labOfOpponent(y: number, x: number, z: number): Triple {
  return labOfXyz([
    Math.max(0, x + y) * WHITE_D65[0],
    Math.max(0, y),
    Math.max(0, z + y) * WHITE_D65[2],
  ]);
}
