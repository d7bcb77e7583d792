import { ClipperOffset, EndType, JoinType, type Path64 } from 'clipper2-ts';

/** Corners are whole micrometres for the polygon library, which works exactly with whole numbers. */
const PER_MM = 1000;
/** How far a round corner may be off, in micrometres. */
const ARC_UM = 25;

/**
 * Shrinks closed outlines by a distance; what is thinner than twice that vanishes.
 * @param outlines x and y of corners, mm; holes run the other way
 */
export function shrink(outlines: readonly Float64Array[], byMm: number): Float64Array[] {
  if (outlines.length === 0) return [];
  const paths = outlines.map((line): Path64 => {
    const path: Path64 = [];
    for (let n = 0; n < line.length; n += 2)
      path.push({
        x: Math.round((line[n] as number) * PER_MM),
        y: Math.round((line[n + 1] as number) * PER_MM),
      });
    return path;
  });
  const offset = new ClipperOffset(2, ARC_UM);
  offset.addPaths(paths, JoinType.Round, EndType.Polygon);
  const shrunk: Path64[] = [];
  offset.execute(-byMm * PER_MM, shrunk);
  return shrunk.map((path) => {
    const line = new Float64Array(2 * path.length);
    path.forEach(({ x, y }, n) => {
      line[2 * n] = x / PER_MM;
      line[2 * n + 1] = y / PER_MM;
    });
    return line;
  });
}
