import { z } from 'zod';
import { tidyMm } from '#core/base/numbers.ts';
import { MAX_LAYERS } from '#core/base/raster.ts';
import {
  GREATEST_DETAIL_MM,
  GREATEST_SIDE_MM,
  LEAST_DETAIL_MM,
  LEAST_SIDE_MM,
  planSamples,
  type SampleGrid,
} from '#core/relief/sampling.ts';
import { MARKS } from '#core/artwork/importance.ts';
import { filamentSchema } from '#core/formats/rack-json.ts';
import { aimColours, coloursOfRamp, onlyBands } from '#core/heights/closest.ts';
import { GREATEST_FLAT_COLOURS } from '#core/heights/flat.ts';
import { HEIGHT_RULES, type HeightRule } from '#core/heights/height-rules.ts';
import { GREATEST_CURVE_POINTS, LEAST_CURVE_POINTS } from '#core/heights/tone.ts';
import { smoothMmOf } from '#core/relief/relief-mesh.ts';
import { padOfShape, PLATE_OUTLINES } from '#core/relief/shape.ts';
import { USUAL_PRINTER } from '#core/printer/printer.ts';
import { printerSchema } from '#core/formats/printer-json.ts';
import { MOST_COPIES, ONE_PIECE, WAYS, WIDEST_SPACING_MM } from '#core/schedule/pieces.ts';
import type { Filament } from '#core/stack/filament.ts';
import { evenTops, GREATEST_LAYER_MM, LEAST_LAYER_MM } from '#core/stack/layer-grid.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { totalLayers, type Stack } from '#core/stack/stack.ts';
import { PICTURE_KINDS } from '../platform/check-picture.ts';
import type { HeightRequest } from '../workers/protocol.ts';

/** Version of the shape below. Raise it with every change, and add a step to `migrateDocument`. */
export const SCHEMA_VERSION = 6;

/** Strokes of the importance brush that a project holds, and places in one. */
export const MOST_STROKES = 400;
export const MOST_STROKE_NUMBERS = 4000;

/** Width of a line, mm, until the maker says otherwise. */
const USUAL_LINE_MM = USUAL_PRINTER.lineMm;

/** Largest islands that can be asked to go, mm. */
export const GREATEST_ISLAND_MM = 10;

