import styles from './Swatch.module.css';

interface SwatchProps {
  /** Any CSS colour. */
  readonly colour: string;
  readonly widthPx: number;
  /** As wide as it is high by default. */
  readonly heightPx?: number;
}

/** A patch of one colour. What it shows is said in words beside it. */
export function Swatch({ colour, widthPx, heightPx = widthPx }: SwatchProps) {
  return (
    <span
      className={styles.swatch}
      style={{ background: colour, width: widthPx, height: heightPx }}
      aria-hidden
    />
  );
}
