import { SelectField } from './Fields.tsx';

interface SelectIfSeveralProps {
  readonly label: string;
  readonly testId: string;
  /** In a row of tools the label is only spoken. */
  readonly compact?: boolean;
  readonly of: {
    readonly options: readonly { readonly value: string; readonly text: string }[];
    /** Place of what is chosen. */
    readonly index: number;
    readonly choose: (value: string) => void;
  };
}

/** A list to choose from; nothing at all where there is one entry. */
export function SelectIfSeveral({ label, testId, compact = false, of }: SelectIfSeveralProps) {
  if (of.options.length < 2) return null;
  return (
    <SelectField
      label={label}
      value={String(of.index)}
      testId={testId}
      compact={compact}
      options={of.options}
      onChange={of.choose}
    />
  );
}
