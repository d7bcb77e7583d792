import { useRef } from 'react';
import { clamp } from '#core/base/numbers.ts';
import { useGesture } from '../../ui/use-gesture.ts';
import styles from './Stage.module.css';
import type { Frame } from './view-geometry.ts';

const KEY_STEP = 0.02;

interface StageLineProps {
  /** Which way it is dragged: across for an upright line, down for a level one. */
  readonly way: 'across' | 'down';
  /** Share of the picture's side, 0..1. */
  readonly at: number;
  readonly onMove: (at: number) => void;
  readonly label: string;
  readonly testId: string;
  readonly frame: Frame;
  /** Length of the line, px. */
  readonly length: number;
}

/** A line over the stage: dragged, or moved with the arrow keys. */
export function StageLine({ way, at, onMove, label, testId, frame, length }: StageLineProps) {
  const across = way === 'across';
  const move = (next: number): void => {
    onMove(clamp(next, 0, 1));
  };
  const before = useRef(at);
  const gesture = useGesture({
    onBegin: (event) => {
      event.stopPropagation();
      before.current = at;
      return true;
    },
    onMove: (event) => {
      event.stopPropagation();
      const box = event.currentTarget.parentElement?.getBoundingClientRect();
      if (!box) return;
      move(
        across
          ? (event.clientX - box.left - frame.left) / frame.width
          : (event.clientY - box.top - frame.top) / frame.height,
      );
    },
    onEnd: () => undefined,
    onCancel: () => {
      move(before.current);
    },
  });
  const steps: Readonly<Record<string, number>> = across
    ? { ArrowLeft: at - KEY_STEP, ArrowRight: at + KEY_STEP, Home: 0, End: 1 }
    : { ArrowUp: at - KEY_STEP, ArrowDown: at + KEY_STEP, Home: 0, End: 1 };
  return (
    <div
      className={styles.line}
      data-way={way}
      style={
        across
          ? { left: frame.left + frame.width * at, height: length }
          : { top: frame.top + frame.height * at, width: length }
      }
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-orientation={across ? 'horizontal' : 'vertical'}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(at * 100)}
      data-testid={testId}
      {...gesture.on()}
      onKeyDown={(event) => {
        const next = steps[event.key];
        if (next === undefined) return;
        move(next);
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      <span className={styles.grip} />
    </div>
  );
}
