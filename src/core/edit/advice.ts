/** Whether a picture has enough pixels for its print. */
export interface PrintAdvice {
  /** Pixels that the samples of a line ask for. */
  readonly wantedPx: number;
  readonly partPx: number;
  readonly crisp: boolean;
  /** The sample size that the picture can fill, mm. */
  readonly honestMm: number;
}

/** Share of the wanted pixels that still prints crisp. Common practice, no source. */
const ENOUGH = 0.9;

/**
 * Compares the pixels of a picture with the samples of its relief: wanted pixels = width / sample size.
 * @param partPx pixels of the printed part across, above 0
 */
export function printAdvice(partPx: number, widthMm: number, sampleMm: number): PrintAdvice {
  const wantedPx = Math.round(widthMm / sampleMm);
  return {
    wantedPx,
    partPx: Math.round(partPx),
    crisp: partPx >= ENOUGH * wantedPx,
    honestMm: Math.ceil((100 * widthMm) / partPx) / 100,
  };
}
