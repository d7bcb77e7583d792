import { FileUp } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { Cancelled } from '#core/base/checkpoint.ts';
import { filamentName } from '#core/gcode/print-plan.ts';
import type { Measured } from '#core/rehearse/kept-run.ts';
import { isObeyed } from '#core/rehearse/printer-run.ts';
import { formatMm } from '#core/schedule/words.ts';
import type { FilamentTable } from '#core/stack/stack-ramp.ts';
import { describeOwnGcodeFault } from '../../platform/slicing-words.ts';
import { fileStem } from '../../platform/browser/files.ts';
import { planOfDocument, sliceKey } from '../../state/slice-plan.ts';
import { useProject } from '../../state/project-context.ts';
import { printingOf } from '../../state/project-export.ts';
import type { Rehearsal } from '../../state/rehearsal.ts';
import type { WorkerClient } from '../../workers/client.ts';
import type { RehearseJobs } from '../../workers/rehearse/jobs.ts';
import { useBatch, type BatchAtHand } from '../../state/use-batch.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { FileDrop } from '../../ui/FileDrop.tsx';
import { Progress } from '../../ui/Progress.tsx';
import { SelectIfSeveral } from '../../ui/SelectIfSeveral.tsx';
import { FaultBar, faultOf, freshChoice, type FaultChoice } from './FaultBar.tsx';
import { LaidCanvas } from './LaidCanvas.tsx';
import { PanelSwaps } from './PanelSwaps.tsx';
import { PrinterPanel } from './PrinterPanel.tsx';
import { formatClock, layerOfMoment, timedBands } from './rehearse-words.ts';
import { RunBookPanel } from './RunBookPanel.tsx';
import type { RunKeeper } from './run-keeper.ts';
import { TimeLine } from './TimeLine.tsx';
import { TriedList } from './TriedList.tsx';
import { useBook, useKeptRun, useMoment, useRehearsal } from './use-rehearsal.ts';
import styles from './Rehearse.module.css';
import { toast } from '../../ui/toast.ts';

const NO_FILAMENTS: FilamentTable = {};
const SPEEDS = ['1', '60', '600', '3600'] as const;

interface RehearsePageProps {
  readonly startWorker: () => WorkerClient<RehearseJobs>;
  /** The file on the G-code desk, where there is one. */
  readonly deskFile: File | null;
  readonly runs: RunKeeper;
  /** Takes what a real print told over into the printer's profile. */
  readonly onMeasured: (measured: Measured) => void;
}

/** The fifth stop: the print happens on the simulated printer, before the first gram. */
export function RehearsePage({ startWorker, deskFile, runs, onMeasured }: RehearsePageProps) {
  const { slicer, exporter } = useProject();
  const batch = useBatch();
  const { document } = batch;
  const rehearsal = useRehearsal(startWorker);
  const [file, setFile] = useState<File | null>(null);
  const of = sliceKey(document);
  const { making, failed, slice } = useStore(slicer.store);
  const [givenUp, setGivenUp] = useState(false);
  useEffect(() => {
    if (!file && !givenUp) void slicer.make(document);
  }, [file, slicer, document, givenUp]);
  // A slice that is finished meanwhile does not disturb another file.
  const ready = !file && slice?.of === of ? slice : null;
  const given = useRef(document);
  given.current = document;
  useEffect(() => {
    if (!rehearsal || givenUp) return undefined;
    rehearsal.clear();
    const { printer } = printingOf(given.current);
    const { filaments } = given.current.stack;
    if (!file) {
      if (ready)
        void rehearsal.open({
          name: `${fileStem(given.current.name)}-${ready.plan.stamp}.gcode`,
          file: ready.bytes,
          plan: ready.plan,
          printer,
          filaments,
        });
      return undefined;
    }
    const abort = new AbortController();
    planOfDocument(exporter, given.current, abort.signal)
      .then((plan) => rehearsal.open({ name: file.name, file, plan, printer, filaments }))
      .catch((error: unknown) => {
        if (!(error instanceof Cancelled))
          toast.error(error instanceof Error ? error.message : String(error));
      });
    return () => {
      abort.abort();
    };
    // The document matters as far as the slice, or the file's own plan, follows from it.
  }, [rehearsal, exporter, file, ready, of, givenUp]);
  const why = !file && failed?.of === of ? failed.why : null;
  const sources = (
    <Sources file={file} deskFile={deskFile} name={document.name} batch={batch} onFile={setFile} />
  );
  if (!rehearsal) return <main className={styles.wait} />;
  return (
    <Rehearsed
      rehearsal={rehearsal}
      sources={sources}
      waiting={!file && !ready && why === null ? { fraction: making ?? 0 } : null}
      trouble={
        why === null
          ? null
          : why instanceof Error
            ? `The G-code could not be made (${why.message}). Choose a sliced file, or try again.`
            : describeOwnGcodeFault(why)
      }
      givenUp={givenUp}
      onGiveUp={(on) => {
        if (on) slicer.cancel();
        setGivenUp(on);
      }}
      runs={runs}
      onMeasured={onMeasured}
    />
  );
}

