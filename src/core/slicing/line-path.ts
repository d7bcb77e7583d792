/** What a line is laid for. */
export const LINE_KINDS = ['outline', 'solid', 'gap', 'iron'] as const;
export type LineKind = (typeof LINE_KINDS)[number];

/** A line that the nozzle draws without lifting, in mm from the top left corner of the picture, y to the front. */
export interface LinePath {
  readonly kind: LineKind;
  /** x and y of each corner; a closed line does not repeat its first one. */
  readonly points: Float64Array;
  readonly closed: boolean;
  readonly widthMm: number;
}

/** Length of a line, mm. */
export function lengthOf({ points, closed }: Pick<LinePath, 'points' | 'closed'>): number {
  const count = points.length / 2;
  let sum = 0;
  for (let n = 1; n < count; n += 1)
    sum += Math.hypot(
      (points[2 * n] as number) - (points[2 * n - 2] as number),
      (points[2 * n + 1] as number) - (points[2 * n - 1] as number),
    );
  if (closed && count > 1)
    sum += Math.hypot(
      (points[0] as number) - (points[2 * count - 2] as number),
      (points[1] as number) - (points[2 * count - 1] as number),
    );
  return sum;
}
