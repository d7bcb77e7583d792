import { useId, type InputHTMLAttributes, type ReactNode, type Ref } from 'react';
import styles from './Fields.module.css';

interface FieldProps {
  readonly label: string;
  readonly trouble?: string | undefined;
}

interface TextFieldProps extends FieldProps, InputHTMLAttributes<HTMLInputElement> {
  readonly 'data-testid'?: string;
  readonly ref?: Ref<HTMLInputElement>;
}

/** A line of text with its label above, and what is wrong with it below. */
export function TextField({ label, trouble, className, ...rest }: TextFieldProps) {
  const id = useId();
  return (
    <div className={[styles.field, className].filter(Boolean).join(' ')}>
      <label className={styles.label} htmlFor={id}>
        {label}
      </label>
      <input
        id={id}
        className={styles.control}
        aria-invalid={trouble !== undefined}
        {...(trouble ? { 'aria-describedby': `${id}-trouble` } : {})}
        {...rest}
      />
      {trouble ? (
        <span id={`${id}-trouble`} className={styles.trouble} role="alert">
          {trouble}
        </span>
      ) : null}
    </div>
  );
}

interface CheckFieldProps {
  readonly label: string;
  readonly checked: boolean;
  readonly onChange: (checked: boolean) => void;
  readonly disabled?: boolean;
  readonly testId?: string;
}

/** Something that is on or off. */
export function CheckField({ label, checked, onChange, disabled, testId }: CheckFieldProps) {
  return (
    <label className={styles.check}>
      <input
        type="checkbox"
        checked={checked}
        disabled={disabled}
        data-testid={testId}
        onChange={(event) => {
          onChange(event.target.checked);
        }}
      />
      <span>{label}</span>
    </label>
  );
}

interface SelectFieldProps<Value extends string> {
  readonly label: string;
  readonly value: Value;
  readonly options: readonly { readonly value: Value; readonly text: string }[];
  readonly onChange: (value: Value) => void;
  /** In a row of tools the label is only spoken. */
  readonly compact?: boolean;
  readonly testId?: string;
}

/** A choice out of a list that drops down. */
export function SelectField<Value extends string>({
  label,
  value,
  options,
  onChange,
  compact = false,
  testId,
}: SelectFieldProps<Value>): ReactNode {
  const id = useId();
  const select = (
    <select
      id={id}
      className={compact ? styles.bare : styles.control}
      value={value}
      data-testid={testId}
      {...(compact ? { 'aria-label': label } : {})}
      onChange={(event) => {
        onChange(event.target.value as Value);
      }}
    >
      {options.map((option) => (
        <option key={option.value} value={option.value}>
          {option.text}
        </option>
      ))}
    </select>
  );
  if (compact) return select;
  return (
    <div className={styles.field}>
      <label className={styles.label} htmlFor={id}>
        {label}
      </label>
      {select}
    </div>
  );
}