/** Which file is rehearsed. */
function Sources({
  file,
  deskFile,
  name,
  batch,
  onFile,
}: {
  readonly file: File | null;
  readonly deskFile: File | null;
  readonly name: string;
  /** The pieces that G-code of our own is of. */
  readonly batch: BatchAtHand;
  readonly onFile: (file: File | null) => void;
}) {
  const value = file === null ? 'own' : file === deskFile ? 'desk' : 'file';
  return (
    <FileDrop
      className={styles.sources}
      onFile={onFile}
      field={{
        label: 'Sliced file to rehearse',
        testId: 'rehearse-file',
        accept: '.gcode,.gco,.g',
      }}
    >
      {(_, choose) => (
        <>
          <Choice
            label="What is printed"
            value={value}
            options={[
              { value: 'own', text: `G-code of ${name}` },
              ...(deskFile ? [{ value: 'desk' as const, text: deskFile.name }] : []),
              ...(value === 'file' && file ? [{ value: 'file' as const, text: file.name }] : []),
            ]}
            onChange={(next) => {
              if (next !== value) onFile(next === 'desk' ? deskFile : null);
            }}
          />
          <SelectIfSeveral label="Of these pieces" testId="batch" compact of={batch} />
          <Button look="quiet" icon={<FileUp size={15} aria-hidden />} onClick={choose}>
            Another file
          </Button>
        </>
      )}
    </FileDrop>
  );
}

interface RehearsedProps {
  readonly rehearsal: Rehearsal;
  readonly sources: React.ReactNode;
  readonly waiting: { readonly fraction: number } | null;
  readonly trouble: string | null;
  readonly givenUp: boolean;
  readonly onGiveUp: (on: boolean) => void;
  readonly runs: RunKeeper;
  readonly onMeasured: (measured: Measured) => void;
}

