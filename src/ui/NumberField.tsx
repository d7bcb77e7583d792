import { useId, useState } from 'react';
import styles from './NumberField.module.css';
import { useTypedHold } from './typed-hold.ts';

interface NumberFieldProps {
  readonly label: string;
  readonly value: number;
  readonly unit?: string;
  readonly least: number;
  readonly greatest: number;
  /** What one press of an arrow key changes. */
  readonly step: number;
  /** Decimals shown at most. */
  readonly decimals?: number;
  /** @param repeats whether a held key repeats by itself */
  readonly onChange: (value: number, repeats: boolean) => void;
  /** A change begins long work in place of changing a document at once: it waits until the field is left. */
  readonly beginsWork?: boolean;
  readonly testId?: string;
}

function show(value: number, decimals: number): string {
  return String(Number(value.toFixed(decimals)));
}

/**
 * A number with its unit. What is typed counts when the field is left or Enter is pressed; until then it may be anything,
 * and wrong values are told in place. A decimal comma is understood.
 */
export function NumberField({
  label,
  value,
  unit,
  least,
  greatest,
  step,
  decimals = 2,
  onChange,
  beginsWork = false,
  testId,
}: NumberFieldProps) {
  const id = useId();
  const hold = useTypedHold();
  // What is being typed; null while the field shows the value itself.
  const [draft, setDraft] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const text = draft ?? show(value, decimals);
  const reset = (): void => {
    setDraft(null);
    setTrouble(null);
    hold(null);
  };
  const numberOf = (typed: string): number | null => {
    const number = typed.trim() === '' ? Number.NaN : Number(typed.replace(',', '.'));
    return number >= least && number <= greatest ? number : null;
  };
  const type = (typed: string): void => {
    setDraft(typed);
    const number = numberOf(typed);
    hold(
      number === null || beginsWork
        ? null
        : () => {
            onChange(number, false);
          },
    );
  };

  const commit = (): void => {
    if (draft === null || draft === show(value, decimals)) {
      reset();
      return;
    }
    const number = numberOf(draft);
    if (number === null) {
      const limits = `${show(least, decimals)} to ${show(greatest, decimals)}`;
      setTrouble(`${label} is a number from ${limits}${unit ? ` ${unit}` : ''}.`);
      return;
    }
    reset();
    onChange(number, false);
  };

  return (
    <div className={styles.field}>
      <label htmlFor={id}>{label}</label>
      <span className={styles.box}>
        <input
          id={id}
          className={`${styles.input} figures`}
          inputMode="decimal"
          value={text}
          data-testid={testId}
          aria-invalid={trouble !== null}
          {...(trouble ? { 'aria-describedby': `${id}-trouble` } : {})}
          onChange={(event) => {
            type(event.target.value);
          }}
          onBlur={commit}
          onKeyDown={(event) => {
            if (event.key === 'Enter') commit();
            if (event.key === 'Escape') reset();
            if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
              event.preventDefault();
              reset();
              const next = value + (event.key === 'ArrowUp' ? step : -step);
              onChange(Math.min(greatest, Math.max(least, Number(next.toFixed(6)))), event.repeat);
            }
          }}
        />
        {unit ? <span className={styles.unit}>{unit}</span> : null}
      </span>
      {trouble ? (
        <span id={`${id}-trouble`} className={styles.trouble} role="alert">
          {trouble}
        </span>
      ) : null}
    </div>
  );
}
