import { z } from 'zod';
import { MAX_LAYERS } from '../../base/raster.ts';
import { fail, succeed, type Fault, type Result } from '../../base/result.ts';
import { GREATEST_LAYER_MM, LEAST_LAYER_MM } from '../../stack/layer-grid.ts';
import { totalLayers, type Stack } from '../../stack/stack.ts';
import type { FilamentTable } from '../../stack/stack-ramp.ts';

const layerMm = z.number().min(LEAST_LAYER_MM).max(GREATEST_LAYER_MM);

const stackFile = z.object({
  layerGrid: z.object({
    firstLayerMm: layerMm,
    layerMm,
    baseLayerMm: layerMm.optional(),
    baseLayers: z.int().min(1).max(MAX_LAYERS).optional(),
  }),
  bands: z
    .array(z.object({ filament: z.string().min(1), layers: z.int().min(1).max(MAX_LAYERS) }))
    .min(1),
});

export type StackFault = Fault<'not-json' | 'not-a-stack' | 'unknown-filament' | 'too-many-layers'>;

/** Reads a stack file: layer grid, and bands from the plate up whose filaments must be in the rack. */
export function readStackJson(text: string, filaments: FilamentTable): Result<Stack, StackFault> {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return fail('not-json', undefined, error instanceof Error ? error.message : undefined);
  }
  const parsed = stackFile.safeParse(data);
  if (!parsed.success) {
    const issue = parsed.error.issues[0];
    return fail('not-a-stack', issue?.path.join('.'), issue?.message);
  }
  const { layerGrid: grid, bands: rows } = parsed.data;
  const bands = rows.map(({ filament, layers }) => ({ filamentId: filament, layers }));
  const unknown = bands.findIndex(({ filamentId }) => !Object.hasOwn(filaments, filamentId));
  if (unknown >= 0)
    return fail('unknown-filament', `bands.${unknown}.filament`, bands[unknown]?.filamentId);
  const layers = totalLayers(bands);
  if (layers > MAX_LAYERS) return fail('too-many-layers', 'bands', String(layers));
  return succeed({ grid, bands });
}
