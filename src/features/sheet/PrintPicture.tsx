import { useEffect, useRef } from 'react';
import { printOf } from '../../state/print-of.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { drawRaster } from '../../ui/draw-raster.ts';
import styles from './SheetPaper.module.css';

/** Enough for a picture of 60 mm at the resolution of a paper printer. */
const PICTURE_SAMPLES = 160_000;

/** The predicted print, as large as a stamp. */
export function PrintPicture() {
  const { worker } = useProject();
  const document = useDocument((state) => state.document);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { name, artwork, stack, heights, piece } = document;
  const key = JSON.stringify([artwork, stack, heights, piece]);
  useEffect(() => {
    const abort = new AbortController();
    printOf(worker, document, PICTURE_SAMPLES, abort.signal)
      .then(({ print }) => {
        if (!abort.signal.aborted && canvas.current) drawRaster(canvas.current, print);
      })
      // Given up, or the project was closed meanwhile.
      .catch(() => undefined);
    return () => {
      abort.abort();
    };
    // What the sheet is told changes no picture: the key has all that does.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, worker]);
  return (
    <canvas
      ref={canvas}
      className={styles.print}
      role="img"
      aria-label={`The print of ${name}`}
      data-testid="sheet-picture"
    />
  );
}