function Rehearsed(props: RehearsedProps) {
  const { rehearsal, sources, waiting, trouble, givenUp, onGiveUp, runs, onMeasured } = props;
  const state = useStore(rehearsal.store);
  const { source, facts, opening, status, lookAtS, shown, planned, spoilt, score } = state;
  const now = useMoment(rehearsal, state);
  const [choice, setChoice] = useState<FaultChoice | null>(null);
  const [book, changeBook] = useBook(runs);
  useKeptRun(state, changeBook);
  const filaments = source?.filaments ?? NO_FILAMENTS;
  const bands = useMemo(
    () => (facts ? timedBands(facts.layers, filaments) : []),
    [facts, filaments],
  );
  if (
    waiting ||
    opening !== null ||
    !facts ||
    !source ||
    trouble !== null ||
    state.trouble !== null
  )
    return (
      <main className={styles.wait} data-testid="rehearse-wait">
        {sources}
        {trouble !== null || state.trouble !== null ? (
          <p role="alert">{trouble ?? state.trouble}</p>
        ) : givenUp ? (
          <p>
            <Button
              onClick={() => {
                onGiveUp(false);
              }}
            >
              Run the file after all
            </Button>
          </p>
        ) : (
          <Progress
            label={waiting ? 'Slicing' : 'Running the file once'}
            fraction={waiting?.fraction ?? opening ?? 0}
            onCancel={() => {
              rehearsal.cancel();
              onGiveUp(true);
            }}
          />
        )}
      </main>
    );
  const chosen = choice ?? freshChoice('nothing', facts, '');
  const stops = facts.job.stops.filter((stop) => isObeyed(facts, stop)).length;
  const atS = lookAtS ?? (status ? now.printS : facts.job.totalS);
  const layer = layerOfMoment(facts, atS);
  const topMm = facts.layers[layer - 1]?.topMm ?? 0;
  const nameOf = (id: string | null): string =>
    id === null ? '' : (filaments[id]?.name ?? filamentName(source.plan, id));
  return (
    <main
      className={styles.page}
      data-testid="rehearse"
      data-file={source.name}
      data-shown={shown?.atS.toFixed(3) ?? ''}
    >
      <section className={styles.stage} aria-label="What is laid">
        <div className={styles.stageHead}>
          <h1>
            {lookAtS !== null ? 'Laid by then' : status ? 'Laid so far' : 'All laid'}{' '}
            <span className="figures" data-testid="laid-layer">
              layer {layer} of {facts.layers.length}, {formatMm(topMm)}
            </span>
          </h1>
          {lookAtS !== null && status ? (
            <Button
              onClick={() => {
                rehearsal.look(null);
              }}
            >
              Back to now
            </Button>
          ) : null}
          <span className={styles.gap} />
          {sources}
        </div>
        <div className={styles.pictures}>
          <figure className={styles.large}>
            <LaidCanvas
              pixels={shown?.pixels ?? null}
              label={`What is laid by layer ${layer}`}
              testId="laid"
            />
          </figure>
          <div className={styles.small}>
            <figure>
              <LaidCanvas pixels={planned} label="The print as planned" testId="planned" />
              <figcaption>as planned</figcaption>
            </figure>
            {spoilt ? (
              <figure data-testid="spoilt">
                <LaidCanvas
                  pixels={spoilt.pixels}
                  label="The print with this fault"
                  testId="spoilt-picture"
                />
                <figcaption>
                  with this fault: score {spoilt.score.score.toFixed(3)}
                  {spoilt.score.firstWrongLayer === null
                    ? ', nothing differs'
                    : `, differs from layer ${spoilt.score.firstWrongLayer} on`}
                </figcaption>
              </figure>
            ) : null}
          </div>
        </div>
        <TriedList
          trying={state.trying}
          tried={state.tried}
          onCancel={() => {
            rehearsal.cancelTrying();
          }}
          onClose={() => {
            rehearsal.store.setState({ tried: null });
          }}
        />
        <FaultBar
          choice={chosen}
          facts={facts}
          stops={stops}
          spools={Object.values(filaments)}
          onChoose={(next) => {
            setChoice(next);
            void rehearsal.choose(faultOf(next));
          }}
          onTryAll={() => void rehearsal.tryAll()}
        />
      </section>
      <div className={styles.side}>
        <PrinterPanel
          facts={facts}
          bands={bands}
          filaments={filaments}
          printer={source.printer}
          swaps={source.plan.swaps.length}
          status={status}
          now={now}
          score={score}
          refusal={state.refusal}
          gone={state.gone}
          onStart={() => void rehearsal.start()}
          onCommand={(...commands) => void rehearsal.command(...commands)}
        />
        <PanelSwaps swaps={facts.panel} nameOf={nameOf} />
        <RunBookPanel
          title={source.name.replace(/\.[^.]*$/, '')}
          stamp={source.plan.stamp}
          book={book}
          facts={facts}
          printer={source.printer}
          nameOf={nameOf}
          onBook={(next) => {
            changeBook(() => next);
          }}
          onMeasured={onMeasured}
        />
      </div>
      <footer className={styles.foot}>
        <div className={styles.clock}>
          <Choice
            label="Speed of the clock"
            value={String(state.speed) as (typeof SPEEDS)[number]}
            options={SPEEDS.map((value) => ({ value, text: `${value} x` }))}
            onChange={(value) => void rehearsal.setSpeed(Number(value))}
          />
          <strong className="figures" data-testid="clock">
            {formatClock(status ? now.clockS : 0)}
          </strong>
          <span className={`${styles.soft} figures`}>
            {formatClock(facts.job.totalS)} of printing, {formatClock(facts.manner.heatS)} of
            heating, and the stops
          </span>
        </div>
        <TimeLine
          facts={facts}
          bands={bands}
          atS={atS}
          printerS={status ? now.printS : null}
          onLook={(next) => {
            rehearsal.look(next);
          }}
        />
      </footer>
    </main>
  );
}
