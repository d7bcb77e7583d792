import { useDocument } from '../../state/project-context.ts';
import { outlinePath, useShownSelections } from '../../state/use-selections.ts';
import styles from './PictureOverlay.module.css';

interface SelectionLinesProps {
  readonly id: string;
  readonly width: number;
  readonly height: number;
}

/** The outline of a selection: a still line of both colours, with its name and share. */
export function SelectionLines({ id, width, height }: SelectionLinesProps) {
  const shown = useShownSelections([id]).get(id);
  const name =
    useDocument((state) => state.document.artwork.selections.find((one) => one.id === id)?.name) ??
    '';
  if (!shown) return null;
  const path = outlinePath(shown, width, height);
  return (
    <>
      <svg
        className={styles.drawing}
        viewBox={`0 0 ${width} ${height}`}
        aria-hidden
        data-testid="selection-lines"
        data-share={shown.share.toFixed(4)}
        data-lines={shown.lines.length}
      >
        <path d={path} className={styles.lineUnder} />
        <path d={path} className={styles.lineOver} />
      </svg>
      <p className={styles.name}>
        {name}, {(100 * shown.share).toFixed(1)} %
      </p>
    </>
  );
}
