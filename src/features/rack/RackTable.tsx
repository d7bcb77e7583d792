import { useVirtualizer } from '@tanstack/react-virtual';
import {
  createColumnHelper,
  createSortedRowModel,
  FlexRender,
  rowSelectionFeature,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type Row,
  type RowSelectionState,
} from '@tanstack/react-table';
import { ArrowDown, ArrowUp, PanelRightOpen } from 'lucide-react';
import { memo, useEffect, useMemo, useRef } from 'react';
import { brightnessOf, FINDINGS, withoutMeasurement, type Filament } from '#core/stack/filament.ts';
import { describeBasis } from '#core/stack/filament-words.ts';
import { EditableCell } from './EditableCell.tsx';
import { FINDING_WORDS, transmissionText } from './rack-words.ts';
import { Swatch } from '../../ui/Swatch.tsx';
import styles from './Rack.module.css';

const features = tableFeatures({
  rowSortingFeature,
  rowSelectionFeature,
  sortedRowModel: createSortedRowModel(),
});
const helper = createColumnHelper<typeof features, Filament>();

/** Words sort as people do, numbers in them by size: Rust 2 before Rust 10. */
const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

/** What is shown in a cell besides its value. */
interface CellActions {
  readonly onEdit: (id: string, make: (filament: Filament) => Filament) => void;
  readonly onOpen: (id: string) => void;
}

function words(id: 'maker' | 'name' | 'material' | 'note', header: string, actions: CellActions) {
  return helper.accessor(id, {
    header,
    sortFn: (a, b) => collator.compare(a.original[id], b.original[id]),
    cell: ({ row, getValue }) => (
      <EditableCell
        label={`${header} of ${row.original.name}`}
        value={getValue()}
        longest={id === 'note' ? 10_000 : 200}
        required={id === 'name'}
        onCommit={(text) => {
          actions.onEdit(row.original.id, (filament) => ({ ...filament, [id]: text }));
        }}
      />
    ),
  });
}

function columnsFor(actions: CellActions) {
  return helper.columns([
    helper.display({
      id: 'select',
      header: ({ table }) => (
        <input
          type="checkbox"
          aria-label="Select all that are shown"
          checked={table.getIsAllRowsSelected()}
          ref={(box) => {
            if (box) box.indeterminate = table.getIsSomeRowsSelected();
          }}
          onChange={table.getToggleAllRowsSelectedHandler()}
        />
      ),
      cell: ({ row }) => (
        <input
          type="checkbox"
          aria-label={`Select ${row.original.name}`}
          checked={row.getIsSelected()}
          onChange={row.getToggleSelectedHandler()}
        />
      ),
    }),
    helper.accessor('colour', {
      header: 'Colour',
      cell: ({ getValue }) => (
        <span className={styles.colour}>
          <Swatch colour={getValue()} widthPx={28} />
          <span className="figures">{getValue()}</span>
        </span>
      ),
    }),
    words('name', 'Name', actions),
    words('maker', 'Maker', actions),
    words('material', 'Material', actions),
    helper.accessor((filament) => brightnessOf(filament), {
      id: 'brightness',
      header: 'L*',
      sortFn: (a, b) => brightnessOf(a.original) - brightnessOf(b.original),
      cell: ({ getValue }) => <span className="figures">{Math.round(getValue())}</span>,
    }),
    helper.accessor('transmissionMm', {
      id: 'transmission',
      header: 'Transmission',
      sortFn: (a, b) => a.original.transmissionMm - b.original.transmissionMm,
      cell: ({ row }) => (
        <span className={styles.transmission}>
          <EditableCell
            figures
            label={`Transmission of ${row.original.name}, mm`}
            value={String(row.original.transmissionMm)}
            shown={`${transmissionText(row.original)} mm`}
            check={(text) => {
              const value = Number(text.replace(',', '.'));
              return text.trim() !== '' && value >= 0.01 && value <= 1000
                ? null
                : 'A thickness from 0.01 to 1000 mm';
            }}
            onCommit={(text) => {
              const transmissionMm = Number(text.replace(',', '.'));
              // A value typed over a measured one is no longer the measured one.
              actions.onEdit(row.original.id, (filament) => ({
                ...withoutMeasurement(filament),
                transmissionMm,
                found: 'typed',
              }));
            }}
          />
          <span className={styles.soft}>{describeBasis(row.original.basis)}</span>
        </span>
      ),
    }),
    helper.accessor((filament) => FINDINGS.indexOf(filament.found), {
      id: 'found',
      header: 'Found',
      sortFn: (a, b) => FINDINGS.indexOf(a.original.found) - FINDINGS.indexOf(b.original.found),
      cell: ({ row }) => FINDING_WORDS[row.original.found],
    }),
    helper.accessor('onHand', {
      header: 'On hand',
      sortFn: (a, b) => Number(b.original.onHand) - Number(a.original.onHand),
      cell: ({ row, getValue }) => (
        <input
          type="checkbox"
          aria-label={`${row.original.name} is on hand`}
          checked={getValue()}
          onChange={(event) => {
            const onHand = event.target.checked;
            actions.onEdit(row.original.id, (filament) => ({ ...filament, onHand }));
          }}
        />
      ),
    }),
    words('note', 'Note', actions),
    helper.display({
      id: 'open',
      header: () => <span className="visually-hidden">Open</span>,
      cell: ({ row }) => (
        <button
          type="button"
          className={styles.open}
          aria-label={`Open ${row.original.name}`}
          title="Swatches, values and measurements"
          onClick={() => {
            actions.onOpen(row.original.id);
          }}
        >
          <PanelRightOpen size={16} aria-hidden />
        </button>
      ),
    }),
  ]);
}

