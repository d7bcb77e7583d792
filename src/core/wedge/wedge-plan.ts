import { clamp, tidyMm } from '../base/numbers.ts';
import { fail, succeed, type Fault, type Result } from '../base/result.ts';
import { MAX_LAYERS } from '../base/raster.ts';
import type { TransmissionBasis } from '../optics/filament-optics.ts';
import type { Ground } from '../optics/wedge-reading.ts';
import { layerTopMm, type LayerGrid } from '../stack/layer-grid.ts';

/** What a step wedge is made for. */
export interface WedgeWish {
  readonly grid: LayerGrid;
  /** False for a wedge of the tested filament alone, to be held before a light. */
  readonly grounded: boolean;
  /** Number of steps, 3..12. */
  readonly steps: number;
  /** Thickness of the tallest step over its ground, mm. */
  readonly topMm: number;
  /** Transmissions of the white and the black filament, mm: how thick they must lie to be grounds. */
  readonly whiteTransmissionMm: number;
  readonly blackTransmissionMm: number;
}

/** A rectangle on the wedge seen from above, mm from its top left corner, y downward. */
export interface PlanRect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** A place on the wedge whose colour says something. */
export interface PlanPatch {
  readonly ground: Ground;
  /** Step from 1 at the thinnest; 0 for bare ground. */
  readonly step: number;
  readonly thicknessMm: number;
  /** Height of its surface over the bare white ground, mm. */
  readonly riseMm: number;
  readonly rect: PlanRect;
}

/**
 * The calibration print, as a stack of four bands: white everywhere; the tested filament, in steps over the white half and
 * full under the black one; black on its half; the tested filament again, in steps over the black. So every colour change
 * lies between two layers, and any single-nozzle printer can make it with three swaps.
 */
export interface WedgePlan {
  readonly grid: LayerGrid;
  /** False where the steps stand on the plate and a light behind is looked at; then there is one row of them. */
  readonly grounded: boolean;
  /** Layers of the tested filament at each step, ascending. */
  readonly stepLayers: readonly number[];
  /** The same in mm. */
  readonly stepsMm: readonly number[];
  readonly whiteLayers: number;
  readonly blackLayers: number;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly patches: readonly PlanPatch[];
}

export const LEAST_STEPS = 3;
export const GREATEST_STEPS = 12;
export const USUAL_STEPS = 8;
/** Tallest step that can be asked for, mm. */
export const GREATEST_TOP_MM = 8;

/** Side of one step, mm: large enough for a thumb-held magnifier and a phone's photo alike. */
export const STEP_SIDE_MM = 12;

/** Strips of bare ground, mm. The outer white one carries the numbers. */
const EDGE_MM = 6;
const NUMBER_STRIP_MM = 8;
const WHITE_STRIP_MM = 6;
export const BLACK_STRIP_MM = 4;
/** Bare white on the far side of the black half: light that falls off from top to bottom shows there. */
const FOOT_MM = 6;

/** Height of the raised numbers over what they stand on, in layers. */
export const NUMBER_LAYERS = 4;

/** Thickness of the grounds, mm, at least and at most. */
const LEAST_GROUND_MM = 0.6;
const MOST_WHITE_MM = 2;
const MOST_BLACK_MM = 0.8;

const WHITE_STEPS_Y = NUMBER_STRIP_MM;
const WHITE_STRIP_Y = WHITE_STEPS_Y + STEP_SIDE_MM;
const BLACK_HALF_Y = WHITE_STRIP_Y + WHITE_STRIP_MM;
const BLACK_STEPS_Y = BLACK_HALF_Y + BLACK_STRIP_MM;
const BLACK_END_Y = BLACK_STEPS_Y + STEP_SIDE_MM;
const FOOT_Y = BLACK_END_Y + BLACK_STRIP_MM;

export type WedgeFault = Fault<'bad-steps' | 'bad-top' | 'too-many-layers'>;

/**
 * Tallest step to suggest, mm. A photo needs steps up to half the transmission (3 mm at most); an eye must see the step
 * at which the ground is gone, so it needs a little more than the transmission itself.
 * Source of half and 3 mm: own simulations, see the design notes; the rest is common practice, no source.
 */
export function suggestTopMm(
  expectedMm: number,
  method: 'photo' | 'eye',
  { layerMm }: LayerGrid,
  steps = USUAL_STEPS,
): number {
  // An eye is asked for the step at which something is gone, so the wedge must go beyond it.
  const wanted = method === 'photo' ? Math.min(expectedMm / 2, 3) : Math.min(expectedMm * 1.4, 5);
  return tidyMm(Math.max(steps, Math.round(wanted / layerMm)) * layerMm);
}

/** Near-geometric step heights in whole layers: ascending, all different, from 1 to `top` (or to `count` if that is more). */
export function stepLayersOf(count: number, top: number): number[] {
  const layers: number[] = [];
  for (let i = 0; i < count; i += 1) {
    const geometric = Math.round(Math.max(top, count) ** (i / (count - 1)));
    layers.push(Math.max(geometric, (layers.at(-1) ?? 0) + 1));
  }
  return layers;
}

