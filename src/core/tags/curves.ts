/** How far a flattened curve may be off, mm. At 0.01 round letters lose 0.3 % of their area. */
export const FLAT_MM = 0.007;

/** Most pieces that one curve is divided in: a curve of a metre at the finest. */
const MOST_PIECES = 2000;

/**
 * Adds a cubic Bézier curve as a chain of points, without its first one. A chord over 1/n of a curve is off by at most its second
 * derivative / (8 n²), and that is at most 6 times the larger second difference of its control points (T. W. Sederberg,
 * "Computer Aided Geometric Design", 2012, chapter 10).
 */
export function addCubic(
  out: number[],
  [x0, y0, x1, y1, x2, y2, x3, y3]: readonly [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ],
  toleranceMm: number,
): void {
  const d = Math.max(
    Math.hypot(x0 - 2 * x1 + x2, y0 - 2 * y1 + y2),
    Math.hypot(x1 - 2 * x2 + x3, y1 - 2 * y2 + y3),
  );
  const n = Math.min(MOST_PIECES, Math.max(1, Math.ceil(Math.sqrt((6 * d) / (8 * toleranceMm)))));
  for (let k = 1; k <= n; k += 1) {
    const t = k / n;
    const s = 1 - t;
    const [a, b, c, e] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
    out.push(a * x0 + b * x1 + c * x2 + e * x3, a * y0 + b * y1 + c * y2 + e * y3);
  }
}

/** Adds a quadratic Bézier curve without its first point, as the cubic that it is. */
export function addQuadratic(
  out: number[],
  [x0, y0, x1, y1, x2, y2]: readonly [number, number, number, number, number, number],
  toleranceMm: number,
): void {
  const third = (from: number, to: number): number => from + (2 / 3) * (to - from);
  addCubic(
    out,
    [x0, y0, third(x0, x1), third(y0, y1), third(x2, x1), third(y2, y1), x2, y2],
    toleranceMm,
  );
}

/**
 * Adds an arc of a circle from one angle to another, its first point included. Its points lie on the radius at which the
 * chain encloses the area of the arc: with n chords of angle a each, r · sqrt(a / sin a).
 */
export function addArc(
  out: number[],
  [x, y]: readonly [number, number],
  radiusMm: number,
  from: number,
  to: number,
  toleranceMm: number = FLAT_MM,
): void {
  const span = Math.abs(to - from);
  const step = 2 * Math.acos(1 - Math.min(1, toleranceMm / Math.max(radiusMm, toleranceMm)));
  const n = Math.min(MOST_PIECES, Math.max(3, Math.ceil(span / step)));
  const angle = span / n;
  const radius = radiusMm * Math.sqrt(angle / Math.sin(angle));
  for (let k = 0; k <= n; k += 1) {
    const at = from + ((to - from) * k) / n;
    // The ends of an arc join straight lines, and stay where they are.
    const r = span < 2 * Math.PI - 1e-9 && (k === 0 || k === n) ? radiusMm : radius;
    if (k === n && r === radius) break;
    out.push(x + r * Math.cos(at), y + r * Math.sin(at));
  }
}
