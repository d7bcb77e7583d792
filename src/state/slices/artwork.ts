import { z } from 'zod';
import { MARKS } from '#core/artwork/importance.ts';
import {
  editSchema,
  MOST_EDITS,
  MOST_SELECTIONS,
  selectionSchema,
} from '#core/edit/edit-schema.ts';
import { PICTURE_KINDS } from '../../platform/check-picture.ts';

/** Strokes of the importance brush that a project holds, and numbers in one (two for each place). */
export const MOST_STROKES = 400;
export const MOST_STROKE_NUMBERS = 4000;

const share = z.number().min(0).max(1);
/** SHA-256 of bytes that stand beside the document; see `state/kept-data.ts`. */
const digest = z.string().regex(/^[0-9a-f]{64}$/);

/** A part of a picture, as shares of its sides. */
const boxSchema = z.object({
  left: share,
  top: share,
  width: z.number().gt(0).max(1),
  height: z.number().gt(0).max(1),
});

/** One edit of the artwork; the places of its lines by digest. */
export const documentEditSchema = editSchema(digest);
/** One named selection; the places of its lines by digest. */
export const documentSelectionSchema = selectionSchema(digest);

const mark = z.enum(MARKS);
const real = z.number();

/** A stroke of the importance brush, in shares of the picture that it was painted over. */
const strokeSchema = z.object({
  mark,
  radius: z.number().positive().max(1),
  /** Digest of the places. */
  points: digest,
  /** Where that picture lay in the original, so that the stroke stays in its place when the picture is cut or turned. */
  over: z.object({
    width: z.number().positive(),
    height: z.number().positive(),
    toOriginal: z.tuple([real, real, real, real, real, real]),
  }),
});

/** All of a selection matters more or less. */
const selectedSchema = z.object({ mark, selection: z.string().max(100) });

const zone = z.string().min(1).max(100);

/** A stroke of the zone brush, in pixels of the original. */
const zoneLineSchema = z.object({ zone, radius: z.number().positive(), points: digest });

/** All of a selection belongs to a zone. */
const zoneSelectionSchema = z.object({ zone, selection: z.string().max(100) });

/** The picture, what is edited of it, and what was painted over it. */
export const artworkSchema = z.object({
  file: z.object({
    fileName: z.string().max(500),
    kind: z.enum(PICTURE_KINDS),
    digest,
    width: z.int().min(1),
    height: z.int().min(1),
    /** The rectangle that holds all that is printed, as shares of the sides; see `OpenedArtwork`. */
    box: boxSchema.optional(),
  }),
  /** What is done to the picture, in this order. */
  edits: z.array(documentEditSchema).max(MOST_EDITS),
  selections: z.array(documentSelectionSchema).max(MOST_SELECTIONS),
  /** As `file.box`, of the edited picture; null before it is known, and without edits. */
  editedBox: boxSchema.nullable(),
  masks: z.object({
    /** What matters more or less when stacks are looked for, in the order in which it was said; see `importanceOf`. */
    importance: z.array(z.union([strokeSchema, selectedSchema])).max(MOST_STROKES),
    /** What belongs to a zone of the heights whatever its colour, in the order in which it was said. */
    zones: z.array(z.union([zoneLineSchema, zoneSelectionSchema])).max(MOST_STROKES),
  }),
});
