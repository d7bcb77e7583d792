import { useRef } from 'react';
import { Slider } from 'radix-ui';
import styles from './RangeSlider.module.css';
import { useGesture } from './use-gesture.ts';

interface RangeSliderProps {
  /** One name for each thumb. */
  readonly labels: readonly string[];
  readonly values: readonly number[];
  readonly least: number;
  readonly greatest: number;
  readonly step: number;
  /** Least distance between two thumbs, in values. */
  readonly gap?: number;
  readonly onBegin?: () => void;
  /** @param repeats whether a held key repeats by itself */
  readonly onChange: (values: readonly number[], repeats: boolean) => void;
  readonly onEnd?: () => void;
  /** Takes a drag back. */
  readonly onCancel?: () => void;
}

/** A slider with one or more thumbs on one track. A press that moves nothing ends as any other drag does. */
export function RangeSlider({
  labels,
  values,
  least,
  greatest,
  step,
  gap = 0,
  onBegin,
  onChange,
  onEnd,
  onCancel,
}: RangeSliderProps) {
  const repeats = useRef(false);
  // The slider's own handling goes on after a drag was taken back: what it says then counts no more.
  const deaf = useRef(false);
  const gesture = useGesture({
    capture: false,
    onBegin: () => {
      deaf.current = false;
      onBegin?.();
      return true;
    },
    onEnd: () => onEnd?.(),
    onCancel: () => {
      deaf.current = true;
      (onCancel ?? onEnd)?.();
    },
  });
  const handlers = gesture.on();
  return (
    <Slider.Root
      className={styles.root}
      value={[...values]}
      min={least}
      max={greatest}
      step={step}
      minStepsBetweenThumbs={gap / step}
      {...handlers}
      onPointerDown={(event) => {
        // Other buttons, and a second finger, would slide without being a drag.
        if (event.button !== 0 || !event.isPrimary) event.preventDefault();
        else handlers.onPointerDown(event);
      }}
      onKeyDown={(event) => {
        deaf.current = false;
        repeats.current = event.repeat;
      }}
      onValueChange={(next) => {
        if (!deaf.current) onChange(next, repeats.current && !gesture.isActive());
      }}
    >
      <Slider.Track className={styles.track}>
        <Slider.Range className={styles.range} />
      </Slider.Track>
      {labels.map((label) => (
        <Slider.Thumb key={label} className={styles.thumb} aria-label={label} />
      ))}
    </Slider.Root>
  );
}
