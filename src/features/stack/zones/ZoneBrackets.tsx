import { useRef } from 'react';
import { layerTopMm } from '#core/stack/layer-grid.ts';
import { totalLayers } from '#core/stack/stack.ts';
import { joinsWhen } from '../../../state/document-store.ts';
import { setZoneSpan } from '../../../state/edits/zone-edits.ts';
import { useDocument, useLive } from '../../../state/project-context.ts';
import { useGesture } from '../../../ui/use-gesture.ts';
import { BRACKET_PX, layerAt, yOf, type SectionScale } from '../section-geometry.ts';
import { markOf } from './zone-marks.ts';
import styles from './Zones.module.css';

interface ZoneBracketsProps {
  readonly scale: SectionScale;
  /** Where the first bracket stands, px. */
  readonly left: number;
  readonly height: number;
}

/** The spans of the zones beside the section, the lowest zone at the left. */
export function ZoneBrackets({ scale, left, height }: ZoneBracketsProps) {
  const list = useDocument((state) => state.document.heights.zones.list);
  const grid = useDocument((state) => state.document.stack.grid);
  const facts = useLive((state) => state.zones);
  if (!facts) return null;
  const shown = list.flatMap((zone, place) => {
    const span = facts[place]?.span;
    if (!span) return [];
    return [
      {
        zone,
        place,
        span,
        x: left + place * BRACKET_PX,
        top: yOf(scale, layerTopMm(grid, span[1])),
        bottom: yOf(scale, layerTopMm(grid, span[0])),
      },
    ];
  });
  return (
    <>
      <svg className={styles.over} width="100%" height={height} aria-hidden>
        {shown.map(({ zone, place, x, top, bottom }) => (
          <g key={zone.id}>
            <line
              className={styles.span}
              x1={x}
              x2={x}
              y1={top}
              y2={bottom}
              strokeDasharray={markOf(place).dash}
            />
            <text className={styles.spanName} x={x} y={bottom + 20}>
              {markOf(place).numeral}
            </text>
          </g>
        ))}
      </svg>
      {shown.map(({ zone, place, span, x, top, bottom }) => (
        <ZoneEnds
          key={zone.id}
          id={zone.id}
          name={`zone ${markOf(place).numeral}, ${zone.name}`}
          held={zone.span !== null}
          span={span}
          x={x}
          ys={[bottom, top]}
          scale={scale}
        />
      ))}
    </>
  );
}

interface ZoneEndsProps {
  readonly id: string;
  readonly name: string;
  /** The span is the maker's own. */
  readonly held: boolean;
  readonly span: readonly [number, number];
  readonly x: number;
  readonly ys: readonly [number, number];
  readonly scale: SectionScale;
}

const ENDS = ['lower', 'upper'] as const;

/** The two ends of a span: dragged with snapping to layers, or moved with the arrow keys. */
function ZoneEnds({ id, name, held, span, x, ys, scale }: ZoneEndsProps) {
  const grid = useDocument((state) => state.document.stack.grid);
  const layers = useDocument((state) => totalLayers(state.document.stack.bands));
  const leastLayers = useDocument((state) => state.document.heights.leastLayers);
  const { change, beginGesture, endGesture, cancelGesture } = useDocument((state) => state);
  const grabbedAt = useRef(0);
  const least = Math.min(leastLayers, layers);
  const rangeOf = (end: number): readonly [number, number] =>
    end === 0 ? [least, span[1]] : [span[0], layers];
  const edit = (end: number, to: number) => {
    const [low, high] = rangeOf(end);
    const layer = Math.max(low, Math.min(high, to));
    return setZoneSpan(id, end === 0 ? [layer, span[1]] : [span[0], layer]);
  };
  const gesture = useGesture<number>({
    onBegin: (event, end) => {
      grabbedAt.current = event.clientY - (ys[end] ?? 0);
      beginGesture();
      return true;
    },
    onMove: (event, end) => {
      change(edit(end, layerAt(scale, grid, event.clientY - grabbedAt.current)));
    },
    onEnd: endGesture,
    onCancel: cancelGesture,
  });
  return ENDS.map((which, end) => {
    const own = span[end] ?? 1;
    const [low, high] = rangeOf(end);
    return (
      <div
        key={which}
        className={styles.bracket}
        style={{ left: x, top: ys[end] }}
        data-end={which}
        data-held={held}
        role="slider"
        tabIndex={0}
        aria-orientation="vertical"
        aria-label={`${which === 'upper' ? 'Upper' : 'Lower'} end of ${name}`}
        aria-valuemin={low}
        aria-valuemax={high}
        aria-valuenow={own}
        aria-valuetext={`layer ${own} at ${layerTopMm(grid, own).toFixed(2)} mm${held ? '' : ', found by colour'}`}
        data-testid={`zone-${which}`}
        {...gesture.on(end)}
        onKeyDown={(event) => {
          const step = event.shiftKey ? 5 : 1;
          const move = (to: number): void => {
            change(edit(end, to), joinsWhen(event.repeat));
          };
          if (event.key === 'ArrowUp' || event.key === 'ArrowRight') move(own + step);
          else if (event.key === 'ArrowDown' || event.key === 'ArrowLeft') move(own - step);
          else if (event.key === 'Home') move(low);
          else if (event.key === 'End') move(high);
          else if (event.key === 'Delete' || event.key === 'Backspace')
            change(setZoneSpan(id, null));
          else return;
          event.preventDefault();
        }}
      />
    );
  });
}
