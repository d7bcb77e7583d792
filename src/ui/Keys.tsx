import styles from './Keys.module.css';

/** Keys as they are printed on the keyboard: `Ctrl+Z`. */
export function Keys({ keys }: { readonly keys: string }) {
  return (
    <span className={styles.keys}>
      {(keys === '+' ? [keys] : keys.split('+')).map((key) => (
        <kbd key={key} className={styles.key}>
          {key}
        </kbd>
      ))}
    </span>
  );
}
