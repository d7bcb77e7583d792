import { useEffect, useRef } from 'react';
import { layerTopsMm } from '#core/stack/layer-grid.ts';
import { useDocument, useLive, useView } from '../../state/project-context.ts';
import { useRampSeen } from '../../state/room-light.ts';
import styles from './Stage.module.css';
import type { Frame } from './view-geometry.ts';

/** Height of the drawing, px. */
const STRIP_PX = 64;

/** The relief cut along the line over the stage: every layer in the colour that is seen where the print ends in it. */
export function SideStrip({ frame }: { readonly frame: Frame }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const heights = useLive((state) => state.heights);
  const ramp = useRampSeen();
  const grid = useDocument((state) => state.document.stack.grid);
  const widthMm = useLive((state) => state.shown.widthMm);
  const at = useView((state) => state.sideAt);
  const row = heights ? Math.min(heights.height - 1, Math.floor(at * heights.height)) : 0;
  const tops = layerTopsMm(grid, ramp.length);
  const totalMm = tops.at(-1) ?? 1;
  const key = tops.join(' ');
  useEffect(() => {
    const element = canvas.current;
    if (!element || !heights) return;
    const { width, data } = heights;
    element.width = width;
    element.height = STRIP_PX;
    const image = new ImageData(width, STRIP_PX);
    const topsMm = key.split(' ').map(Number);
    let highest = 0;
    for (let y = 0; y < STRIP_PX; y += 1) {
      // The layer in which the middle of this line of pixels lies.
      const mm = ((STRIP_PX - y - 0.5) / STRIP_PX) * (topsMm.at(-1) ?? 1);
      const layer = topsMm.findIndex((top) => top >= mm);
      const colour = ramp[layer - 1]?.colour ?? [0, 0, 0];
      for (let x = 0; x < width; x += 1) {
        const own = data[row * width + x] as number;
        highest = Math.max(highest, own);
        if (own < layer) continue;
        image.data.set([...colour, 255], 4 * (y * width + x));
      }
    }
    element.getContext('2d')?.putImageData(image, 0, 0);
    element.dataset.row = String(row);
    element.dataset.highest = String(highest);
  }, [heights, ramp, key, row]);
  const stretch = STRIP_PX / totalMm / (frame.width / widthMm);
  return (
    <div className={styles.side} style={{ left: frame.left, width: frame.width }}>
      <p>
        cut along the line, heights stretched{' '}
        <span className="figures">{stretch.toFixed(1)} x</span>
      </p>
      <canvas
        ref={canvas}
        role="img"
        aria-label="The relief, cut along the line"
        data-testid="side-canvas"
      />
    </div>
  );
}
