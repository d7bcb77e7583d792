/** Side of the squares in which segments are looked for, samples. */
const CELL = 8;

interface Segment {
  readonly owner: number;
  readonly ax: number;
  readonly ay: number;
  readonly bx: number;
  readonly by: number;
}

/** The lines of which a piece touches another anywhere but at a common end. */
export function touching(lines: readonly Float64Array[], width: number): Set<number> {
  const columns = Math.ceil(width / CELL) + 2;
  const cells = new Map<number, Segment[]>();
  const bad = new Set<number>();
  lines.forEach((line, owner) => {
    const count = line.length / 2;
    const arc = line[0] === line[2 * count - 2] && line[1] === line[2 * count - 1];
    // Closed outlines go on from the last point to the first; those of one junction end where they began.
    const pieces = isClosedLine(line) && !arc ? count : count - 1;
    for (let n = 0; n < pieces; n += 1) {
      const m = (n + 1) % count;
      const segment = {
        owner,
        ax: line[2 * n] as number,
        ay: line[2 * n + 1] as number,
        bx: line[2 * m] as number,
        by: line[2 * m + 1] as number,
      };
      for (const cell of cellsOf(segment, columns)) {
        let held = cells.get(cell);
        if (!held) cells.set(cell, (held = []));
        for (const other of held) {
          if (!touch(segment, other)) continue;
          bad.add(segment.owner);
          bad.add(other.owner);
        }
        held.push(segment);
      }
    }
  });
  return bad;
}

/** Whether a line's ends are no corners that stay: those have whole numbers, middles of sides have a half. */
function isClosedLine(line: Float64Array): boolean {
  return (line[0] as number) % 1 !== 0 || (line[1] as number) % 1 !== 0;
}

/** Squares that a segment goes through, or near enough. */
function cellsOf({ ax, ay, bx, by }: Segment, columns: number): number[] {
  const out: number[] = [];
  const [lx, ly, rx, ry] = ax <= bx ? [ax, ay, bx, by] : [bx, by, ax, ay];
  const first = Math.floor(lx / CELL);
  const last = Math.floor(rx / CELL);
  for (let column = first; column <= last; column += 1) {
    const slope = rx === lx ? 0 : (ry - ly) / (rx - lx);
    const yAt = (x: number): number => ly + slope * (Math.max(lx, Math.min(rx, x)) - lx);
    const [one, other] = rx === lx ? [ly, ry] : [yAt(column * CELL), yAt((column + 1) * CELL)];
    const top = Math.floor(Math.min(one, other) / CELL);
    const bottom = Math.floor(Math.max(one, other) / CELL);
    for (let row = top; row <= bottom; row += 1) out.push(row * columns + column);
  }
  return out;
}

/** Twice the area to the left of a to b, seen from c: exact, since coordinates are halves of small whole numbers. */
function turn(ax: number, ay: number, bx: number, by: number, cx: number, cy: number): number {
  return (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
}

/** Do two segments share a point that is not an end of both? */
function touch(s: Segment, t: Segment): boolean {
  if (s === t) return false;
  const startShared = (s.ax === t.ax && s.ay === t.ay) || (s.ax === t.bx && s.ay === t.by);
  const endShared = (s.bx === t.ax && s.by === t.ay) || (s.bx === t.bx && s.by === t.by);
  // The same two ends twice: two outlines were drawn into one.
  if (startShared && endShared) return true;
  const a = turn(s.ax, s.ay, s.bx, s.by, t.ax, t.ay);
  const b = turn(s.ax, s.ay, s.bx, s.by, t.bx, t.by);
  const c = turn(t.ax, t.ay, t.bx, t.by, s.ax, s.ay);
  const d = turn(t.ax, t.ay, t.bx, t.by, s.bx, s.by);
  if (startShared || endShared) {
    // One end in common: they overlap only where they lie on one line and go the same way.
    if (a !== 0 || b !== 0) return false;
    const [x, y] = startShared ? [s.ax, s.ay] : [s.bx, s.by];
    const [sx, sy] = startShared ? [s.bx - x, s.by - y] : [s.ax - x, s.ay - y];
    const [tx, ty] = t.ax === x && t.ay === y ? [t.bx - x, t.by - y] : [t.ax - x, t.ay - y];
    return sx * tx + sy * ty > 0;
  }
  if (a * b > 0 || c * d > 0) return false;
  if (a === 0 && b === 0)
    return (
      Math.max(s.ax, s.bx) >= Math.min(t.ax, t.bx) &&
      Math.max(t.ax, t.bx) >= Math.min(s.ax, s.bx) &&
      Math.max(s.ay, s.by) >= Math.min(t.ay, t.by) &&
      Math.max(t.ay, t.by) >= Math.min(s.ay, s.by)
    );
  return true;
}
