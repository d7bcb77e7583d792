import { clamp } from '../base/numbers.ts';
import type { RgbaRaster } from '../base/raster.ts';
import { LINEAR_OF_BYTE } from '../colour/srgb.ts';
import { innerRect, shiftRect, type Slant } from './slant.ts';
import { projectPoint, type Perspective } from './straighten.ts';
import { BLACK_STRIP_MM, STEP_SIDE_MM, type PlanPatch, type WedgePlan } from './wedge-plan.ts';

/** How far light goes sideways in a filament, as its wedge shows it. */
export interface EdgeSpread {
  /** Mean distance, mm; see `gaussiansOfSpread`. */
  readonly spreadMm: number;
  /** Standard error, mm. */
  readonly uncertaintyMm: number;
}

/** Below this, mm, no photo tells it from none: on simulated photos none at all was read as up to 0.16. */
export const LEAST_TOLD_MM = 0.18;

/** Depths under the rim of a step at which light is read, mm: nearer to it the camera's own blur counts. */
const FROM_MM = 0.6;
const TO_MM = STEP_SIDE_MM / 2;
const DEPTHS = 24;
/** Places across a step at each depth, in its middle third: far from its neighbours. */
const ACROSS = 24;

/** Spreads that are tried, mm. */
const MOST_MM = 2;
const TRIED = 201;

/** A step has to be so much lighter or darker than the black beside it, linear 0..1, and so many must be. */
const LEAST_CONTRAST = 0.04;
const LEAST_STEPS = 3;

/**
 * Reads how far light goes sideways off the rims of the steps over black: near a rim a step is darker, because part of the light that
 * comes out there went in over the black. One spread is fitted to all steps, each with its own lightness, by least squares; the standard
 * error is from leaving out one step at a time (J. W. Tukey's jackknife, 1958).
 * @returns undefined where the steps are too few, or too much like the black
 */
export function edgeSpread(
  photo: RgbaRaster,
  map: Perspective,
  slant: Slant,
  plan: WedgePlan,
): EdgeSpread | undefined {
  const lightOf = (x: number, y: number): number => {
    const point = projectPoint(map, x / plan.widthMm, y / plan.heightMm);
    const px = clamp(Math.floor(point.x), 0, photo.width - 1);
    const py = clamp(Math.floor(point.y), 0, photo.height - 1);
    const at = 4 * (py * photo.width + px);
    return (
      [0, 1, 2].reduce((sum, c) => sum + (LINEAR_OF_BYTE[photo.data[at + c] ?? 0] ?? 0), 0) / 3
    );
  };
  const meanOver = (patch: PlanPatch): number => {
    const { x, y, width, height } = shiftRect(innerRect(patch.rect), patch, slant, plan);
    let sum = 0;
    for (let i = 0; i < 100; i += 1)
      sum += lightOf(
        x + (width * ((i % 10) + 0.5)) / 10,
        y + (height * (Math.floor(i / 10) + 0.5)) / 10,
      );
    return sum / 100;
  };
  const nearest = (patch: PlanPatch, ground: PlanPatch['ground']): number => {
    const middle = patch.rect.x + patch.rect.width / 2;
    const bare = plan.patches.filter(
      ({ step, rect, ground: own }) =>
        step === 0 && own === ground && Math.abs(rect.x + rect.width / 2 - middle) < 1,
    );
    return bare.reduce((sum, one) => sum + meanOver(one), 0) / Math.max(1, bare.length);
  };
  const errors = plan.patches.flatMap((patch) => {
    if (patch.step === 0 || patch.ground !== 'black') return [];
    const black = nearest(patch, 'black');
    if (Math.abs(meanOver(patch) - black) < LEAST_CONTRAST) return [];
    const white = nearest(patch, 'white');
    const rect = shiftRect(patch.rect, patch, slant, plan);
    const scale = rect.height / STEP_SIDE_MM;
    const seen = Float64Array.from({ length: DEPTHS }, (_, n) => {
      const depth = depthOf(n) * scale;
      let sum = 0;
      for (let k = 0; k < ACROSS; k += 1) {
        const x = rect.x + rect.width * (1 / 3 + (k + 0.5) / ACROSS / 3);
        // Both rims together: light that falls off from one to the other does not count.
        sum += lightOf(x, rect.y + depth) + lightOf(x, rect.y + rect.height - depth);
      }
      return sum / (2 * ACROSS);
    });
    return [
      Float64Array.from({ length: TRIED }, (_, t) => errorOf(seen, spreadOf(t), black, white)),
    ];
  });
  if (errors.length < LEAST_STEPS) return undefined;
  const bestWithout = (left: number): number => {
    const sums = new Float64Array(TRIED);
    errors.forEach((own, n) => {
      if (n !== left) own.forEach((error, t) => (sums[t] = (sums[t] as number) + error));
    });
    return spreadOf(sums.indexOf(Math.min(...sums)));
  };
  const others = errors.map((_, n) => bestWithout(n));
  const mean = others.reduce((sum, one) => sum + one, 0) / others.length;
  const squares = others.reduce((sum, one) => sum + (one - mean) ** 2, 0);
  const jackknife = Math.sqrt(((others.length - 1) / others.length) * squares);
  return {
    spreadMm: bestWithout(-1),
    // No finer than the spreads that are tried.
    uncertaintyMm: Math.hypot(jackknife, spreadOf(1)),
  };
}

