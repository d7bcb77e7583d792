import type { OutlinePiece } from './outline-piece.ts';
import { UNITS_PER_MM, type Box, type Ring } from './rings.ts';
import type { Series, Tag } from './tag.ts';

/** One piece of a series: what its fields stand for. */
export type SeriesRow = Readonly<Record<string, string>>;

/** The field that counts the pieces, from 1. */
export const NUMBER_FIELD = '#';

/** Fields of a lettering: words in braces. */
export function fieldsOf({ elements }: Pick<Tag, 'elements'>): string[] {
  const fields = new Set<string>();
  for (const element of elements)
    if (element.kind === 'text')
      for (const [, field] of element.text.matchAll(/\{([^{}\n]+)\}/g))
        fields.add((field as string).trim());
  return [...fields];
}

/**
 * A tag with what one row has for its fields; `\n` or `|` in a cell breaks the line. A field that the row does not have stays as
 * it is, so that one sees it.
 * @param number counted from 1, for {@link NUMBER_FIELD}
 * @param digits of the number at least, with zeros before it
 */
export function fillFields(tag: Tag, row: SeriesRow, number: number, digits = 1): Tag {
  const names = new Map(
    Object.entries(row).map(([name, value]) => [name.trim().toLowerCase(), value]),
  );
  const valueOf = (whole: string, field: string): string => {
    const name = field.trim();
    if (name === NUMBER_FIELD) return String(number).padStart(digits, '0');
    const value = names.get(name.toLowerCase());
    return value === undefined ? whole : value.trim().replace(/\\n|\s*\|\s*/g, '\n');
  };
  return {
    ...tag,
    elements: tag.elements.map((element) =>
      element.kind === 'text'
        ? { ...element, text: element.text.replace(/\{([^{}\n]+)\}/g, valueOf) }
        : element,
    ),
  };
}

/** One row of a series by the names of its columns. */
export function rowOf({ columns, rows }: Series, index: number): SeriesRow {
  return Object.fromEntries(columns.map((name, k) => [name, rows[index]?.[k] ?? '']));
}

/** How pieces of one size lie on plates. */
export interface PlatePlan {
  readonly perPlate: number;
  readonly plates: number;
  /** Pieces side by side. */
  readonly columns: number;
}

/**
 * How many pieces of a size a bed holds, in rows and columns as long as the bed is; one at least, which then is larger than it.
 * @param bed a round one counts as the square within it
 */
export function planPlates(
  count: number,
  widthMm: number,
  heightMm: number,
  spacingMm: number,
  bed: { readonly widthMm: number; readonly depthMm: number },
): PlatePlan {
  const fits = (bedMm: number, sideMm: number): number =>
    Math.max(1, Math.floor((bedMm + spacingMm + 1e-6) / (sideMm + spacingMm)));
  const columns = fits(bed.widthMm, widthMm);
  const perPlate = columns * fits(bed.depthMm, heightMm);
  return {
    perPlate,
    columns: Math.min(columns, count),
    plates: Math.max(1, Math.ceil(count / perPlate)),
  };
}

/**
 * Pieces side by side as one: in rows from the top left, each in the middle of its place. Inlays of all of them are the same ones.
 * @param cell the largest width and height of them, mm
 */
export function joinPieces(
  pieces: readonly OutlinePiece[],
  columns: number,
  cell: { readonly widthMm: number; readonly heightMm: number },
  spacingMm: number,
): OutlinePiece {
  const shapes = pieces.flatMap(({ shapes: own, box }, i) => {
    const column = i % columns;
    const row = Math.floor(i / columns);
    const x = column * (cell.widthMm + spacingMm) + cell.widthMm / 2 - (box.left + box.right) / 2;
    const y = -row * (cell.heightMm + spacingMm) - cell.heightMm / 2 - (box.bottom + box.top) / 2;
    // Whole units, so that equal pieces are equal to the last corner.
    const [dx, dy] = [Math.round(x * UNITS_PER_MM), Math.round(y * UNITS_PER_MM)];
    return own.map((shape) => ({
      ...shape,
      rings: shape.rings.map((ring): Ring => ring.map((at, n) => at + (n % 2 === 0 ? dx : dy))),
    }));
  });
  const across = Math.min(columns, pieces.length);
  const down = Math.max(1, Math.ceil(pieces.length / columns));
  const box: Box = {
    left: 0,
    right: across * cell.widthMm + (across - 1) * spacingMm,
    bottom: -(down * cell.heightMm + (down - 1) * spacingMm),
    top: 0,
  };
  const inlays = pieces.find((piece) => piece.inlays)?.inlays;
  return { shapes, box, ...(inlays ? { inlays } : {}) };
}
