import Papa from 'papaparse';
import { LONGEST_NOTE, LONGEST_TEXT, MOST_FILAMENTS } from './table-limits.ts';
import { fail, succeed, type Fault, type Result } from '../../base/result.ts';
import { parseHex } from '../../colour/srgb.ts';
import type { TransmissionBasis } from '../../optics/filament-optics.ts';
import {
  GREATEST_TRANSMISSION_MM,
  LEAST_TRANSMISSION_MM,
  PLA_DENSITY_G_CM3,
  USUAL_DIAMETER_MM,
  type Filament,
} from '../../stack/filament.ts';

/** Columns of a rack file, in the order they are written. */
export const RACK_COLUMNS = [
  'id',
  'maker',
  'name',
  'material',
  'colour',
  'transmission_mm',
  'basis',
  'density_g_cm3',
  'diameter_mm',
  'on_hand',
  'note',
] as const;

export type RackColumn = (typeof RACK_COLUMNS)[number];

/** Columns without which a row says too little. */
export const REQUIRED_COLUMNS: readonly RackColumn[] = ['id', 'name', 'colour', 'transmission_mm'];

/** Other headings under which people keep the same things. Plain words only. */
const OTHER_NAMES: ReadonlyMap<string, RackColumn> = new Map(
  Object.entries({
    key: 'id',
    code: 'id',
    vendor: 'maker',
    manufacturer: 'maker',
    title: 'name',
    type: 'material',
    color: 'colour',
    hex: 'colour',
    rgb: 'colour',
    transmission: 'transmission_mm',
    density: 'density_g_cm3',
    diameter: 'diameter_mm',
    'on hand': 'on_hand',
    'in stock': 'on_hand',
    notes: 'note',
    comment: 'note',
  } as const),
);

/** What may be written for on hand; nothing at all counts as yes. Maps, so that words of the language are no entries. */
const ON_HAND: ReadonlyMap<string, boolean> = new Map([
  ['', true],
  ['yes', true],
  ['true', true],
  ['1', true],
  ['no', false],
  ['false', false],
  ['0', false],
]);

export type RackFault = Fault<
  | 'no-rows'
  | 'missing-column'
  | 'bad-quotes'
  | 'too-many-rows'
  | 'text-too-long'
  | 'missing-value'
  | 'duplicate-id'
  | 'bad-colour'
  | 'bad-transmission'
  | 'bad-basis'
  | 'bad-density'
  | 'bad-diameter'
  | 'bad-on-hand'
>;

/** Reads a basis: `hiding`, or `light-1%` and the like; an empty cell means hiding. */
export function parseBasis(text: string): TransmissionBasis | undefined {
  if (text === '' || text === 'hiding') return { kind: 'hiding' };
  const percent = /^light-(\d+(?:\.\d+)?)\s?%$/.exec(text)?.[1];
  const threshold = Number(percent) / 100;
  return threshold > 0 && threshold < 1 ? { kind: 'light-through', threshold } : undefined;
}

/** Writes a basis the way {@link parseBasis} reads it. */
export function formatBasis(basis: TransmissionBasis): string {
  return basis.kind === 'hiding'
    ? 'hiding'
    : `light-${Number((basis.threshold * 100).toFixed(6))}%`;
}

/** A number written with a decimal point, above 0; undefined for anything else, decimal commas included. */
function positive(text: string): number | undefined {
  return /^\d+(\.\d+)?$|^\.\d+$/.test(text) && Number(text) > 0 ? Number(text) : undefined;
}

function readRow(cell: (column: RackColumn) => string, where: string): Result<Filament, RackFault> {
  for (const column of REQUIRED_COLUMNS)
    if (cell(column) === '') return fail('missing-value', where, column);
  for (const column of ['id', 'maker', 'name', 'material'] as const)
    if (cell(column).length > LONGEST_TEXT) return fail('text-too-long', where, column);
  if (cell('note').length > LONGEST_NOTE) return fail('text-too-long', where, 'note');
  if (!parseHex(cell('colour'))) return fail('bad-colour', where, cell('colour'));
  const transmissionMm = positive(cell('transmission_mm'));
  if (
    transmissionMm === undefined ||
    transmissionMm < LEAST_TRANSMISSION_MM ||
    transmissionMm > GREATEST_TRANSMISSION_MM
  )
    return fail('bad-transmission', where, cell('transmission_mm'));
  const basis = parseBasis(cell('basis'));
  if (!basis) return fail('bad-basis', where, cell('basis'));
  const densityGCm3 = positive(cell('density_g_cm3') || String(PLA_DENSITY_G_CM3));
  if (densityGCm3 === undefined || densityGCm3 > 25)
    return fail('bad-density', where, cell('density_g_cm3'));
  const diameterMm = positive(cell('diameter_mm') || String(USUAL_DIAMETER_MM));
  if (diameterMm === undefined || diameterMm > 10)
    return fail('bad-diameter', where, cell('diameter_mm'));
  const onHand = ON_HAND.get(cell('on_hand').toLowerCase());
  if (onHand === undefined) return fail('bad-on-hand', where, cell('on_hand'));
  return succeed({
    id: cell('id'),
    maker: cell('maker'),
    name: cell('name'),
    material: cell('material') || 'PLA',
    colour: cell('colour').toLowerCase(),
    transmissionMm,
    basis,
    // A file says what somebody wrote down; only the app's own wedge knows better.
    found: 'label',
    densityGCm3,
    diameterMm,
    onHand,
    note: cell('note'),
  });
}

