import Papa from 'papaparse';
import { fail, succeed, type Fault, type Result } from '../base/result.ts';
import { parseHex } from '../colour/srgb.ts';
import type { TransmissionBasis } from '../optics/filament-optics.ts';
import { PLA_DENSITY_G_CM3, USUAL_DIAMETER_MM, type Filament } from '../stack/filament.ts';

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

type Column = (typeof RACK_COLUMNS)[number];

const REQUIRED: readonly Column[] = ['id', 'name', 'colour', 'transmission_mm'];

/** Thinnest and thickest transmission that is believed, mm. */
const LEAST_TRANSMISSION_MM = 0.01;
const GREATEST_TRANSMISSION_MM = 1000;

export type RackFault = Fault<
  | 'no-rows'
  | 'missing-column'
  | 'bad-quotes'
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

function readRow(cell: (column: Column) => string, where: string): Result<Filament, RackFault> {
  for (const column of REQUIRED)
    if (cell(column) === '') return fail('missing-value', where, column);
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
  const onHand = {
    '': true,
    yes: true,
    true: true,
    '1': true,
    no: false,
    false: false,
    '0': false,
  }[cell('on_hand').toLowerCase()];
  if (onHand === undefined) return fail('bad-on-hand', where, cell('on_hand'));
  return succeed({
    id: cell('id'),
    maker: cell('maker'),
    name: cell('name'),
    material: cell('material') || 'PLA',
    colour: cell('colour').toLowerCase(),
    transmissionMm,
    basis,
    densityGCm3,
    diameterMm,
    onHand,
    note: cell('note'),
  });
}

/**
 * Reads a rack file (RFC 4180 with a header row; columns in any order, unknown ones ignored, a byte order mark allowed).
 * Only id, name, colour and transmission_mm are required; the rest have usual values. The first wrong row ends it.
 */
export function readRackCsv(text: string): Result<Filament[], RackFault> {
  const parsed = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), {
    delimiter: ',',
    skipEmptyLines: 'greedy',
  });
  const broken = parsed.errors.find(({ type }) => type === 'Quotes');
  if (broken) return fail('bad-quotes', `row ${(broken.row ?? 0) + 1}`, broken.message);
  const [header, ...rows] = parsed.data;
  if (!header || rows.length === 0) return fail('no-rows');
  const places = new Map(header.map((name, i) => [name.trim().toLowerCase(), i]));
  const missing = REQUIRED.find((column) => !places.has(column));
  if (missing) return fail('missing-column', 'row 1', missing);
  const seen = new Set<string>();
  const filaments: Filament[] = [];
  for (const [i, row] of rows.entries()) {
    const where = `row ${i + 2}`;
    const result = readRow((column) => (row[places.get(column) ?? -1] ?? '').trim(), where);
    if (!result.ok) return result;
    if (seen.has(result.value.id)) return fail('duplicate-id', where, result.value.id);
    seen.add(result.value.id);
    filaments.push(result.value);
  }
  return succeed(filaments);
}

/** Writes a rack file (RFC 4180: CRLF line ends, quotes where needed). */
export function writeRackCsv(filaments: readonly Filament[]): string {
  const rows = filaments.map((f): Record<Column, string> => ({
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
  return `${Papa.unparse(rows, { columns: [...RACK_COLUMNS], newline: '\r\n' })}\r\n`;
}
