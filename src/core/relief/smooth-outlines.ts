import type { HeightMap } from '../base/raster.ts';
import { simplifyClosed, simplifyLine } from './simplify-line.ts';
import { touching } from './touching-lines.ts';

/** Outlines between different heights as chains of points, each shared by the two areas that it parts. */
export interface SharedOutlines {
  /** x and y of each point, in samples from the top left corner; whole or half numbers. */
  readonly points: Float64Array;
  /** Numbers of two points for each piece of an outline, and the heights on its left and right hand going from one to the other. */
  readonly edges: readonly OutlineEdge[];
  /** The same as triangles, where they are known: of what was arranged from outlines. */
  readonly areas?: SmoothAreas | undefined;
}

/** The picture cut into triangles along smooth outlines, each with the height of its area. */
export interface SmoothAreas {
  /** x and y of each point, in samples from the top left corner. */
  readonly points: Float64Array;
  /** Three points for each triangle, counter-clockwise as seen from above (y up). */
  readonly triangles: Uint32Array;
  /** The neighbour of each side of a triangle as a place in `triangles`, or -1; side k goes from point k to the next. */
  readonly twins: Int32Array;
  /** Layers of each triangle; 0 where nothing is printed. */
  readonly heights: Uint8Array;
  /** Height of the picture in samples. */
  readonly rows: number;
}

export interface OutlineEdge {
  readonly from: number;
  readonly to: number;
  /** Height of what lies on the left hand as seen in the picture (y down), and on the right. */
  readonly left: number;
  readonly right: number;
}

/** A chain of outline between two junctions, or a closed one. */
interface Arc {
  /** x and y in samples. */
  readonly line: Float64Array;
  readonly left: number;
  readonly right: number;
  readonly closed: boolean;
}

/**
 * Outlines between areas of different height that cut the corners of samples (W. E. Lorensen, H. E. Cline, "Marching
 * cubes", SIGGRAPH 1987, in the plane) and are simplified (`simplify-line.ts`). Corners
 * at which three or more areas meet, and those of the picture, stay where they are. Each outline is simplified once for
 * both areas; one that would then touch another is simplified less.
 * @param heights free of diagonal contacts (see `partDiagonals`)
 * @param tolerance how far an outline may move by being simplified, in samples
 */
export function smoothOutlines(heights: HeightMap, tolerance: number): SharedOutlines {
  const arcs = traceArcs(heights);
  const allowed = arcs.map(() => tolerance);
  let lines = arcs.map((arc) => simplify(arc, tolerance));
  for (;;) {
    const bad = touching(lines, heights.width);
    if (bad.size === 0) break;
    for (const n of bad) {
      // A few times finer, then the outline as it is: that touches nothing.
      allowed[n] = (allowed[n] as number) > tolerance / 8 ? (allowed[n] as number) / 2 : 0;
    }
    lines = lines.map((line, n) =>
      bad.has(n) ? simplify(arcs[n] as Arc, allowed[n] as number) : line,
    );
  }
  return joined(arcs, lines);
}

/** Directions round a corner of the grid: up, right, down, left. */
const DX = [0, 1, 0, -1];
const DY = [-1, 0, 1, 0];

/** Traces all outlines through the middles of the sides between samples of different height. */
function traceArcs({ width, height, data }: HeightMap): Arc[] {
  const columns = width + 1;
  const at = (x: number, y: number): number =>
    x >= 0 && x < width && y >= 0 && y < height ? (data[y * width + x] as number) : 0;
  /** Heights on the left and right hand of one who leaves corner (i, j) in a direction. */
  const sides = (i: number, j: number, way: number): readonly [number, number] => {
    switch (way) {
      case 0:
        return [at(i - 1, j - 1), at(i, j - 1)];
      case 1:
        return [at(i, j - 1), at(i, j)];
      case 2:
        return [at(i, j), at(i - 1, j)];
      default:
        return [at(i - 1, j), at(i - 1, j - 1)];
    }
  };
  const waysOf = (i: number, j: number): number[] =>
    [0, 1, 2, 3].filter((way) => {
      const [left, right] = sides(i, j, way);
      return left !== right;
    });
  const isFrame = (i: number, j: number): boolean =>
    (i === 0 || i === width) && (j === 0 || j === height);
  /** A corner that stays: areas meet there, or the picture has its own corner. */
  const stays = (i: number, j: number, ways: readonly number[]): boolean =>
    ways.length > 2 || (ways.length === 2 && isFrame(i, j));
  const seen = new Uint8Array(4 * columns * (height + 1));
  const key = (i: number, j: number, way: number): number => 4 * (j * columns + i) + way;
  const arcs: Arc[] = [];
  /** Follows the outline that leaves a corner, until a corner that stays or round to its beginning. */
  const follow = (i: number, j: number, way: number, fromCorner: boolean): void => {
    const [left, right] = sides(i, j, way);
    const line: number[] = fromCorner ? [i, j] : [];
    let [x, y, going] = [i, j, way];
    for (;;) {
      if (seen[key(x, y, going)] === 1) {
        arcs.push({ line: Float64Array.from(line), left, right, closed: true });
        return;
      }
      seen[key(x, y, going)] = 1;
      const [dx, dy] = [DX[going] as number, DY[going] as number];
      line.push(x + dx / 2, y + dy / 2);
      x += dx;
      y += dy;
      const back = (going + 2) % 4;
      seen[key(x, y, back)] = 1;
      const ways = waysOf(x, y);
      if (stays(x, y, ways)) {
        line.push(x, y);
        arcs.push({ line: Float64Array.from(line), left, right, closed: false });
        return;
      }
      going = ways.find((one) => one !== back) as number;
    }
  };
  const each = (visit: (i: number, j: number, ways: readonly number[]) => void): void => {
    for (let j = 0; j <= height; j += 1)
      for (let i = 0; i <= width; i += 1) {
        const ways = waysOf(i, j);
        if (ways.length > 0) visit(i, j, ways);
      }
  };
  each((i, j, ways) => {
    if (!stays(i, j, ways)) return;
    for (const way of ways) if (seen[key(i, j, way)] !== 1) follow(i, j, way, true);
  });
  // What is left are closed outlines without a corner that stays.
  each((i, j, ways) => {
    for (const way of ways) if (seen[key(i, j, way)] !== 1) follow(i, j, way, false);
  });
  return arcs;
}