/** What is kept of a reading, mm in hundredths: 0 where it cannot be told from none. */
export function keptSpread({ spreadMm }: EdgeSpread): number {
  return spreadMm < LEAST_TOLD_MM ? 0 : Number(spreadMm.toFixed(2));
}

const depthOf = (n: number): number => FROM_MM + ((TO_MM - FROM_MM) * n) / (DEPTHS - 1);

const spreadOf = (t: number): number => (MOST_MM * t) / (TRIED - 1);

/** Sum of squares that a spread leaves of a step's profile, with the lightness that serves it best. */
function errorOf(seen: Float64Array, spreadMm: number, black: number, white: number): number {
  let over = 0;
  let under = 0;
  const own = new Float64Array(DEPTHS);
  const others = new Float64Array(DEPTHS);
  for (let n = 0; n < DEPTHS; n += 1) {
    const depth = depthOf(n);
    const far = STEP_SIDE_MM - depth;
    const inBlack =
      shareBeyond(depth, spreadMm) +
      shareBeyond(far, spreadMm) -
      shareBeyond(depth + BLACK_STRIP_MM, spreadMm) -
      shareBeyond(far + BLACK_STRIP_MM, spreadMm);
    const inWhite =
      shareBeyond(depth + BLACK_STRIP_MM, spreadMm) + shareBeyond(far + BLACK_STRIP_MM, spreadMm);
    own[n] = 1 - inBlack - inWhite;
    others[n] = inBlack * black + inWhite * white;
    over += (own[n] as number) * ((seen[n] as number) - (others[n] as number));
    under += (own[n] as number) ** 2;
  }
  const lightness = over / under;
  return seen.reduce(
    (sum, value, n) => sum + (value - (own[n] as number) * lightness - (others[n] as number)) ** 2,
    0,
  );
}

/** Shares of the light from beyond a straight rim, by its distance in spreads; steps of the table, and its end. */
const TABLE_STEP = 0.02;
const TABLE_END = 14;
let table: Float64Array | undefined;

/** Share of the light that comes from beyond a straight rim at some distance: of each ring around the spot the part that lies there. */
function shareBeyond(distanceMm: number, spreadMm: number): number {
  if (spreadMm <= 0) return 0;
  table ??= Float64Array.from({ length: TABLE_END / TABLE_STEP + 2 }, (_, n) => {
    const distance = n * TABLE_STEP;
    const step = 0.01;
    let sum = 0;
    for (let r = distance + step / 2; r < distance + 20; r += step)
      sum += (Math.exp(-r) * step * Math.acos(distance / r)) / Math.PI;
    return sum;
  });
  const place = distanceMm / spreadMm / TABLE_STEP;
  if (place >= table.length - 1) return 0;
  const below = Math.floor(place);
  const [a, b] = [table[below] as number, table[below + 1] as number];
  return a + (b - a) * (place - below);
}
