import { z } from 'zod';
import { fail, succeed, type Fault, type Result } from '../../base/result.ts';
import { FLUSH_PRINTS } from '../../stack/flush.ts';
import { isUsableGrid } from '../../stack/layer-grid.ts';
import { LONGEST_PAUSE_TEXT } from '../../printer/pause.ts';
import type { PrintPlan } from '../../gcode/print-plan.ts';

const mm = z.number().min(0).max(10_000);
const text = z.string().max(200);
const count = z.number().int().min(0).max(100_000);
const MOST = 5000;

const PLAN = z.object({
  stamp: text.default(''),
  swaps: z
    .array(
      z.object({
        swap: count,
        layer: count,
        stopAfterMm: mm,
        layerTopMm: mm,
        from: text,
        to: text,
      }),
    )
    .max(MOST),
  layerGrid: z
    .object({
      firstLayerMm: mm,
      layerMm: mm,
      baseLayerMm: mm.optional(),
      baseLayers: count.optional(),
    })
    .refine(isUsableGrid)
    .optional(),
  layers: count.optional(),
  widthMm: mm.optional(),
  depthMm: mm.optional(),
  lineMm: mm.optional(),
  filamentMm: z.number().min(0.5).max(5).optional(),
  areasMm2: z.array(z.number().min(0)).max(MOST).optional(),
  centresMm: z
    .array(z.tuple([z.number(), z.number()]))
    .max(MOST)
    .optional(),
  pauses: z.array(text).max(50).optional(),
  pauseText: z.string().max(LONGEST_PAUSE_TEXT).optional(),
  copies: count.optional(),
  oneByOne: z.boolean().optional(),
  purgesMm: z.array(mm).max(MOST).optional(),
  filaments: z.record(z.string(), text).optional(),
  colours: z.record(z.string(), z.string().regex(/^#[0-9a-f]{6}$/i)).optional(),
  flush: z
    .object({
      print: z.enum(FLUSH_PRINTS),
      layers: z.int().min(1).max(MOST),
      filaments: z.array(text).min(1).max(200),
      body: text,
      areasMm2: z.array(z.number().min(0)).max(200),
      purgesMm: z.array(mm).max(MOST),
    })
    .optional(),
});

/** Why a file is no plan of swaps; `where` names the field. */
export type SwapsJsonFault = Fault<'not-json' | 'not-swaps' | 'not-rising'>;

/** Reads what `swapsJson` writes; files of older versions have fewer fields, and then less can be checked. */
export function readSwapsJson(content: string): Result<PrintPlan, SwapsJsonFault> {
  let parsed: unknown;
  try {
    parsed = JSON.parse(content.replace(/^\uFEFF/, ''));
  } catch (error) {
    return fail('not-json', undefined, error instanceof Error ? error.message : undefined);
  }
  const plan = PLAN.safeParse(parsed);
  if (!plan.success) {
    const [issue] = plan.error.issues;
    return fail('not-swaps', issue?.path.join('.') ?? '', issue?.message);
  }
  const { swaps } = plan.data;
  const falls = swaps.findIndex(
    ({ stopAfterMm }, n) => n > 0 && stopAfterMm <= (swaps[n - 1]?.stopAfterMm ?? 0),
  );
  if (falls > 0) return fail('not-rising', `swaps.${falls}.stopAfterMm`);
  return succeed(plan.data);
}
