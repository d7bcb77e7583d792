import { useEffect, useRef } from 'react';
import { useDocument, useProject } from '../../state/project-context.ts';
import styles from './PictureOverlay.module.css';
import { askingRecipe } from '../../state/recipe.ts';
import { useDesk, useOpenEdit } from './use-artwork.ts';

/** How much of the grey veil lies over what is not touched, 0..255. */
const VEIL = 215;
const GREY = 110;

/** A grey veil over all that the open edit does not touch, where that was asked for. */
export function TouchedVeil() {
  const { worker } = useProject();
  const canvas = useRef<HTMLCanvasElement>(null);
  const artwork = useDocument((state) => state.document.artwork);
  const { showTouched } = useDesk();
  const edit = useOpenEdit();
  const id = edit?.id;
  const wanted = showTouched && id !== undefined;
  useEffect(() => {
    if (!wanted) return undefined;
    const abort = new AbortController();
    worker
      .run('touched', { recipe: askingRecipe(artwork), id }, abort)
      .then(({ width, height, data }) => {
        const element = canvas.current;
        if (!element) return;
        element.width = width;
        element.height = height;
        const image = new ImageData(width, height);
        data.forEach((share, i) => {
          image.data.fill(GREY, 4 * i, 4 * i + 3);
          image.data[4 * i + 3] = Math.round((VEIL * (255 - share)) / 255);
        });
        element.getContext('2d')?.putImageData(image, 0, 0);
        element.dataset.painted = String(Number(element.dataset.painted ?? 0) + 1);
      })
      .catch(() => undefined);
    return () => {
      abort.abort();
    };
  }, [worker, artwork, id, wanted]);
  if (!wanted) return null;
  return (
    <canvas
      ref={canvas}
      className={styles.drawing}
      role="img"
      aria-label="What the edit touches; the rest is veiled"
      data-testid="touched-canvas"
    />
  );
}
