import { formatHex } from '../colour/srgb.ts';
import type { HeightMap } from '../base/raster.ts';
import type { Filament } from '../stack/filament.ts';
import { rampOfStack } from '../stack/stack-ramp.ts';
import type { Band, Stack } from '../stack/stack.ts';
import {
  BLACK_FROM_MM,
  BLACK_TO_MM,
  NUMBER_LAYERS,
  numberBox,
  type PlanRect,
  type WedgePlan,
} from './wedge-plan.ts';

/** Side of one sample of the wedge's relief, mm: one line of the digits is two of them. */
export const WEDGE_SAMPLE_MM = 0.4;

/** Digits 0..9 on a grid of 3 x 5, rows from the top, one bit a cell, most significant bit left. */
const DIGITS: readonly (readonly number[])[] = [
  [7, 5, 5, 5, 7],
  [2, 6, 2, 2, 7],
  [7, 1, 7, 4, 7],
  [7, 1, 7, 1, 7],
  [5, 5, 7, 1, 1],
  [7, 4, 7, 1, 7],
  [7, 4, 7, 5, 7],
  [7, 1, 1, 1, 1],
  [7, 5, 7, 5, 7],
  [7, 5, 7, 1, 7],
];
const DIGIT_COLUMNS = 3;
const DIGIT_ROWS = 5;

/** Stroke of a digit, mm: two lines of a common nozzle. */
const STROKE_MM = 0.8;

/**
 * The stack that prints a wedge: white, tested, black, tested; the tested filament alone where there is no ground. Bands
 * that follow each other in the same filament (a white one tested over itself) are one: there is nothing to swap.
 */
export function wedgeStack(
  plan: WedgePlan,
  ids: { readonly white: string; readonly tested: string; readonly black: string },
): Stack {
  const most = plan.stepLayers.at(-1) ?? 0;
  const bands = plan.grounded
    ? [
        { filamentId: ids.white, layers: plan.whiteLayers },
        { filamentId: ids.tested, layers: most },
        { filamentId: ids.black, layers: plan.blackLayers },
        { filamentId: ids.tested, layers: most },
      ]
    : [{ filamentId: ids.tested, layers: most + NUMBER_LAYERS }];
  const joined: Band[] = [];
  for (const band of bands) {
    const last = joined.at(-1);
    if (last?.filamentId === band.filamentId)
      joined[joined.length - 1] = { ...last, layers: last.layers + band.layers };
    else joined.push(band);
  }
  return { grid: plan.grid, bands: joined };
}

/**
 * The colours that the bare grounds show, `#rrggbb`: the white one may be too thin to be quite opaque, and lies over
 * nothing that throws light back.
 */
export function groundColours(
  plan: WedgePlan,
  filaments: WedgeFilaments,
): { readonly white: string; readonly black: string } {
  const ramp = rampOfStack(wedgeStack(plan, WEDGE_ROLES), filaments);
  const most = plan.stepLayers.at(-1) ?? 0;
  const at = (layer: number): string => formatHex(ramp[layer - 1]?.colour ?? [0, 0, 0]);
  return {
    white: at(plan.whiteLayers),
    black: at(plan.whiteLayers + most + plan.blackLayers),
  };
}

/** The three filaments of a wedge by their part in it. */
export type WedgeFilaments = Readonly<Record<'white' | 'tested' | 'black', Filament>>;

/** Names of the three filaments where they are told apart by their part in the wedge. */
export const WEDGE_ROLES = { white: 'white', tested: 'tested', black: 'black' } as const;

/** The shape of a wedge: heights in layers, samples of {@link WEDGE_SAMPLE_MM}. */
export function wedgeHeights(plan: WedgePlan): HeightMap {
  const columns = Math.round(plan.widthMm / WEDGE_SAMPLE_MM);
  const rows = Math.round(plan.heightMm / WEDGE_SAMPLE_MM);
  const data = new Uint8Array(columns * rows);
  const most = plan.stepLayers.at(-1) ?? 0;
  const blackTop = plan.whiteLayers + most + plan.blackLayers;
  // Without a ground a frame as tall as the tallest step holds the others.
  const base = plan.grounded ? plan.whiteLayers : most;
  const fill = ({ x, y, width, height }: PlanRect, layers: number): void => {
    const left = Math.round(x / WEDGE_SAMPLE_MM);
    const right = Math.round((x + width) / WEDGE_SAMPLE_MM);
    const bottom = Math.round((y + height) / WEDGE_SAMPLE_MM);
    for (let row = Math.round(y / WEDGE_SAMPLE_MM); row < bottom; row += 1)
      data.fill(layers, row * columns + left, row * columns + right);
  };
  fill({ x: 0, y: 0, width: plan.widthMm, height: plan.heightMm }, base);
  if (plan.grounded)
    fill(
      { x: 0, y: BLACK_FROM_MM, width: plan.widthMm, height: BLACK_TO_MM - BLACK_FROM_MM },
      blackTop,
    );
  for (const { ground, step, rect } of plan.patches)
    if (step > 0)
      fill(
        rect,
        (ground === 'white' ? plan.whiteLayers : blackTop) + (plan.stepLayers[step - 1] ?? 0),
      );
  const raised = plan.grounded ? base + Math.min(most, NUMBER_LAYERS) : base + NUMBER_LAYERS;
  plan.stepLayers.forEach((_, i) => {
    for (const stroke of strokesOf(i + 1)) fill(stroke, raised);
  });
  return { width: columns, height: rows, data };
}

/** The cells of a step's number as small rectangles, mm. */
export function strokesOf(step: number): PlanRect[] {
  const box = numberBox(step);
  const digits = Array.from(String(step), Number);
  const cells = digits.length * (DIGIT_COLUMNS + 1) - 1;
  const left = box.x + (box.width - cells * STROKE_MM) / 2;
  const top = box.y + (box.height - DIGIT_ROWS * STROKE_MM) / 2;
  return digits.flatMap((digit, place) =>
    (DIGITS[digit] ?? []).flatMap((bits, row) =>
      Array.from({ length: DIGIT_COLUMNS }, (_, column) => column)
        .filter((column) => (bits >> (DIGIT_COLUMNS - 1 - column)) & 1)
        .map((column) => ({
          x: left + (place * (DIGIT_COLUMNS + 1) + column) * STROKE_MM,
          y: top + row * STROKE_MM,
          width: STROKE_MM,
          height: STROKE_MM,
        })),
    ),
  );
}
