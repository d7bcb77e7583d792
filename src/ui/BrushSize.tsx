import { RangeSlider } from './RangeSlider.tsx';

interface BrushSizeProps {
  /** As a share of the picture's width. */
  readonly radius: number;
  readonly onChange: (radius: number) => void;
}

/** How large a brush is. */
export function BrushSize({ radius, onChange }: BrushSizeProps) {
  return (
    <RangeSlider
      labels={['Size of the brush']}
      values={[Math.round(radius * 100)]}
      least={1}
      greatest={30}
      step={1}
      onChange={([value = 5]) => {
        onChange(value / 100);
      }}
    />
  );
}
