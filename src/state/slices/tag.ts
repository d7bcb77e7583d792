import { z } from 'zod';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { MOST_NAMES } from '#core/formats/sheet/names-limits.ts';
import { OUTLINE_KINDS } from '#core/tags/outline-kinds.ts';
import { LONGEST_PATH } from '#core/tags/outline-kinds.ts';
import { FLUSH_PRINTS } from '#core/stack/flush.ts';
import { ELEMENT_SIDES, ELEMENT_WAYS, TAG_BACKS } from '#core/tags/tag.ts';

/** Limits of what can be asked of a tag; lengths in mm. */
export const TAG_LIMITS = {
  sideMm: [0.3, 400],
  placeMm: [-400, 400],
  turnDeg: [-360, 360],
  heightMm: [0.5, 200],
  /** Thousandths of an em. */
  tracking: [-200, 1000],
  lineSpacing: [0.5, 4],
  /** Radius of an arc; negative below. */
  arcMm: [-1000, 1000],
  widthMm: [0.05, 100],
  holeMm: [0.5, 200],
} as const;

/** Layers of a plate: there is room above it for what is raised. */
export const MOST_PLATE_LAYERS = 200;

/** Layers that inlays of a flush face are thick at most: more would take filament that nobody sees. */
export const MOST_FLUSH_LAYERS = 20;

/** Fonts of the maker's own in one tag. */
export const MOST_FONTS = 12;

/** Columns of a list of names. */
export const MOST_COLUMNS = 20;

/** Elements on one tag, and letters in one of them. */
export const MOST_ELEMENTS = 200;
export const LONGEST_LETTERING = 400;

const within = ([least, most]: readonly [number, number]) => z.number().min(least).max(most);
const { sideMm, placeMm, turnDeg, heightMm, tracking, lineSpacing, arcMm, widthMm, holeMm } =
  TAG_LIMITS;

const outlineSchema = z
  .object({
    kind: z.enum(OUTLINE_KINDS),
    widthMm: within(sideMm),
    heightMm: within(sideMm),
    cornerMm: z.number().min(0).max(200),
    /** SVG path data, where it is a path. */
    path: z.string().max(LONGEST_PATH).optional(),
    fill: z.enum(['nonzero', 'evenodd']).optional(),
    grownMm: within([0, 50]).optional(),
  })
  .refine(({ kind, path }) => kind !== 'path' || path !== undefined, 'a path that is missing');

const named = {
  id: z.string().min(1).max(100),
  name: z.string().max(200),
  group: z.string().min(1).max(100).nullable(),
};
const place = {
  xMm: within(placeMm),
  yMm: within(placeMm),
  turnDeg: within(turnDeg),
  mirrored: z.boolean(),
};
const layers = z.int().min(1).max(MAX_LAYERS);
const colour = {
  filamentId: z.string().min(1),
  way: z.enum(ELEMENT_WAYS),
  side: z.enum(ELEMENT_SIDES),
  layers,
  level: layers,
};

const elementSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('text'),
    ...named,
    ...place,
    ...colour,
    text: z.string().max(LONGEST_LETTERING),
    face: z.string().min(1).max(100),
    heightMm: within(heightMm),
    tracking: within(tracking),
    lineSpacing: within(lineSpacing),
    arcMm: within(arcMm),
    fitMm: z.number().min(0).max(400),
  }),
  z.object({ kind: z.literal('shape'), ...named, ...place, ...colour, outline: outlineSchema }),
  z.object({
    kind: z.literal('rim'),
    ...named,
    ...colour,
    insetMm: z.number().min(0).max(100),
    widthMm: within(widthMm),
  }),
  z.object({
    kind: z.literal('hole'),
    ...named,
    ...place,
    diameterMm: within(holeMm),
    lengthMm: within(holeMm),
  }),
  z.object({
    kind: z.literal('loop'),
    ...named,
    ...place,
    diameterMm: within(holeMm),
    rimMm: within(widthMm),
  }),
]);

/** A flat-colour piece built from outlines; see `Tag`. */
export const tagSchema = z
  .object({
    outline: outlineSchema,
    plate: z.object({
      filamentId: z.string().min(1),
      layers: z.int().min(1).max(MOST_PLATE_LAYERS),
      chamferLayers: z.int().min(0).max(MAX_LAYERS),
    }),
    elements: z.array(elementSchema).max(MOST_ELEMENTS),
    flush: z.object({
      print: z.enum(FLUSH_PRINTS),
      layers: z.int().min(1).max(MOST_FLUSH_LAYERS),
    }),
    back: z.enum(TAG_BACKS),
    levels: z.enum(['found', 'own']),
    fonts: z
      .array(z.object({ id: z.string().regex(/^[0-9a-f]{64}$/), name: z.string().max(200) }))
      .max(MOST_FONTS),
    series: z
      .object({
        columns: z.array(z.string().max(100)).min(1).max(MOST_COLUMNS),
        rows: z
          .array(z.array(z.string().max(LONGEST_LETTERING)).max(MOST_COLUMNS))
          .min(1)
          .max(MOST_NAMES),
        spacingMm: z.number().min(0).max(50),
        plate: z.int().min(0).max(MOST_NAMES),
      })
      .nullable(),
  })
  .refine(
    ({ elements }) => new Set(elements.map(({ id }) => id)).size === elements.length,
    'two elements of one id',
  );
