import { useId } from 'react';
import styles from './ColourField.module.css';
import fields from './Fields.module.css';

interface ColourFieldProps {
  readonly label: string;
  /** `#rrggbb` once it is one; anything while it is typed. */
  readonly value: string;
  readonly trouble?: string | undefined;
  readonly onChange: (value: string) => void;
}

const HEX = /^#[0-9a-f]{6}$/i;

/** A colour as text, with a picker beside it. */
export function ColourField({ label, value, trouble, onChange }: ColourFieldProps) {
  const id = useId();
  const known = HEX.test(value) ? value : '#808080';
  return (
    <div className={fields.field}>
      <label className={fields.label} htmlFor={id}>
        {label}
      </label>
      <span className={styles.row}>
        <input
          id={id}
          className={`${fields.control} figures`}
          value={value}
          aria-invalid={trouble !== undefined}
          {...(trouble ? { 'aria-describedby': `${id}-trouble` } : {})}
          onChange={(event) => {
            onChange(event.target.value);
          }}
        />
        <input
          type="color"
          className={styles.chip}
          aria-label={`${label}: pick`}
          value={known.toLowerCase()}
          onChange={(event) => {
            onChange(event.target.value);
          }}
        />
      </span>
      {trouble ? (
        <span id={`${id}-trouble`} className={fields.trouble} role="alert">
          {trouble}
        </span>
      ) : null}
    </div>
  );
}
