/** A Gaussian that is a part of a point spread. */
export interface SpreadPart {
  /** Share of the light, 0..1. */
  readonly share: number;
  /** Standard deviation along each axis, in the unit of the spread. */
  readonly deviation: number;
}

/** Shares of the light at which one Gaussian goes over into the next: narrow ones first, since the spread has a sharp peak. */
const ENDS = [0, 0.3, 0.6, 0.82, 0.95, 1] as const;

/** Steps of the integral that gives each Gaussian its width. */
const STEPS = 4000;

/**
 * The Gaussians of a spread of 1: of the mixture that {@link gaussiansOfSpread} speaks of, each share by its own mean variance, so that
 * the variance of all together is that of the spread.
 */
const PARTS: readonly SpreadPart[] = (() => {
  const parts = ENDS.slice(1).map(() => ({ share: 0, variance: 0 }));
  const du = 5 / STEPS;
  let below = 0;
  for (let step = 0; step < STEPS; step += 1) {
    // With u = sqrt(t) the mixture is half of a normal distribution.
    const u = (step + 0.5) * du;
    const share = (2 / Math.sqrt(Math.PI)) * Math.exp(-u * u) * du;
    const own =
      parts[
        Math.min(
          parts.length,
          ENDS.findIndex((end) => below < end),
        ) - 1
      ];
    below = Math.min(1 - 1e-12, below + share);
    if (!own) continue;
    own.share += share;
    own.variance += share * 2 * u * u;
  }
  const all = parts.reduce((sum, { share }) => sum + share, 0);
  return parts.map(({ share, variance }) => ({
    share: share / all,
    deviation: Math.sqrt(variance / share),
  }));
})();

/**
 * How light that comes out of turbid plastic has gone sideways in it: p(r) = exp(-r / d) / (2 pi d r) for the mean distance d, as it is
 * used for the optical dot gain of paper. Source: S. Gustavson, "Dot gain in colour halftones" (Linkoping, 1997); G. L. Rogers,
 * "Optical dot gain in a halftone print", J. Imaging Sci. Technol. 41 (1997). Its modulation transfer is 1 / sqrt(1 + (k d)^2), which
 * is a mixture of Gaussians of variance 2 t d^2 with t spread as t^(-1/2) exp(-t): five of them stand for it.
 * @param spread mean distance sideways, in any unit; 0 gives all light back where it came in
 */
export function gaussiansOfSpread(spread: number): readonly SpreadPart[] {
  if (spread <= 0) return [{ share: 1, deviation: 0 }];
  return PARTS.map(({ share, deviation }) => ({ share, deviation: deviation * spread }));
}
