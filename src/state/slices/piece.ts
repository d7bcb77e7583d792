import { z } from 'zod';
import { MAX_LAYERS } from '#core/base/raster.ts';
import {
  GREATEST_SAMPLE_MM,
  GREATEST_SIDE_MM,
  LEAST_SAMPLE_MM,
  LEAST_SIDE_MM,
} from '#core/relief/sampling.ts';
import { PLATE_OUTLINES } from '#core/relief/shape.ts';

/** Widest border or margin, and largest hole, mm; and holes at most. */
export const GREATEST_MARGIN_MM = 200;
export const MOST_HOLES = 8;

const sideMm = z.number().min(LEAST_SIDE_MM).max(GREATEST_SIDE_MM);
const placeMm = z.number().min(0).max(GREATEST_SIDE_MM);
const widthMm = z.number().gt(0).max(GREATEST_MARGIN_MM);
const layers = z.int().min(1).max(MAX_LAYERS);

/** Size and form of the relief. */
export const pieceSchema = z.object({
  widthMm: sideMm,
  /** Height of the picture where it does not follow from the width by its proportions. */
  heightMm: sideMm.nullable(),
  /** Width and height are those of what is printed, without cut-away margins. */
  trim: z.boolean(),
  shape: z.object({
    border: z.object({ widthMm, layers }).nullable(),
    plate: z
      .object({
        outline: z.enum(PLATE_OUTLINES),
        marginMm: z.number().min(0).max(GREATEST_MARGIN_MM),
        layers,
      })
      .nullable(),
    cornerMm: placeMm,
    holes: z.array(z.object({ xMm: placeMm, yMm: placeMm, diameterMm: widthMm })).max(MOST_HOLES),
  }),
  /** What the piece has to fit on or into. */
  fit: z
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
  /** Side of a sample. */
  sampleMm: z.number().min(LEAST_SAMPLE_MM).max(GREATEST_SAMPLE_MM),
});
