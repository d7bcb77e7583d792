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
import { filamentSchema } from '#core/formats/rack-json.ts';
import type { Filament } from '#core/stack/filament.ts';
import { GREATEST_LAYER_MM, LEAST_LAYER_MM } from '#core/stack/layer-grid.ts';
import { totalLayers, type Stack } from '#core/stack/stack.ts';
import { PICTURE_KINDS } from '../platform/check-picture.ts';
import type { HeightRequest } from '../workers/protocol.ts';

/** Version of the shape below. Raise it with every change, and add a step to `migrateDocument`. */
export const SCHEMA_VERSION = 2;

const layerMm = z.number().min(LEAST_LAYER_MM).max(GREATEST_LAYER_MM);

/** A filament as a project keeps it. What was read off its wedge stays in the rack. */
const plannedFilamentSchema = filamentSchema.omit({ reading: true });

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
    filaments: z.record(z.string(), plannedFilamentSchema),
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
  return documentSchema.parse(isVersion(data, 1) ? fromVersion1(data) : data);
}

function isVersion(data: unknown, version: number): data is object {
  return typeof data === 'object' && data !== null && 'schema' in data && data.schema === version;
}

/** Version 1 did not say how a transmission became known: all were taken from labels. */
function fromVersion1(data: object): object {
  const filaments = 'filaments' in data ? Object.entries(data.filaments ?? {}) : [];
  return {
    ...data,
    schema: 2,
    filaments: Object.fromEntries(
      filaments.map(([id, filament]) => [id, { found: 'label', ...filament }]),
    ),
  };
}

/** A filament of the rack as a project keeps it. */
export function plannedFilament(filament: Filament): ProjectDocument['filaments'][string] {
  const { reading: _reading, ...rest } = filament;
  return { ...rest, basis: { ...rest.basis } };
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

/** Filaments of the rack that see otherwise than a project's copies of them do. */
export function changedInRack(
  { filaments }: Pick<ProjectDocument, 'filaments'>,
  rack: readonly Filament[],
): Filament[] {
  const looks = (filament: ProjectDocument['filaments'][string]): string =>
    JSON.stringify([
      filament.colour,
      filament.transmissionMm,
      filament.basis,
      filament.scatterSlope ?? 0,
    ]);
  return rack.filter((filament) => {
    const copy = Object.hasOwn(filaments, filament.id) ? filaments[filament.id] : undefined;
    return copy !== undefined && looks(copy) !== looks(plannedFilament(filament));
  });
}