/** A file of rows under a header, not yet understood. */
export interface RackTable {
  readonly header: readonly string[];
  readonly rows: readonly (readonly string[])[];
  /** Line of the file that each row begins on, counted from 1. */
  readonly lines: readonly number[];
}

/** Which column of a file holds what: places in the header, from 0. */
export type ColumnMap = Readonly<Partial<Record<RackColumn, number>>>;

/** What stands most often in the header: notes may hold any of these signs, the names of columns none. */
function delimiterOf(text: string): string {
  const [header = ''] = /[^\r\n]*\S[^\r\n]*/.exec(text) ?? [];
  const count = (sign: string): number => header.split(sign).length;
  return [',', ';', '\t'].reduce((best, sign) => (count(sign) > count(best) ? sign : best));
}

/**
 * Splits a rack file into header and rows: RFC 4180, and the semicolons and tabs that some table programs write instead
 * of commas. A byte order mark is allowed; empty lines are skipped.
 */
export function readRackTable(text: string): Result<RackTable, RackFault> {
  const plain = text.replace(/^\ufeff/, '');
  const parsed = Papa.parse<string[]>(plain, { delimiter: delimiterOf(plain) });
  const broken = parsed.errors.find(({ type }) => type === 'Quotes');
  if (broken) return fail('bad-quotes', `row ${(broken.row ?? 0) + 1}`, broken.message);
  const kept: string[][] = [];
  const lines: number[] = [];
  let line = 1;
  for (const row of parsed.data) {
    if (row.some((cell) => cell.trim() !== '')) {
      kept.push(row);
      lines.push(line);
    }
    line += 1 + row.reduce((sum, cell) => sum + (cell.match(/\r\n|\n|\r/g)?.length ?? 0), 0);
  }
  const [header, ...rows] = kept;
  if (!header || rows.length === 0) return fail('no-rows');
  if (rows.length > MOST_FILAMENTS) return fail('too-many-rows', undefined, String(rows.length));
  return succeed({ header: header.map((name) => name.trim()), rows, lines: lines.slice(1) });
}

/** Which columns of a header are known, by their own names first and by other common ones after that. */
export function guessColumns(header: readonly string[]): ColumnMap {
  const map: Partial<Record<RackColumn, number>> = {};
  const names = header.map((name) => name.toLowerCase());
  for (const column of RACK_COLUMNS) {
    const place = names.indexOf(column);
    if (place >= 0) map[column] = place;
  }
  names.forEach((name, place) => {
    const column = OTHER_NAMES.get(name);
    if (column && map[column] === undefined) map[column] = place;
  });
  return map;
}

/** Required columns that a map lacks. */
export function missingColumns(map: ColumnMap): RackColumn[] {
  return REQUIRED_COLUMNS.filter((column) => map[column] === undefined);
}

/**
 * What a table program would take for a formula, and what looks like one that was made harmless already: a text of the maker
 * that begins so gets one apostrophe more, which is taken away again.
 */
const FORMULA = /^'*[=+\-@\t\r]/;

/** A cell without the apostrophe that is written before a {@link FORMULA}, as {@link writeRackCsv} does. */
function plainCell(text: string): string {
  return text.startsWith("'") && FORMULA.test(text) ? text.slice(1) : text;
}

/** Every row of a table as a filament, or why it is none. A wrong row does not touch the others. */
export function readRackRows(table: RackTable, map: ColumnMap): Result<Filament, RackFault>[] {
  const seen = new Set<string>();
  return table.rows.map((row, i) => {
    const where = `row ${table.lines[i] ?? i + 2}`;
    const result = readRow((column) => plainCell((row[map[column] ?? -1] ?? '').trim()), where);
    if (!result.ok) return result;
    if (seen.has(result.value.id)) return fail('duplicate-id', where, result.value.id);
    seen.add(result.value.id);
    return result;
  });
}

/**
 * Reads a rack file (RFC 4180 with a header row; columns in any order, unknown ones ignored, a byte order mark allowed).
 * Only id, name, colour and transmission_mm are required; the rest have usual values. The first wrong row ends it.
 */
export function readRackCsv(text: string): Result<Filament[], RackFault> {
  const table = readRackTable(text);
  if (!table.ok) return table;
  const map = guessColumns(table.value.header);
  const [missing] = missingColumns(map);
  if (missing) return fail('missing-column', 'row 1', missing);
  const filaments: Filament[] = [];
  for (const row of readRackRows(table.value, map)) {
    if (!row.ok) return row;
    filaments.push(row.value);
  }
  return succeed(filaments);
}

/**
 * Writes a rack file (RFC 4180: CRLF line ends, quotes where needed). A text that a table program would run as a formula
 * gets an apostrophe before it.
 */
export function writeRackCsv(filaments: readonly Filament[]): string {
  const rows = filaments.map((f): Record<RackColumn, string> => ({
    id: f.id,
    maker: f.maker,
    name: f.name,
    material: f.material,
    colour: f.colour,
    transmission_mm: String(f.transmissionMm),
    basis: formatBasis(f.basis),
    density_g_cm3: String(f.densityGCm3),
    diameter_mm: String(f.diameterMm),
    on_hand: f.onHand ? 'yes' : 'no',
    note: f.note,
  }));
  const text = Papa.unparse(rows, {
    columns: [...RACK_COLUMNS],
    newline: '\r\n',
    escapeFormulae: FORMULA,
  });
  return `${text}\r\n`;
}
