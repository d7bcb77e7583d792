import { useEffect, useRef } from 'react';
import { paletteOf, recolour } from '#core/heights/height-map.ts';
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
 * The predicted print, one canvas pixel for each sample. It listens to the stores itself: a dragged boundary repaints
 * this canvas once a frame and renders nothing else of the stage.
 */
export function PrintCanvas() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { live } = useProject();
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
      recolour(heights.data, paletteOf(ramp), packed);
      element.getContext('2d')?.putImageData(image, 0, 0);
      element.dataset.painted = String(Number(element.dataset.painted ?? 0) + 1);
    };
    paint();
    const unsubscribe = live.store.subscribe((state, before) => {
      if (state.heights === before.heights && state.ramp === before.ramp) return;
      if (frame === 0) frame = requestAnimationFrame(paint);
    });
    return () => {
      unsubscribe();
      cancelAnimationFrame(frame);
    };
  }, [live]);
  return (
    <canvas
      ref={canvas}
      className={styles.canvas}
      role="img"
      aria-label="The predicted print"
      data-testid="print-canvas"
    />
  );
}
