import { z } from 'zod';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { printerSchema } from '#core/formats/rack/printer-schema.ts';
import { IRONING_LIMITS } from '#core/slicing/ironing-settings.ts';
import { GREATEST_LAYER_MM, LEAST_LAYER_MM } from '#core/stack/layer-grid.ts';
import { MOST_BATCHES, MOST_COPIES, WAYS, WIDEST_SPACING_MM } from '#core/schedule/pieces.ts';

/** Greatest figure that the sheet can be told: minutes, grams, mm of strand. */
export const GREATEST_FIGURE = 100_000;

/** Is a text a moment as the sheet keeps it: local time, `2026-11-25T18:30`? */
export function isMoment(text: string): boolean {
  return /^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(text) && !Number.isNaN(Date.parse(text));
}

/** What it is printed with, when, and how many of it. */
export const printSchema = z.object({
  /** The printer as it was when it was chosen: a project opens the same whatever becomes of the profile. */
  printer: printerSchema,
  /** Width of one printed line. */
  lineMm: z.number().min(0.1).max(5),
  pieces: z.object({
    copies: z.int().min(1).max(MOST_COPIES),
    spacingMm: z.number().min(0).max(WIDEST_SPACING_MM),
    way: z.enum(WAYS),
    /** Pieces printed one by one in layers of another height; see `batchesOf`. */
    own: z
      .array(
        z.object({
          copies: z.int().min(1).max(MOST_COPIES),
          layerMm: z.number().min(LEAST_LAYER_MM).max(GREATEST_LAYER_MM),
        }),
      )
      .max(MOST_BATCHES),
  }),
  /** When the print starts, local time as `2026-11-25T18:30`; null where that is open. */
  startsAt: z.string().refine(isMoment, 'no such moment').nullable(),
  /** What the slicing program says of the print without swaps. */
  slicedMinutes: z.number().gt(0).max(GREATEST_FIGURE).nullable(),
  slicedGrams: z.number().gt(0).max(GREATEST_FIGURE).nullable(),
  /** Strand put by in the splice plan. */
  spliceMarginMm: z.number().min(0).max(GREATEST_FIGURE),
  /** How tops are smoothed in G-code of our own; null where they are left as they are. */
  ironing: z
    .object({
      /** Bands, counted from 0; those that the stack has no more are passed by. */
      bands: z.array(z.int().min(0).max(MAX_LAYERS)).max(MAX_LAYERS),
      spacingMm: z.number().min(IRONING_LIMITS.spacingMm[0]).max(IRONING_LIMITS.spacingMm[1]),
      flow: z.number().min(IRONING_LIMITS.flow[0]).max(IRONING_LIMITS.flow[1]),
      speedMmS: z.number().min(IRONING_LIMITS.speedMmS[0]).max(IRONING_LIMITS.speedMmS[1]),
    })
    .nullable(),
});
