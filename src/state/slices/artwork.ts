import { z } from 'zod';
import { MARKS } from '#core/artwork/importance.ts';
import { PICTURE_KINDS } from '../../platform/check-picture.ts';

/** Strokes of the importance brush that a project holds, and numbers in one (two for each place). */
export const MOST_STROKES = 400;
export const MOST_STROKE_NUMBERS = 4000;

const share = z.number().min(0).max(1);
/** SHA-256 of bytes that stand beside the document; see `state/kept-data.ts`. */
const digest = z.string().regex(/^[0-9a-f]{64}$/);

/** The picture, and what was painted over it. */
export const artworkSchema = z.object({
  file: z.object({
    fileName: z.string().max(500),
    kind: z.enum(PICTURE_KINDS),
    digest,
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
  masks: z.object({
    /** What was painted to matter more or less when stacks are looked for; see `strokesOf`. */
    importance: z
      .array(
        z.object({
          mark: z.enum(MARKS),
          radius: z.number().positive().max(1),
          /** Digest of the places. */
          points: digest,
        }),
      )
      .max(MOST_STROKES),
  }),
});
