import styles from './App.module.css';
import { goTo } from './route.ts';

/** Mark and name; leads to the shelf. */
export function Brand() {
  return (
    <a
      className={styles.brand}
      href="/"
      onClick={(event) => {
        if (event.metaKey || event.ctrlKey || event.shiftKey) return;
        event.preventDefault();
        goTo('/');
      }}
    >
      <svg viewBox="0 0 24 24" width={26} height={26} aria-hidden focusable={false}>
        <path d="M2 7l6-3 6 2 8-3v4l-8 3-6-2-6 3z" fill="#e9b800" />
        <path d="M2 12.500l6-3 6 2 8-3v3.500l-8 3-6-2-6 3z" fill="#8d9298" />
        <path d="M2 17.500l6-3 6 2 8-3V21H2z" fill="currentColor" />
      </svg>
      Zesty Strata
    </a>
  );
}
