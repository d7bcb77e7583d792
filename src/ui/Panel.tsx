import type { ReactNode } from 'react';
import styles from './Panel.module.css';

interface PanelProps {
  readonly children: ReactNode;
  /** The tools of a stop beside the stage; or a whole place under the bar. */
  readonly of?: 'stop' | 'place';
  readonly className?: string | undefined;
}

/** What holds the tools of a stop, or a place such as the rack: one under the other, as high as there is room. */
export function Panel({ children, of = 'stop', className }: PanelProps) {
  const Element = of === 'place' ? 'main' : 'div';
  return (
    <Element className={[styles[of], className].filter(Boolean).join(' ')}>{children}</Element>
  );
}

/** The heading of a part of a panel. */
export function PanelHeading({ children }: { readonly children: ReactNode }) {
  return <h2 className={styles.heading}>{children}</h2>;
}
