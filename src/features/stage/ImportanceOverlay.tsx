import { shareInPiece } from '#core/relief/sampling.ts';
import type { ImportanceStroke } from '#core/artwork/importance.ts';
import { useDocument, useLive, useView } from '../../state/project-context.ts';
import { strokesOf } from '../../state/strokes.ts';
import styles from './Stage.module.css';

interface ImportanceOverlayProps {
  /** Picture on the screen, px. */
  readonly width: number;
  readonly height: number;
  /** The stroke that is being drawn. */
  readonly growing: ImportanceStroke | null;
}

/** What was painted to matter more or less, while the brush is in hand: plus signs and minus signs, not colour alone. */
export function ImportanceOverlay({ width, height, growing }: ImportanceOverlayProps) {
  const brush = useView((state) => state.brush);
  const pointer = useView((state) => state.pointer);
  const kept = useDocument((state) => state.document.artwork.masks.importance);
  const shown = useLive((state) => state.shown);
  if (!brush) return null;
  const { columns, rows, pad = 0 } = shown;
  const placed = strokesOf(kept).map((stroke) => ({
    ...stroke,
    radius: (stroke.radius * (columns - 2 * pad)) / columns,
    points: stroke.points.map((share, i) => shareInPiece(share, i % 2 === 0 ? columns : rows, pad)),
  }));
  const strokes = growing ? [...placed, growing] : placed;
  return (
    <svg
      className={styles.importance}
      viewBox={`0 0 ${width} ${height}`}
      aria-hidden
      data-testid="importance"
      data-strokes={strokes.length}
    >
      <defs>
        <pattern id="matters-more" width="14" height="14" patternUnits="userSpaceOnUse">
          <rect width="14" height="14" fill="#e9b800" fillOpacity="0.35" />
          <path d="M7 3.5v7M3.5 7h7" stroke="#1d2229" strokeWidth="1.5" />
        </pattern>
        <pattern id="matters-less" width="14" height="14" patternUnits="userSpaceOnUse">
          <rect width="14" height="14" fill="#ffffff" fillOpacity="0.35" />
          <path d="M3.5 7h7" stroke="#1d2229" strokeWidth="1.5" />
        </pattern>
        {/* A stroke that takes marks away cuts out of those before it. */}
        {strokes.map((stroke, i) =>
          stroke.mark === 'plain' ? null : (
            <mask
              key={i}
              id={`stroke-${i}`}
              maskUnits="userSpaceOnUse"
              width={width}
              height={height}
            >
              <Line stroke={stroke} width={width} height={height} colour="white" />
              {strokes.slice(i + 1).map((later, k) => (
                <Line key={k} stroke={later} width={width} height={height} colour="black" />
              ))}
            </mask>
          ),
        )}
      </defs>
      {strokes.map(({ mark }, i) =>
        mark === 'plain' ? null : (
          <rect
            key={i}
            width={width}
            height={height}
            fill={`url(#matters-${mark})`}
            mask={`url(#stroke-${i})`}
          />
        ),
      )}
      {pointer ? (
        <circle
          cx={pointer.x * width}
          cy={pointer.y * height}
          r={brush.radius * width}
          className={styles.brushRing}
        />
      ) : null}
    </svg>
  );
}

interface LineProps {
  readonly stroke: ImportanceStroke;
  readonly width: number;
  readonly height: number;
  readonly colour: string;
}

function Line({ stroke: { points, radius }, width, height, colour }: LineProps) {
  const places = Array.from(
    { length: points.length / 2 },
    (_, i) => `${(points[2 * i] ?? 0) * width} ${(points[2 * i + 1] ?? 0) * height}`,
  );
  return (
    <path
      d={`M${places[0]}L${(places.length > 1 ? places.slice(1) : places).join('L')}`}
      fill="none"
      stroke={colour}
      strokeWidth={2 * radius * width}
      strokeLinecap="round"
      strokeLinejoin="round"
    />
  );
}
