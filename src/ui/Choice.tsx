import { ToggleGroup } from 'radix-ui';
import styles from './Choice.module.css';

interface ChoiceProps<Value extends string> {
  readonly label: string;
  readonly value: Value;
  readonly options: readonly { readonly value: Value; readonly text: string }[];
  readonly onChange: (value: Value) => void;
}

/** A row of buttons of which exactly one is chosen. */
export function Choice<Value extends string>({
  label,
  value,
  options,
  onChange,
}: ChoiceProps<Value>) {
  return (
    <ToggleGroup.Root
      type="single"
      className={styles.group}
      aria-label={label}
      value={value}
      onValueChange={(next) => {
        // Pressing the chosen one again must not leave nothing chosen.
        if (next !== '') onChange(next as Value);
      }}
    >
      {options.map((option) => (
        <ToggleGroup.Item
          key={option.value}
          value={option.value}
          className={styles.item}
          data-testid={`choice-${option.value}`}
        >
          {option.text}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
