import type { Tag } from './tag.ts';

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
