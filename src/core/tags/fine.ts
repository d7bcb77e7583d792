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
const keyOf = (i: number, j: number): number => (i + 2 ** 15) * 2 ** 17 + j + 2 ** 15;

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
  const buckets = new Map<number, Side[]>();
  for (const side of sides) {
    const { ax, ay, bx, by } = side;
    for (let i = cellOf(Math.min(ax, bx)); i <= cellOf(Math.max(ax, bx)); i += 1)
      for (let j = cellOf(Math.min(ay, by)); j <= cellOf(Math.max(ay, by)); j += 1) {
        const own = buckets.get(keyOf(i, j));
        if (own) own.push(side);
        else buckets.set(keyOf(i, j), [side]);
      }
  }
  const widths: WidthAt[] = [];
  for (const side of sides) {
    const count = Math.max(1, Math.ceil(side.length / STEP_MM));
    for (let k = 0; k < count; k += 1) {
      const t = (k + 0.5) / count;
      const x = side.ax + t * (side.bx - side.ax);
      const y = side.ay + t * (side.by - side.ay);
      const touch: Touch = { radius: mostMm / 2, cosine: 1 };
      // From square to square outward, until the smallest ball so far reaches no farther.
      const [column, row] = [cellOf(x), cellOf(y)];
      for (let far = 0; (far - 1) * CELL_MM < 2 * touch.radius; far += 1)
        for (let i = column - far; i <= column + far; i += 1) {
          const step = Math.abs(i - column) === far ? 1 : Math.max(1, 2 * far);
          for (let j = row - far; j <= row + far; j += step)
            for (const other of buckets.get(keyOf(i, j)) ?? [])
              if (other !== side) lookAt(x, y, side, other, touch);
        }
      if (touch.cosine < (inside ? FACING : FACING_GAP))
        widths.push({
          lengthMm: side.length / count,
          widthMm: 2 * touch.radius,
          xMm: x,
          yMm: y,
        });
    }
  }
  return widths;
}

/** The smallest ball at a place so far, and the cosine between the normals of what it touches. */
interface Touch {
  radius: number;
  cosine: number;
}

/** Takes the ball that touches another side, where it is smaller. */
function lookAt(x: number, y: number, { nx, ny }: Side, other: Side, touch: Touch): void {
  const cosine = nx * other.nx + ny * other.ny;
  const d = (x - other.ax) * other.nx + (y - other.ay) * other.ny;
  if (d > 0 && cosine < 1 - 1e-9) {
    const radius = d / (1 - cosine);
    if (radius < touch.radius && radius > LEAST_RADIUS_MM) {
      // The ball touches the line at the foot of its middle: that has to lie on the side.
      const dx = (x + radius * nx - other.ax) * (other.bx - other.ax);
      const dy = (y + radius * ny - other.ay) * (other.by - other.ay);
      if (dx + dy >= 0 && dx + dy <= other.length * other.length) {
        touch.radius = radius;
        touch.cosine = cosine;
      }
    }
  }
  for (let end = 0; end < 2; end += 1) {
    const vx = (end === 0 ? other.ax : other.bx) - x;
    const vy = (end === 0 ? other.ay : other.by) - y;
    const ahead = vx * nx + vy * ny;
    if (ahead <= 1e-9) continue;
    const radius = (vx * vx + vy * vy) / (2 * ahead);
    if (radius >= touch.radius || radius <= LEAST_RADIUS_MM) continue;
    touch.radius = radius;
    touch.cosine = cosine;
  }
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
