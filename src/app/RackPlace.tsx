import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { writeRackCsv } from '#core/formats/rack/rack-csv.ts';
import { writeRackJson } from '#core/formats/rack/rack-json.ts';
import { writeWedgeCsv } from '#core/formats/rack/wedge-csv.ts';
import type { Printer } from '#core/printer/printer.ts';
import type { Filament } from '#core/stack/filament.ts';
import { DEMO_WEDGE } from '../../demo/wedge/index.ts';
import { RackPage } from '../features/rack/RackPage.tsx';
import { WedgePage } from '../features/wedge/WedgePage.tsx';
import { downloadFile } from '../platform/browser/files.ts';
import {
  describeRackFault,
  describeRackJsonFault,
  describeWedgeFitFault,
} from '../platform/fault-words.ts';
import type { Library } from '../state/library.ts';
import { groundsOf, type RackStore } from '../state/rack-store.ts';
import {
  firstWedgeSettings,
  readWedgeSettings,
  wedgeSettingKey,
  type WedgeSettings,
} from '../state/wedge-project.ts';
import type { WorkerClient } from '../workers/client.ts';
import type { PhotoJobs } from '../workers/photo/jobs.ts';
import { startPhotoWorker } from '../workers/start-worker.ts';
import { readRackFile } from './read-rack-file.ts';
import { goTo, RACK_PATH, wedgePath } from './route.ts';
import { useHistoryKeys } from './use-history-keys.ts';
import { toast } from '../ui/toast.ts';

interface RackPlaceProps {
  readonly library: Library;
  readonly rack: RackStore;
  /** The filament whose wedge is worked on; null for the table. */
  readonly wedgeOf: string | null;
  /** A rack file that was dropped on the window, to be shown row by row. */
  readonly dropped: File | null;
  readonly onDroppedRead: () => void;
}

/** A worker that measures wedges, there as long as the place is. */
function useWedgeWorker(): WorkerClient<PhotoJobs> | null {
  const [worker, setWorker] = useState<WorkerClient<PhotoJobs> | null>(null);
  useEffect(() => {
    const started = startPhotoWorker();
    setWorker(started);
    return () => {
      started.close();
    };
  }, []);
  return worker;
}

/** The rack and its step wedges. */
export function RackPlace({ library, rack, wedgeOf, dropped, onDroppedRead }: RackPlaceProps) {
  useHistoryKeys(rack);
  const worker = useWedgeWorker();
  const filaments = useStore(rack, (state) => state.filaments);
  useEffect(() => {
    window.document.title = 'Rack - Zesty Strata';
  }, []);

  const tell = (text: string): void => {
    toast(text, {
      duration: 8000,
      action: {
        label: 'Undo',
        onClick: () => {
          rack.getState().undo();
        },
      },
    });
  };

  if (wedgeOf !== null) {
    const filament = filaments.find(({ id }) => id === wedgeOf);
    if (!filament)
      return (
        <main style={{ padding: 24 }}>
          <p role="alert">
            This filament is not in the rack. It may have been deleted: undo that, or choose another
            in the rack.
          </p>
        </main>
      );
    if (!worker) return null;
    return (
      <WedgePlace
        key={wedgeOf}
        library={library}
        filament={filament}
        filaments={filaments}
        worker={worker}
        onSave={(measured) => {
          rack.getState().edit(measured.id, () => measured);
          goTo(RACK_PATH);
          tell(`${measured.name} is ${measured.transmissionMm.toFixed(2)} mm now`);
        }}
      />
    );
  }
  return (
    <RackPage
      rack={rack}
      readFile={readRackFile}
      dropped={dropped}
      onDroppedRead={onDroppedRead}
      describeFault={(fault) =>
        fault.code === 'bad-filament' || fault.code === 'not-json' || fault.code === 'not-a-rack'
          ? describeRackJsonFault({ ...fault, code: fault.code })
          : describeRackFault({ ...fault, code: fault.code })
      }
      onExport={(format, chosen) => {
        if (format === 'csv') downloadFile('rack.csv', writeRackCsv(chosen), 'text/csv');
        else downloadFile('rack.json', writeRackJson(chosen), 'application/json');
      }}
      onReadings={({ id, reading }) => {
        if (reading?.kind === 'photo')
          downloadFile(`wedge-${id}-readings.csv`, writeWedgeCsv(reading), 'text/csv');
      }}
      onWedge={(id) => {
        goTo(wedgePath(id));
      }}
      onRefit={(filament) => refit(worker, rack, filament)}
      onTell={tell}
    />
  );
}

/** Works a kept reading out anew and keeps what comes of it. */
async function refit(
  worker: WorkerClient<PhotoJobs> | null,
  rack: RackStore,
  { id, reading, transmissionMm }: Filament,
): Promise<string> {
  if (!worker || reading?.kind !== 'photo') return 'There is no photo reading to work out.';
  const fit = await worker.run('refit', { reading });
  if (!fit.ok) return `The reading does not tell a value: ${describeWedgeFitFault(fit.fault)}`;
  const { value } = fit;
  rack.getState().edit(id, (filament) => ({
    ...filament,
    transmissionMm: Number(value.transmissionMm.toFixed(3)),
    basis: { kind: 'hiding' },
    found: 'photo',
    uncertainty: Number(value.uncertainty.toFixed(4)),
    scatterSlope: Number(value.scatterSlope.toFixed(4)),
  }));
  return `Worked out anew: ${value.transmissionMm.toFixed(2)} mm hiding (it was ${transmissionMm} mm), difference ${value.meanDeltaE.toFixed(2)} on average.`;
}

interface WedgePlaceProps {
  readonly library: Library;
  readonly filament: Filament;
  readonly filaments: readonly Filament[];
  readonly worker: WorkerClient<PhotoJobs>;
  readonly onSave: (filament: Filament) => void;
}

/** The wizard with the settings that its filament's wedge was planned with. */
function WedgePlace({ library, filament, filaments, worker, onSave }: WedgePlaceProps) {
  const grounds = groundsOf(filaments);
  const [settings, setSettings] = useState<WedgeSettings | null>(null);
  const key = wedgeSettingKey(filament.id);
  useEffect(() => {
    void library.getSetting(key).then((kept) => {
      setSettings(readWedgeSettings(kept) ?? firstWedgeSettings(filament, groundsOf(filaments)));
    });
    // What was kept counts, and it is read once: a filament measured meanwhile must not change its wedge's plan.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [library, key]);
  const [printers, setPrinters] = useState<readonly Printer[] | null>(null);
  useEffect(() => {
    void library.getPrinters().then(setPrinters);
  }, [library]);
  if (!settings || !printers) return null;
  return (
    <WedgePage
      printers={printers}
      filament={filament}
      filaments={filaments}
      grounds={grounds}
      settings={settings}
      worker={worker}
      onSettings={(next) => {
        setSettings(next);
        void library.putSetting(key, next);
      }}
      onDownload={downloadFile}
      loadDemo={async () => {
        const answer = await fetch(DEMO_WEDGE.url);
        if (!answer.ok) throw new Error(`status ${answer.status}`);
        const planned = readWedgeSettings(DEMO_WEDGE.settings);
        if (!planned) throw new Error('its settings cannot be read');
        return {
          bytes: new Uint8Array(await answer.arrayBuffer()),
          settings: planned,
          corners: DEMO_WEDGE.corners.map(([x = 0, y = 0]) => [x, y] as const),
        };
      }}
      onSave={onSave}
      onBack={() => {
        goTo(RACK_PATH);
      }}
    />
  );
}
