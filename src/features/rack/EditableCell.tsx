import { useState } from 'react';
import styles from './Rack.module.css';

interface EditableCellProps {
  readonly label: string;
  readonly value: string;
  /** What stands there while it is not edited. */
  readonly shown?: string;
  readonly longest?: number;
  readonly required?: boolean;
  readonly figures?: boolean;
  /** What is wrong with a text, or null. */
  readonly check?: (text: string) => string | null;
  readonly onCommit: (text: string) => void;
}

/** A text that becomes a field when it is clicked, or when Enter is pressed on it. Escape leaves it as it was. */
export function EditableCell({
  label,
  value,
  shown = value,
  longest = 200,
  required = false,
  figures = false,
  check,
  onCommit,
}: EditableCellProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const font = figures ? 'figures' : '';
  if (draft === null)
    return (
      <button
        type="button"
        className={`${styles.cellText} ${font}`}
        aria-label={`${label}: ${shown === '' ? 'empty' : shown}. Edit`}
        title={shown}
        onClick={() => {
          setDraft(value);
        }}
      >
        {shown}
      </button>
    );
  const trouble =
    required && draft.trim() === '' ? 'Not empty, please' : (check?.(draft.trim()) ?? null);
  const commit = (): void => {
    setDraft(null);
    const text = draft.trim();
    if (trouble === null && text !== value) onCommit(text);
  };
  return (
    <span className={styles.cellEdit}>
      <input
        className={`${styles.cellInput} ${font}`}
        aria-label={label}
        aria-invalid={trouble !== null}
        value={draft}
        maxLength={longest}
        autoFocus
        onFocus={(event) => {
          event.target.select();
        }}
        onChange={(event) => {
          setDraft(event.target.value);
        }}
        onBlur={commit}
        onKeyDown={(event) => {
          event.stopPropagation();
          // Enter with something wrong keeps the field open, so that the reason can be read.
          if (event.key === 'Enter' && trouble === null) commit();
          if (event.key === 'Escape') setDraft(null);
        }}
      />
      {trouble === null ? null : (
        <span className={styles.cellTrouble} role="alert">
          {trouble}
        </span>
      )}
    </span>
  );
}