/** Lays a wedge out in the maker's layer grid. */
export function planWedge(wish: WedgeWish): Result<WedgePlan, WedgeFault> {
  const { grid, steps, topMm } = wish;
  if (!Number.isInteger(steps) || steps < LEAST_STEPS || steps > GREATEST_STEPS)
    return fail('bad-steps', undefined, String(steps));
  if (!(topMm >= grid.layerMm && topMm <= GREATEST_TOP_MM))
    return fail('bad-top', undefined, String(topMm));
  const stepLayers = stepLayersOf(steps, Math.round(topMm / grid.layerMm));
  const most = stepLayers.at(-1) ?? 0;
  const widthMm = 2 * EDGE_MM + steps * STEP_SIDE_MM;
  if (!wish.grounded) {
    if (most + NUMBER_LAYERS > MAX_LAYERS)
      return fail('too-many-layers', undefined, String(most + NUMBER_LAYERS));
    // The first layer is part of every step here.
    const freeMm = stepLayers.map((layers) => layerTopMm(grid, layers));
    return succeed({
      grid,
      grounded: false,
      stepLayers,
      stepsMm: freeMm,
      whiteLayers: 0,
      blackLayers: 0,
      widthMm,
      heightMm: WHITE_STRIP_Y + WHITE_STRIP_MM,
      patches: layOut(freeMm, widthMm, 0).filter(
        ({ ground, step }) => ground === 'white' && step > 0,
      ),
    });
  }
  const layersFor = (mm: number): number => Math.ceil(tidyMm(mm / grid.layerMm));
  const whiteMm = clamp(wish.whiteTransmissionMm, LEAST_GROUND_MM, MOST_WHITE_MM);
  const whiteLayers = 1 + layersFor(Math.max(0, whiteMm - grid.firstLayerMm));
  const blackLayers = layersFor(clamp(wish.blackTransmissionMm, 0.3, MOST_BLACK_MM));
  const total = whiteLayers + blackLayers + 2 * most;
  if (total > MAX_LAYERS) return fail('too-many-layers', undefined, String(total));
  const stepsMm = stepLayers.map((layers) => tidyMm(layers * grid.layerMm));
  return succeed({
    grid,
    grounded: true,
    stepLayers,
    stepsMm,
    whiteLayers,
    blackLayers,
    widthMm,
    heightMm: FOOT_Y + FOOT_MM,
    patches: layOut(stepsMm, widthMm, tidyMm((most + blackLayers) * grid.layerMm)),
  });
}

function layOut(stepsMm: readonly number[], widthMm: number, blackMm: number): PlanPatch[] {
  const patches: PlanPatch[] = [];
  const groundMm: Record<Ground, number> = { white: 0, black: blackMm };
  for (const ground of ['white', 'black'] as const) {
    const y = ground === 'white' ? WHITE_STEPS_Y : BLACK_STEPS_Y;
    stepsMm.forEach((thicknessMm, i) => {
      const x = EDGE_MM + i * STEP_SIDE_MM;
      patches.push({
        ground,
        step: i + 1,
        thicknessMm,
        riseMm: groundMm[ground] + thicknessMm,
        rect: { x, y, width: STEP_SIDE_MM, height: STEP_SIDE_MM },
      });
    });
  }
  const bare = (ground: Ground, x: number, y: number, width: number, height: number): void => {
    patches.push({
      ground,
      step: 0,
      thicknessMm: 0,
      riseMm: groundMm[ground],
      rect: { x, y, width, height },
    });
  };
  const right = widthMm - EDGE_MM;
  for (const x of [0, right]) {
    bare('white', x, 0, EDGE_MM, WHITE_STRIP_Y);
    bare('black', x, BLACK_STEPS_Y, EDGE_MM, STEP_SIDE_MM);
  }
  stepsMm.forEach((_, i) => {
    const x = EDGE_MM + i * STEP_SIDE_MM;
    bare('white', x, WHITE_STRIP_Y, STEP_SIDE_MM, WHITE_STRIP_MM);
    bare('black', x, BLACK_HALF_Y, STEP_SIDE_MM, BLACK_STRIP_MM);
    bare('black', x, BLACK_END_Y, STEP_SIDE_MM, BLACK_STRIP_MM);
    bare('white', x, FOOT_Y, STEP_SIDE_MM, FOOT_MM);
  });
  return patches;
}

/** Where the number of a step stands: a box in the outer white strip, mm. */
export function numberBox(step: number): PlanRect {
  return {
    x: EDGE_MM + (step - 1) * STEP_SIDE_MM,
    y: 0,
    width: STEP_SIDE_MM,
    height: NUMBER_STRIP_MM,
  };
}

/** The black half: from here to there, mm from the top. */
export const BLACK_FROM_MM = BLACK_HALF_Y;
export const BLACK_TO_MM = FOOT_Y;

/** The step wedge's by-eye bases: the ground is hidden, or a light behind is. */
export const EYE_BASES: Readonly<Record<'ground' | 'light', TransmissionBasis>> = {
  ground: { kind: 'hiding' },
  light: { kind: 'light-through', threshold: 0.01 },
};
