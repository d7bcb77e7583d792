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
import { aimColours, coloursOfRamp, onlyBands } from '#core/heights/closest.ts';
import { GREATEST_FLAT_COLOURS } from '#core/heights/flat.ts';
import { HEIGHT_RULES, type HeightRule } from '#core/heights/height-rules.ts';
import { GREATEST_CURVE_POINTS, LEAST_CURVE_POINTS } from '#core/heights/tone.ts';
import type { Filament } from '#core/stack/filament.ts';
import { GREATEST_LAYER_MM, LEAST_LAYER_MM } from '#core/stack/layer-grid.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { totalLayers, type Stack } from '#core/stack/stack.ts';
import { PICTURE_KINDS } from '../platform/check-picture.ts';
import type { HeightRequest } from '../workers/protocol.ts';

/** Version of the shape below. Raise it with every change, and add a step to `migrateDocument`. */
export const SCHEMA_VERSION = 3;

/** Largest islands that can be asked to go, mm. */
export const GREATEST_ISLAND_MM = 10;

const hex = z.string().regex(/^#[0-9a-f]{6}$/);
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
    /** The rule that counts. What was set under the others is kept. */
    heightRule: z.enum(HEIGHT_RULES),
    rule: z.object({
      kind: z.literal('tone'),
      blackPoint: z.number().min(0).max(100),
      whitePoint: z.number().min(0).max(100),
      midpoint: z.number().min(0).max(100),
      reversed: z.boolean(),
      curve: z
        .array(
          z.object({ lightness: z.number().min(0).max(100), position: z.number().min(0).max(1) }),
        )
        .min(LEAST_CURVE_POINTS)
        .max(GREATEST_CURVE_POINTS)
        .refine(
          (points) =>
            points.every((point, i) => point.lightness >= (points[i - 1]?.lightness ?? 0)),
          'points out of order',
        )
        .optional(),
    }),
    closest: z.object({
      /** Bands that heights may end in; null for all. */
      bandIds: z.array(z.string()).nullable(),
      aims: z
        .array(z.object({ colour: hex, layerNumber: z.int().min(1).max(MAX_LAYERS) }))
        .max(MAX_LAYERS),
    }),
    flat: z.object({
      colours: z
        .array(z.object({ colour: hex, layers: z.int().min(1).max(MAX_LAYERS) }))
        .max(GREATEST_FLAT_COLOURS),
    }),
    calm: z.number().min(0).max(1),
    /** Side of the smallest island that is printed, mm; 0 keeps all. */
    smallestMm: z.number().min(0).max(GREATEST_ISLAND_MM),
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
  let present = data;
  if (isVersion(present, 1)) present = fromVersion1(present);
  if (isVersion(present, 2)) present = fromVersion2(present);
  return documentSchema.parse(present);
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

/** Version 2 knew one rule, and neither calm nor islands: heights must stay as they were. */
function fromVersion2(data: object): object {
  return {
    ...data,
    schema: 3,
    heightRule: 'tone',
    closest: { bandIds: null, aims: [] },
    flat: { colours: [] },
    calm: 0,
    smallestMm: 0,
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

/** The height rule of a document with all that it needs. */
export function ruleOf(document: ProjectDocument): HeightRule {
  const { heightRule, rule, closest, flat, calm, smallestMm, bands } = document;
  const calming = { calm, smallestMm };
  switch (heightRule) {
    case 'closest': {
      const ramp = rampOfStack(stackOf(document), document.filaments);
      const aimed = aimColours(coloursOfRamp(ramp), closest.aims);
      const { bandIds } = closest;
      const allowed = new Set(
        bands.flatMap(({ id }, i) => (bandIds === null || bandIds.includes(id) ? [i] : [])),
      );
      // A choice of bands that are all gone counts as none.
      const colours = allowed.size > 0 ? onlyBands(aimed, ramp, allowed) : aimed;
      return { kind: 'closest', colours, ...calming };
    }
    case 'flat':
      // Before the picture was reduced there is nothing to map: tone holds the place.
      return flat.colours.length > 0
        ? { kind: 'flat', flat: flat.colours, ...calming }
        : { kind: 'tone', tone: rule, ...calming };
    default:
      return { kind: 'tone', tone: rule, ...calming };
  }
}

/** What the worker needs for the heights of a document on some grid: the shown one, or the finished relief's. */
export function heightRequest(
  document: ProjectDocument,
  { columns, rows, detailMm }: Pick<SampleGrid, 'columns' | 'rows' | 'detailMm'> = samplesOf(
    document,
  ),
): HeightRequest {
  return {
    columns,
    rows,
    detailMm,
    rule: ruleOf(document),
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
