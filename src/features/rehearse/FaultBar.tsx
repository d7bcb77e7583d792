import { useId } from 'react';
import { IMPATIENT_S, type Trial } from '#core/rehearse/rehearsal.ts';
import { NO_FAULT, type ChosenFault } from '../../state/rehearsal.ts';
import { TRIAL_WORDS } from '../../platform/rehearse-words.ts';
import type { RehearsedFacts } from '../../workers/rehearse/jobs.ts';
import { Button } from '../../ui/Button.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import styles from './Rehearse.module.css';

/** What can be chosen beforehand; what only Try all knows is left out. */
const CHOICES = [
  'nothing',
  'runs-through',
  'resumes-itself',
  'wrong-spool',
  'runs-out',
  'runs-out-told',
  'power',
] as const satisfies readonly Trial[];
export type Choosable = (typeof CHOICES)[number];

/** A chosen fault, with its number: of a stop, of seconds or of millimetres. */
export interface FaultChoice {
  readonly kind: Choosable;
  readonly value: number;
  readonly spool: string;
}

/** What a kind begins with: its first stop, the shortest patience, half of the strand or of the time. */
export function freshChoice(kind: Choosable, facts: RehearsedFacts, spool: string): FaultChoice {
  const value =
    kind === 'resumes-itself'
      ? IMPATIENT_S
      : kind === 'runs-out' || kind === 'runs-out-told'
        ? 1000
        : kind === 'power'
          ? Math.round(facts.job.totalS / 120)
          : 1;
  return { kind, value, spool };
}

export function faultOf({ kind, value, spool }: FaultChoice): ChosenFault {
  const plain = { emptyAfterMm: null };
  switch (kind) {
    case 'nothing':
      return NO_FAULT;
    case 'runs-through':
      return { ...plain, faults: { ignores: value } };
    case 'resumes-itself':
      return { ...plain, faults: { resumesAfterS: value } };
    case 'wrong-spool':
      return { ...plain, faults: { wrongSpool: { stop: value, spool } } };
    case 'runs-out':
      return { faults: {}, emptyAfterMm: value };
    case 'runs-out-told':
      return { faults: { sensor: true }, emptyAfterMm: value };
    case 'power':
      return { ...plain, faults: { powerAtS: 60 * value } };
  }
}

interface FaultField {
  readonly label: string;
  readonly unit?: string;
  readonly least: number;
  readonly greatest: number;
  readonly step: number;
  readonly decimals: number;
}

/** The number that a fault has: of a stop, of seconds, of millimetres or of minutes. */
function fieldOf(kind: Choosable, stops: number): FaultField | null {
  switch (kind) {
    case 'nothing':
      return null;
    case 'runs-through':
    case 'wrong-spool':
      return { label: 'Stop', least: 1, greatest: Math.max(1, stops), step: 1, decimals: 0 };
    case 'resumes-itself':
      return { label: 'After', unit: 's', least: 0, greatest: 86_400, step: 10, decimals: 1 };
    case 'runs-out':
    case 'runs-out-told':
      return {
        label: 'Left on the spool',
        unit: 'mm',
        least: 0,
        greatest: 1e7,
        step: 100,
        decimals: 0,
      };
    case 'power':
      return { label: 'After', unit: 'min', least: 0, greatest: 1e5, step: 5, decimals: 1 };
  }
}

interface FaultBarProps {
  readonly choice: FaultChoice;
  readonly facts: RehearsedFacts;
  readonly stops: number;
  readonly spools: readonly { readonly id: string; readonly name: string }[];
  readonly onChoose: (choice: FaultChoice) => void;
  readonly onTryAll: () => void;
}

/** What may go wrong, chosen before or while it prints. */
export function FaultBar({ choice, facts, stops, spools, onChoose, onTryAll }: FaultBarProps) {
  const id = useId();
  const { kind, value, spool } = choice;
  const field = fieldOf(kind, stops);
  const set = (part: Partial<FaultChoice>): void => {
    onChoose({ ...choice, ...part });
  };
  return (
    <div className={styles.faults} data-testid="faults">
      <label htmlFor={id}>What may go wrong</label>
      <select
        id={id}
        value={kind}
        data-testid="fault"
        onChange={(event) => {
          onChoose(freshChoice(event.target.value as Choosable, facts, spools[0]?.id ?? ''));
        }}
      >
        {CHOICES.filter(
          (one) => stops > 0 || !['runs-through', 'resumes-itself', 'wrong-spool'].includes(one),
        ).map((one) => (
          <option key={one} value={one}>
            {TRIAL_WORDS[one]}
          </option>
        ))}
      </select>
      {field ? (
        <NumberField
          label={field.label}
          {...(field.unit === undefined ? {} : { unit: field.unit })}
          value={value}
          least={field.least}
          greatest={field.greatest}
          step={field.step}
          decimals={field.decimals}
          testId="fault-value"
          beginsWork
          onChange={(next) => {
            set({ value: Number(next.toFixed(field.decimals)) });
          }}
        />
      ) : null}
      {kind === 'wrong-spool' ? (
        <select
          aria-label="Spool that goes in"
          value={spool}
          onChange={(event) => {
            set({ spool: event.target.value });
          }}
        >
          {spools.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
      ) : null}
      <span className={styles.gap} />
      <Button onClick={onTryAll} data-testid="try-all">
        Try all
      </Button>
    </div>
  );
}
