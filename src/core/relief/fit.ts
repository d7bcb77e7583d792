/** What a piece has to fit on or into, mm. */
export interface Opening {
  readonly kind: 'bed' | 'frame';
  readonly widthMm: number;
  readonly heightMm: number;
  /** How thick it may be; null where that does not matter. */
  readonly depthMm: number | null;
  /** A round bed: width and height are its diameter. */
  readonly round?: boolean | undefined;
}

/** The size of a piece. */
export interface PieceSize {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly thicknessMm: number;
}

/** Ways in which a piece does not fit. */
export type Misfit = 'too-wide' | 'too-high' | 'too-thick';

const SLACK_MM = 1e-6;

/** In which ways a piece does not fit. On a bed it may be turned by a quarter. */
export function misfits({ widthMm, heightMm, thicknessMm }: PieceSize, opening: Opening): Misfit[] {
  const wide = (w: number, h: number): Misfit[] => [
    ...(w > opening.widthMm + SLACK_MM ? ['too-wide' as const] : []),
    ...(h > opening.heightMm + SLACK_MM ? ['too-high' as const] : []),
  ];
  const straight = wide(widthMm, heightMm);
  const corners = Math.hypot(widthMm, heightMm) > opening.widthMm + SLACK_MM;
  const flat =
    opening.round === true
      ? corners
        ? ['too-wide' as const]
        : []
      : opening.kind === 'bed' && wide(heightMm, widthMm).length === 0
        ? []
        : straight;
  const thick = opening.depthMm !== null && thicknessMm > opening.depthMm + SLACK_MM;
  return thick ? [...flat, 'too-thick'] : flat;
}

/**
 * The largest picture of some proportions that fits, with `padMm` around it; 0 where not even the space around fits.
 * @param ratio height over width of the picture
 */
export function fitWidthMm(
  ratio: number,
  padMm: number,
  { widthMm, heightMm, round = false }: Opening,
): number {
  if (round) return Math.max(0, roundFit(ratio, padMm, widthMm));
  return Math.max(0, Math.min(widthMm - 2 * padMm, (heightMm - 2 * padMm) / ratio));
}

/** Width whose rectangle, with `padMm` around it, has its corners on a circle: a quadratic equation. */
function roundFit(ratio: number, padMm: number, diameterMm: number): number {
  const a = 1 + ratio * ratio;
  const half = 2 * padMm * (1 + ratio);
  const inside = half * half - a * (8 * padMm * padMm - diameterMm * diameterMm);
  return inside <= 0 ? 0 : (Math.sqrt(inside) - half) / a;
}
