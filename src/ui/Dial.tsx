import styles from './Dial.module.css';
import { NumberField } from './NumberField.tsx';
import { RangeSlider } from './RangeSlider.tsx';

interface DialProps {
  readonly label: string;
  readonly value: number;
  readonly unit?: string;
  readonly least: number;
  readonly greatest: number;
  readonly step: number;
  readonly decimals?: number;
  readonly testId?: string;
  readonly onBegin?: () => void;
  readonly onEnd?: () => void;
  readonly onCancel?: () => void;
  /** @param repeats whether a held key repeats by itself */
  readonly onChange: (value: number, repeats: boolean) => void;
}

/** A number that is slid or typed. */
export function Dial({ label, value, least, greatest, step, ...rest }: DialProps) {
  const { unit, decimals, testId, onBegin, onEnd, onCancel, onChange } = rest;
  return (
    <div className={styles.dial}>
      <span className={styles.slider}>
        <RangeSlider
          labels={[`${label}, slider`]}
          values={[Math.min(greatest, Math.max(least, value))]}
          least={least}
          greatest={greatest}
          step={step}
          {...(onBegin ? { onBegin } : {})}
          {...(onEnd ? { onEnd } : {})}
          {...(onCancel ? { onCancel } : {})}
          onChange={([next = value], repeats) => {
            onChange(next, repeats);
          }}
        />
      </span>
      <NumberField
        label={label}
        value={value}
        least={least}
        greatest={greatest}
        step={step}
        onChange={onChange}
        {...(unit === undefined ? {} : { unit })}
        {...(decimals === undefined ? {} : { decimals })}
        {...(testId === undefined ? {} : { testId })}
      />
    </div>
  );
}
