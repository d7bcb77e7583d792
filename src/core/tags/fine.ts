import { UNITS_PER_MM, type Ring } from './rings.ts';

/** How wide something is at a place of its border. */
export interface WidthAt {
  /** Length of border that the place stands for, mm. */
  readonly lengthMm: number;
  readonly widthMm: number;
  readonly xMm: number;
  readonly yMm: number;
}

/** Distance between two looks along a border, mm. */
const STEP_MM = 0.1;
/**
 * Only where the two places that a ball touches face each other it measures a width: cosine between their normals. Gaps narrower in
 * angle than about 14 degrees count: a wider notch, as in an M, runs into a point at any size, and nothing is lost where it closes.
 */
const FACING = -0.9;
const FACING_GAP = -0.97;

/** Side of the squares in which is looked for what a ball may touch, mm. */
const CELL_MM = 0.5;
/** Smaller balls touch only the next corner of a bend, mm. */
const LEAST_RADIUS_MM = 1e-6;

const cellOf = (mm: number): number => Math.floor(mm / CELL_MM);

/** How far a place lies beyond a row of squares, mm; 0 within it. */
function beyond(mm: number, cell: number): number {
  const low = cell * CELL_MM;
  return mm < low ? low - mm : mm > low + CELL_MM ? mm - low - CELL_MM : 0;
}

interface Side {
  readonly ax: number;
  readonly ay: number;
  readonly bx: number;
  readonly by: number;
  /** Into what is measured. */
  readonly nx: number;
  readonly ny: number;
  readonly length: number;
}

/**
 * How wide what rings enclose is along its border, by the largest ball that touches the border from within there and nowhere lies
 * beyond it. A line with normal m at a distance d along it gives r = d / (1 - m n), a corner at v gives r = |v|² / (2 v n); the
 * least counts (H. Blum, "A transformation for extracting new descriptors of shape", 1967: the medial axis).
 * @param inside of what is enclosed, or of the gaps around and within it
 * @param mostMm widths above this are not told
 */
export function widthsAlong(rings: readonly Ring[], inside: boolean, mostMm: number): WidthAt[] {
  const sides = sidesOf(rings, inside);
  if (sides.length === 0) return [];
  const squares = inSquares(sides);
  const widths: WidthAt[] = [];
  sides.forEach((side, own) => {
    const { ax, ay, bx, by, nx, ny } = side;
    const count = Math.max(1, Math.ceil(side.length / STEP_MM));
    for (let k = 0; k < count; k += 1) {
      const t = (k + 0.5) / count;
      const x = ax + t * (bx - ax);
      const y = ay + t * (by - ay);
      const { radius, cosine } = largestBall(squares, own, { x, y, nx, ny }, mostMm / 2);
      if (cosine < (inside ? FACING : FACING_GAP))
        widths.push({ lengthMm: side.length / count, widthMm: 2 * radius, xMm: x, yMm: y });
    }
  });
  return widths;
}

/** Sides by the squares that they cross: those of square n are `members` from `begins[n]` on. */
interface Squares {
  readonly column: number;
  readonly row: number;
  readonly columns: number;
  readonly rows: number;
  readonly begins: Int32Array;
  readonly members: Int32Array;
  /** Of each side ax, ay, bx, by, nx, ny and its length, mm: they are asked for millions of times. */
  readonly numbers: Float64Array;
}

const NUMBERS = 7;

function inSquares(sides: readonly Side[]): Squares {
  const numbers = new Float64Array(NUMBERS * sides.length);
  let [left, right, low, high] = [Infinity, -Infinity, Infinity, -Infinity];
  sides.forEach(({ ax, ay, bx, by, nx, ny, length }, n) => {
    numbers.set([ax, ay, bx, by, nx, ny, length], NUMBERS * n);
    left = Math.min(left, ax);
    right = Math.max(right, ax);
    low = Math.min(low, ay);
    high = Math.max(high, ay);
  });
  const [column, row] = [cellOf(left), cellOf(low)];
  const [columns, rows] = [cellOf(right) - column + 1, cellOf(high) - row + 1];
  const begins = new Int32Array(columns * rows + 1);
  const crossed = ({ ax, ay, bx, by }: Side, take: (square: number) => void): void => {
    for (let i = cellOf(Math.min(ax, bx)); i <= cellOf(Math.max(ax, bx)); i += 1)
      for (let j = cellOf(Math.min(ay, by)); j <= cellOf(Math.max(ay, by)); j += 1)
        take((i - column) * rows + j - row);
  };
  for (const side of sides)
    crossed(side, (square) => {
      begins[square + 1] = (begins[square + 1] as number) + 1;
    });
  for (let n = 1; n < begins.length; n += 1)
    begins[n] = (begins[n] as number) + (begins[n - 1] as number);
  const members = new Int32Array(begins.at(-1) ?? 0);
  const next = begins.slice();
  sides.forEach((side, n) => {
    crossed(side, (square) => {
      members[next[square] as number] = n;
      next[square] = (next[square] as number) + 1;
    });
  });
  return { column, row, columns, rows, begins, members, numbers };
}

/**
 * The largest ball that touches the border at a place from within, up to a radius, and the cosine between the normals of what it
 * touches; 1 where it touches nothing else.
 * @param own the side that the place lies on
 */
