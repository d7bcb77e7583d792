import { useView } from '../../state/project-context.ts';
import type { Brush } from '../../state/view-store.ts';
import { BrushLine } from './BrushLine.tsx';
import { ImportanceOverlay } from './ImportanceOverlay.tsx';
import styles from './Stage.module.css';
import type { GrowingLine } from './use-brush.ts';

interface BrushOverlayProps {
  readonly brush: Brush;
  /** Picture on the screen, px. */
  readonly width: number;
  readonly height: number;
  /** The line that is being drawn. */
  readonly growing: GrowingLine | null;
}

/** What the brush in hand says, and where it is. */
export function BrushOverlay({ brush, width, height, growing }: BrushOverlayProps) {
  const pointer = useView((state) => state.pointer);
  const { says, radius } = brush;
  return (
    <>
      {'mark' in says ? (
        <ImportanceOverlay
          width={width}
          height={height}
          growing={growing && { ...growing, mark: says.mark }}
        />
      ) : null}
      <svg className={styles.importance} viewBox={`0 0 ${width} ${height}`} aria-hidden>
        {growing && 'zone' in says ? (
          <BrushLine line={growing} width={width} height={height} colour="#e9b800" opacity={0.5} />
        ) : null}
        {pointer ? (
          <circle
            cx={pointer.x * width}
            cy={pointer.y * height}
            r={radius * width}
            className={styles.brushRing}
          />
        ) : null}
      </svg>
    </>
  );
}
