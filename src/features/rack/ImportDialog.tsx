import { useMemo, useState } from 'react';
import {
  guessColumns,
  missingColumns,
  RACK_COLUMNS,
  readRackRows,
  REQUIRED_COLUMNS,
  type ColumnMap,
  type RackColumn,
  type RackFault,
  type RackTable,
} from '#core/formats/rack/rack-csv.ts';
import { planImport, type ImportRow } from '#core/formats/rack/rack-import.ts';
import type { RackJsonFault } from '#core/formats/rack/rack-json.ts';
import type { Result } from '#core/base/result.ts';
import type { Filament } from '#core/stack/filament.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { SelectField } from '../../ui/Fields.tsx';
import { Note } from '../../ui/Note.tsx';
import { Swatch } from '../../ui/Swatch.tsx';
import styles from './Rack.module.css';

/** A file that could be read as a rack, before anything was taken from it. */
export type IncomingRack =
  | {
      readonly kind: 'csv';
      readonly fileName: string;
      readonly note: string;
      readonly table: RackTable;
    }
  | {
      readonly kind: 'json';
      readonly fileName: string;
      readonly note: string;
      readonly rows: readonly Result<Filament, RackJsonFault>[];
    };

interface ImportDialogProps {
  readonly incoming: IncomingRack;
  readonly rack: readonly Filament[];
  readonly describeFault: (fault: RackFault | RackJsonFault) => string;
  readonly onTake: (rows: readonly ImportRow[]) => void;
  readonly onClose: () => void;
}

const KIND_WORDS: Readonly<Record<ImportRow['kind'], string>> = {
  new: 'New',
  changed: 'Changed',
  same: 'Same',
  wrong: 'Wrong',
};

/** Most rows that are listed; the numbers count all. */
const MOST_LISTED = 400;

const NOWHERE = '-';

/** What a file would change in the rack, row by row, before it does. */
export function ImportDialog({
  incoming,
  rack,
  describeFault,
  onTake,
  onClose,
}: ImportDialogProps) {
  const [map, setMap] = useState<ColumnMap>(() =>
    incoming.kind === 'csv' ? guessColumns(incoming.table.header) : {},
  );
  const [without, setWithout] = useState<ReadonlySet<number>>(new Set());
  const missing = incoming.kind === 'csv' ? missingColumns(map) : [];
  const rows = useMemo((): ImportRow<RackFault | RackJsonFault>[] => {
    if (incoming.kind === 'json') return planImport(rack, incoming.rows, true);
    if (missingColumns(map).length > 0) return [];
    return planImport(rack, readRackRows(incoming.table, map), false);
  }, [incoming, rack, map]);
  const counts = useMemo(() => {
    const found: Record<ImportRow['kind'], number> = { new: 0, changed: 0, same: 0, wrong: 0 };
    for (const { kind } of rows) found[kind] += 1;
    return found;
  }, [rows]);
  const taken = rows.filter(
    (row, i) => (row.kind === 'new' || row.kind === 'changed') && !without.has(i),
  );
  // What is wrong comes first: it is what needs a look.
  const order: readonly ImportRow['kind'][] = ['wrong', 'changed', 'new', 'same'];
  const listed = rows
    .map((row, i) => ({ row, i }))
    .sort((a, b) => order.indexOf(a.row.kind) - order.indexOf(b.row.kind))
    .slice(0, MOST_LISTED);

  return (
    <Dialog
      open
      onOpenChange={(open) => {
        if (!open) onClose();
      }}
      title={`Import ${incoming.fileName}`}
      place="large"
    >
      {incoming.note ? <Note>{incoming.note}</Note> : null}
      {incoming.kind === 'csv' ? (
        <details open={missing.length > 0}>
          <summary>Columns of the file</summary>
          <div className={styles.columns}>
            {RACK_COLUMNS.map((column) => (
              <ColumnChoice
                key={column}
                column={column}
                header={incoming.table.header}
                place={map[column]}
                onChange={(place) => {
                  setMap((before) => {
                    const { [column]: _gone, ...rest } = before;
                    return place === undefined ? rest : { ...rest, [column]: place };
                  });
                }}
              />
            ))}
          </div>
        </details>
      ) : null}
      {missing.length > 0 ? (
        <p role="alert">
          Say which columns hold: {missing.join(', ')}. Without them a row is no filament.
        </p>
      ) : (
        <>
          <p data-testid="import-counts" role="status">
            {counts.new} new, {counts.changed} changed, {counts.same} the same, {counts.wrong} wrong
            {counts.wrong > 0 ? ' (wrong rows are left out; the others can be taken)' : ''}
          </p>
          <div className={styles.rows} tabIndex={0} role="region" aria-label="Rows of the file">
            {listed.map(({ row, i }) => (
              <div
                key={i}
                className={styles.importRow}
                data-kind={row.kind}
                data-testid="import-row"
              >
                <span className={styles.kind}>{KIND_WORDS[row.kind]}</span>
                {row.kind === 'new' || row.kind === 'changed' ? (
                  <input
                    type="checkbox"
                    aria-label={`Take ${row.filament.name}`}
                    checked={!without.has(i)}
                    onChange={(event) => {
                      const next = new Set(without);
                      if (event.target.checked) next.delete(i);
                      else next.add(i);
                      setWithout(next);
                    }}
                  />
                ) : (
                  <span />
                )}
                <RowWords row={row} describeFault={describeFault} />
              </div>
            ))}
            {rows.length > listed.length ? (
              <Note>and {rows.length - listed.length} more</Note>
            ) : null}
          </div>
        </>
      )}
      <div className={styles.actions}>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          look="main"
          disabled={taken.length === 0}
          onClick={() => {
            onTake(taken);
          }}
        >
          {taken.length === 1 ? 'Take 1 filament' : `Take ${taken.length} filaments`}
        </Button>
      </div>
    </Dialog>
  );
}

function ColumnChoice({
  column,
  header,
  place,
  onChange,
}: {
  readonly column: RackColumn;
  readonly header: readonly string[];
  readonly place: number | undefined;
  readonly onChange: (place: number | undefined) => void;
}) {
  const optional = REQUIRED_COLUMNS.includes(column) ? '' : ' (not needed)';
  return (
    <SelectField
      label={`${column}${optional}`}
      value={place === undefined ? NOWHERE : String(place)}
      options={[
        { value: NOWHERE, text: 'nowhere' },
        ...header.map((name, i) => ({ value: String(i), text: name || `column ${i + 1}` })),
      ]}
      onChange={(value) => {
        onChange(value === NOWHERE ? undefined : Number(value));
      }}
      testId={`column-${column}`}
    />
  );
}

function RowWords({
  row,
  describeFault,
}: {
  readonly row: ImportRow<RackFault | RackJsonFault>;
  readonly describeFault: (fault: RackFault | RackJsonFault) => string;
}) {
  if (row.kind === 'wrong')
    return <span style={{ gridColumn: 'span 2' }}>{describeFault(row.fault)}</span>;
  const { filament } = row;
  return (
    <>
      <span className={styles.colour}>
        <Swatch colour={filament.colour} widthPx={28} />
        {filament.name}
      </span>
      <span>
        {row.kind === 'changed'
          ? row.differences.map(({ field, from, to }) => `${field}: ${from} to ${to}`).join('; ') ||
            'readings'
          : `${filament.maker} ${filament.material}, ${filament.transmissionMm} mm`}
      </span>
    </>
  );
}
