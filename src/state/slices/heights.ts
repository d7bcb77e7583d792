import { z } from 'zod';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { GREATEST_FLAT_COLOURS } from '#core/heights/flat.ts';
import { HEIGHT_RULES } from '#core/heights/height-rules.ts';
import { GREATEST_CURVE_POINTS, LEAST_CURVE_POINTS } from '#core/heights/tone.ts';

/** Largest islands that can be asked to go, mm. */
export const GREATEST_ISLAND_MM = 10;

const hex = z.string().regex(/^#[0-9a-f]{6}$/);
const layerNumber = z.int().min(1).max(MAX_LAYERS);
const lightness = z.number().min(0).max(100);

/** How heights follow from the picture. */
export const heightsSchema = z.object({
  /** The rule that counts. What was set under the others is kept. */
  rule: z.enum(HEIGHT_RULES),
  tone: z.object({
    kind: z.literal('tone'),
    blackPoint: lightness,
    whitePoint: lightness,
    midpoint: lightness,
    reversed: z.boolean(),
    curve: z
      .array(z.object({ lightness, position: z.number().min(0).max(1) }))
      .min(LEAST_CURVE_POINTS)
      .max(GREATEST_CURVE_POINTS)
      .refine(
        (points) => points.every((point, i) => point.lightness >= (points[i - 1]?.lightness ?? 0)),
        'points out of order',
      )
      .optional(),
  }),
  closest: z.object({
    /** Bands that heights may end in; null for all. */
    bandIds: z.array(z.string()).nullable(),
    aims: z.array(z.object({ colour: hex, layerNumber })).max(MAX_LAYERS),
  }),
  flat: z.object({
    colours: z.array(z.object({ colour: hex, layers: layerNumber })).max(GREATEST_FLAT_COLOURS),
  }),
  calm: z.number().min(0).max(1),
  /** Side of the smallest island that is printed, mm; 0 keeps all. */
  smallestMm: z.number().min(0).max(GREATEST_ISLAND_MM),
  leastLayers: layerNumber,
});
