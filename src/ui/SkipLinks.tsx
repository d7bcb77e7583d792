import styles from './SkipLinks.module.css';

/** A place that the keyboard can go to at once. */
export interface SkipTarget {
  readonly text: string;
  /** The element that gets the focus, by a CSS selector. */
  readonly selector: string;
}

/** Puts the focus on a target; false where it is not on the screen. */
export function skipTo({ selector }: Pick<SkipTarget, 'selector'>): boolean {
  const element = document.querySelector<HTMLElement>(selector);
  element?.focus();
  return element !== null;
}

/** The first stop of the Tab key: ways past everything to the parts of the screen. Seen while one has the focus. */
export function SkipLinks({ targets }: { readonly targets: readonly SkipTarget[] }) {
  return (
    <nav className={styles.links} aria-label="Skip to">
      {targets.map((target) => (
        <button
          key={target.text}
          type="button"
          onClick={() => {
            skipTo(target);
          }}
        >
          {target.text}
        </button>
      ))}
    </nav>
  );
}
