import { useRef } from 'react';
import { layerTopMm } from '#core/stack/layer-grid.ts';
import { bandEnds, bandLetter, boundaryRange, moveBoundary } from '#core/stack/stack.ts';
import { useDocument } from '../../state/project-context.ts';
import styles from './Section.module.css';
import { layerAt, type SectionScale } from './section-geometry.ts';

interface BoundaryHandleProps {
  readonly bandIndex: number;
  readonly y: number;
  readonly scale: SectionScale;
  readonly left: number;
  readonly width: number;
  readonly onDragging: (on: boolean) => void;
}

/** Layers that Shift with an arrow key moves. */
const LONG_STEP = 5;

/** The upper edge of a band: dragged with snapping to layers, or moved with the arrow keys. Escape takes a drag back. */
export function BoundaryHandle({
  bandIndex,
  y,
  scale,
  left,
  width,
  onDragging,
}: BoundaryHandleProps) {
  const document = useDocument((state) => state.document);
  const { change, beginGesture, endGesture, cancelGesture } = useDocument((state) => state);
  const { bands, grid, filaments, holdTotal } = document;
  const end = bandEnds(bands)[bandIndex] ?? 0;
  const { least, greatest } = boundaryRange(bands, bandIndex, { holdTotal });
  const fixed = least === greatest;
  const band = bands[bandIndex];
  const name = (band && filaments[band.filamentId]?.name) ?? '';
  const grabbedAt = useRef<number | null>(null);

  const move = (layerNumber: number): void => {
    change((draft) => {
      const moved = moveBoundary(draft.bands, bandIndex, layerNumber, { holdTotal });
      // An edge that cannot go farther makes no step of history.
      if (moved !== draft.bands) draft.bands = [...moved];
    });
  };
  const release = (finish: () => void): void => {
    if (grabbedAt.current === null) return;
    grabbedAt.current = null;
    finish();
    onDragging(false);
  };

  return (
    <div
      className={styles.handle}
      style={{ top: y - 7, left, width }}
      role="slider"
      tabIndex={0}
      aria-orientation="vertical"
      aria-label={`Upper edge of band ${bandLetter(bandIndex)}, ${name}`}
      aria-valuemin={least}
      aria-valuemax={greatest}
      aria-valuenow={end}
      aria-valuetext={`ends with layer ${end} at ${layerTopMm(grid, end).toFixed(2)} mm${fixed ? ', held' : ''}`}
      aria-disabled={fixed}
      data-fixed={fixed}
      data-testid={`edge-${bandLetter(bandIndex)}`}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        // Where in the handle it was grabbed does not matter for where the edge goes.
        grabbedAt.current = event.clientY - y;
        beginGesture();
        onDragging(true);
      }}
      onPointerMove={(event) => {
        if (grabbedAt.current === null) return;
        move(layerAt(scale, grid, event.clientY - grabbedAt.current));
      }}
      onPointerUp={() => {
        release(endGesture);
      }}
      onPointerCancel={() => {
        release(cancelGesture);
      }}
      onKeyDown={(event) => {
        const step = event.shiftKey ? LONG_STEP : 1;
        if (event.key === 'Escape') release(cancelGesture);
        else if (event.key === 'ArrowUp' || event.key === 'ArrowRight') move(end + step);
        else if (event.key === 'ArrowDown' || event.key === 'ArrowLeft') move(end - step);
        else if (event.key === 'Home') move(least);
        else if (event.key === 'End' && bandIndex < bands.length - 1) move(greatest);
        else return;
        event.preventDefault();
      }}
    >
      <span className={styles.edge} />
      <span className={styles.arrow} />
    </div>
  );
}
