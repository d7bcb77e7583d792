import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useStore } from 'zustand';
import type { RackFault } from '#core/formats/rack/rack-csv.ts';
import { applyImport } from '#core/formats/rack/rack-import.ts';
import type { RackJsonFault } from '#core/formats/rack/rack-json.ts';
import type { Filament } from '#core/stack/filament.ts';
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
import { Dialog } from '../../ui/Dialog.tsx';
import { ChosenTools } from './ChosenTools.tsx';
import { FilamentForm } from './FilamentForm.tsx';
import { FilamentSheet } from './FilamentSheet.tsx';
import { ImportDialog, type IncomingRack } from './ImportDialog.tsx';
import { Panel } from '../../ui/Panel.tsx';
import styles from './Rack.module.css';
import { RackTable } from './RackTable.tsx';
import { RackTools } from './RackTools.tsx';
import { TuningDialog } from './TuningDialog.tsx';
import { useRackFilter } from './use-rack-filter.ts';

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

/** The maker's filaments. */
export function RackPage(props: RackPageProps) {
  const { rack, readFile, describeFault, onExport, onTell } = props;
  const filaments = useStore(rack, (state) => state.filaments);
  const tuning = useStore(rack, (state) => state.tuning);
  const { change, edit } = rack.getState();
  const filtered = useRackFilter(filaments);
  const { shown } = filtered;
  const [selected, setSelected] = useState<Record<string, true>>({});
  const [openId, setOpenId] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  const [tuningOpen, setTuningOpen] = useState(false);
  const [incoming, setIncoming] = useState<IncomingRack | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [refitted, setRefitted] = useState<string | null>(null);

  // Selection counts only what is there and in view: nothing out of sight is deleted.
  const chosen = shown.filter(({ id }) => selected[id]);
  const grounds = useMemo(() => groundsOf(filaments), [filaments]);
  const spreadMm = useStore(rack, (state) => state.spreadMm);
  const planned = useMemo(
    () => planningFilaments({ filaments, tuning, spreadMm }),
    [filaments, tuning, spreadMm],
  );

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
    <Panel of="place">
      <h1 className="visually-hidden">Rack</h1>
      <RackTools
        {...filtered}
        rack={rack}
        onTuning={() => {
          setTuningOpen(true);
        }}
        onFile={(file) => void take(file)}
        onExport={onExport}
        onAdd={() => {
          setAdding(true);
        }}
      />
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
          spreadMm={spreadMm ?? 0}
          onApply={(factor, spread) => {
            change((before) => ({ ...before, tuning: factor, spreadMm: spread || undefined }));
            setTuningOpen(false);
            onTell(
              `Label values count ${factor.toFixed(2)} times${spread > 0 ? `, light spreads ${spread} mm sideways` : ''}`,
            );
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
    </Panel>
  );
}
