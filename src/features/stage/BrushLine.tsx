import type { GrowingLine } from './use-brush.ts';

interface BrushLineProps {
  readonly line: GrowingLine;
  /** Picture on the screen, px. */
  readonly width: number;
  readonly height: number;
  readonly colour: string;
  readonly opacity?: number;
}

/** A line of a brush, as wide as the brush. */
export function BrushLine({ line, width, height, colour, opacity }: BrushLineProps) {
  const { points, radius } = line;
  const places = Array.from(
    { length: points.length / 2 },
    (_, i) => `${(points[2 * i] ?? 0) * width} ${(points[2 * i + 1] ?? 0) * height}`,
  );
  return (
    <path
      d={`M${places[0]}L${(places.length > 1 ? places.slice(1) : places).join('L')}`}
      fill="none"
      stroke={colour}
      strokeWidth={2 * radius * width}
      strokeLinecap="round"
      strokeLinejoin="round"
      opacity={opacity}
    />
  );
}
