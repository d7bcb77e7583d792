import { z } from 'zod';
import { MAX_LAYERS } from '#core/base/raster.ts';
import {
  GREATEST_DETAIL_MM,
  GREATEST_SIDE_MM,
  LEAST_DETAIL_MM,
  LEAST_SIDE_MM,
} from '#core/relief/sampling.ts';
import { MARKS } from '#core/artwork/importance.ts';
import { filamentSchema } from '#core/formats/rack-json.ts';
import { GREATEST_FLAT_COLOURS } from '#core/heights/flat.ts';
import { HEIGHT_RULES } from '#core/heights/height-rules.ts';
import { GREATEST_CURVE_POINTS, LEAST_CURVE_POINTS } from '#core/heights/tone.ts';
import { PLATE_OUTLINES } from '#core/relief/shape.ts';
import { printerSchema } from '#core/formats/printer-json.ts';
import { MOST_COPIES, WAYS, WIDEST_SPACING_MM } from '#core/schedule/pieces.ts';
import { GREATEST_LAYER_MM, LEAST_LAYER_MM } from '#core/stack/layer-grid.ts';
import { totalLayers } from '#core/stack/stack.ts';
import { PICTURE_KINDS } from '../platform/check-picture.ts';

/** Version of the shape below. Raise it with every change, and add a step to `migrateDocument`. */
export const SCHEMA_VERSION = 6;

/** Strokes of the importance brush that a project holds, and places in one. */
export const MOST_STROKES = 400;
export const MOST_STROKE_NUMBERS = 4000;

/** Largest islands that can be asked to go, mm. */
export const GREATEST_ISLAND_MM = 10;

const hex = z.string().regex(/^#[0-9a-f]{6}$/);
const layerMm = z.number().min(LEAST_LAYER_MM).max(GREATEST_LAYER_MM);

/** Widest border or margin, and largest hole, mm; and holes at most. */
export const GREATEST_MARGIN_MM = 200;
export const MOST_HOLES = 8;

/** Greatest figure that the sheet can be told: minutes, grams, mm of strand. */
export const GREATEST_FIGURE = 100_000;

/** Is a text a moment as the sheet keeps it: local time, `2026-11-25T18:30`? */
export function isMoment(text: string): boolean {
  return /^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(text) && !Number.isNaN(Date.parse(text));
}

const share = z.number().min(0).max(1);
const sideMm = z.number().gt(0).max(GREATEST_MARGIN_MM);
const layerCount = z.int().min(1).max(MAX_LAYERS);

/** A filament as a project keeps it. What was read off its wedge, and what is left of the spool, stay in the rack. */
const plannedFilamentSchema = filamentSchema.omit({ reading: true, leftG: true });

export const documentSchema = z
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
      startsAt: z.string().refine(isMoment, 'no such moment').nullable(),
      /** What the slicing program says of the print without swaps. */
      slicedMinutes: z.number().gt(0).max(GREATEST_FIGURE).nullable(),
      slicedGrams: z.number().gt(0).max(GREATEST_FIGURE).nullable(),
      /** Strand put by in the splice plan. */
      spliceMarginMm: z.number().min(0).max(GREATEST_FIGURE),
    }),
  })
  .refine(namesItsFilaments, 'a band names a filament that is not in the project');

/** Is every filament that a band names in the project? */
export function namesItsFilaments({
  bands,
  filaments,
}: {
  readonly bands: readonly { readonly filamentId: string }[];
  readonly filaments: Readonly<Record<string, unknown>>;
}): boolean {
  return bands.every(({ filamentId }) => Object.hasOwn(filaments, filamentId));
}

/** Everything a maker decides in a project. Plain data; never changed in place. */
export type ProjectDocument = z.infer<typeof documentSchema>;
