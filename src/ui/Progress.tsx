import { Progress as Base } from 'radix-ui';
import { Button } from './Button.tsx';
import styles from './Progress.module.css';

interface ProgressProps {
  readonly label: string;
  /** Share done, 0..1. */
  readonly fraction: number;
  readonly onCancel: () => void;
  /** What giving up is called, where something is kept of it. */
  readonly cancelText?: string;
}

/** Says what is going on and how far it is, with a way out. */
export function Progress({ label, fraction, onCancel, cancelText = 'Cancel' }: ProgressProps) {
  const percent = Math.round(fraction * 100);
  return (
    <div className={styles.row} role="status">
      <span>{label}</span>
      <Base.Root className={styles.track} value={percent} aria-label={label}>
        <Base.Indicator className={styles.bar} style={{ width: `${percent}%` }} />
      </Base.Root>
      <span className="figures">{percent} %</span>
      <Button onClick={onCancel}>{cancelText}</Button>
    </div>
  );
}
