import { z } from 'zod';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { filamentSchema } from '#core/formats/rack/rack-json.ts';
import { GREATEST_LAYER_MM, LEAST_LAYER_MM } from '#core/stack/layer-grid.ts';
import { totalLayers } from '#core/stack/stack.ts';

const layerMm = z.number().min(LEAST_LAYER_MM).max(GREATEST_LAYER_MM);

/** A filament as a project keeps it. What was read off its wedge, and what is left of the spool, stay in the rack. */
const plannedFilamentSchema = filamentSchema.omit({ reading: true, leftG: true });

/** The layers and the bands that fill them. */
export const stackSchema = z
  .object({
    grid: z.object({
      firstLayerMm: layerMm,
      layerMm,
      baseLayerMm: layerMm.optional(),
      baseLayers: z.int().min(1).max(MAX_LAYERS).optional(),
    }),
    bands: z
      .array(
        z.object({
          id: z.string().min(1),
          filamentId: z.string().min(1),
          layers: z.int().min(1).max(MAX_LAYERS),
          /** Keeps its layers and its filament, whatever is done to its neighbours. */
          locked: z.boolean().optional(),
        }),
      )
      .min(1)
      .refine((bands) => totalLayers(bands) <= MAX_LAYERS, 'more layers than can be printed'),
    /** The height of the stack stays while bands trade layers. */
    holdTotal: z.boolean(),
    /** The filaments that the bands use, as they were: a project opens the same whatever the rack says later. */
    filaments: z.record(z.string(), plannedFilamentSchema),
  })
  .refine(
    ({ bands, filaments }) => bands.every(({ filamentId }) => Object.hasOwn(filaments, filamentId)),
    'a band names a filament that is not in the project',
  );
