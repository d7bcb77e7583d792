import { Download } from 'lucide-react';
import { format } from 'date-fns';
import { useState } from 'react';
import {
  measuredBy,
  runBookJson,
  type Measured,
  type PrintNotes,
  type RunBook,
} from '#core/rehearse/kept-run.ts';
import type { Printer } from '#core/printer/printer.ts';
import { downloadFile, fileStem } from '../../platform/browser/files.ts';
import type { RehearsedFacts } from '../../workers/rehearse/jobs.ts';
import { Button } from '../../ui/Button.tsx';
import { TextField } from '../../ui/Fields.tsx';
import { formatClock } from './rehearse-words.ts';
import styles from './Rehearse.module.css';

interface RunBookPanelProps {
  readonly title: string;
  readonly stamp: string;
  readonly book: RunBook;
  readonly facts: RehearsedFacts;
  readonly printer: Printer;
  readonly nameOf: (filament: string | null) => string;
  readonly onBook: (book: RunBook) => void;
  readonly onMeasured: (measured: Measured) => void;
}

const TROUBLES = {
  'nothing-noted': 'Note when a swap came, or how long it took, first.',
  'not-rising': 'The minutes do not rise from swap to swap. Look at them again.',
} as const;

/** Runs that are kept, and what was seen at the real print. */
export function RunBookPanel(props: RunBookPanelProps) {
  const { title, stamp, book, facts, printer, nameOf, onBook, onMeasured } = props;
  const [trouble, setTrouble] = useState<string | null>(null);
  const stops = facts.job.stops.filter(({ wants }) => wants !== null);
  const blank: PrintNotes = {
    stamp,
    swaps: stops.map(() => ({ stoppedMin: null, tookMin: null, note: '' })),
    readyMin: null,
    note: '',
  };
  const kept = book.notes?.stamp === stamp ? book.notes : null;
  const notes = kept?.swaps.length === stops.length ? kept : blank;
  const set = (part: Partial<PrintNotes>): void => {
    setTrouble(null);
    onBook({ ...book, notes: { ...notes, ...part } });
  };
  const setSwap = (n: number, part: Partial<PrintNotes['swaps'][number]>): void => {
    set({ swaps: notes.swaps.map((swap, i) => (i === n ? { ...swap, ...part } : swap)) });
  };
  return (
    <>
      <section data-testid="run-book">
        <h2>Kept runs</h2>
        {book.runs.length === 0 ? (
          <p className={styles.soft}>A run is kept when it has come to its end.</p>
        ) : (
          <ul className={styles.queue}>
            {book.runs.slice(0, 5).map((run) => (
              <li key={run.id}>
                <span>{format(run.atMs, 'd MMM HH:mm')}</span>
                <span className="figures">
                  {run.score.toFixed(3)}, {formatClock(run.clockS)}
                </span>
              </li>
            ))}
          </ul>
        )}
        {book.runs.length > 0 || kept ? (
          <Button
            icon={<Download size={15} aria-hidden />}
            onClick={() => {
              downloadFile(
                `${fileStem(title)}-runs.json`,
                runBookJson(title, book),
                'application/json',
              );
            }}
          >
            Save as JSON
          </Button>
        ) : null}
      </section>
      <details className={styles.notes} data-testid="print-notes">
        <summary>Notes of the real print</summary>
        {stops.map((stop, n) => (
          <fieldset key={stop.line}>
            <legend>
              Swap {n + 1}, {nameOf(stop.wants)}
            </legend>
            <Minutes
              label="Stopped after, min"
              testId={`note-stopped-${n + 1}`}
              value={notes.swaps[n]?.stoppedMin ?? null}
              onChange={(stoppedMin) => {
                setSwap(n, { stoppedMin });
              }}
            />
            <Minutes
              label="Swap took, min"
              testId={`note-took-${n + 1}`}
              value={notes.swaps[n]?.tookMin ?? null}
              onChange={(tookMin) => {
                setSwap(n, { tookMin });
              }}
            />
            <TextField
              label="What went wrong"
              maxLength={500}
              value={notes.swaps[n]?.note ?? ''}
              onChange={(event) => {
                setSwap(n, { note: event.target.value });
              }}
            />
          </fieldset>
        ))}
        <Minutes
          label="Ready after, min"
          testId="note-ready"
          value={notes.readyMin}
          onChange={(readyMin) => {
            set({ readyMin });
          }}
        />
        <Button
          onClick={() => {
            const measured = measuredBy(
              notes,
              stops.map(({ atS }) => atS),
              facts.job.totalS,
              printer.swapS,
            );
            if (measured.ok) onMeasured(measured.value);
            else setTrouble(TROUBLES[measured.fault.code]);
          }}
        >
          Take over into the printer
        </Button>
        {trouble === null ? null : (
          <p role="alert" className={styles.refusal}>
            {trouble}
          </p>
        )}
      </details>
    </>
  );
}

/** Minutes, or nothing. What is no number from 0 on is said, and not taken. */
function Minutes({
  label,
  value,
  testId,
  onChange,
}: {
  readonly label: string;
  readonly testId: string;
  readonly value: number | null;
  readonly onChange: (value: number | null) => void;
}) {
  const [draft, setDraft] = useState<string | null>(null);
  const shown = draft ?? (value === null ? '' : String(value));
  const read = (text: string): number | null =>
    text.trim() === '' ? null : Number(text.replace(',', '.'));
  const isWrong = (number: number | null): boolean =>
    number !== null && !(number >= 0 && number <= 1e6);
  const wrong = isWrong(read(shown));
  return (
    <TextField
      label={label}
      inputMode="decimal"
      data-testid={testId}
      value={shown}
      trouble={wrong ? 'Minutes as a number, for example 42.5.' : undefined}
      onChange={(event) => {
        setDraft(event.target.value);
        // Notes are kept as they are typed, like the words beside them.
        const number = read(event.target.value);
        if (!isWrong(number)) onChange(number);
      }}
      onBlur={() => {
        if (!wrong) setDraft(null);
      }}
    />
  );
}
