import { ArrowLeft, Download, Settings2 } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { describeOwnGcodeFault } from '../../../platform/slicing-words.ts';
import { downloadFile, fileStem } from '../../../platform/browser/files.ts';
import { GcodeDesk } from '../../../state/gcode-desk.ts';
import type { OwnSlice } from '../../../state/own-slicer.ts';
import { sliceKey } from '../../../state/slice-plan.ts';
import { useProject } from '../../../state/project-context.ts';
import type { GcodeJobs } from '../../../workers/gcode/jobs.ts';
import type { WorkerClient } from '../../../workers/client.ts';
import { useBatch } from '../../../state/use-batch.ts';
import { Button } from '../../../ui/Button.tsx';
import { Progress } from '../../../ui/Progress.tsx';
import { Row } from '../../../ui/Row.tsx';
import { SelectIfSeveral } from '../../../ui/SelectIfSeveral.tsx';
import { bandOfLayers } from '#core/gcode/print-plan.ts';
import { deskBands, layerNotes } from '../desk-words.ts';
import { FindingList } from '../FindingList.tsx';
import { LayerTable } from '../LayerTable.tsx';
import { LayerView } from '../LayerView.tsx';
import desk from '../GcodeDesk.module.css';
import { BandCosts } from './BandCosts.tsx';
import { FineParts } from './FineParts.tsx';
import { IroningPanel } from './IroningPanel.tsx';
import { SliceFacts } from './SliceFacts.tsx';
import styles from './OwnGcode.module.css';

interface OwnGcodePageProps {
  readonly startReader: () => WorkerClient<GcodeJobs>;
  readonly onBack: () => void;
  readonly onPrinters: () => void;
}

/** G-code of our own: made, read back, looked at layer by layer, compared with the sheet, and only then saved. */
export function OwnGcodePage({ startReader, onBack, onPrinters }: OwnGcodePageProps) {
  const { slicer } = useProject();
  const batch = useBatch();
  const { document } = batch;
  const of = sliceKey(document);
  const { making, failed, slice } = useStore(slicer.store);
  useEffect(() => {
    void slicer.make(document);
  }, [slicer, document]);
  useEffect(
    () => () => {
      slicer.cancel();
    },
    [slicer],
  );
  const back = (
    <Row>
      <Button icon={<ArrowLeft size={16} aria-hidden />} onClick={onBack}>
        Swap sheet
      </Button>
      <Button look="quiet" icon={<Settings2 size={15} aria-hidden />} onClick={onPrinters}>
        Printers
      </Button>
      <SelectIfSeveral label="Of these pieces" testId="batch" compact of={batch} />
    </Row>
  );
  if (slice?.of === of)
    return <Sliced slice={slice} name={document.name} startReader={startReader} back={back} />;
  const why = failed?.of === of ? failed.why : null;
  return (
    <main className={styles.wait} data-testid="own-gcode-wait">
      <h1>G-code with the swaps in it</h1>
      {why === null ? (
        <Progress label="Slicing" fraction={making ?? 0} onCancel={onBack} />
      ) : (
        <>
          <p role="alert">
            {why instanceof Error
              ? `The G-code could not be made (${why.message}). Go back, and try again.`
              : describeOwnGcodeFault(why)}
          </p>
          {back}
        </>
      )}
    </main>
  );
}

/** A finished slice. */
function Sliced({
  slice,
  name,
  startReader,
  back,
}: {
  readonly slice: OwnSlice;
  readonly name: string;
  readonly startReader: OwnGcodePageProps['startReader'];
  readonly back: React.ReactNode;
}) {
  const { made, plan, bytes } = slice;
  const { report, findings } = made;
  const fileName = `${fileStem(name)}-${plan.stamp}.gcode`;
  const reader = useReader(startReader, slice, fileName);
  const [layer, setLayer] = useState(1);
  const [line, setLine] = useState<number | null>(null);
  const bands = useMemo(() => deskBands(plan), [plan]);
  const bandOf = useMemo(() => bandOfLayers(report, plan), [report, plan]);
  const notes = useMemo(() => layerNotes(report, findings), [report, findings]);
  const show = (at: { readonly layer: number | null; readonly line: number | null }): void => {
    if (at.layer !== null && at.layer > 0) setLayer(at.layer);
    setLine(at.line);
  };
  return (
    <main className={desk.desk} data-testid="own-gcode">
      <section className={desk.left} aria-label="G-code with the swaps in it">
        <div className={styles.top}>
          {back}
          <h1>G-code with the swaps in it</h1>
        </div>
        <div className={styles.side}>
          <SliceFacts made={made} />
          <BandCosts report={report} plan={plan} bands={bands} bandOf={bandOf} />
          <FindingList findings={findings} plan={plan} report={report} onShow={show} />
          <FineParts
            layers={made.layers}
            onShow={(at) => {
              show({ layer: at, line: null });
            }}
          />
          <IroningPanel bands={bands} />
          <p className={styles.limits}>
            It lays one outline and straight lines, solid all through. It makes no supports, no brim
            and no seams to choose, and does not tune a printer: try a profile on the test tile or
            the test strip first.
          </p>
        </div>
        <div className={styles.save}>
          <Button
            look="main"
            icon={<Download size={16} aria-hidden />}
            onClick={() => {
              downloadFile(fileName, bytes, 'text/plain');
            }}
          >
            Save the G-code
          </Button>
        </div>
      </section>
      {reader ? (
        <LayerView
          desk={reader}
          report={report}
          layer={layer}
          line={line}
          bands={bands}
          bandOf={bandOf}
          notes={notes}
          onLayer={(next) => {
            setLayer(next);
            setLine(null);
          }}
        />
      ) : (
        <section className={desk.middle} aria-busy />
      )}
      <LayerTable
        report={report}
        plan={plan}
        layer={layer}
        bands={bands}
        bandOf={bandOf}
        notes={notes}
        onShow={show}
      />
    </main>
  );
}

/** The file in a worker of its own, for as long as it is looked at. */
function useReader(
  startReader: OwnGcodePageProps['startReader'],
  { bytes }: OwnSlice,
  fileName: string,
): GcodeDesk | null {
  const [reader, setReader] = useState<GcodeDesk | null>(null);
  useEffect(() => {
    const opened = new GcodeDesk(startReader);
    let stale = false;
    void opened.open(new File([bytes], fileName)).then(() => {
      if (!stale) setReader(opened);
    });
    return () => {
      stale = true;
      setReader(null);
      opened.worker.close();
    };
  }, [startReader, bytes, fileName]);
  return reader;
}
