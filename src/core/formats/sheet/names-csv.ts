import Papa from 'papaparse';
import { fail, succeed, type Fault, type Result } from '../../base/result.ts';
import { LONGEST_LETTERING, MOST_NAMES } from '../../tags/tag-limits.ts';

export type NamesFault = Fault<'no-names' | 'too-many-names' | 'bad-quotes'>;

/** A list of names: a row a piece, a column a field. */
export interface NamesTable {
  readonly columns: readonly string[];
  readonly rows: readonly Readonly<Record<string, string>>[];
}

/** Reads a CSV of names; its first row says what the columns are. Rows without a word are passed by. */
export function readNamesCsv(text: string): Result<NamesTable, NamesFault> {
  // Rows as lists: a column may have any name, those that every object has too.
  const { data, errors } = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy' });
  const quotes = errors.find(({ type }) => type === 'Quotes');
  if (quotes) return fail('bad-quotes', String((quotes.row ?? 0) + 1));
  const [head = [], ...below] = data;
  const places = namedPlaces(head);
  const columns = places.map(([name]) => name);
  const rows = below.map((row) =>
    Object.fromEntries(
      places.map(([name, place]) => [name, (row[place] ?? '').slice(0, LONGEST_LETTERING)]),
    ),
  );
  if (rows.length === 0 || columns.length === 0) return fail('no-names');
  if (rows.length > MOST_NAMES) return fail('too-many-names', undefined, String(rows.length));
  return succeed({ columns, rows });
}

/** Names of columns with their places; a name that comes again gets a number. Columns without a name are passed by. */
function namedPlaces(head: readonly string[]): (readonly [name: string, place: number])[] {
  const taken = new Set<string>();
  return head.flatMap((cell, place) => {
    const name = cell.trim();
    if (name === '') return [];
    let free = name;
    for (let n = 1; taken.has(free); n += 1) free = `${name}_${n}`;
    taken.add(free);
    return [[free, place] as const];
  });
}
