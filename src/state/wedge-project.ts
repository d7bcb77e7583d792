import { z } from 'zod';
import { stampOf } from '#core/base/stamp.ts';
import { transmissionIn } from '#core/optics/filament-optics.ts';
import { countEdges, countHeights, middlesOf } from '#core/heights/height-map.ts';
import { USUAL_PRINTER, type Printer } from '#core/printer/printer.ts';
import { makeSwapSheet, type SwapSheet } from '#core/schedule/swap-sheet.ts';
import { opticsOf, type Filament } from '#core/stack/filament.ts';
import { GREATEST_LAYER_MM, LEAST_LAYER_MM, USUAL_GRID } from '#core/stack/layer-grid.ts';
import type { Stack } from '#core/stack/stack.ts';
import type { FilamentTable } from '#core/stack/stack-ramp.ts';
import {
  GREATEST_STEPS,
  GREATEST_TOP_MM,
  LEAST_STEPS,
  planWedge,
  suggestTopMm,
  USUAL_STEPS,
  type WedgePlan,
  type WedgeFault,
} from '#core/wedge/wedge-plan.ts';
import { WEDGE_SAMPLE_MM, wedgeHeights, wedgeStack } from '#core/wedge/wedge-relief.ts';
import type { Result } from '#core/base/result.ts';

/** How the wedge is going to be read. */
export const WEDGE_METHODS = ['photo', 'eye', 'light'] as const;
export type WedgeMethod = (typeof WEDGE_METHODS)[number];

const layerMm = z.number().min(LEAST_LAYER_MM).max(GREATEST_LAYER_MM);

const settingsSchema = z.object({
  method: z.enum(WEDGE_METHODS),
  grid: z.object({ firstLayerMm: layerMm, layerMm }),
  steps: z.int().min(LEAST_STEPS).max(GREATEST_STEPS),
  /** Null: as suggested from the expected transmission. */
  topMm: z.number().gt(0).max(GREATEST_TOP_MM).nullable(),
  expectedMm: z.number().min(0.01).max(1000),
  whiteId: z.string(),
  blackId: z.string(),
});

/**
 * What a wedge was made with. It is kept beside the filament, because the print is read hours after it was planned and must
 * then be read as it was made.
 */
export type WedgeSettings = z.infer<typeof settingsSchema>;

/** Under which name the settings of a filament's wedge are kept. */
export function wedgeSettingKey(filamentId: string): string {
  return `wedge:${filamentId}`;
}

/** Reads kept settings; undefined when there are none, or when they cannot be read. */
export function readWedgeSettings(data: unknown): WedgeSettings | undefined {
  const parsed = settingsSchema.safeParse(data);
  return parsed.success ? parsed.data : undefined;
}

/** Settings for a filament that was not measured before. */
export function firstWedgeSettings(
  filament: Filament,
  grounds: { readonly black: Filament; readonly white: Filament },
): WedgeSettings {
  return {
    method: 'photo',
    grid: { ...USUAL_GRID },
    steps: USUAL_STEPS,
    topMm: null,
    expectedMm: Number(transmissionIn(opticsOf(filament), { kind: 'hiding' }).toFixed(2)),
    whiteId: grounds.white.id,
    blackId: grounds.black.id,
  };
}

/** The tallest step of a wedge, mm: the one asked for, or the suggested one. */
export function wedgeTopMm({ topMm, expectedMm, method, grid, steps }: WedgeSettings): number {
  return topMm ?? suggestTopMm(expectedMm, method === 'photo' ? 'photo' : 'eye', grid, steps);
}

/** The wedge that settings describe. */
export function planOfSettings(
  settings: WedgeSettings,
  { black, white }: { readonly black: Filament; readonly white: Filament },
): Result<WedgePlan, WedgeFault> {
  const hidingMm = (filament: Filament): number =>
    transmissionIn(opticsOf(filament), { kind: 'hiding' });
  return planWedge({
    grid: settings.grid,
    grounded: settings.method !== 'light',
    steps: settings.steps,
    topMm: wedgeTopMm(settings),
    whiteTransmissionMm: hidingMm(white),
    blackTransmissionMm: hidingMm(black),
  });
}

/** A wedge ready to be printed. */
export interface WedgePrint {
  readonly title: string;
  readonly stamp: string;
  readonly stack: Stack;
  readonly filaments: FilamentTable;
  readonly sheet: SwapSheet;
}

/** Stack, sheet and stamp of a wedge. */
export function wedgePrint(
  plan: WedgePlan,
  { tested, black, white }: Readonly<Record<'tested' | 'black' | 'white', Filament>>,
  printer: Printer = USUAL_PRINTER,
): WedgePrint {
  const stack = wedgeStack(plan, { white: white.id, tested: tested.id, black: black.id });
  const filaments = Object.fromEntries([white, tested, black].map((f) => [f.id, f]));
  const title = `Step wedge ${tested.name}`;
  const stamp = stampOf({
    wedge: tested.id,
    grid: { ...plan.grid },
    steps: [...plan.stepLayers],
    bands: stack.bands.map(({ filamentId, layers }) => ({ filamentId, layers })),
  });
  const heights = wedgeHeights(plan);
  const sheet = makeSwapSheet({
    title,
    stamp,
    stack,
    filaments,
    counts: countHeights(heights),
    edges: countEdges(heights),
    middles: middlesOf(heights),
    sampleMm: WEDGE_SAMPLE_MM,
    printer,
    widthMm: plan.widthMm,
    heightMm: plan.heightMm,
  });
  return { title, stamp, stack, filaments, sheet };
}