const hex = z.string().regex(/^#[0-9a-f]{6}$/);
const layerMm = z.number().min(LEAST_LAYER_MM).max(GREATEST_LAYER_MM);

/** Widest border or margin, and largest hole, mm; and holes at most. */
export const GREATEST_MARGIN_MM = 200;
export const MOST_HOLES = 8;

const share = z.number().min(0).max(1);
const sideMm = z.number().gt(0).max(GREATEST_MARGIN_MM);
const layerCount = z.int().min(1).max(MAX_LAYERS);

/** A filament as a project keeps it. What was read off its wedge, and what is left of the spool, stay in the rack. */
const plannedFilamentSchema = filamentSchema.omit({ reading: true, leftG: true });

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
      /** The rectangle that holds all that is printed, as shares of the sides; see `OpenedArtwork`. */
      box: z
        .object({
          left: share,
          top: share,
          width: z.number().gt(0).max(1),
          height: z.number().gt(0).max(1),
        })
        .optional(),
    }),
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
    /** What was painted to matter more or less when stacks are looked for; see `paintImportance`. */
    importance: z
      .array(
        z.object({
          mark: z.enum(MARKS),
          radius: z.number().positive().max(1),
          points: z.array(z.number().min(-1).max(2)).min(2).max(MOST_STROKE_NUMBERS),
        }),
      )
      .max(MOST_STROKES),
    leastLayers: z.int().min(1).max(MAX_LAYERS),
    widthMm: z.number().min(LEAST_SIDE_MM).max(GREATEST_SIDE_MM),
    /** Height of the picture where it does not follow from the width by its proportions. */
    heightMm: z.number().min(LEAST_SIDE_MM).max(GREATEST_SIDE_MM).nullable(),
    /** Width and height are those of what is printed, without cut-away margins. */
    trim: z.boolean(),
    shape: z.object({
      border: z.object({ widthMm: sideMm, layers: layerCount }).nullable(),
      plate: z
        .object({
          outline: z.enum(PLATE_OUTLINES),
          marginMm: z.number().min(0).max(GREATEST_MARGIN_MM),
          layers: layerCount,
        })
        .nullable(),
      cornerMm: z.number().min(0).max(GREATEST_SIDE_MM),
      holes: z
        .array(
          z.object({
            xMm: z.number().min(0).max(GREATEST_SIDE_MM),
            yMm: z.number().min(0).max(GREATEST_SIDE_MM),
            diameterMm: z.number().gt(0).max(GREATEST_MARGIN_MM),
          }),
        )
        .max(MOST_HOLES),
    }),
    /** What the piece has to fit on or into. */
    opening: z
      .object({
        kind: z.enum(['bed', 'frame']),
        widthMm: z.number().gt(0).max(GREATEST_SIDE_MM),
        heightMm: z.number().gt(0).max(GREATEST_SIDE_MM),
        depthMm: z.number().gt(0).max(1000).nullable(),
        /** A round bed: width and height are its diameter. */
        round: z.boolean().optional(),
      })
      .nullable(),
    /** Outlines follow the samples, or cut their corners smoothly; counts under flat areas alone. */
    outlines: z.enum(['samples', 'smooth']),
    /** Width of one printed line. */
    lineMm: z.number().min(0.1).max(5),
    detailMm: z.number().min(LEAST_DETAIL_MM).max(GREATEST_DETAIL_MM),
    /** The printer as it was when it was chosen: a project opens the same whatever becomes of the profile. */
    printer: printerSchema,
    pieces: z.object({
      copies: z.int().min(1).max(MOST_COPIES),
      spacingMm: z.number().min(0).max(WIDEST_SPACING_MM),
      way: z.enum(WAYS),
    }),
    sheet: z.object({
      /** When the print starts, local time as `2026-11-25T18:30`; null where that is open. */
      startsAt: z
        .string()
        .regex(/^\d{4}-\d\d-\d\dT\d\d:\d\d$/)
        .refine((text) => !Number.isNaN(Date.parse(text)), 'no such moment')
        .nullable(),
      /** What the slicing program says of the print without swaps. */
      slicedMinutes: z.number().gt(0).max(100_000).nullable(),
      slicedGrams: z.number().gt(0).max(100_000).nullable(),
      /** Strand put by in the splice plan. */
      spliceMarginMm: z.number().min(0).max(100_000),
    }),
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
  if (isVersion(present, 3)) present = fromVersion3(present);
  if (isVersion(present, 4)) present = fromVersion4(present);
  if (isVersion(present, 5)) present = fromVersion5(present);
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

/** Version 3 could not hold the height of the stack. */
function fromVersion3(data: object): object {
  return { ...data, schema: 4, holdTotal: false };
}

/** What version 4 had not: importance, and pieces other than their picture. */
export const PLAIN_PIECE = {
  importance: [],
  heightMm: null,
  trim: false,
  shape: { border: null, plate: null, cornerMm: 0, holes: [] },
  opening: null,
  lineMm: USUAL_LINE_MM,
};

function fromVersion4(data: object): object {
  return { ...data, ...structuredClone(PLAIN_PIECE), schema: 5 };
}

/** What version 5 had not: a printer, several pieces, and what the sheet is told. */
export const PLAIN_PRINT = {
  outlines: 'samples' as const,
  printer: USUAL_PRINTER,
  pieces: ONE_PIECE,
  sheet: { startsAt: null, slicedMinutes: null, slicedGrams: null, spliceMarginMm: 300 },
};

