import { Check, Pause, Play, RotateCcw, Square } from 'lucide-react';
import { useState } from 'react';
import { swapSteps } from '#core/schedule/checklist.ts';
import { formatStrand } from '#core/schedule/words.ts';
import { brightnessOf, type Filament } from '#core/stack/filament.ts';
import type { Printer } from '#core/printer/printer.ts';
import type { RunCommand } from '#core/rehearse/printer-run.ts';
import type { Score } from '#core/rehearse/score.ts';
import { describeOutcome, STATE_WORDS } from '../../platform/rehearse-words.ts';
import type { PrinterStatus } from '../../platform/printer-api.ts';
import type { RehearsedFacts } from '../../workers/rehearse/jobs.ts';
import { Button } from '../../ui/Button.tsx';
import { hatchInk, HatchSwatch } from '../../ui/Hatch.tsx';
import { formatClock, formatWait, wantedAt, type TimedBand } from './rehearse-words.ts';
import styles from './Rehearse.module.css';

interface PrinterPanelProps {
  readonly facts: RehearsedFacts;
  readonly bands: readonly TimedBand[];
  readonly filaments: Readonly<Record<string, Filament>>;
  readonly printer: Printer;
  readonly swaps: number;
  readonly status: PrinterStatus | null;
  readonly now: { readonly printS: number; readonly clockS: number };
  readonly score: Score | null;
  readonly refusal: string | null;
  readonly gone: boolean;
  readonly onStart: () => void;
  /** Things to do at the printer, in order. */
  readonly onCommand: (...commands: RunCommand[]) => void;
}

/** What stands beside a printer: what it does, what to load, and how the print comes out so far. */
export function PrinterPanel(props: PrinterPanelProps) {
  const { facts, bands, filaments, status, now, score, refusal, gone, printer } = props;
  const { onStart, onCommand } = props;
  const state = status?.state ?? 'idle';
  const { waiting } = status ?? { waiting: null };
  const stop =
    waiting?.stop === null || waiting === null ? undefined : facts.job.stops[waiting.stop];
  const wanted = wantedAt(facts.planned, now.printS);
  const spool = status ? status.spool : (facts.layers[0]?.filament ?? null);
  const loads = stop?.wants ?? (wanted.now !== spool ? wanted.now : (wanted.next?.spool ?? spool));
  const nameOf = (id: string | null): string => (id === null ? '' : (filaments[id]?.name ?? id));
  const over = state === 'done' || state === 'faulted' || gone;
  const running = status !== null && !over && state !== 'idle';
  const says =
    status && score
      ? describeOutcome({
          events: status.events,
          stops: facts.job.stops,
          firstWrongLayer: score.firstWrongLayer,
          pause: printer.pause,
          swaps: props.swaps,
          nameOf,
        })
      : null;
  const count = facts.job.stops.length;
  return (
    <aside className={styles.panel} aria-label="The printer">
      <section>
        <p className={styles.soft}>the printer</p>
        <p className={styles.state} data-testid="printer-state" aria-live="polite">
          {gone ? 'gone' : STATE_WORDS[state]}
        </p>
        <p className={`${styles.soft} figures`} data-testid="printer-says">
          {describeMoment()}
        </p>
        {refusal === null ? null : (
          <p role="alert" className={styles.refusal}>
            {refusal}
          </p>
        )}
      </section>
      {waiting && waiting.why !== 'feeder' && !gone ? (
        <LoadCard
          key={`${waiting.sinceS}`}
          wanted={loads}
          from={spool}
          band={bands.find(({ filament }) => filament === loads)}
          filaments={filaments}
          printer={printer}
          onLoad={(id) => {
            const loading = id !== spool || waiting.why === 'empty';
            onCommand(...(loading ? [{ command: 'load' as const, spool: id }] : []), {
              command: 'resume',
            });
          }}
        />
      ) : (
        <section className={styles.buttons}>
          {running ? (
            <>
              {state === 'printing' ? (
                <Button
                  icon={<Pause size={15} aria-hidden />}
                  onClick={() => {
                    onCommand({ command: 'pause' });
                  }}
                >
                  Pause at the panel
                </Button>
              ) : null}
              {state === 'printing' && wanted.next?.spool ? (
                <Button
                  look="quiet"
                  data-testid="load-now"
                  onClick={() => {
                    onCommand({ command: 'load', spool: loads ?? '' });
                  }}
                >
                  Change to {nameOf(loads)} now
                </Button>
              ) : null}
              <Button
                look="quiet"
                icon={<Square size={13} aria-hidden />}
                onClick={() => {
                  onCommand({ command: 'stop' });
                }}
              >
                Stop
              </Button>
            </>
          ) : (
            <Button
              look="main"
              className={styles.big}
              icon={over ? <RotateCcw size={18} aria-hidden /> : <Play size={18} aria-hidden />}
              onClick={() => {
                if (state === 'faulted' && !gone) onCommand({ command: 'start' });
                else onStart();
              }}
            >
              {state === 'faulted' && !gone
                ? 'Switch on, start the file again'
                : over
                  ? 'Rehearse again'
                  : 'Start the rehearsal'}
            </Button>
          )}
        </section>
      )}
      {score && status ? (
        <section data-testid="score-box">
          <h2>{state === 'done' ? 'Score' : 'Score so far'}</h2>
          <p className={styles.score} data-testid="score">
            {score.score.toFixed(3)}
          </p>
          <p className={styles.says} data-testid="outcome">
            {says ?? 'All that is laid is in its planned filament.'}
          </p>
          {says === null ? null : (
            <ul className={styles.bandScores}>
              {score.bands
                .filter(({ cells }) => cells > 0)
                .map((band) => (
                  <li key={band.firstLayer} className="figures">
                    layers {band.firstLayer} to {band.lastLayer}, {nameOf(band.filament)}:{' '}
                    {(band.right / band.cells).toFixed(3)}
                  </li>
                ))}
            </ul>
          )}
        </section>
      ) : null}
      {over ? null : (
        <section>
          <h2>To come</h2>
          <ul className={styles.queue} data-testid="queue">
            {facts.job.stops
              .filter(({ atS }) => atS > now.printS - 1e-3)
              .slice(waiting?.stop === null || waiting === null ? 0 : 1)
              .map((one) => (
                <li key={one.line}>
                  <span>
                    {bands.find(({ firstLayer }) => firstLayer === one.layer)?.letter ?? ''}{' '}
                    {nameOf(one.wants)}
                  </span>
                  <span className="figures">
                    in {formatWait(one.atS - now.printS)}
                    {status && status.speed > 1
                      ? `, at ${status.speed} x ${formatWait((one.atS - now.printS) / status.speed)}`
                      : ''}
                  </span>
                </li>
              ))}
            {count === 0 ? <li>The file has no stop.</li> : null}
          </ul>
        </section>
      )}
    </aside>
  );

  function describeMoment(): string {
    if (gone) return 'it does not answer any more';
    switch (state) {
      case 'idle':
        return `${nameOf(spool)} is loaded`;
      case 'heating':
        return `${nameOf(spool)} is loaded; ${formatClock(now.clockS)}`;
      case 'printing': {
        const next = facts.job.stops.find(({ atS }) => atS > now.printS);
        return `in ${nameOf(spool)}; ${next ? `next stop in ${formatWait(next.atS - now.printS)}` : `ready in ${formatWait(facts.job.totalS - now.printS)}`}`;
      }
      case 'waiting': {
        const since = formatWait(now.clockS - (waiting?.sinceS ?? 0));
        const why =
          waiting?.why === 'panel'
            ? 'paused at the panel'
            : waiting?.why === 'empty'
              ? 'its strand has ended'
              : waiting?.why === 'feeder'
                ? 'the feeder changes the spool'
                : `stop ${(waiting?.stop ?? 0) + 1} of ${count}`;
        return `${why}, since ${since}`;
      }
      case 'done':
        return `after ${formatClock(now.clockS)}`;
      case 'faulted':
        return 'its power went';
    }
  }
}

