import { clamp } from '../base/numbers.ts';
import { addArc } from './curves.ts';
import type { OutlineKind } from './outline-kinds.ts';
import type { Contour } from './rings.ts';

/** Forms that are drawn as paths: in a square of 100, y down. */
export const DRAWN_OUTLINES: Readonly<Partial<Record<OutlineKind, string>>> = {
  heart:
    'M50 96C44 90 4 62 4 32C4 15 16 5 29 5C39 5 46 11 50 19C54 11 61 5 71 5C84 5 96 15 96 32C96 62 56 90 50 96Z',
  shield: 'M50 2C62 9 77 13 94 13V48C94 73 75 90 50 98C25 90 6 73 6 48V13C23 13 38 9 50 2Z',
  drop: 'M50 2C57 18 84 42 84 65C84 84 69 98 50 98C31 98 16 84 16 65C16 42 43 18 50 2Z',
};

/** The line of any other form around the origin, mm, y up. */
export function plainContour(kind: OutlineKind, w: number, h: number, cornerMm: number): Contour {
  switch (kind) {
    case 'disc': {
      // Drawn with the larger radius and drawn in on the other axis, so that an oval keeps its area too.
      const radius = Math.max(w, h) / 2;
      const circle: number[] = [];
      addArc(circle, [0, 0], radius, 0, 2 * Math.PI);
      return circle.map((at, n) => at * (n % 2 === 0 ? w / 2 / radius : h / 2 / radius));
    }
    case 'hexagon': {
      const points: number[] = [];
      for (let k = 0; k < 6; k += 1)
        points.push(
          (w / 2) * Math.cos((k * Math.PI) / 3),
          ((h / 2) * Math.sin((k * Math.PI) / 3)) / Math.sin(Math.PI / 3),
        );
      return points;
    }
    case 'rounded':
      return rounded(w, h, cornerMm);
    case 'pill':
      return rounded(w, h, Math.min(w, h) / 2);
    default:
      return rounded(w, h, 0);
  }
}

/** A rectangle around the origin whose corners are rounded. */
export function rounded(w: number, h: number, cornerMm: number): Contour {
  const r = clamp(cornerMm, 0, Math.min(w, h) / 2);
  if (r === 0) return [-w / 2, -h / 2, w / 2, -h / 2, w / 2, h / 2, -w / 2, h / 2];
  const points: number[] = [];
  const corners = [
    [w / 2 - r, h / 2 - r],
    [r - w / 2, h / 2 - r],
    [r - w / 2, r - h / 2],
    [w / 2 - r, r - h / 2],
  ] as const;
  corners.forEach((middle, k) => {
    addArc(points, middle, r, (k * Math.PI) / 2, ((k + 1) * Math.PI) / 2);
  });
  return points;
}
