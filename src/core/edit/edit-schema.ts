import { z, type ZodType } from 'zod';
import {
  CUTOUT_EDGES,
  CUTOUT_WAYS,
  STEP_WAYS,
  type ArtworkEdit,
  type EditKind,
  type EditSettings,
} from './artwork-edit.ts';

/** Edits and selections that a project holds, strokes in one of them, and steps of a selection. */
export const MOST_EDITS = 60;
export const MOST_SELECTIONS = 40;
export const MOST_LINES = 300;
export const MOST_STEPS = 200;
/** Numbers in one line, two for each place. */
export const MOST_LINE_NUMBERS = 4000;

/** Most pixels that places may lie beside a picture. */
const FAR_PX = 60_000;

const px = z.number().min(-FAR_PX).max(FAR_PX);
const side = z.number().min(0).max(FAR_PX);
const signed = z.number().min(-1).max(1);
const share = z.number().min(0).max(1);
const degrees = z.number().min(-3600).max(3600);
const hex = z.string().regex(/^#[0-9a-f]{6}$/);

const box = z.object({ left: px, top: px, width: side, height: side });

/** A field of all edits. */
const common = {
  id: z.string().min(1).max(100),
  on: z.boolean(),
  mask: z.string().max(100).nullable(),
};

/** Settings of each kind; `points` is how the places of lines are held. */
export function settingShapes<Points extends ZodType>(points: Points) {
  const line = { radius: z.number().positive().max(FAR_PX), points };
  const lines = z.array(z.object(line)).max(MOST_LINES);
  return {
    crop: box.shape,
    turn: { degrees },
    mirror: { across: z.enum(['width', 'height']) },
    tone: {
      brightness: signed,
      contrast: signed,
      curve: z.array(z.tuple([share, share])).max(16),
    },
    white: { warmth: signed, tint: signed },
    grey: {},
    hue: {
      centre: degrees,
      half: z.number().min(0).max(180),
      soft: z.number().min(0).max(180),
      leastChroma: z.tuple([z.number().min(0).max(0.5), z.number().min(0).max(0.5)]),
      turn: z.number().min(-180).max(180),
      chroma: z.number().min(0).max(4),
      lightness: signed,
    },
    recolour: { hue: degrees, chroma: z.number().min(0).max(0.4), lightness: signed },
    denoise: { strength: share },
    sharpen: { amount: z.number().min(0).max(2), radius: z.number().min(0.2).max(20) },
    cutout: {
      way: z.enum(CUTOUT_WAYS),
      box: box.nullable(),
      keep: lines,
      drop: lines,
      edge: z.enum(CUTOUT_EDGES),
      hair: lines,
      touch: z.array(z.object({ ...line, adds: z.boolean() })).max(MOST_LINES),
      smallParts: z.boolean(),
      cleanColours: z.boolean(),
    },
    colours: {
      count: z.int().min(2).max(16).nullable(),
      thin: z.boolean(),
      palette: z
        .array(z.object({ seed: hex, colour: hex }))
        .min(1)
        .max(17)
        .nullable(),
    },
  } as const satisfies Record<EditKind, Record<string, ZodType>>;
}

/** One edit of a list. */
export function editSchema<Points extends ZodType>(points: Points) {
  const shapes = settingShapes(points);
  const of = <Kind extends EditKind>(kind: Kind) =>
    z.object({ ...common, kind: z.literal(kind), ...shapes[kind] });
  return z.discriminatedUnion('kind', [
    of('crop'),
    of('turn'),
    of('mirror'),
    of('tone'),
    of('white'),
    of('grey'),
    of('hue'),
    of('recolour'),
    of('denoise'),
    of('sharpen'),
    of('cutout'),
    of('colours'),
  ]);
}

/** One selection. */
export function selectionSchema<Points extends ZodType>(points: Points) {
  const way = z.enum(STEP_WAYS);
  return z.object({
    id: z.string().min(1).max(100),
    name: z.string().min(1).max(100),
    steps: z
      .array(
        z.discriminatedUnion('from', [
          z.object({
            way,
            from: z.literal('similar'),
            x: px,
            y: px,
            tolerance: share,
            connected: z.boolean(),
          }),
          z.object({ way, from: z.literal('box'), ...box.shape }),
          z.object({ way, from: z.literal('polygon'), points }),
          z.object({
            way,
            from: z.literal('brush'),
            radius: z.number().positive().max(FAR_PX),
            points,
          }),
          z.object({ way, from: z.literal('mask'), mask: z.string().max(100) }),
        ]),
      )
      .max(MOST_STEPS),
    grow: z.number().min(-500).max(500),
    feather: z.number().min(0).max(500),
    invert: z.boolean(),
  });
}

/** Do settings change anything? An edit that does not may as well be left out. */
export function changesNothing(edit: ArtworkEdit): boolean {
  const none: { readonly [Kind in EditKind]?: Partial<EditSettings[Kind]> } = {
    tone: { brightness: 0, contrast: 0, curve: [] },
    white: { warmth: 0, tint: 0 },
    hue: { turn: 0, chroma: 1, lightness: 0 },
    turn: { degrees: 0 },
    denoise: { strength: 0 },
    sharpen: { amount: 0 },
  };
  const still = none[edit.kind];
  if (!still) return false;
  return Object.entries(still).every(
    ([name, value]) =>
      JSON.stringify((edit as unknown as Record<string, unknown>)[name]) === JSON.stringify(value),
  );
}
