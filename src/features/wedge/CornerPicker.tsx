import { clamp } from '#core/base/numbers.ts';
import { useRef, useState, type KeyboardEvent } from 'react';
import type { Quad } from '#core/wedge/straighten.ts';
import { arrowWay } from '../../ui/arrow-way.ts';
import { useGesture } from '../../ui/use-gesture.ts';
import styles from './Wedge.module.css';

const NAMES = ['top left', 'top right', 'bottom right', 'bottom left'] as const;

/** How much larger the loupe shows a photo pixel than the page does. */
const LOUPE_ZOOM = 5;
const LOUPE_PX = 132;

interface CornerPickerProps {
  readonly url: string;
  readonly width: number;
  readonly height: number;
  readonly corners: Quad;
  readonly onChange: (corners: Quad) => void;
}

/** A photo with four corners to be put on the print, by pointer under a loupe or with the arrow keys. */
export function CornerPicker({ url, width, height, corners, onChange }: CornerPickerProps) {
  const frame = useRef<HTMLDivElement>(null);
  const [active, setActive] = useState<number | null>(null);

  const move = (index: number, x: number, y: number): void => {
    const next = corners.map((corner, i) =>
      i === index ? { x: clamp(x, 0, width), y: clamp(y, 0, height) } : corner,
    );
    onChange(next as unknown as Quad);
  };
  const before = useRef(corners);
  const gesture = useGesture<number>({
    onBegin: (event, index) => {
      before.current = corners;
      event.currentTarget.focus();
      setActive(index);
      return true;
    },
    onMove: (event, index) => {
      const box = frame.current?.getBoundingClientRect();
      if (!box) return;
      move(
        index,
        ((event.clientX - box.left) / box.width) * width,
        ((event.clientY - box.top) / box.height) * height,
      );
    },
    onEnd: () => undefined,
    onCancel: () => {
      onChange(before.current);
    },
  });
  const onKeyDown = (index: number) => (event: KeyboardEvent<HTMLButtonElement>) => {
    const change = arrowWay(event.key, event.shiftKey ? 10 : 1);
    const corner = corners[index];
    if (!change || !corner) return;
    event.preventDefault();
    move(index, corner.x + change[0], corner.y + change[1]);
  };

  const point = active === null ? undefined : corners[active];
  return (
    <div ref={frame} className={styles.photo} style={{ aspectRatio: `${width} / ${height}` }}>
      <img src={url} alt="The photo of the wedge" draggable={false} />
      <svg viewBox={`0 0 ${width} ${height}`} className={styles.outline} aria-hidden>
        <polygon points={corners.map(({ x, y }) => `${x},${y}`).join(' ')} />
      </svg>
      {corners.map((corner, i) => (
        <button
          key={NAMES[i]}
          type="button"
          className={styles.corner}
          style={{ left: `${(100 * corner.x) / width}%`, top: `${(100 * corner.y) / height}%` }}
          aria-label={`${i + 1}, ${NAMES[i] ?? ''} corner of the print, at ${Math.round(corner.x)}, ${Math.round(corner.y)}. Arrow keys move it.`}
          data-testid={`corner-${i}`}
          onFocus={() => {
            setActive(i);
          }}
          onBlur={() => {
            setActive(null);
          }}
          {...gesture.on(i)}
          onKeyDown={onKeyDown(i)}
        >
          <span aria-hidden>{i + 1}</span>
        </button>
      ))}
      {point ? (
        <div
          className={styles.loupe}
          data-testid="loupe"
          // It lies on the side away from the corner, so that it never covers what it shows.
          data-side={point.x > width / 2 ? 'left' : 'right'}
          style={{
            width: LOUPE_PX,
            height: LOUPE_PX,
            backgroundImage: `url(${url})`,
            backgroundSize: `${width * LOUPE_ZOOM}px ${height * LOUPE_ZOOM}px`,
            backgroundPosition: `${LOUPE_PX / 2 - point.x * LOUPE_ZOOM}px ${LOUPE_PX / 2 - point.y * LOUPE_ZOOM}px`,
          }}
        />
      ) : null}
    </div>
  );
}
