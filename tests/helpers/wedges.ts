import type { Filament } from '#core/stack/filament.ts';
import type { WedgePlan } from '#core/wedge/wedge-plan.ts';
import { groundColours } from '#core/wedge/wedge-relief.ts';
import { readWedgePhoto, type ReadPhoto, type PhotoFault } from '#core/wedge/read-photo.ts';
import type { Result } from '#core/base/result.ts';
import { randomFrom } from '../../demo/draw/shading.ts';
import { drawWedgePhoto, type WedgeScene } from '../../demo/draw/wedge-photo.ts';
import { firstWedgeSettings, planOfSettings } from '../../src/state/wedge-project.ts';
import { demoFilaments } from './demo.ts';

export const DEMO_RACK: readonly Filament[] = Object.values(demoFilaments());

/** A filament of the demo rack. */
export function demoFilament(id: string): Filament {
  const found = DEMO_RACK.find((filament) => filament.id === id);
  if (!found) throw new Error(`no ${id} in the demo rack`);
  return found;
}

export const GROUNDS = { black: demoFilament('soot'), white: demoFilament('chalk') };

/** The wedge that is suggested for a filament. */
export function suggestedPlan(filament: Filament): WedgePlan {
  const plan = planOfSettings(firstWedgeSettings(filament, GROUNDS), GROUNDS);
  if (!plan.ok) throw new Error(plan.fault.code);
  return plan.value;
}

/** Noise with a normal distribution, repeatable. */
export function gaussFrom(seed: number): () => number {
  const random = randomFrom(seed);
  return () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}

/** Draws a photo of a filament's wedge (a good one unless `scene` says otherwise) and reads it. */
export function photographWedge(
  tested: Filament,
  scene: Partial<WedgeScene> = {},
): Result<ReadPhoto, PhotoFault> {
  const plan = suggestedPlan(tested);
  const { photo, corners } = drawWedgePhoto({
    plan,
    ...GROUNDS,
    tested,
    width: 760,
    height: 500,
    tiltDegrees: 8,
    leanDegrees: 20,
    rollDegrees: 3,
    noiseCodes: 2,
    unevenness: 0.2,
    exposure: 0.85,
    veil: 0.01,
    seed: 5,
    ...scene,
  });
  return readWedgePhoto(
    photo,
    corners,
    plan,
    groundColours(plan, { ...GROUNDS, tested }),
    '2026-05-17',
  );
}
