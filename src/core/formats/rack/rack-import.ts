import type { Fault, Result } from '../../base/result.ts';
import { formatBasis } from './rack-csv.ts';
import type { Filament } from '../../stack/filament.ts';

/** A field of a filament whose value a file would change. */
export interface Difference {
  readonly field: string;
  readonly from: string;
  readonly to: string;
}

/** What taking in one row of a file would do. */
export type ImportRow<Failure extends Fault = Fault> =
  | { readonly kind: 'new'; readonly filament: Filament }
  | {
      readonly kind: 'changed';
      readonly filament: Filament;
      readonly differences: readonly Difference[];
    }
  | { readonly kind: 'same'; readonly filament: Filament }
  | { readonly kind: 'wrong'; readonly fault: Failure };

/** Fields that are compared and shown, with how they are written. */
const SHOWN: readonly (readonly [string, (filament: Filament) => string])[] = [
  ['maker', ({ maker }) => maker],
  ['name', ({ name }) => name],
  ['material', ({ material }) => material],
  ['colour', ({ colour }) => colour],
  ['transmission', ({ transmissionMm, basis }) => `${transmissionMm} mm ${formatBasis(basis)}`],
  ['found', ({ found }) => found],
  ['density', ({ densityGCm3 }) => `${densityGCm3} g/cm3`],
  ['diameter', ({ diameterMm }) => `${diameterMm} mm`],
  ['on hand', ({ onHand }) => (onHand ? 'yes' : 'no')],
  ['note', ({ note }) => note],
];

/** What would change in a filament. */
export function compareFilaments(before: Filament, after: Filament): Difference[] {
  return SHOWN.map(([field, write]) => ({ field, from: write(before), to: write(after) })).filter(
    ({ from, to }) => from !== to,
  );
}

/**
 * Compares the rows of a file with a rack, by id. A file without measurements (a CSV) takes none away: where it says the
 * same transmission and colour, how they became known stays as it is.
 * @param measured true when the file itself says how values became known
 */
export function planImport<Failure extends Fault>(
  rack: readonly Filament[],
  rows: readonly Result<Filament, Failure>[],
  measured: boolean,
): ImportRow<Failure>[] {
  const table = new Map(rack.map((filament) => [filament.id, filament]));
  return rows.map((row): ImportRow<Failure> => {
    if (!row.ok) return { kind: 'wrong', fault: row.fault };
    const before = table.get(row.value.id);
    if (!before) return { kind: 'new', filament: row.value };
    const filament = measured ? row.value : keepFinding(before, row.value);
    const differences = compareFilaments(before, filament);
    const equal = differences.length === 0 && JSON.stringify(before) === JSON.stringify(filament);
    return equal ? { kind: 'same', filament } : { kind: 'changed', filament, differences };
  });
}

function keepFinding(before: Filament, after: Filament): Filament {
  const sameValue =
    before.transmissionMm === after.transmissionMm &&
    before.colour === after.colour &&
    formatBasis(before.basis) === formatBasis(after.basis);
  if (!sameValue) return after;
  return { ...before, ...after, found: before.found };
}

/** The rack after taking in the chosen rows: changed filaments stay in their place, new ones follow. */
export function applyImport(rack: readonly Filament[], rows: readonly ImportRow[]): Filament[] {
  const taken = new Map(
    rows.flatMap((row) => (row.kind === 'wrong' ? [] : [[row.filament.id, row.filament]])),
  );
  const known = new Set(rack.map(({ id }) => id));
  return [
    ...rack.map((filament) => taken.get(filament.id) ?? filament),
    ...[...taken.values()].filter(({ id }) => !known.has(id)),
  ];
}
