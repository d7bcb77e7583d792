import { Slider } from 'radix-ui';
import styles from './RangeSlider.module.css';

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
  readonly onChange: (values: readonly number[]) => void;
  readonly onEnd?: () => void;
}

/** A slider with one or more thumbs on one track. */
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
}: RangeSliderProps) {
  return (
    <Slider.Root
      className={styles.root}
      value={[...values]}
      min={least}
      max={greatest}
      step={step}
      minStepsBetweenThumbs={gap / step}
      onPointerDown={onBegin}
      onValueChange={onChange}
      onValueCommit={onEnd}
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