function fromVersion5(data: object): object {
  return { ...data, ...structuredClone(PLAIN_PRINT), schema: 6 };
}

/** A filament of the rack as a project keeps it. */
export function plannedFilament(filament: Filament): ProjectDocument['filaments'][string] {
  const { reading: _reading, leftG: _leftG, ...rest } = filament;
  return { ...rest, basis: { ...rest.basis } };
}

/** The stack of a document. */
export function stackOf({ grid, bands }: Pick<ProjectDocument, 'grid' | 'bands'>): Stack {
  return { grid, bands };
}

/** What decides the size of a piece. */
type Sized = Pick<
  ProjectDocument,
  'widthMm' | 'heightMm' | 'detailMm' | 'artwork' | 'trim' | 'shape'
>;

const WHOLE = { left: 0, top: 0, width: 1, height: 1 };

/** The part of the artwork that its size speaks of, as shares. */
function sizedBox({ artwork, trim }: Pick<Sized, 'artwork' | 'trim'>): typeof WHOLE {
  return trim ? (artwork.box ?? WHOLE) : WHOLE;
}

/** Height over width of what the size speaks of, by the proportions of the artwork. */
export function heightRatioOf(sized: Pick<Sized, 'artwork' | 'trim'>): number {
  const box = sizedBox(sized);
  return (sized.artwork.height * box.height) / (sized.artwork.width * box.width);
}

/** Height of the picture, mm: its own where width and height are not linked, otherwise by its proportions. */
export function heightMmOf(
  sized: Pick<Sized, 'widthMm' | 'heightMm' | 'artwork' | 'trim'>,
): number {
  return sized.heightMm ?? sized.widthMm * heightRatioOf(sized);
}

/** The samples that a document's relief is made of. */
export function samplesOf(document: Sized): SampleGrid {
  const box = sizedBox(document);
  return planSamples(
    document.widthMm / box.width,
    heightMmOf(document) / box.height,
    document.detailMm,
    padOfShape(document.shape),
  );
}

/** Size of what is printed, mm, with border and plate. */
export function pieceSizeOf(document: Sized): {
  readonly widthMm: number;
  readonly heightMm: number;
} {
  const { widthMm, heightMm } = samplesOf(document);
  const { border, plate } = document.shape;
  const box = document.artwork.box ?? WHOLE;
  // A border or a plate reaches over the whole piece; one of the picture's own outline grows with it.
  if (border || (plate && plate.outline !== 'own')) return { widthMm, heightMm };
  const grown = 2 * (plate?.marginMm ?? 0);
  const pad = 2 * padOfShape(document.shape);
  return {
    widthMm: tidyMm(Math.min(widthMm, (widthMm - pad) * box.width + grown)),
    heightMm: tidyMm(Math.min(heightMm, (heightMm - pad) * box.height + grown)),
  };
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

/** How far smooth outlines of a document may be simplified, mm; undefined where they follow the samples. */
export function smoothMmOfDocument({
  heightRule,
  outlines,
  printer,
}: Pick<ProjectDocument, 'heightRule' | 'outlines' | 'printer'>): number | undefined {
  return heightRule === 'flat' && outlines === 'smooth' ? smoothMmOf(printer.nozzleMm) : undefined;
}

/** What the worker needs for the heights of a document on some grid: the shown one, or the finished relief's. */
export function heightRequest(
  document: ProjectDocument,
  {
    columns,
    rows,
    detailMm,
    pad,
  }: Pick<SampleGrid, 'columns' | 'rows' | 'detailMm' | 'pad'> = samplesOf(document),
): HeightRequest {
  return {
    columns,
    rows,
    detailMm,
    rule: ruleOf(document),
    layers: totalLayers(document.bands),
    leastLayers: document.leastLayers,
    tops: evenTops(document.grid, totalLayers(document.bands)),
    ...(pad === undefined ? {} : { pad }),
    shape: document.shape,
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