interface RackTableProps extends CellActions {
  readonly filaments: readonly Filament[];
  /** Ids of the selected ones, as the table keeps them. */
  readonly selected: RowSelectionState;
  readonly onSelect: (selected: RowSelectionState) => void;
}

type TableRow = Row<typeof features, Filament>;

/**
 * One row. It is drawn again only when the filament, its selection or its place changes: while scrolling most rows stay as
 * they are.
 */
const RackRow = memo(function RackRow({
  row,
  selected,
  index,
  start,
  onOpen,
}: {
  readonly row: TableRow;
  readonly selected: boolean;
  readonly index: number;
  readonly start: number;
  readonly onOpen: (id: string) => void;
}) {
  return (
    <tr
      role="row"
      className={styles.row}
      aria-rowindex={index + 2}
      aria-selected={selected}
      data-filament={row.id}
      style={{ transform: `translateY(${start}px)` }}
      onDoubleClick={(event) => {
        if (event.target === event.currentTarget) onOpen(row.id);
      }}
    >
      {row.getAllCells().map((cell) => (
        <td key={cell.id} role="cell" data-column={cell.column.id}>
          <FlexRender cell={cell} />
        </td>
      ))}
    </tr>
  );
});

/** Height of a row, px: `Rack.module.css` has the same. */
const ROW_PX = 40;

/** All filaments, one a row; only the rows in view exist. */
export function RackTable({ filaments, selected, onSelect, onEdit, onOpen }: RackTableProps) {
  const columns = useMemo(() => columnsFor({ onEdit, onOpen }), [onEdit, onOpen]);
  const data = useMemo(() => [...filaments], [filaments]);
  const table = useTable({
    features,
    columns,
    data,
    getRowId: ({ id }) => id,
    enableSortingRemoval: false,
    initialState: { sorting: [{ id: 'brightness', desc: false }] },
    state: { rowSelection: selected },
    onRowSelectionChange: (update) => {
      onSelect(typeof update === 'function' ? update(selected) : update);
    },
  });
  const rows = table.getRowModel().rows;
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 8,
  });
  const [sorting] = table.state.sorting;
  useEffect(() => {
    scroller.current?.scrollTo({ top: 0 });
  }, [sorting?.id, sorting?.desc]);

  return (
    <div ref={scroller} className={styles.scroller} data-testid="rack-scroller">
      <table
        className={styles.table}
        role="table"
        aria-label="Rack"
        aria-rowcount={rows.length + 1}
      >
        <thead role="rowgroup">
          {table.getHeaderGroups().map((group) => (
            <tr key={group.id} className={styles.row} role="row">
              {group.headers.map((header) => {
                const sorted = header.column.getIsSorted();
                return (
                  <th
                    key={header.id}
                    role="columnheader"
                    scope="col"
                    {...(header.column.getCanSort()
                      ? {
                          'aria-sort':
                            sorted === false
                              ? ('none' as const)
                              : sorted === 'asc'
                                ? ('ascending' as const)
                                : ('descending' as const),
                        }
                      : {})}
                  >
                    {header.column.getCanSort() ? (
                      <button
                        type="button"
                        className={styles.sort}
                        onClick={header.column.getToggleSortingHandler()}
                      >
                        <table.FlexRender header={header} />
                        {sorted === 'asc' ? <ArrowUp size={13} aria-hidden /> : null}
                        {sorted === 'desc' ? <ArrowDown size={13} aria-hidden /> : null}
                      </button>
                    ) : (
                      <table.FlexRender header={header} />
                    )}
                  </th>
                );
              })}
            </tr>
          ))}
        </thead>
        <tbody role="rowgroup" className={styles.body} style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start }) => {
            const row = rows[index];
            if (!row) return null;
            return (
              <RackRow
                key={row.id}
                row={row}
                selected={row.getIsSelected()}
                index={index}
                start={start}
                onOpen={onOpen}
              />
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
