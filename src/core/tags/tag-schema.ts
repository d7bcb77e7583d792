import { z } from 'zod';
import { MAX_LAYERS } from '../base/raster.ts';
import { FLUSH_PRINTS } from '../stack/flush.ts';
import { LONGEST_PATH, OUTLINE_KINDS } from './outline-kinds.ts';
import {
  LONGEST_LETTERING,
  MOST_COLUMNS,
  MOST_ELEMENTS,
  MOST_FLUSH_LAYERS,
  MOST_FONTS,
  MOST_NAMES,
  MOST_PLATE_LAYERS,
  TAG_LIMITS,
} from './tag-limits.ts';
import { ELEMENT_SIDES, ELEMENT_WAYS, TAG_BACKS } from './tag.ts';

const within = ([least, most]: readonly [number, number]) => z.number().min(least).max(most);
const limited = <Name extends string>(limits: Readonly<Record<Name, readonly [number, number]>>) =>
  Object.fromEntries(
    Object.entries<readonly [number, number]>(limits).map(([name, limit]) => [name, within(limit)]),
  ) as Record<Name, ReturnType<typeof within>>;

/** What each measure of a tag may be, in documents and in files alike. */
export const TAG_FIELDS = {
  ...limited(TAG_LIMITS),
  text: z.string().max(LONGEST_LETTERING),
};

const { sideMm, placeMm, turnDeg, heightMm, tracking, lineSpacing, arcMm, widthMm, holeMm } =
  TAG_FIELDS;
const { cornerMm, insetMm, fitMm, text } = TAG_FIELDS;

const outlineSchema = z
  .object({
    kind: z.enum(OUTLINE_KINDS),
    widthMm: sideMm,
    heightMm: sideMm,
    cornerMm,
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
  xMm: placeMm,
  yMm: placeMm,
  turnDeg,
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
    text,
    face: z.string().min(1).max(100),
    heightMm,
    tracking,
    lineSpacing,
    arcMm,
    fitMm,
  }),
  z.object({ kind: z.literal('shape'), ...named, ...place, ...colour, outline: outlineSchema }),
  z.object({
    kind: z.literal('rim'),
    ...named,
    ...colour,
    insetMm,
    widthMm,
  }),
  z.object({
    kind: z.literal('hole'),
    ...named,
    ...place,
    diameterMm: holeMm,
    lengthMm: holeMm,
  }),
  z.object({
    kind: z.literal('loop'),
    ...named,
    ...place,
    diameterMm: holeMm,
    rimMm: widthMm,
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
