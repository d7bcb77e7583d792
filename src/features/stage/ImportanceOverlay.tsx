import { useMemo } from 'react';
import { shareInPiece } from '#core/relief/sampling.ts';
import type { ImportanceStroke, Mark } from '#core/artwork/importance.ts';
import { useDocument, useLive } from '../../state/project-context.ts';
import { importanceOf } from '../../state/importance.ts';
import { outlinePath, useShownSelections } from '../../state/use-selections.ts';
import { BrushLine } from './BrushLine.tsx';
import styles from './Stage.module.css';

/** What is marked, in shares of the piece; or as a path on the screen. */
type Drawn = ImportanceStroke | { readonly mark: Mark; readonly path: string };

interface ImportanceOverlayProps {
  /** Picture on the screen, px. */
  readonly width: number;
  readonly height: number;
  /** The stroke that is being drawn. */
  readonly growing: ImportanceStroke | null;
}

/** What was painted to matter more or less, while the brush is in hand: plus signs and minus signs, not colour alone. */
export function ImportanceOverlay({ width, height, growing }: ImportanceOverlayProps) {
  const artwork = useDocument((state) => state.document.artwork);
  const shown = useLive((state) => state.shown);
  const marks = useMemo(() => importanceOf({ artwork }), [artwork]);
  const areas = useShownSelections(
    marks.flatMap((one) => ('selection' in one ? [one.selection] : [])),
  );
  const { columns, rows, pad = 0 } = shown;
  const [left, top] = [(pad * width) / columns, (pad * height) / rows];
  const inner = columns - 2 * pad;
  const drawn: readonly Drawn[] = marks.flatMap((one): Drawn[] => {
    if ('selection' in one) {
      const area = areas.get(one.selection);
      const path = area && outlinePath(area, width - 2 * left, height - 2 * top, left, top);
      return path ? [{ mark: one.mark, path }] : [];
    }
    const { mark, radius, points } = one;
    const placed = points.map((share, i) => shareInPiece(share, i % 2 === 0 ? columns : rows, pad));
    return [{ mark, radius: (radius * inner) / columns, points: placed }];
  });
  const strokes = growing ? [...drawn, growing] : drawn;
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
    </svg>
  );
}

interface LineProps {
  readonly stroke: Drawn;
  readonly width: number;
  readonly height: number;
  readonly colour: string;
}

function Line({ stroke, ...rest }: LineProps) {
  return 'path' in stroke ? (
    <path d={stroke.path} fill={rest.colour} fillRule="evenodd" />
  ) : (
    <BrushLine line={stroke} {...rest} />
  );
}
