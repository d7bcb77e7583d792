import type { HTMLAttributes } from 'react';
import styles from './Row.module.css';

/** Controls beside each other, in a further line where there is no room. */
export function Row({ className, ...rest }: HTMLAttributes<HTMLDivElement>) {
  return <div className={[styles.row, className].filter(Boolean).join(' ')} {...rest} />;
}

/** Pushes what follows in a row to its end. */
export function Spacer() {
  return <span className={styles.spacer} />;
}
