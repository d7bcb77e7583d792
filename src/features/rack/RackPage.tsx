import { FileInput, FileOutput, Plus, Redo2, SlidersHorizontal, Undo2 } from 'lucide-react';
import { useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { useStore } from 'zustand';
import type { RackFault } from '#core/formats/rack-csv.ts';
import { applyImport } from '#core/formats/rack-import.ts';
import type { RackJsonFault } from '#core/formats/rack-json.ts';
import { HUES, hueOf, type Filament, type Hue } from '#core/stack/filament.ts';
import { USUAL_GRID } from '#core/stack/layer-grid.ts';
import {
  BLANK_FILAMENT,
  copyOf,
  freeId,
  GREATEST_TUNING,
  groundsOf,
  LEAST_TUNING,
  planningFilaments,
  type RackStore,
} from '../../state/rack-store.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { SearchField } from '../../ui/SearchField.tsx';
import { SelectField } from '../../ui/Fields.tsx';
import { ChosenTools } from './ChosenTools.tsx';
import { FilamentForm } from './FilamentForm.tsx';
import { FilamentSheet } from './FilamentSheet.tsx';
import { ImportDialog, type IncomingRack } from './ImportDialog.tsx';
import styles from './Rack.module.css';
import { RackTable } from './RackTable.tsx';
import { searchText } from './rack-words.ts';
import { TuningDialog } from './TuningDialog.tsx';

/** What the rack needs of the app around it. */
export interface RackPageProps {
  readonly rack: RackStore;
  /** Reads a chosen file; what is wrong with it comes back as a sentence. */
  readonly readFile: (file: File) => Promise<IncomingRack | string>;
  /** A file that was dropped on the window; it is read once. */
  readonly dropped: File | null;
  readonly onDroppedRead: () => void;
  readonly describeFault: (fault: RackFault | RackJsonFault) => string;
  readonly onExport: (format: 'csv' | 'json', filaments: readonly Filament[]) => void;
  readonly onReadings: (filament: Filament) => void;
  readonly onWedge: (id: string) => void;
  /** Works a kept photo reading out anew; the sentence says what came of it. */
  readonly onRefit: (filament: Filament) => Promise<string>;
  /** Tells what was done, with a way back. */
  readonly onTell: (text: string) => void;
}

const ANY = 'any';

/** The maker's filaments. */
export function RackPage(props: RackPageProps) {
  const { rack, readFile, describeFault, onExport, onTell } = props;
  const filaments = useStore(rack, (state) => state.filaments);
  const tuning = useStore(rack, (state) => state.tuning);
  const past = useStore(rack, (state) => state.past.length);
  const future = useStore(rack, (state) => state.future.length);
  const { change, edit, undo, redo } = rack.getState();
  const [query, setQuery] = useState('');
  const [hue, setHue] = useState<Hue | typeof ANY>(ANY);
  const [material, setMaterial] = useState(ANY);
  const [onHandOnly, setOnHandOnly] = useState(false);
  const [selected, setSelected] = useState<Record<string, true>>({});
  const [openId, setOpenId] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  const [tuningOpen, setTuningOpen] = useState(false);
  const [incoming, setIncoming] = useState<IncomingRack | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [refitted, setRefitted] = useState<string | null>(null);
  const chooser = useRef<HTMLInputElement>(null);

  const materials = useMemo(
    () => [...new Set(filaments.map((filament) => filament.material))].sort(),
    [filaments],
  );
  // Letters appear at once; the rows follow when there is time.
  const wanted = useDeferredValue(query);
  const shown = useMemo(() => {
    const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
    return filaments.filter((filament) => {
      if (onHandOnly && !filament.onHand) return false;
      if (material !== ANY && filament.material !== material) return false;
      if (hue !== ANY && hueOf(filament) !== hue) return false;
      if (words.length === 0) return true;
      const text = searchText(filament);
      return words.every((word) => text.includes(word));
    });
  }, [filaments, wanted, hue, material, onHandOnly]);
  // Selection counts only what is there and in view: nothing out of sight is deleted.
  const chosen = shown.filter(({ id }) => selected[id]);
  const grounds = useMemo(() => groundsOf(filaments), [filaments]);
  const planned = useMemo(() => planningFilaments({ filaments, tuning }), [filaments, tuning]);

  const changeChosen = (make: (filament: Filament) => Filament): void => {
    const ids = new Set(chosen.map(({ id }) => id));
    change((before) => ({
      ...before,
      filaments: before.filaments.map((filament) =>
        ids.has(filament.id) ? make(filament) : filament,
      ),
    }));
  };
  const remove = (gone: readonly Filament[]): void => {
    const ids = new Set(gone.map(({ id }) => id));
    change((before) => ({
      ...before,
      filaments: before.filaments.filter(({ id }) => !ids.has(id)),
    }));
    setSelected({});
    setOpenId(null);
    const [first] = gone;
    onTell(
      gone.length === 1 && first ? `${first.name} deleted` : `${gone.length} filaments deleted`,
    );
  };
  const duplicate = (originals: readonly Filament[]): void => {
    change((before) => {
      const taken = new Set(before.filaments.map(({ id }) => id));
      const copies = originals.map((filament) => {
        const copy = copyOf(filament, taken);
        taken.add(copy.id);
        return copy;
      });
      return { ...before, filaments: [...before.filaments, ...copies] };
    });
  };
  const take = async (file: File): Promise<void> => {
    setTrouble(null);
    const result = await readFile(file);
    if (typeof result === 'string') setTrouble(result);
    else setIncoming(result);
  };
  const { dropped, onDroppedRead } = props;
  const read = useRef(take);
  read.current = take;
  useEffect(() => {
    if (!dropped) return;
    onDroppedRead();
    void read.current(dropped);
  }, [dropped, onDroppedRead]);
  const open = useCallback((id: string) => {
    setRefitted(null);
    setOpenId(id);
  }, []);

  const opened = filaments.find(({ id }) => id === openId);
  return (
    <main
      className={styles.page}
      onDragOver={(event) => {
        event.preventDefault();
      }}
      onDrop={(event) => {
        event.preventDefault();
        const [file] = event.dataTransfer.files;
        if (file) void take(file);
      }}
    >
      <h1 className="visually-hidden">Rack</h1>
      <div className={styles.tools}>
        <SearchField
          label="Search the rack"
          placeholder="Name, maker, note"
          value={query}
          onChange={setQuery}
        />
        <SelectField
          compact
          label="Hue"
          value={hue}
          options={[
            { value: ANY, text: 'Any hue' },
            ...HUES.map((value) => ({ value, text: value })),
          ]}
          onChange={setHue}
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
          onChange={setMaterial}
          testId="filter-material"
        />
        <label className={styles.check}>
          <input
            type="checkbox"
            checked={onHandOnly}
            onChange={(event) => {
              setOnHandOnly(event.target.checked);
            }}
          />
          on hand
        </label>
        <span className={styles.count} role="status" data-testid="rack-count">
          {shown.length === filaments.length
            ? `${filaments.length} filaments`
            : `${shown.length} of ${filaments.length}`}
        </span>
        <span className={styles.spacer} />
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
          onClick={() => {
            setTuningOpen(true);
          }}
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
            if (file) void take(file);
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
        <Button
          look="main"
          icon={<Plus size={16} aria-hidden />}
          onClick={() => {
            setAdding(true);
          }}
        >
          Add filament
        </Button>
      </div>
      {trouble ? (
        <p role="alert" className={styles.chosen} data-testid="rack-trouble">
          {trouble}
        </p>
      ) : null}
      {chosen.length > 0 ? (
        <ChosenTools
          count={chosen.length}
          onHand={(onHand) => {
            changeChosen((filament) => ({ ...filament, onHand }));
          }}
          onDuplicate={() => {
            duplicate(chosen);
            setSelected({});
          }}
          onExport={() => {
            onExport('csv', chosen);
          }}
          onDelete={() => {
            remove(chosen);
          }}
        />
      ) : null}
      <RackTable
        filaments={shown}
        selected={selected}
        onSelect={setSelected}
        onEdit={edit}
        onOpen={open}
      />
      {shown.length === 0 ? (
        <p className={styles.empty}>
          {filaments.length === 0
            ? 'The rack is empty. Add a filament, or import a CSV or JSON file.'
            : 'No filament fits. Use fewer words or filters.'}
        </p>
      ) : null}
      {opened ? (
        <FilamentSheet
          key={opened.id}
          filament={opened}
          planned={planned.find(({ id }) => id === opened.id) ?? opened}
          black={grounds.black}
          white={grounds.white}
          layerMm={USUAL_GRID.layerMm}
          refitted={refitted}
          onSave={(filament) => {
            edit(filament.id, () => filament);
            onTell(`${filament.name} saved`);
          }}
          onDuplicate={() => {
            duplicate([opened]);
            onTell(`${opened.name} duplicated`);
          }}
          onDelete={() => {
            remove([opened]);
          }}
          onWedge={() => {
            props.onWedge(opened.id);
          }}
          onRefit={() => {
            void props.onRefit(opened).then(setRefitted);
          }}
          onReadings={() => {
            props.onReadings(opened);
          }}
          onClose={() => {
            setOpenId(null);
          }}
        />
      ) : null}
      {adding ? (
        <Dialog
          open
          onOpenChange={(stays) => {
            if (!stays) setAdding(false);
          }}
          title="Add filament"
        >
          <FilamentForm
            filament={BLANK_FILAMENT}
            submitText="Add"
            onCancel={() => {
              setAdding(false);
            }}
            onSubmit={(filament) => {
              change((before) => ({
                ...before,
                filaments: [
                  ...before.filaments,
                  {
                    ...filament,
                    id: freeId(filament.name, new Set(before.filaments.map(({ id }) => id))),
                  },
                ],
              }));
              setAdding(false);
              onTell(`${filament.name} added`);
            }}
          />
        </Dialog>
      ) : null}
      {tuningOpen ? (
        <TuningDialog
          filaments={filaments.filter(({ found }) => found === 'label')}
          black={grounds.black}
          white={grounds.white}
          layerMm={USUAL_GRID.layerMm}
          tuning={tuning}
          least={LEAST_TUNING}
          greatest={GREATEST_TUNING}
          onApply={(factor) => {
            change((before) => ({ ...before, tuning: factor }));
            setTuningOpen(false);
            onTell(`Label values count ${factor.toFixed(2)} times`);
          }}
          onClose={() => {
            setTuningOpen(false);
          }}
        />
      ) : null}
      {incoming ? (
        <ImportDialog
          incoming={incoming}
          rack={filaments}
          describeFault={describeFault}
          onTake={(rows) => {
            change((before) => ({ ...before, filaments: applyImport(before.filaments, rows) }));
            setIncoming(null);
            onTell(`${rows.length} ${rows.length === 1 ? 'filament' : 'filaments'} taken in`);
          }}
          onClose={() => {
            setIncoming(null);
          }}
        />
      ) : null}
    </main>
  );
}
