import { tidyMm } from '../base/numbers.ts';

/** The grid of samples that a relief of some size is made of. */
export interface SampleGrid {
  readonly columns: number;
  readonly rows: number;
  /** Side of one square sample, mm. */
  readonly sampleMm: number;
  /** Real size of the relief, mm: whole samples, so within half a sample of what was asked. */
  readonly widthMm: number;
  readonly heightMm: number;
  /** Samples around the picture on each side, counted in columns and rows; absent where there are none. */
  readonly pad?: number;
}

/** A place along one side of the whole piece, as a share, told as a share of the picture's side; and back. */
export function shareInPicture(share: number, samples: number, pad = 0): number {
  return (share * samples - pad) / (samples - 2 * pad);
}
export function shareInPiece(share: number, samples: number, pad = 0): number {
  return (pad + share * (samples - 2 * pad)) / samples;
}

/** Limits of what can be asked, mm. */
export const LEAST_SAMPLE_MM = 0.05;
export const GREATEST_SAMPLE_MM = 5;
export const LEAST_SIDE_MM = 1;
export const GREATEST_SIDE_MM = 2000;

/** Most samples that a relief may have: four 1500 x 1500 pictures. More than this no nozzle needs. */
export const MOST_SAMPLES = 9_000_000;

/**
 * Divides a size into whole square samples, at least one each way. All lengths in mm.
 * @param padMm space around the picture on each side
 */
export function planSamples(
  widthMm: number,
  heightMm: number,
  sampleMm: number,
  padMm = 0,
): SampleGrid {
  const pad = Math.round(padMm / sampleMm);
  const columns = Math.max(1, Math.round(widthMm / sampleMm)) + 2 * pad;
  const rows = Math.max(1, Math.round(heightMm / sampleMm)) + 2 * pad;
  return {
    columns,
    rows,
    sampleMm,
    widthMm: tidyMm(columns * sampleMm),
    heightMm: tidyMm(rows * sampleMm),
    ...(pad > 0 ? { pad } : {}),
  };
}

/**
 * The grid to show while working: the real one where it has at most `most` samples, otherwise one of the same
 * proportions that does.
 */
export function coarsenSamples(grid: SampleGrid, most: number): SampleGrid {
  const samples = grid.columns * grid.rows;
  if (samples <= most) return grid;
  const padMm = (grid.pad ?? 0) * grid.sampleMm;
  return planSamples(
    grid.widthMm - 2 * padMm,
    grid.heightMm - 2 * padMm,
    grid.sampleMm * Math.sqrt(samples / most),
    padMm,
  );
}