/** An outline with as few points as the tolerance allows; closed ones keep at least three. */
function simplify({ line, closed }: Arc, tolerance: number): Float64Array {
  if (closed) return simplifyClosed(line, tolerance);
  const simple = simplifyLine(line, tolerance);
  const last = line.length - 2;
  // Two junctions that lie at one place are joined by no straight line.
  const meets = line[0] === line[last] && line[1] === line[last + 1];
  return meets && simple.length < 8 ? line : simple;
}

/** Numbers the points of all lines, each place once. */
function joined(arcs: readonly Arc[], lines: readonly Float64Array[]): SharedOutlines {
  const numbers = new Map<string, number>();
  const points: number[] = [];
  const edges: OutlineEdge[] = [];
  const numberOf = (x: number, y: number): number => {
    const key = `${x} ${y}`;
    let number = numbers.get(key);
    if (number === undefined) {
      number = numbers.size;
      numbers.set(key, number);
      points.push(x, y);
    }
    return number;
  };
  lines.forEach((line, n) => {
    const { left, right, closed } = arcs[n] as Arc;
    const count = line.length / 2;
    for (let k = 0; k < (closed ? count : count - 1); k += 1) {
      const m = (k + 1) % count;
      edges.push({
        from: numberOf(line[2 * k] as number, line[2 * k + 1] as number),
        to: numberOf(line[2 * m] as number, line[2 * m + 1] as number),
        left,
        right,
      });
    }
  });
  return { points: Float64Array.from(points), edges };
}

/** Closed outlines of everything at least `level` layers tall, as `traceOutlines` gives them, from the shared ones. */
export function outlinesAt(shared: SharedOutlines, level: number): number[][] {
  return outlinesWhere(shared, (layers) => layers >= level);
}

/** Closed outlines of all areas that are meant, by the numbers that stand beside the shared ones. */
export function outlinesWhere(
  { points, edges }: SharedOutlines,
  isIn: (area: number) => boolean,
): number[][] {
  // What is meant lies on the right hand; each point is left once, for there are no diagonal contacts.
  const next = new Map<number, number>();
  for (const { from, to, left, right } of edges) {
    const inRight = isIn(right);
    if (isIn(left) === inRight) continue;
    if (inRight) next.set(from, to);
    else next.set(to, from);
  }
  const outlines: number[][] = [];
  for (const start of [...next.keys()]) {
    const corners: number[] = [];
    for (let at: number | undefined = start, to = next.get(start); to !== undefined;) {
      corners.push(points[2 * at] as number, points[2 * at + 1] as number);
      next.delete(at);
      at = to;
      to = next.get(at);
    }
    if (corners.length > 0) outlines.push(corners);
  }
  return outlines;
}

/** Area of what is at least `level` layers tall, in samples; what is tall lies on the right hand, clockwise as seen in the picture. */
export function areaAt(shared: SharedOutlines, level: number): number {
  return areaWhere(shared, (layers) => layers >= level);
}

/** Area of all that is meant, in samples; see {@link outlinesWhere}. */
export function areaWhere(
  { points, edges }: SharedOutlines,
  isIn: (area: number) => boolean,
): number {
  let twice = 0;
  for (const { from, to, left, right } of edges) {
    const inRight = isIn(right);
    if (isIn(left) === inRight) continue;
    const across =
      (points[2 * from] as number) * (points[2 * to + 1] as number) -
      (points[2 * to] as number) * (points[2 * from + 1] as number);
    twice += inRight ? across : -across;
  }
  return twice / 2;
}
