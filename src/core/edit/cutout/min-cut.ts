import { bytesOf } from '../../base/numbers.ts';
/**
 * Eight neighbours of a pixel; direction 7 - d leads back.
 */
export const DIRECTIONS = 8;

const FREE = 0;
const SOURCE = 1;
const SINK = 2;
/** A node whose parent is its terminal, and one without a parent. */
const TERMINAL = 8;
const ORPHAN = 9;
const NONE = 10;

/**
 * The least cut of a grid of pixels between two terminals.
 * Source: Y. Boykov and V. Kolmogorov, "An experimental comparison of min-cut/max-flow algorithms for energy minimization in
 * vision" (2004): two search trees, with the distances and time marks of its section 3.
 *
 * The grid has a rim of pixels that take part in nothing, so every pixel has eight neighbours.
 */
export class MinCut {
  private readonly offsets: Int32Array;
  private readonly parent: Uint8Array;
  private readonly tree: Uint8Array;
  private readonly depth: Int32Array;
  private readonly time: Int32Array;
  private readonly queue: Int32Array;
  private readonly queued: Uint8Array;
  private head = 0;
  private waiting = 0;
  private clock = 0;
  private readonly orphans: number[] = [];

  /**
   * @param width with the rim
   * @param links capacity from pixel i in direction d at 8 i + d; changed
   * @param ties capacity from the source above 0, to the sink below; changed
   */
  constructor(
    width: number,
    height: number,
    private readonly links: Float32Array,
    private readonly ties: Float32Array,
  ) {
    const area = width * height;
    this.offsets = Int32Array.of(-width - 1, -width, 1 - width, -1, 1, width - 1, width, width + 1);
    this.parent = new Uint8Array(area).fill(NONE);
    this.tree = new Uint8Array(area);
    this.depth = new Int32Array(area);
    this.time = new Int32Array(area);
    this.queue = new Int32Array(area);
    this.queued = new Uint8Array(area);
  }

  /** Works the cut out. @returns 1 for pixels on the side of the source, 0 for the others; free ones belong to the sink */
  run(onRound: () => void = () => undefined): Uint8Array {
    const { ties, tree, parent, depth } = this;
    for (let i = 0; i < ties.length; i += 1) {
      if (ties[i] === 0) continue;
      tree[i] = (ties[i] as number) > 0 ? SOURCE : SINK;
      parent[i] = TERMINAL;
      depth[i] = 1;
      this.activate(i);
    }
    let rounds = 0;
    while (this.waiting > 0) {
      const node = this.queue[this.head] as number;
      if (tree[node] === FREE || parent[node] === NONE) {
        this.retire(node);
        continue;
      }
      const direction = this.grow(node);
      if (direction < 0) {
        this.retire(node);
        continue;
      }
      this.clock += 1;
      const there = node + (this.offsets[direction] as number);
      if (tree[node] === SOURCE) this.augment(node, there, direction);
      else this.augment(there, node, 7 - direction);
      this.adopt();
      rounds += 1;
      if (rounds % 4096 === 0) onRound();
    }
    return bytesOf(tree.length, (node) => (tree[node] === SOURCE ? 1 : 0));
  }

  private activate(node: number): void {
    if (this.queued[node] === 1) return;
    this.queued[node] = 1;
    this.queue[(this.head + this.waiting) % this.queue.length] = node;
    this.waiting += 1;
  }

  private retire(node: number): void {
    this.queued[node] = 0;
    this.head = (this.head + 1) % this.queue.length;
    this.waiting -= 1;
  }

  /** Takes free neighbours in. @returns the direction in which the trees touch, or -1 */
  private grow(node: number): number {
    const { links, tree, parent, depth, time, offsets } = this;
    const side = tree[node] as number;
    for (let d = 0; d < DIRECTIONS; d += 1) {
      const other = node + (offsets[d] as number);
      const room = side === SOURCE ? links[8 * node + d] : links[8 * other + 7 - d];
      if (!((room as number) > 0)) continue;
      if (tree[other] === FREE) {
        tree[other] = side;
        parent[other] = 7 - d;
        depth[other] = (depth[node] as number) + 1;
        time[other] = time[node] as number;
        this.activate(other);
      } else if (tree[other] !== side) return d;
      else if (
        (time[other] as number) <= (time[node] as number) &&
        (depth[other] as number) > (depth[node] as number) + 1
      ) {
        parent[other] = 7 - d;
        depth[other] = (depth[node] as number) + 1;
        time[other] = time[node] as number;
      }
    }
    return -1;
  }

