import { clamp } from '../base/numbers.ts';
import type { RgbaRaster } from '../base/raster.ts';
import { projectPoint, type Perspective } from './straighten.ts';
import type { PlanPatch, PlanRect, WedgePlan } from './wedge-plan.ts';

/** Part of a patch's side left out at each edge: walls, shadows and corners a little off the mark. */
const MARGIN_SHARE = 0.25;

/** The part of a patch that is sampled. */
export function innerRect(rect: PlanRect): PlanRect {
  return shrinkRect(rect, MARGIN_SHARE);
}

/** A rectangle without a share of its sides at each edge. */
function shrinkRect({ x, y, width, height }: PlanRect, share: number): PlanRect {
  return {
    x: x + width * share,
    y: y + height * share,
    width: width * (1 - 2 * share),
    height: height * (1 - 2 * share),
  };
}

/**
 * Direction of the line of sight over the wedge: in its middle, mm to the right and down for each mm of height; and how
 * much more of that for each mm away from the middle, which is one over the camera's distance in mm.
 */
export interface Slant {
  readonly x: number;
  readonly y: number;
  readonly spread: number;
}

/** Part of a side left out while looking for the slant: little, so that a neighbour's colour is noticed. */
const SLANT_MARGIN = 0.03;
const MOST_SLANT = 0.8;
const SLANT_STEP = 0.1;
const SPREADS = [0.001, 0.0035, 0.006] as const;
const SLANT_PROBES = 8;
/** Spread of codes above which a patch is as wrong as can be. */
const MOST_SPREAD = 40;

const FOLLOWED = 8;

interface Weighed {
  readonly slant: Slant;
  readonly unevenness: number;
}

/** A patch seen aslant: what stands higher than the corners appears shifted. */
export function shiftRect(
  rect: PlanRect,
  { riseMm }: PlanPatch,
  { x, y, spread }: Slant,
  { widthMm, heightMm }: Pick<WedgePlan, 'widthMm' | 'heightMm'>,
): PlanRect {
  const right = x + spread * (rect.x + rect.width / 2 - widthMm / 2);
  const down = y + spread * (rect.y + rect.height / 2 - heightMm / 2);
  // What is nearer to the camera is also larger by that share.
  const grow = spread * riseMm;
  return {
    x: rect.x + right * riseMm - (rect.width * grow) / 2,
    y: rect.y + down * riseMm - (rect.height * grow) / 2,
    width: rect.width * (1 + grow),
    height: rect.height * (1 + grow),
  };
}

/**
 * The corners tell where the bare white lies; the black half and the steps stand higher and are shifted in the photo. The
 * slant is right where every patch is even in colour, so it is searched for: coarsely everywhere, then finely.
 */
export function findSlant(photo: RgbaRaster, map: Perspective, plan: WedgePlan): Slant {
  const unevenness = (slant: Slant): number =>
    plan.patches.reduce((sum, patch) => {
      const { x, y, width, height } = shiftRect(
        shrinkRect(patch.rect, SLANT_MARGIN),
        patch,
        slant,
        plan,
      );
      let total = 0;
      let squares = 0;
      for (let i = 0; i < SLANT_PROBES ** 2; i += 1) {
        const across = (i % SLANT_PROBES) / (SLANT_PROBES - 1);
        const down = Math.floor(i / SLANT_PROBES) / (SLANT_PROBES - 1);
        const point = projectPoint(
          map,
          (x + width * across) / plan.widthMm,
          (y + height * down) / plan.heightMm,
        );
        const px = clamp(Math.floor(point.x), 0, photo.width - 1);
        const py = clamp(Math.floor(point.y), 0, photo.height - 1);
        const at = 4 * (py * photo.width + px);
        const value = (photo.data[at] ?? 0) + (photo.data[at + 1] ?? 0) + (photo.data[at + 2] ?? 0);
        total += value;
        squares += value * value;
      }
      const count = SLANT_PROBES ** 2;
      const spread = Math.sqrt(Math.max(0, squares / count - (total / count) ** 2)) / 3;
      return sum + Math.min(MOST_SPREAD, spread);
    }, 0);
  const around = (
    centre: Slant,
    reach: number,
    step: number,
    spreads: readonly number[],
  ): Weighed[] => {
    const found: Weighed[] = [];
    for (const spread of spreads)
      for (let dy = -reach; dy <= reach + 1e-9; dy += step)
        for (let dx = -reach; dx <= reach + 1e-9; dx += step) {
          const slant = { x: centre.x + dx, y: centre.y + dy, spread };
          found.push({ slant, unevenness: unevenness(slant) });
        }
    return found.sort((a, b) => a.unevenness - b.unevenness);
  };
  // Neighbouring steps look much alike, so the best of the coarse places may be beside the mark: several are followed.
  const finals = around({ x: 0, y: 0, spread: 0 }, MOST_SLANT, SLANT_STEP, SPREADS)
    .slice(0, FOLLOWED)
    .map((start) => {
      let best = start;
      for (const [step, by] of [
        [SLANT_STEP / 2, 0.0012],
        [SLANT_STEP / 4, 0.0006],
        [SLANT_STEP / 8, 0.0003],
      ] as const) {
        const { spread } = best.slant;
        const [near] = around(
          best.slant,
          step,
          step,
          [spread - by, spread, spread + by].filter((k) => k >= 0),
        );
        if (near && near.unevenness < best.unevenness) best = near;
      }
      return best;
    });
  const best = finals.reduce((a, b) => (b.unevenness < a.unevenness ? b : a)).slant;
  return best;
}
