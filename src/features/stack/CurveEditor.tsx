import { clamp } from '#core/base/numbers.ts';
import { useRef, type KeyboardEvent } from 'react';
import {
  GREATEST_CURVE_POINTS,
  LEAST_CURVE_POINTS,
  type CurvePoint,
  type ToneCurve,
} from '#core/heights/tone.ts';
import { useGesture } from '../../ui/use-gesture.ts';
import styles from './StackPanel.module.css';

interface CurveEditorProps {
  readonly curve: ToneCurve;
  /** Heights of the histogram's bars, 0..1. */
  readonly bars: readonly number[];
  readonly onBegin: () => void;
  readonly onEnd: () => void;
  readonly onCancel: () => void;
  /** @param repeats whether a held key repeats by itself */
  readonly onChange: (curve: CurvePoint[], repeats: boolean) => void;
}

/** A point moved, but never past its neighbours. */
function movePoint(curve: ToneCurve, index: number, to: CurvePoint): CurvePoint[] {
  const low = curve[index - 1]?.lightness ?? 0;
  const high = curve[index + 1]?.lightness ?? 100;
  return curve.map((point, i) =>
    i === index
      ? {
          lightness: Math.round(10 * clamp(to.lightness, low, high)) / 10,
          position: Math.round(1000 * clamp(to.position, 0, 1)) / 1000,
        }
      : point,
  );
}

/** A curve over the picture's brightness: points are dragged, moved with the arrow keys, added by double-click, removed with Delete. */
export function CurveEditor({ curve, bars, onBegin, onEnd, onCancel, onChange }: CurveEditorProps) {
  const box = useRef<HTMLDivElement>(null);

  const pointAt = (clientX: number, clientY: number): CurvePoint => {
    const { left, top, width, height } = box.current?.getBoundingClientRect() ?? {
      left: 0,
      top: 0,
      width: 1,
      height: 1,
    };
    return {
      lightness: (100 * (clientX - left)) / width,
      position: 1 - (clientY - top) / height,
    };
  };
  const gesture = useGesture<number>({
    onBegin: (event) => {
      event.currentTarget.focus();
      onBegin();
      return true;
    },
    onMove: (event, index) => {
      onChange(movePoint(curve, index, pointAt(event.clientX, event.clientY)), false);
    },
    onEnd,
    onCancel,
  });
  const onKeyDown = (index: number) => (event: KeyboardEvent<HTMLButtonElement>) => {
    const point = curve[index];
    if (!point) return;
    const large = event.shiftKey ? 5 : 1;
    const steps: Readonly<Record<string, readonly [number, number]>> = {
      ArrowLeft: [-large, 0],
      ArrowRight: [large, 0],
      ArrowUp: [0, large / 100],
      ArrowDown: [0, -large / 100],
    };
    const step = steps[event.key];
    if (step)
      onChange(
        movePoint(curve, index, {
          lightness: point.lightness + step[0],
          position: point.position + step[1],
        }),
        event.repeat,
      );
    else if (event.key === 'Delete' && curve.length > LEAST_CURVE_POINTS) {
      // What was dragged so far is a step of its own; the drag cannot go on with another point.
      gesture.finish();
      onChange(
        curve.filter((_, i) => i !== index),
        false,
      );
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const add = (point: CurvePoint): void => {
    if (curve.length >= GREATEST_CURVE_POINTS) return;
    const index = curve.findIndex(({ lightness }) => lightness > point.lightness);
    const at = index < 0 ? curve.length : index;
    const grown = [...curve.slice(0, at), point, ...curve.slice(at)];
    onChange(movePoint(grown, at, point), false);
  };

  const [first] = curve;
  const last = curve.at(-1);
  const line = [
    `0,${100 - 100 * (first?.position ?? 0)}`,
    ...curve.map(({ lightness, position }) => `${lightness},${100 - 100 * position}`),
    `100,${100 - 100 * (last?.position ?? 1)}`,
  ].join(' ');
  return (
    <div
      ref={box}
      className={styles.curve}
      role="group"
      aria-label="Tone curve: brightness to the right, height upward. Double-click adds a point."
      data-testid="tone-curve"
      onDoubleClick={(event) => {
        add(pointAt(event.clientX, event.clientY));
      }}
    >
      <svg viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden>
        {bars.map((height, i) => (
          <rect
            key={i}
            x={(100 * i) / bars.length}
            y={100 - 100 * height}
            width={102 / bars.length}
            height={100 * height}
          />
        ))}
        <polyline points={line} />
      </svg>
      {curve.map(({ lightness, position }, i) => (
        <button
          key={i}
          type="button"
          role="slider"
          className={styles.curvePoint}
          style={{ left: `${lightness}%`, top: `${100 - 100 * position}%` }}
          aria-label={`Point ${i + 1} of ${curve.length}`}
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(100 * position)}
          aria-valuetext={`brightness ${Math.round(lightness)} goes to ${Math.round(100 * position)} % of the height`}
          data-testid={`curve-point-${i}`}
          {...gesture.on(i)}
          onKeyDown={onKeyDown(i)}
        />
      ))}
    </div>
  );
}
