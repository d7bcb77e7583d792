import { useEffect, useRef } from 'react';
import { paletteOf, recolour } from '#core/heights/height-map.ts';
import { lampPalette } from '#core/heights/lamp.ts';
import { useLive, useProject } from '../../state/project-context.ts';
import styles from './Stage.module.css';

/** The artwork, one canvas pixel for each pixel of the stage picture. */
export function ArtworkCanvas() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const stage = useLive((state) => state.opened.stage);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    const image = context.createImageData(stage.width, stage.height);
    image.data.set(stage.data);
    context.putImageData(image, 0, 0);
  }, [stage]);
  return (
    <canvas
      ref={canvas}
      className={styles.canvas}
      width={stage.width}
      height={stage.height}
      role="img"
      aria-label="The artwork"
      data-testid="artwork-canvas"
    />
  );
}

/**
 * The predicted print, one canvas pixel for each sample; as hung on a wall, or before a lamp. It listens to the stores itself: a dragged boundary repaints
 * this canvas once a frame and renders nothing else of the stage.
 */
export function PrintCanvas({ lit = false }: { readonly lit?: boolean }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { live, views } = useProject();
  useEffect(() => {
    let frame = 0;
    let image: ImageData | undefined;
    let packed = new Uint32Array();
    const paint = (): void => {
      frame = 0;
      const { heights, ramp } = live.store.getState();
      const element = canvas.current;
      if (!heights || !element) return;
      if (image?.width !== heights.width || image.height !== heights.height) {
        element.width = heights.width;
        element.height = heights.height;
        image = new ImageData(heights.width, heights.height);
        packed = new Uint32Array(image.data.buffer);
      }
      const palette = lit ? lampPalette(ramp, views.getState().light) : paletteOf(ramp);
      recolour(heights.data, palette, packed);
      element.getContext('2d')?.putImageData(image, 0, 0);
      element.dataset.painted = String(Number(element.dataset.painted ?? 0) + 1);
    };
    paint();
    const repaint = (): void => {
      if (frame === 0) frame = requestAnimationFrame(paint);
    };
    const unfollow = live.store.subscribe((state, before) => {
      if (state.heights !== before.heights || state.ramp !== before.ramp) repaint();
    });
    const unwatch = views.subscribe((state, before) => {
      if (lit && state.light !== before.light) repaint();
    });
    return () => {
      unfollow();
      unwatch();
      cancelAnimationFrame(frame);
    };
  }, [live, views, lit]);
  return (
    <canvas
      ref={canvas}
      className={styles.canvas}
      role="img"
      aria-label={lit ? 'The predicted print before a lamp' : 'The predicted print'}
      data-testid={lit ? 'lamp-canvas' : 'print-canvas'}
    />
  );
}
