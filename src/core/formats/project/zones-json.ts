import { z } from 'zod';
import { fail, succeed, type Fault, type Result } from '../../base/result.ts';
import { MAX_LAYERS } from '../../base/raster.ts';
import { MOST_LEAN } from '../../stack/lean.ts';
import { GREATEST_CURVE_POINTS, LEAST_CURVE_POINTS } from '../../heights/tone.ts';
import type { Zone } from '../../heights/zones.ts';
import { MOST_ZONE_COLOURS, MOST_ZONES, USUAL_SHARED } from '../../zones/zone.ts';

/** Zones as a file has them, lowest first. */
export interface ZonesFile {
  readonly zones: readonly Zone[];
  readonly shared: number | null;
  /** Undefined where the file says nothing. */
  readonly lean: number | undefined;
  readonly softMm: number;
}

export type ZonesFault = Fault<'not-json' | 'not-zones'>;

const layer = z.int().min(1).max(MAX_LAYERS);

const zoneSchema = z.strictObject({
  /** What it is called says nothing here. */
  name: z.string().optional(),
  colours: z
    .array(z.string().regex(/^#[0-9a-f]{6}$/))
    .min(1)
    .max(2 * MOST_ZONE_COLOURS),
  reversed: z.boolean().default(false),
  span: z.tuple([layer, layer]).nullable().default(null),
  curve: z
    .array(z.tuple([z.number().min(0).max(100), z.number().min(0).max(1)]))
    .min(LEAST_CURVE_POINTS)
    .max(GREATEST_CURVE_POINTS)
    .optional(),
});

const fileSchema = z.strictObject({
  zones: z.array(zoneSchema).min(1).max(MOST_ZONES),
  shared: z.int().min(0).max(MAX_LAYERS).nullable().default(USUAL_SHARED),
  lean: z.number().min(0).max(MOST_LEAN).optional(),
  softMm: z.number().min(0).max(10).default(0),
});

/**
 * Reads zones: `{"zones": [{"colours": ["#rrggbb"], "reversed": false, "span": [3, 12], "curve": [[L*, 0..1], ..]}], "shared": 3,
 * "lean": 15, "softMm": 0}`, lowest zone first. Unknown fields are refused by name.
 */
export function readZonesJson(text: string): Result<ZonesFile, ZonesFault> {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return fail('not-json', undefined, error instanceof Error ? error.message : undefined);
  }
  const read = fileSchema.safeParse(data);
  if (!read.success) {
    const [issue] = read.error.issues;
    return fail('not-zones', issue?.path.join('.'), issue?.message);
  }
  const { zones, shared, lean, softMm } = read.data;
  return succeed({
    zones: zones.map(({ colours, reversed, span, curve }) => ({
      colours,
      reversed,
      span,
      ...(curve
        ? {
            curve: curve
              .map(([lightness, position]) => ({ lightness, position }))
              .sort((one, other) => one.lightness - other.lightness),
          }
        : {}),
    })),
    shared,
    lean,
    softMm,
  });
}
