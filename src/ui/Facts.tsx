import type { ReactNode } from 'react';
import styles from './Facts.module.css';

/** A short table of names and values. */
export function Facts({ rows }: { readonly rows: readonly (readonly [string, ReactNode])[] }) {
  return (
    <dl className={styles.facts}>
      {rows.map(([name, value]) => (
        <div key={name} className={styles.row}>
          <dt>{name}</dt>
          <dd className="figures">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