  /** Pushes as much as goes from the source over the link to the sink; who is cut off by that becomes an orphan. */
  private augment(from: number, to: number, direction: number): void {
    const { links, ties, parent, offsets } = this;
    const link = 8 * from + direction;
    let flow = links[link] as number;
    let node = from;
    for (;;) {
      const up = parent[node] as number;
      if (up === TERMINAL) break;
      const above = node + (offsets[up] as number);
      flow = Math.min(flow, links[8 * above + 7 - up] as number);
      node = above;
    }
    flow = Math.min(flow, ties[node] as number);
    node = to;
    for (;;) {
      const up = parent[node] as number;
      if (up === TERMINAL) break;
      flow = Math.min(flow, links[8 * node + up] as number);
      node += offsets[up] as number;
    }
    flow = Math.min(flow, -(ties[node] as number));

    links[link] = (links[link] as number) - flow;
    links[8 * to + 7 - direction] = (links[8 * to + 7 - direction] as number) + flow;
    node = from;
    for (;;) {
      const up = parent[node] as number;
      if (up === TERMINAL) break;
      const above = node + (offsets[up] as number);
      const down = 8 * above + 7 - up;
      links[8 * node + up] = (links[8 * node + up] as number) + flow;
      links[down] = (links[down] as number) - flow;
      if (!(links[down] > 0)) this.orphan(node);
      node = above;
    }
    ties[node] = (ties[node] as number) - flow;
    if (!((ties[node] as number) > 0)) this.orphan(node);
    node = to;
    for (;;) {
      const up = parent[node] as number;
      if (up === TERMINAL) break;
      const below = node + (offsets[up] as number);
      links[8 * below + 7 - up] = (links[8 * below + 7 - up] as number) + flow;
      links[8 * node + up] = (links[8 * node + up] as number) - flow;
      if (!((links[8 * node + up] as number) > 0)) this.orphan(node);
      node = below;
    }
    ties[node] = (ties[node] as number) + flow;
    if (!((ties[node] as number) < 0)) this.orphan(node);
  }

  private orphan(node: number): void {
    // Rounding may leave a trace; what is cut off has nothing.
    const up = this.parent[node] as number;
    if (up === TERMINAL) this.ties[node] = 0;
    this.parent[node] = ORPHAN;
    this.orphans.push(node);
  }

  /** Finds each orphan another parent in its tree, or sets it free. */
  private adopt(): void {
    const { links, tree, parent, depth, time, offsets, orphans } = this;
    while (orphans.length > 0) {
      const node = orphans.pop() as number;
      const side = tree[node] as number;
      let best = -1;
      let nearest = 0x7fffffff;
      for (let d = 0; d < DIRECTIONS; d += 1) {
        const other = node + (offsets[d] as number);
        if (tree[other] !== side) continue;
        const room = side === SOURCE ? links[8 * other + 7 - d] : links[8 * node + d];
        if (!((room as number) > 0)) continue;
        const steps = this.stepsToTerminal(other);
        if (steps < nearest) [best, nearest] = [d, steps];
      }
      if (best >= 0) {
        parent[node] = best;
        depth[node] = nearest + 1;
        time[node] = this.clock;
        continue;
      }
      for (let d = 0; d < DIRECTIONS; d += 1) {
        const other = node + (offsets[d] as number);
        if (tree[other] !== side) continue;
        const room = side === SOURCE ? links[8 * other + 7 - d] : links[8 * node + d];
        if ((room as number) > 0) this.activate(other);
        if (parent[other] === 7 - d) {
          parent[other] = ORPHAN;
          orphans.push(other);
        }
      }
      tree[node] = FREE;
      parent[node] = NONE;
    }
  }

  /** Steps from a node up to its terminal; a huge number where its way ends at an orphan. */
  private stepsToTerminal(from: number): number {
    const { parent, depth, time, offsets, clock } = this;
    let node = from;
    let steps = 0;
    for (;;) {
      if (time[node] === clock) {
        steps += depth[node] as number;
        break;
      }
      steps += 1;
      const up = parent[node] as number;
      if (up === TERMINAL) {
        time[node] = clock;
        depth[node] = 1;
        break;
      }
      if (up >= ORPHAN) return 0x7fffffff;
      node += offsets[up] as number;
    }
    // Marks on the way shorten the next look.
    let left = steps;
    node = from;
    while (time[node] !== clock) {
      time[node] = clock;
      depth[node] = left;
      left -= 1;
      node += offsets[parent[node] as number] as number;
    }
    return steps;
  }
}
