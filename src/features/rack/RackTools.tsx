import { FileInput, FileOutput, Plus, Redo2, SlidersHorizontal, Undo2 } from 'lucide-react';
import { useMemo, useRef } from 'react';
import { useStore } from 'zustand';
import { HUES, type Filament } from '#core/stack/filament.ts';
import type { RackStore } from '../../state/rack-store.ts';
import { Button } from '../../ui/Button.tsx';
import { SelectField } from '../../ui/Fields.tsx';
import { SearchField } from '../../ui/SearchField.tsx';
import { Row, Spacer } from '../../ui/Row.tsx';
import styles from './Rack.module.css';
import { ANY, type FilteredRack } from './use-rack-filter.ts';

interface RackToolsProps extends FilteredRack {
  readonly rack: RackStore;
  readonly onTuning: () => void;
  readonly onFile: (file: File) => void;
  readonly onExport: (format: 'csv' | 'json', filaments: readonly Filament[]) => void;
  readonly onAdd: () => void;
}

/** Above the table: what is looked at, what was done, and what comes in and goes out. */
export function RackTools({
  filter,
  onFilter,
  shown,
  rack,
  onTuning,
  onFile,
  onExport,
  onAdd,
}: RackToolsProps) {
  const filaments = useStore(rack, (state) => state.filaments);
  const tuning = useStore(rack, (state) => state.tuning);
  const past = useStore(rack, (state) => state.past.length);
  const future = useStore(rack, (state) => state.future.length);
  const { undo, redo } = rack.getState();
  const { query, hue, material, onHandOnly } = filter;
  const chooser = useRef<HTMLInputElement>(null);
  const materials = useMemo(
    () => [...new Set(filaments.map((filament) => filament.material))].sort(),
    [filaments],
  );
  return (
    <Row>
      <SearchField
        label="Search the rack"
        placeholder="Name, maker, note"
        value={query}
        onChange={(value) => {
          onFilter({ query: value });
        }}
      />
      <SelectField
        compact
        label="Hue"
        value={hue}
        options={[
          { value: ANY, text: 'Any hue' },
          ...HUES.map((value) => ({ value, text: value })),
        ]}
        onChange={(value) => {
          onFilter({ hue: value });
        }}
        testId="filter-hue"
      />
      <SelectField
        compact
        label="Material"
        value={material}
        options={[
          { value: ANY, text: 'Any material' },
          ...materials.map((value) => ({ value, text: value })),
        ]}
        onChange={(value) => {
          onFilter({ material: value });
        }}
        testId="filter-material"
      />
      <label className={styles.check}>
        <input
          type="checkbox"
          checked={onHandOnly}
          onChange={(event) => {
            onFilter({ onHandOnly: event.target.checked });
          }}
        />
        on hand
      </label>
      <span className={styles.count} role="status" data-testid="rack-count">
        {shown.length === filaments.length
          ? `${filaments.length} filaments`
          : `${shown.length} of ${filaments.length}`}
      </span>
      <Spacer />
      <Button
        look="quiet"
        icon={<Undo2 size={16} aria-hidden />}
        aria-label="Undo"
        disabled={past === 0}
        onClick={undo}
      />
      <Button
        look="quiet"
        icon={<Redo2 size={16} aria-hidden />}
        aria-label="Redo"
        disabled={future === 0}
        onClick={redo}
      />
      <Button
        icon={<SlidersHorizontal size={15} aria-hidden />}
        data-testid="tuning-button"
        onClick={onTuning}
      >
        Tuning {tuning.toFixed(2)} x
      </Button>
      <Button icon={<FileInput size={15} aria-hidden />} onClick={() => chooser.current?.click()}>
        Import
      </Button>
      <input
        ref={chooser}
        type="file"
        className="visually-hidden"
        aria-label="Rack file"
        tabIndex={-1}
        accept=".csv,.tsv,.txt,.json,text/csv,application/json"
        data-testid="rack-file"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) onFile(file);
          // The same file chosen again must count again.
          event.target.value = '';
        }}
      />
      <Button
        icon={<FileOutput size={15} aria-hidden />}
        aria-label="Export as CSV"
        onClick={() => {
          onExport('csv', filaments);
        }}
      >
        CSV
      </Button>
      <Button
        icon={<FileOutput size={15} aria-hidden />}
        aria-label="Export as JSON"
        onClick={() => {
          onExport('json', filaments);
        }}
      >
        JSON
      </Button>
      <Button look="main" icon={<Plus size={16} aria-hidden />} onClick={onAdd}>
        Add filament
      </Button>
    </Row>
  );
}
