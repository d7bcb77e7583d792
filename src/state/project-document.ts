import { z } from 'zod';
import { artworkSchema } from './slices/artwork.ts';
import { heightsSchema } from './slices/heights.ts';
import { pieceSchema } from './slices/piece.ts';
import { printSchema } from './slices/print.ts';
import { stackSchema } from './slices/stack.ts';
import { tagSchema } from '#core/tags/tag-schema.ts';

/** Version of the shape below. Raise it with every change, and add a step to `migrateDocument`. */
export const SCHEMA_VERSION = 14;

/** Longest name of a project. */
export const LONGEST_NAME = 200;

/**
 * A project in slices, one for each part of the job. A slice is checked by itself, so nothing in its schema may speak of
 * another one.
 */
export const documentSchema = z.object({
  schema: z.literal(SCHEMA_VERSION),
  name: z.string().min(1).max(LONGEST_NAME),
  artwork: artworkSchema,
  stack: stackSchema,
  heights: heightsSchema,
  piece: pieceSchema,
  print: printSchema,
  /** Where the project is a tag: what it is built of. Stack and heights follow from it, and the picture is none. */
  tag: tagSchema.nullable(),
});

/** Everything a maker decides in a project. Plain data; never changed in place. */
export type ProjectDocument = z.infer<typeof documentSchema>;

export type ArtworkSlice = ProjectDocument['artwork'];
/** An edit of the artwork as a document has it: the places of its lines by digest. */
export type KeptEdit = ArtworkSlice['edits'][number];
/** A selection as a document has it. */
export type KeptSelection = ArtworkSlice['selections'][number];
export type StackSlice = ProjectDocument['stack'];
export type HeightsSlice = ProjectDocument['heights'];
export type PieceSlice = ProjectDocument['piece'];
export type PrintSlice = ProjectDocument['print'];
export type TagSlice = NonNullable<ProjectDocument['tag']>;
/** An element of a tag as a document has it. */
export type KeptElement = TagSlice['elements'][number];
