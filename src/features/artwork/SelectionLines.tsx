import { useEffect, useState } from 'react';
import { useDocument, useProject } from '../../state/project-context.ts';
import type { ShownSelection } from '../../workers/artwork/edit-jobs.ts';
import styles from './PictureOverlay.module.css';
import { askingRecipe } from './use-artwork.ts';

interface SelectionLinesProps {
  readonly id: string;
  readonly width: number;
  readonly height: number;
}

/** The outline of a selection: a still line of both colours, with its name and share. */
export function SelectionLines({ id, width, height }: SelectionLinesProps) {
  const { worker } = useProject();
  const artwork = useDocument((state) => state.document.artwork);
  const [shown, setShown] = useState<ShownSelection | null>(null);
  useEffect(() => {
    const abort = new AbortController();
    worker
      .run('selection', { recipe: askingRecipe(artwork), id }, abort)
      .then(setShown)
      // A newer one is on the way, or the worker says what is wrong by the live print.
      .catch(() => undefined);
    return () => {
      abort.abort();
    };
  }, [worker, artwork, id]);
  const name = artwork.selections.find((one) => one.id === id)?.name ?? '';
  if (!shown) return null;
  const path = shown.lines
    .map((line) => {
      const places: string[] = [];
      for (let i = 0; i + 1 < line.length; i += 2)
        places.push(`${(line[i] as number) * width} ${(line[i + 1] as number) * height}`);
      return `M${places.join('L')}Z`;
    })
    .join('');
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
