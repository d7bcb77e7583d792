import type { ColourCells } from '../artwork/colour-cells.ts';
import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap, Raster, RgbaRaster } from '../base/raster.ts';
import { ciede2000Of } from '../colour/ciede2000.ts';
import { labOfBytes, labOfLinear } from '../colour/lab.ts';
import { isSpread, type Ramp } from '../optics/ramp.ts';
import { linearFromFront, spreadLight } from './spread-print.ts';

/** Steps of a difference map for one unit of CIEDE2000. */
export const DIFFERENCE_STEPS = 8;

/** Marks a sample where nothing is printed. */
export const NO_DIFFERENCE = 255;

/** From here on a difference counts as gross, CIEDE2000. */
export const GROSS_DIFFERENCE = 10;

/** How far the print is from the artwork, all in CIEDE2000. */
export interface Difference {
  /** Each sample's difference times {@link DIFFERENCE_STEPS}, at most 254; {@link NO_DIFFERENCE} where cut away. */
  readonly map: Raster<Uint8Array>;
  readonly mean: number;
  /** 95 of 100 samples differ by no more than this. */
  readonly percentile95: number;
  /** Share of the printed samples that differ by more than {@link GROSS_DIFFERENCE}, 0..1. */
  readonly grossShare: number;
}

/** Fineness of the percentile, steps for one unit of CIEDE2000. */
const FINE_STEPS = 100;

/**
 * Difference of print and artwork at every printed sample; undefined where nothing is printed. Equal pairs of colour and
 * height are worked out once: pictures repeat them a lot.
 * @param sampleMm side of a sample: counts where light goes sideways in the plastic
 * @throws Cancelled from the checkpoint
 */
export function differenceOf(
  samples: RgbaRaster,
  heights: HeightMap,
  ramp: Ramp,
  sampleMm: number,
  checkpoint: Checkpoint = noCheckpoint,
): Difference | undefined {
  if (isSpread(ramp)) return spreadDifference(samples, heights, ramp, sampleMm, checkpoint);
  const known = new Map<number, number>();
  const tally = new DifferenceTally(heights.width, heights.height);
  const { data } = samples;
  for (let i = 0, at = 0; i < heights.data.length; i += 1, at += 4) {
    if ((i & 0x7fff) === 0) checkpoint(i / heights.data.length);
    const layers = heights.data[i] as number;
    // Beside the picture, on a border or a plate, there is nothing to compare with.
    if (layers === 0 || (data[at + 3] as number) < 128) continue;
    const rgb =
      ((data[at] as number) << 16) | ((data[at + 1] as number) << 8) | (data[at + 2] as number);
    const key = rgb * 256 + layers;
    let difference = known.get(key);
    if (difference === undefined) {
      const step = ramp[Math.min(layers, ramp.length) - 1];
      if (!step) continue;
      const [l, a, b] = labOfBytes([rgb >> 16, (rgb >> 8) & 255, rgb & 255]);
      difference = ciede2000Of(l, a, b, step.lab[0], step.lab[1], step.lab[2]);
      known.set(key, difference);
    }
    tally.add(i, difference);
  }
  return tally.finish();
}

/** The same where the light of each sample comes from around it: no two samples are alike then. */
function spreadDifference(
  { data }: RgbaRaster,
  heights: HeightMap,
  ramp: Ramp,
  sampleMm: number,
  checkpoint: Checkpoint,
): Difference | undefined {
  const colours = linearFromFront(ramp);
  const [red, green, blue] = spreadLight(
    heights,
    colours,
    ramp,
    sampleMm,
    partOf(checkpoint, 0, 0.6),
  );
  const tally = new DifferenceTally(heights.width, heights.height);
  for (let i = 0, at = 0; i < heights.data.length; i += 1, at += 4) {
    if ((i & 0x7fff) === 0) checkpoint(0.6 + (0.4 * i) / heights.data.length);
    if (heights.data[i] === 0 || (data[at + 3] as number) < 128) continue;
    const [l, a, b] = labOfBytes([
      data[at] as number,
      data[at + 1] as number,
      data[at + 2] as number,
    ]);
    const seen = labOfLinear([red[i] as number, green[i] as number, blue[i] as number]);
    tally.add(i, ciede2000Of(l, a, b, seen[0], seen[1], seen[2]));
  }
  return tally.finish();
}

/** Gathers the differences of samples, each told once. */
export class DifferenceTally {
  private readonly map: Uint8Array;
  private readonly fine = new Uint32Array(120 * FINE_STEPS);
  private sum = 0;
  private printed = 0;
  private gross = 0;

  constructor(
    private readonly width: number,
    private readonly height: number,
  ) {
    this.map = new Uint8Array(width * height).fill(NO_DIFFERENCE);
  }

  add(sample: number, difference: number): void {
    const { fine } = this;
    this.sum += difference;
    this.printed += 1;
    if (difference > GROSS_DIFFERENCE) this.gross += 1;
    const bin = Math.min(fine.length - 1, Math.floor(difference * FINE_STEPS));
    fine[bin] = (fine[bin] as number) + 1;
    this.map[sample] = Math.min(NO_DIFFERENCE - 1, Math.round(difference * DIFFERENCE_STEPS));
  }

  /** Undefined where nothing was told. */
  finish(): Difference | undefined {
    const { fine, printed, width, height, map } = this;
    if (printed === 0) return undefined;
    let seen = 0;
    let bin = 0;
    while (bin < fine.length - 1 && seen + (fine[bin] as number) < 0.95 * printed) {
      seen += fine[bin] as number;
      bin += 1;
    }
    return {
      map: { width, height, data: map },
      mean: this.sum / printed,
      percentile95: (bin + 0.5) / FINE_STEPS,
      grossShare: this.gross / printed,
    };
  }
}

/** Share of the samples whose colours are the rarest. */
const RAREST_SHARE = 0.05;

/**
 * Mean difference of the samples whose colours are the rarest 5 % of the picture; undefined where nothing is printed. Read from
 * the map, so above {@link NO_DIFFERENCE} / {@link DIFFERENCE_STEPS} all is one.
 */
export function rarestDifference(
  { cell, count }: Pick<ColourCells, 'cell' | 'count'>,
  { map }: Difference,
): number | undefined {
  const sums = new Float64Array(count.length);
  const told = new Float64Array(count.length);
  let printed = 0;
  for (let i = 0; i < cell.length; i += 1) {
    const own = cell[i] as number;
    const steps = map.data[i] as number;
    if (own >= count.length || steps === NO_DIFFERENCE) continue;
    sums[own] = (sums[own] as number) + steps / DIFFERENCE_STEPS;
    told[own] = (told[own] as number) + 1;
    printed += 1;
  }
  if (printed === 0) return undefined;
  let left = Math.max(1, RAREST_SHARE * printed);
  const wanted = left;
  let sum = 0;
  for (const n of [...count.keys()].sort((a, b) => (count[a] as number) - (count[b] as number))) {
    const own = told[n] as number;
    if (own === 0) continue;
    const taken = Math.min(own, left);
    sum += ((sums[n] as number) / own) * taken;
    left -= taken;
    if (left <= 0) break;
  }
  return sum / (wanted - Math.max(0, left));
}