function largestBall(
  { column, row, columns, rows, begins, members, numbers }: Squares,
  own: number,
  {
    x,
    y,
    nx,
    ny,
  }: { readonly x: number; readonly y: number; readonly nx: number; readonly ny: number },
  mostMm: number,
): { readonly radius: number; readonly cosine: number } {
  let [radius, cosine] = [mostMm, 1];
  const [i0, j0] = [cellOf(x), cellOf(y)];
  // From square to square outward, until the smallest ball so far reaches no farther. A smaller one lies within it, so a square that
  // it does not reach holds nothing that such a ball could touch.
  for (let far = 0; (far - 1) * CELL_MM < 2 * radius; far += 1)
    for (let i = i0 - far; i <= i0 + far; i += 1) {
      if (i < column || i >= column + columns) continue;
      const step = Math.abs(i - i0) === far ? 1 : Math.max(1, 2 * far);
      for (let j = j0 - far; j <= j0 + far; j += step) {
        if (j < row || j >= row + rows) continue;
        const square = (i - column) * rows + j - row;
        const end = begins[square + 1] as number;
        let at = begins[square] as number;
        if (at === end) continue;
        const dx = beyond(x + radius * nx, i);
        const dy = beyond(y + radius * ny, j);
        if (dx * dx + dy * dy > radius * radius) continue;
        for (; at < end; at += 1) {
          const other = members[at] as number;
          if (other === own) continue;
          const n = NUMBERS * other;
          const ax = (numbers[n] as number) - x;
          const ay = (numbers[n + 1] as number) - y;
          const bx = (numbers[n + 2] as number) - x;
          const by = (numbers[n + 3] as number) - y;
          const mx = numbers[n + 4] as number;
          const my = numbers[n + 5] as number;
          const turn = nx * mx + ny * my;
          const d = -(ax * mx + ay * my);
          if (d > 0 && turn < 1 - 1e-9) {
            const r = d / (1 - turn);
            if (r < radius && r > LEAST_RADIUS_MM) {
              // The ball touches the line at the foot of its middle: that has to lie on the side.
              const along = (r * nx - ax) * (bx - ax) + (r * ny - ay) * (by - ay);
              const length = numbers[n + 6] as number;
              if (along >= 0 && along <= length * length) {
                radius = r;
                cosine = turn;
              }
            }
          }
          const aheadA = ax * nx + ay * ny;
          if (aheadA > 1e-9) {
            const r = (ax * ax + ay * ay) / (2 * aheadA);
            if (r < radius && r > LEAST_RADIUS_MM) {
              radius = r;
              cosine = turn;
            }
          }
          const aheadB = bx * nx + by * ny;
          if (aheadB > 1e-9) {
            const r = (bx * bx + by * by) / (2 * aheadB);
            if (r < radius && r > LEAST_RADIUS_MM) {
              radius = r;
              cosine = turn;
            }
          }
        }
      }
    }
  return { radius, cosine };
}

function sidesOf(rings: readonly Ring[], inside: boolean): Side[] {
  const sides: Side[] = [];
  for (const ring of rings)
    for (let n = 0; n < ring.length; n += 2) {
      const m = (n + 2) % ring.length;
      const [ax, ay, bx, by] = [ring[n], ring[n + 1], ring[m], ring[m + 1]].map(
        (at) => (at as number) / UNITS_PER_MM,
      ) as [number, number, number, number];
      const length = Math.hypot(bx - ax, by - ay);
      if (length === 0) continue;
      // Outer rings run counter-clockwise and holes the other way: what is enclosed lies on the left hand.
      const turn = inside ? 1 : -1;
      sides.push({
        ...{ ax, ay, bx, by, length },
        nx: (-turn * (by - ay)) / length,
        ny: (turn * (bx - ax)) / length,
      });
    }
  return sides;
}

/** The thinnest part that is more than a point: below its width lies as much border as a line is wide. */
export function thinnest(widths: readonly WidthAt[], lineMm: number): WidthAt | undefined {
  let length = 0;
  for (const at of [...widths].sort((a, b) => a.widthMm - b.widthMm)) {
    length += at.lengthMm;
    if (length >= lineMm) return at;
  }
  return undefined;
}

/**
 * How many times larger something has to be for its thinnest part to be as wide as a line; 1 where it is. What is larger has more
 * border below a width, so that is looked for again until it stays.
 */
export function scaleToLine(widths: readonly WidthAt[], lineMm: number): number {
  let scale = 1;
  for (let n = 0; n < 12; n += 1) {
    const at = thinnest(widths, lineMm / scale);
    const next = at ? Math.max(scale, lineMm / at.widthMm) : scale;
    if (next - scale < 1e-6) break;
    scale = next;
  }
  return scale;
}

/** The least distance between two borders, and where; undefined where one is empty. mm. */
export function distanceBetween(
  one: readonly Ring[],
  other: readonly Ring[],
): { readonly mm: number; readonly xMm: number; readonly yMm: number } | undefined {
  let best: { mm: number; xMm: number; yMm: number } | undefined;
  const [a, b] = [sidesOf(one, true), sidesOf(other, true)];
  const look = (x: number, y: number, side: Side): void => {
    const t = Math.min(
      1,
      Math.max(
        0,
        ((x - side.ax) * (side.bx - side.ax) + (y - side.ay) * (side.by - side.ay)) /
          side.length ** 2,
      ),
    );
    const mm = Math.hypot(
      x - side.ax - t * (side.bx - side.ax),
      y - side.ay - t * (side.by - side.ay),
    );
    if (mm < (best?.mm ?? Infinity)) best = { mm, xMm: x, yMm: y };
  };
  for (const p of a)
    for (const q of b) {
      look(p.ax, p.ay, q);
      look(q.ax, q.ay, p);
    }
  return best;
}
