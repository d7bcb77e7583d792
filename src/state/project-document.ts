import { z } from 'zod';
import { MAX_LAYERS } from '#core/base/raster.ts';
import {
  GREATEST_DETAIL_MM,
  GREATEST_SIDE_MM,
  LEAST_DETAIL_MM,
  LEAST_SIDE_MM,
  planSamples,
  type SampleGrid,
} from '#core/relief/sampling.ts';
import { GREATEST_LAYER_MM, LEAST_LAYER_MM } from '#core/stack/layer-grid.ts';
import { totalLayers, type Stack } from '#core/stack/stack.ts';
import { PICTURE_KINDS } from '../platform/check-picture.ts';
import type { HeightRequest } from '../workers/protocol.ts';

/** Version of the shape below. Raise it with every change, and add a step to `migrateDocument`. */
export const SCHEMA_VERSION = 1;

const layerMm = z.number().min(LEAST_LAYER_MM).max(GREATEST_LAYER_MM);

export const filamentSchema = z.object({
  id: z.string().min(1).max(200),
  maker: z.string().max(200),
  name: z.string().max(200),
  material: z.string().max(200),
  colour: z.string().regex(/^#[0-9a-f]{6}$/),
  transmissionMm: z.number().min(0.01).max(1000),
  basis: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('hiding') }),
    z.object({ kind: z.literal('light-through'), threshold: z.number().gt(0).lt(1) }),
  ]),
  densityGCm3: z.number().gt(0).max(25),
  diameterMm: z.number().gt(0).max(10),
  onHand: z.boolean(),
  note: z.string().max(10_000),
});

const documentSchema = z
  .object({
    schema: z.literal(SCHEMA_VERSION),
    name: z.string().min(1).max(200),
    artwork: z.object({
      fileName: z.string().max(500),
      kind: z.enum(PICTURE_KINDS),
      digest: z.string().regex(/^[0-9a-f]{64}$/),
      width: z.int().min(1),
      height: z.int().min(1),
    }),
    grid: z.object({ firstLayerMm: layerMm, layerMm }),
    bands: z
      .array(
        z.object({
          id: z.string().min(1),
          filamentId: z.string().min(1),
          layers: z.int().min(1).max(MAX_LAYERS),
        }),
      )
      .min(1)
      .refine((bands) => totalLayers(bands) <= MAX_LAYERS, 'more layers than can be printed'),
    /** The filaments that the bands use, as they were: a project opens the same whatever the rack says later. */
    filaments: z.record(z.string(), filamentSchema),
    rule: z.object({
      kind: z.literal('tone'),
      blackPoint: z.number().min(0).max(100),
      whitePoint: z.number().min(0).max(100),
      midpoint: z.number().min(0).max(100),
      reversed: z.boolean(),
    }),
    leastLayers: z.int().min(1).max(MAX_LAYERS),
    widthMm: z.number().min(LEAST_SIDE_MM).max(GREATEST_SIDE_MM),
    detailMm: z.number().min(LEAST_DETAIL_MM).max(GREATEST_DETAIL_MM),
  })
  .refine(
    ({ bands, filaments }) => bands.every(({ filamentId }) => Object.hasOwn(filaments, filamentId)),
    'a band names a filament that is not in the project',
  );

/** Everything a maker decides in a project. Plain data; never changed in place. */
export type ProjectDocument = z.infer<typeof documentSchema>;

/** Reads a document of this or an older schema version; throws a ZodError when it is neither. */
export function migrateDocument(data: unknown): ProjectDocument {
  return documentSchema.parse(data);
}

/** The stack of a document. */
export function stackOf({ grid, bands }: Pick<ProjectDocument, 'grid' | 'bands'>): Stack {
  return { grid, bands };
}

/** Height of the relief that belongs to its width, mm, by the proportions of the artwork. */
export function heightMmOf({
  widthMm,
  artwork,
}: Pick<ProjectDocument, 'widthMm' | 'artwork'>): number {
  return (widthMm * artwork.height) / artwork.width;
}

/** The samples that a document's relief is made of. */
export function samplesOf(
  document: Pick<ProjectDocument, 'widthMm' | 'detailMm' | 'artwork'>,
): SampleGrid {
  return planSamples(document.widthMm, heightMmOf(document), document.detailMm);
}

/** What the worker needs for the heights of a document on some grid: the shown one, or the finished relief's. */
export function heightRequest(
  document: ProjectDocument,
  { columns, rows }: Pick<SampleGrid, 'columns' | 'rows'> = samplesOf(document),
): HeightRequest {
  return {
    columns,
    rows,
    rule: document.rule,
    layers: totalLayers(document.bands),
    leastLayers: document.leastLayers,
  };
}
