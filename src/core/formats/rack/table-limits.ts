/*
 * What the words for faults of a file must know of it, apart from its reader: the words are there from the beginning, a reader
 * comes with the first file.
 */

/** Most filaments that a file may hold. */
export const MOST_FILAMENTS = 20_000;

/** Longest texts that are kept, signs. */
export const LONGEST_TEXT = 200;
export const LONGEST_NOTE = 10_000;

/** Columns of a file of readings of a wedge. */
export const WEDGE_COLUMNS = ['ground', 'thickness_mm', 'red', 'green', 'blue'] as const;
