import { useEffect, useRef } from 'react';
import { useDocument, useLive, useProject, useView } from '../../state/project-context.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import styles from './PictureOverlay.module.css';
import { askingRecipe } from '../../state/recipe.ts';
import { useDesk } from './use-artwork.ts';

/** How faint what was cut away is, 0..1, and the grey that it fades into. */
const FAINT = 0.4;
const GREY = 120;
/** Side of a square, px of the canvas. */
const SQUARE_PX = 12;

/** Draws a ground wherever the edited picture has nothing. */
function paint(canvas: HTMLCanvasElement, edited: RgbaRaster, before: RgbaRaster | null): void {
  const { width, height } = edited;
  const image = new ImageData(width, height);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const i = y * width + x;
      if ((edited.data[4 * i + 3] as number) >= 128) continue;
      const at = 4 * i;
      image.data[at + 3] = 255;
      if (before) {
        const px = Math.floor(((x + 0.5) * before.width) / width);
        const py = Math.floor(((y + 0.5) * before.height) / height);
        const from = 4 * (py * before.width + px);
        for (let c = 0; c < 3; c += 1)
          image.data[at + c] = FAINT * (before.data[from + c] as number) + (1 - FAINT) * GREY;
      } else {
        const odd = (Math.floor(x / SQUARE_PX) + Math.floor(y / SQUARE_PX)) % 2;
        image.data.fill(odd === 1 ? 205 : 240, at, at + 3);
      }
    }
  canvas.width = width;
  canvas.height = height;
  canvas.getContext('2d')?.putImageData(image, 0, 0);
  canvas.dataset.painted = String(Number(canvas.dataset.painted ?? 0) + 1);
}

/** What is seen where a cut-out took the picture away, while its settings are open: the artwork view alone has it. */
export function CutAwayGround({ id }: { readonly id: string }) {
  const { worker } = useProject();
  const canvas = useRef<HTMLCanvasElement>(null);
  const artwork = useDocument((state) => state.document.artwork);
  const edited = useLive((state) => state.edited.stage);
  const { ground } = useDesk();
  const view = useView((state) => state.view);
  const original = useView((state) => state.originalHeld);
  const wanted = view === 'artwork' && ground !== 'plain' && !original;
  useEffect(() => {
    if (!wanted || !canvas.current) return undefined;
    if (ground === 'squares') {
      paint(canvas.current, edited, null);
      return undefined;
    }
    const abort = new AbortController();
    worker
      .run('before', { recipe: askingRecipe(artwork), editId: id }, abort)
      .then(({ stage }) => {
        if (canvas.current) paint(canvas.current, edited, stage);
      })
      // The live print tells what is wrong with the worker.
      .catch(() => undefined);
    return () => {
      abort.abort();
    };
  }, [worker, artwork, edited, id, ground, wanted]);
  if (!wanted) return null;
  return (
    <canvas
      ref={canvas}
      className={styles.drawing}
      role="img"
      aria-label="What was cut away"
      data-testid="cut-away"
      data-ground={ground}
    />
  );
}
