import { useRef } from 'react';
import { layerTopMm } from '#core/stack/layer-grid.ts';
import { bandEnds, bandLetter, boundaryRange } from '#core/stack/stack.ts';
import { joinsWhen } from '../../state/document-store.ts';
import { moveEdge } from '../../state/edits/band-edits.ts';
import { useDocument } from '../../state/project-context.ts';
import { useGesture } from '../../ui/use-gesture.ts';
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
  const {
    stack: { bands, grid, filaments, holdTotal },
  } = document;
  const end = bandEnds(bands)[bandIndex] ?? 0;
  const { least, greatest } = boundaryRange(bands, bandIndex, { holdTotal });
  const fixed = least === greatest;
  const band = bands[bandIndex];
  const name = (band && filaments[band.filamentId]?.name) ?? '';
  // Where in the handle it was grabbed does not matter for where the edge goes.
  const grabbedAt = useRef(0);

  const gesture = useGesture({
    onBegin: (event) => {
      grabbedAt.current = event.clientY - y;
      beginGesture();
      onDragging(true);
      return true;
    },
    onMove: (event) => {
      change(moveEdge(bandIndex, layerAt(scale, grid, event.clientY - grabbedAt.current)));
    },
    onEnd: () => {
      endGesture();
      onDragging(false);
    },
    onCancel: () => {
      cancelGesture();
      onDragging(false);
    },
  });

  return (
    <div
      className={styles.handle}
      style={{ top: y - 7, left, width }}
      id={`edge-${bandIndex}`}
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
      {...gesture.on()}
      onKeyDown={(event) => {
        const step = event.shiftKey ? LONG_STEP : 1;
        const move = (layerNumber: number): void => {
          change(moveEdge(bandIndex, layerNumber), joinsWhen(event.repeat));
        };
        if (event.key === 'ArrowUp' || event.key === 'ArrowRight') move(end + step);
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
