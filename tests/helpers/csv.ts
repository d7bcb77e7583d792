import { readFileSync } from 'node:fs';
import Papa from 'papaparse';

/** Rows of a reference table as records; figures become numbers. */
export function readTable(name: string): Record<string, number>[] {
  const text = readFileSync(new URL(`../reference/data/${name}`, import.meta.url), 'utf8');
  return Papa.parse<Record<string, number>>(text, {
    header: true,
    dynamicTyping: true,
    skipEmptyLines: true,
  }).data;
}

/** Like {@link readTable}, but it fails where a column is missing instead of giving undefined. */
export function column(row: Record<string, number>, name: string): number {
  const value = row[name];
  if (value === undefined) throw new Error(`no column ${name}`);
  return value;
}