/** What to load, with what is to be done, and the button that says it is done. */
function LoadCard({
  wanted,
  from,
  band,
  filaments,
  printer,
  onLoad,
}: {
  readonly wanted: string | null;
  readonly from: string | null;
  readonly band: TimedBand | undefined;
  readonly filaments: Readonly<Record<string, Filament>>;
  readonly printer: Printer;
  readonly onLoad: (spool: string) => void;
}) {
  const [chosen, setChosen] = useState(wanted ?? '');
  const to = filaments[chosen];
  const out = from === null ? undefined : filaments[from];
  const toLighter = to !== undefined && out !== undefined && brightnessOf(to) > brightnessOf(out);
  const purgeMm = toLighter ? printer.purgeToLightMm : printer.purgeToDarkMm;
  const colour = to?.colour ?? '#6e6e6e';
  return (
    <section className={styles.load}>
      <div className={styles.spool}>
        <HatchSwatch
          id="rehearse-load"
          index={band?.index ?? 0}
          colour={colour}
          ink={hatchInk(colour)}
          size={52}
        />
        <p>
          <span className={styles.soft}>load</span>
          <strong data-testid="load">
            {chosen === wanted ? `${band?.letter ?? ''} ` : ''}
            {to?.name ?? chosen}
          </strong>
          <span className={styles.soft}>
            {to?.maker}
            {out && out !== to ? `, in place of ${out.name}; purge ${formatStrand(purgeMm)}` : ''}
          </span>
        </p>
      </div>
      <Button
        look="main"
        className={styles.big}
        icon={<Check size={18} aria-hidden />}
        onClick={() => {
          onLoad(chosen);
        }}
      >
        {chosen === from ? 'Resume' : 'Loaded, resume'}
      </Button>
      <details>
        <summary>What to do</summary>
        <ol>
          {swapSteps(printer, toLighter ? 'to-light' : 'to-dark').map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
      </details>
      <label className={styles.other}>
        <span>Another spool</span>
        <select
          value={chosen}
          data-testid="spool"
          onChange={(event) => {
            setChosen(event.target.value);
          }}
        >
          {Object.values(filaments).map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
    </section>
  );
}
