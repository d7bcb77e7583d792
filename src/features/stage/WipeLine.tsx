import { clamp } from '#core/base/numbers.ts';
import { useRef } from 'react';
import { useProject, useView } from '../../state/project-context.ts';
import { useGesture } from '../../ui/use-gesture.ts';
import styles from './Stage.module.css';
import type { Frame } from './view-geometry.ts';

const KEY_STEP = 0.02;

/** The line between artwork and print: dragged, or moved with the arrow keys. */
export function WipeLine({
  frame,
  stageHeight,
}: {
  readonly frame: Frame;
  readonly stageHeight: number;
}) {
  const { views } = useProject();
  const wipe = useView((state) => state.wipe);
  const move = (next: number): void => {
    views.setState({ wipe: clamp(next, 0, 1) });
  };
  const before = useRef(wipe);
  const gesture = useGesture({
    onBegin: (event) => {
      event.stopPropagation();
      before.current = wipe;
      return true;
    },
    onMove: (event) => {
      event.stopPropagation();
      const box = event.currentTarget.parentElement?.getBoundingClientRect();
      if (box) move((event.clientX - box.left - frame.left) / frame.width);
    },
    onEnd: () => undefined,
    onCancel: () => {
      move(before.current);
    },
  });
  return (
    <div
      className={styles.wipe}
      style={{ left: frame.left + frame.width * wipe, height: stageHeight }}
      role="slider"
      tabIndex={0}
      aria-label="Wipe between artwork and print"
      aria-orientation="horizontal"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(wipe * 100)}
      data-testid="wipe-line"
      {...gesture.on()}
      onKeyDown={(event) => {
        if (event.key === 'ArrowLeft') move(wipe - KEY_STEP);
        else if (event.key === 'ArrowRight') move(wipe + KEY_STEP);
        else if (event.key === 'Home') move(0);
        else if (event.key === 'End') move(1);
        else return;
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      <span className={styles.grip} />
    </div>
  );
}
