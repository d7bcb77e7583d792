import Papa from 'papaparse';
import { fail, succeed, type Fault, type Result } from '../../base/result.ts';
import { MOST_NAMES } from './names-limits.ts';

export type NamesFault = Fault<'no-names' | 'too-many-names' | 'bad-quotes'>;

/** A list of names: a row a piece, a column a field. */
export interface NamesTable {
  readonly columns: readonly string[];
  readonly rows: readonly Readonly<Record<string, string>>[];
}

/** Reads a CSV of names; its first row says what the columns are. Rows without a word are passed by. */
export function readNamesCsv(text: string): Result<NamesTable, NamesFault> {
  const { data, errors, meta } = Papa.parse<Record<string, string>>(text, {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (name) => name.trim(),
  });
  const quotes = errors.find(({ type }) => type === 'Quotes');
  if (quotes) return fail('bad-quotes', String((quotes.row ?? 0) + 2));
  const columns = (meta.fields ?? []).filter((name) => name !== '');
  const rows = data.map((row) =>
    Object.fromEntries(columns.map((name) => [name, (row[name] ?? '').slice(0, 400)])),
  );
  if (rows.length === 0 || columns.length === 0) return fail('no-names');
  if (rows.length > MOST_NAMES) return fail('too-many-names', undefined, String(rows.length));
  return succeed({ columns, rows });
}
