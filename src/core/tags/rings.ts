import {
  Clipper64,
  ClipperOffset,
  ClipType,
  EndType,
  FillRule,
  JoinType,
  PathType,
  type Path64,
} from 'clipper2-ts';

/**
 * Whole units of a millimetre in which outlines lie: exact as 32-bit floats up to 16 m, so a corner is the same number in every
 * file and in every solid.
 */
export const UNITS_PER_MM = 1024;

/** A closed line: x and y of its corners in units, x to the right, y up. Outer ones run counter-clockwise, holes the other way. */
export type Ring = readonly number[];

/** A closed line as it is drawn: x and y of its corners in mm, x to the right, y up; it may cross itself and others. */
export type Contour = readonly number[];

/** How lines that lie over each other count: what is wound round at all, or what lies inside an odd number of them. */
export type Fill = 'nonzero' | 'evenodd';

const pathOf = (flat: readonly number[], scale: number): Path64 => {
  const path: Path64 = [];
  for (let n = 0; n < flat.length; n += 2)
    path.push({
      x: Math.round((flat[n] as number) * scale),
      y: Math.round((flat[n + 1] as number) * scale),
    });
  return path;
};

const ringOf = (path: Path64): Ring => path.flatMap(({ x, y }) => [x, y]);

/**
 * What contours enclose, as rings that neither cross nor overlap.
 * @param contours in mm
 */
export function ringsOf(contours: readonly Contour[], fill: Fill): Ring[] {
  return united(
    contours.map((contour) => pathOf(contour, UNITS_PER_MM)),
    fill === 'nonzero' ? FillRule.NonZero : FillRule.EvenOdd,
  );
}

/** What rings enclose together. */
export function unionOf(rings: readonly Ring[]): Ring[] {
  return united(
    rings.map((ring) => pathOf(ring, 1)),
    FillRule.NonZero,
  );
}

function united(paths: Path64[], rule: FillRule): Ring[] {
  const out: Path64[] = [];
  const clipper = new Clipper64();
  clipper.addPaths(paths, PathType.Subject);
  clipper.execute(ClipType.Union, rule, out);
  return out.filter((path) => path.length > 2).map(ringOf);
}

/** What lies in some rings and in none of others. */
export function withoutRings(rings: readonly Ring[], without: readonly Ring[]): Ring[] {
  return combined(rings, without, ClipType.Difference);
}

/** What lies in some rings and in others too. */
export function sharedRings(rings: readonly Ring[], others: readonly Ring[]): Ring[] {
  return combined(rings, others, ClipType.Intersection);
}

function combined(rings: readonly Ring[], others: readonly Ring[], type: ClipType): Ring[] {
  const out: Path64[] = [];
  const clipper = new Clipper64();
  clipper.addPaths(
    rings.map((ring) => pathOf(ring, 1)),
    PathType.Subject,
  );
  clipper.addPaths(
    others.map((ring) => pathOf(ring, 1)),
    PathType.Clip,
  );
  clipper.execute(type, FillRule.NonZero, out);
  return out.filter((path) => path.length > 2).map(ringOf);
}

/** How far a round corner may be off, in units. */
const ARC_UNITS = 5;

/** Rings grown by a distance, or shrunk by a negative one, mm. Corners stay sharp up to twice the distance, or are rounded. */
export function grown(rings: readonly Ring[], byMm: number, round = true): Ring[] {
  if (rings.length === 0 || byMm === 0) return [...rings];
  const offset = new ClipperOffset(2, ARC_UNITS);
  offset.addPaths(
    rings.map((ring) => pathOf(ring, 1)),
    round ? JoinType.Round : JoinType.Miter,
    EndType.Polygon,
  );
  const out: Path64[] = [];
  offset.execute(byMm * UNITS_PER_MM, out);
  return out.filter((path) => path.length > 2).map(ringOf);
}

/** Rings with left and right changed; outer ones still run counter-clockwise. */
export function mirroredRings(rings: readonly Ring[]): Ring[] {
  return rings.map((ring) => {
    const out: number[] = [];
    for (let n = ring.length - 2; n >= 0; n -= 2)
      out.push(-(ring[n] as number), ring[n + 1] as number);
    return out;
  });
}

/** Area that rings enclose, mm². */
export function areaMm2(rings: readonly Ring[]): number {
  let twice = 0;
  for (const ring of rings)
    for (let n = 0; n < ring.length; n += 2) {
      const m = (n + 2) % ring.length;
      twice +=
        (ring[n] as number) * (ring[m + 1] as number) -
        (ring[m] as number) * (ring[n + 1] as number);
    }
  return twice / 2 / UNITS_PER_MM ** 2;
}

/** A rectangle along the axes, mm. */
export interface Box {
  readonly left: number;
  readonly right: number;
  readonly bottom: number;
  readonly top: number;
}

/** The rectangle around rings, mm; undefined where there are none. */
export function boxOf(rings: readonly Ring[]): Box | undefined {
  let [left, right, bottom, top] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const ring of rings)
    for (let n = 0; n < ring.length; n += 2) {
      const [x, y] = [ring[n] as number, ring[n + 1] as number];
      left = Math.min(left, x);
      right = Math.max(right, x);
      bottom = Math.min(bottom, y);
      top = Math.max(top, y);
    }
  if (left > right) return undefined;
  return {
    left: left / UNITS_PER_MM,
    right: right / UNITS_PER_MM,
    bottom: bottom / UNITS_PER_MM,
    top: top / UNITS_PER_MM,
  };
}
