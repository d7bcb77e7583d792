import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { clamp } from '#core/base/numbers.ts';
import { MOST_LINE_NUMBERS } from '#core/edit/edit-schema.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { setDesk, type PictureTool } from '../../state/view-store.ts';
import { arrowWay } from '../../ui/arrow-way.ts';
import { useGesture } from '../../ui/use-gesture.ts';
import styles from './PictureOverlay.module.css';
import { useDesk, useFrame } from './use-artwork.ts';
import { useToolAction } from './use-tool-action.ts';

interface ToolSurfaceProps {
  readonly tool: Exclude<PictureTool, 'crop'>;
  readonly width: number;
  readonly height: number;
}

/** How a tool is drawn: at one place, from corner to corner, along a line. */
const SHAPES: Readonly<Record<ToolSurfaceProps['tool'], 'place' | 'box' | 'area' | 'line'>> = {
  similar: 'place',
  grey: 'place',
  box: 'box',
  subject: 'box',
  lasso: 'area',
  brush: 'line',
  keep: 'line',
  drop: 'line',
  hair: 'line',
  add: 'line',
  take: 'line',
};

const HINTS: Readonly<Record<'place' | 'box' | 'area' | 'line', string>> = {
  place: 'Enter takes this place.',
  box: 'Enter sets one corner, and then the other.',
  area: 'Enter sets corners; C closes the outline.',
  line: 'Enter paints here.',
};

const NAMES: Readonly<Record<ToolSurfaceProps['tool'], string>> = {
  similar: 'Similar',
  grey: 'Pick a grey',
  box: 'Box',
  subject: 'Where the subject is',
  lasso: 'Lasso',
  brush: 'Brush',
  keep: 'Keep',
  drop: 'Drop',
  hair: 'Hair',
  add: 'Paint back',
  take: 'Rub out',
};

/** Pointer steps shorter than this are one place, screen px; a step of a key, as a share of the sides. */
const STEP_PX = 3;
const KEY_STEP = 0.02;

/** Takes the pointer and the keys for the tool in hand. Places are shares of the edited picture's sides. */
export function ToolSurface({ tool, width, height }: ToolSurfaceProps) {
  const { views } = useProject();
  const desk = useDesk();
  const frame = useFrame();
  const originalWidth = useDocument((state) => state.document.artwork.file.width);
  const act = useToolAction(tool);
  const hold = useDocument((state) => state.hold);
  const surface = useRef<HTMLDivElement>(null);
  // Moves come faster than the screen is drawn: what was drawn so far is kept beside it.
  const drawn = useRef<readonly number[]>([]);
  const [points, showPoints] = useState<readonly number[]>([]);
  const setPoints = (next: readonly number[]): void => {
    drawn.current = next;
    showPoints(next);
    // A stroke is saved while it is drawn; a box or an outline says nothing before it is closed.
    hold(
      SHAPES[tool] === 'line' && next.length >= 2
        ? () => {
            act(next);
          }
        : null,
    );
  };
  const [cursor, setCursor] = useState<readonly [number, number] | null>(null);
  const shape = SHAPES[tool];
  useEffect(() => {
    drawn.current = [];
    showPoints([]);
    hold(null);
    surface.current?.focus({ preventScroll: true });
    return () => {
      hold(null);
    };
  }, [tool, hold]);
  const placeOf = (event: PointerEvent): readonly [number, number] => {
    const box = surface.current?.getBoundingClientRect() ?? new DOMRect(0, 0, 1, 1);
    return [
      clamp((event.clientX - box.left) / box.width, 0, 1),
      clamp((event.clientY - box.top) / box.height, 0, 1),
    ];
  };
  const finish = (list: readonly number[]): void => {
    setPoints([]);
    if (list.length >= 2) act(list);
  };
  const gesture = useGesture({
    onBegin: (event) => {
      event.stopPropagation();
      surface.current?.focus({ preventScroll: true });
      setPoints(placeOf(event));
      return true;
    },
    onMove: (event) => {
      const [x, y] = placeOf(event);
      if (shape === 'place') setPoints([x, y]);
      else if (shape === 'box') setPoints([drawn.current[0] ?? x, drawn.current[1] ?? y, x, y]);
      else {
        const [px = x, py = y] = drawn.current.slice(-2);
        const far = Math.hypot((x - px) * width, (y - py) * height) >= STEP_PX;
        if (far && drawn.current.length + 2 <= MOST_LINE_NUMBERS)
          setPoints([...drawn.current, x, y]);
      }
    },
    onEnd: () => {
      finish(drawn.current);
    },
    onCancel: () => {
      setPoints([]);
    },
  });
  const onKeyDown = (event: KeyboardEvent): void => {
    const [x, y] = cursor ?? [0.5, 0.5];
    const way = arrowWay(event.key, event.shiftKey ? KEY_STEP / 4 : KEY_STEP);
    if (way) setCursor([clamp(x + way[0], 0, 1), clamp(y + way[1], 0, 1)]);
    else if (event.key === 'Escape') setDesk(views, { tool: null });
    else if (event.key === 'Enter' || event.key === ' ') {
      const list = [...drawn.current, x, y];
      setCursor([x, y]);
      if (shape === 'place' || shape === 'line') finish([x, y]);
      else if (shape === 'box' && list.length >= 4) finish(list);
      else setPoints(list);
    } else if (event.key.toLowerCase() === 'c' && shape === 'area') finish(drawn.current);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const handlers = gesture.on();
  const at = (i: number): string =>
    `${(points[i] as number) * width} ${(points[i + 1] as number) * height}`;
  const path =
    shape === 'box' && points.length >= 4
      ? `M${at(0)}H${(points[2] as number) * width}V${(points[3] as number) * height}H${(points[0] as number) * width}Z`
      : points.length >= 2
        ? `M${Array.from({ length: points.length / 2 }, (_, i) => at(2 * i)).join('L')}${shape === 'area' ? 'Z' : ''}`
        : '';
  const radius = (desk.brush * originalWidth * width) / frame.width;
  const wide = shape === 'line';
  return (
    <div
      ref={surface}
      className={styles.surface}
      role="application"
      tabIndex={0}
      aria-label={`${NAMES[tool]} on the picture. Arrow keys move the mark. ${HINTS[shape]} Escape puts the tool away.`}
      data-testid="tool-surface"
      {...handlers}
      onPointerMove={(event) => {
        handlers.onPointerMove(event);
        setCursor(placeOf(event));
      }}
      onKeyDown={onKeyDown}
    >
      <svg className={styles.drawing} viewBox={`0 0 ${width} ${height}`} aria-hidden>
        {wide && path ? (
          <path
            d={`${path}${points.length === 2 ? `L${at(0)}` : ''}`}
            className={styles.paint}
            strokeWidth={2 * radius}
          />
        ) : path ? (
          <>
            <path d={path} className={styles.lineUnder} />
            <path d={path} className={styles.lineOver} />
          </>
        ) : null}
        {cursor ? (
          wide ? (
            <>
              <circle
                className={styles.ringUnder}
                cx={cursor[0] * width}
                cy={cursor[1] * height}
                r={radius}
              />
              <circle
                className={styles.ring}
                cx={cursor[0] * width}
                cy={cursor[1] * height}
                r={radius}
              />
            </>
          ) : (
            <path
              className={styles.cross}
              d={`M${cursor[0] * width - 9} ${cursor[1] * height}h18M${cursor[0] * width} ${cursor[1] * height - 9}v18`}
            />
          )
        ) : null}
      </svg>
    </div>
  );
}
