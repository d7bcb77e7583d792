import type { RgbaRaster } from '../base/raster.ts';

/** A point in a photo, pixels from its top left corner. */
export interface Point {
  readonly x: number;
  readonly y: number;
}

/** Corners of a rectangle seen in perspective: as printed, top left, top right, bottom right, bottom left. */
export type Quad = readonly [Point, Point, Point, Point];

/** A perspective map from the unit square (u right, v down, 0..1) to a photo. */
export interface Perspective {
  readonly a: number;
  readonly b: number;
  readonly c: number;
  readonly d: number;
  readonly e: number;
  readonly f: number;
  readonly g: number;
  readonly h: number;
}

/**
 * The perspective map that takes the unit square's corners to a quad; undefined when the quad is flat.
 * Source: P. S. Heckbert, "Fundamentals of Texture Mapping and Image Warping", UCB/CSD 89/516 (1989), section 2.2.3.
 */
export function perspectiveOf([p0, p1, p2, p3]: Quad): Perspective | undefined {
  const dx1 = p1.x - p2.x;
  const dx2 = p3.x - p2.x;
  const dy1 = p1.y - p2.y;
  const dy2 = p3.y - p2.y;
  const sumX = p0.x - p1.x + p2.x - p3.x;
  const sumY = p0.y - p1.y + p2.y - p3.y;
  const det = dx1 * dy2 - dx2 * dy1;
  if (Math.abs(det) < 1e-9) return undefined;
  const g = (sumX * dy2 - dx2 * sumY) / det;
  const h = (dx1 * sumY - sumX * dy1) / det;
  return {
    a: p1.x - p0.x + g * p1.x,
    b: p3.x - p0.x + h * p3.x,
    c: p0.x,
    d: p1.y - p0.y + g * p1.y,
    e: p3.y - p0.y + h * p3.y,
    f: p0.y,
    g,
    h,
  };
}

/** Where a point of the unit square lies in the photo. */
export function projectPoint(map: Perspective, u: number, v: number): Point {
  const w = map.g * u + map.h * v + 1;
  return { x: (map.a * u + map.b * v + map.c) / w, y: (map.d * u + map.e * v + map.f) / w };
}

/** True when the corners run clockwise round a convex shape, as a rectangle's do in any photo of its upper side. */
export function isUprightQuad(quad: Quad): boolean {
  return quad.every((p, i) => {
    const q = quad[(i + 1) % 4] ?? p;
    const r = quad[(i + 2) % 4] ?? p;
    return (q.x - p.x) * (r.y - q.y) - (q.y - p.y) * (r.x - q.x) > 0;
  });
}

/** How a rectangle of known size lies in a photo. */
export interface Attitude {
  /** Angle between the line of sight and the rectangle's normal, degrees. */
  readonly tiltDegrees: number;
  /** Photo pixels per mm in the direction in which there are fewest. */
  readonly pixelsPerMm: number;
}

/**
 * Tilt and scale in the middle of a rectangle. A small circle there becomes an ellipse in the photo; the ratio of its axes,
 * which are the singular values of the map's derivative, is the cosine of the tilt, whatever the lens.
 */
export function attitudeOf(map: Perspective, widthMm: number, heightMm: number): Attitude {
  const step = 1e-4;
  const at = projectPoint(map, 0.5, 0.5);
  const right = projectPoint(map, 0.5 + step, 0.5);
  const down = projectPoint(map, 0.5, 0.5 + step);
  const ux = (right.x - at.x) / (step * widthMm);
  const uy = (right.y - at.y) / (step * widthMm);
  const vx = (down.x - at.x) / (step * heightMm);
  const vy = (down.y - at.y) / (step * heightMm);
  const sum = ux * ux + uy * uy + vx * vx + vy * vy;
  const det = Math.abs(ux * vy - uy * vx);
  const root = Math.sqrt(Math.max(0, sum * sum - 4 * det * det));
  const large = Math.sqrt((sum + root) / 2);
  const small = Math.sqrt(Math.max(0, (sum - root) / 2));
  return {
    tiltDegrees: (Math.acos(Math.min(1, small / large)) * 180) / Math.PI,
    pixelsPerMm: small,
  };
}

/** The rectangle looked at straight from above, `width` x `height` pixels; what lies outside the photo is grey. */
export function straighten(
  photo: RgbaRaster,
  map: Perspective,
  width: number,
  height: number,
): RgbaRaster {
  const data = new Uint8ClampedArray(4 * width * height).fill(128);
  for (let row = 0; row < height; row += 1)
    for (let column = 0; column < width; column += 1) {
      const { x, y } = projectPoint(map, (column + 0.5) / width, (row + 0.5) / height);
      const left = Math.floor(x);
      const top = Math.floor(y);
      const to = 4 * (row * width + column);
      data[to + 3] = 255;
      if (left < 0 || top < 0 || left >= photo.width || top >= photo.height) continue;
      const from = 4 * (top * photo.width + left);
      for (let channel = 0; channel < 3; channel += 1)
        data[to + channel] = photo.data[from + channel] ?? 0;
    }
  return { width, height, data };
}
