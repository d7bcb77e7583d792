import { USUAL_PRINTER } from '#core/printer/printer.ts';
import { ONE_PIECE } from '#core/schedule/pieces.ts';
import { documentSchema, type ProjectDocument } from './project-document.ts';

/** Width of a line, mm, until the maker says otherwise. */
const USUAL_LINE_MM = USUAL_PRINTER.lineMm;

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
