import { bytesOf } from '../../base/numbers.ts';
import type { Checkpoint } from '../../base/checkpoint.ts';
import { fitMixture, type Mixture } from './mixture.ts';
import { MinCut } from './min-cut.ts';

/** Price of a border between equal colours, and of an unlike pixel. Source: Rother, Kolmogorov, Blake 2004 (gamma), found by trying (lambda). */
const GAMMA = 50;
const LAMBDA = 450;
/** Rounds of fitting and cutting. */
const ROUNDS = 4;
/** Share of the pixels that changes sides in a round after which no more follow. */
const STILL = 5e-4;

/** What is known of a pixel beforehand. */
export const UNKNOWN = 0;
export const KEPT = 1;
export const DROPPED = 2;

/** A picture in the rule scale, with what is known of its pixels. */
export interface Scene {
  readonly width: number;
  readonly height: number;
  /** Three numbers a pixel. */
  readonly colours: Float32Array;
  readonly known: Uint8Array;
}

/** dx, dy and length of the later four directions of {@link MinCut}; the first four lead back. */
const STEPS = [
  [1, 0, 1],
  [-1, 1, Math.SQRT2],
  [0, 1, 1],
  [1, 1, Math.SQRT2],
] as const;

/** What was worked out of colours already. */
const betas = new WeakMap<Float32Array, number>();
const linksOf = new WeakMap<Float32Array, Float32Array>();

/** `1 / (2 mean |dz|^2)` over neighbours. */
function betaOf({ width, height, colours }: Scene): number {
  const known = betas.get(colours);
  if (known !== undefined) return known;
  let sum = 0;
  let count = 0;
  for (const [dx, dy] of STEPS)
    for (let y = 0; y + dy < height; y += 1)
      for (let x = Math.max(0, -dx); x + Math.max(0, dx) < width; x += 1) {
        sum += squared(colours, 3 * (y * width + x), 3 * ((y + dy) * width + x + dx));
        count += 1;
      }
  const beta = sum > 0 ? count / (2 * sum) : 1;
  betas.set(colours, beta);
  return beta;
}

function squared(colours: Float32Array, a: number, b: number): number {
  const x = (colours[a] as number) - (colours[b] as number);
  const y = (colours[a + 1] as number) - (colours[b + 1] as number);
  const z = (colours[a + 2] as number) - (colours[b + 2] as number);
  return x * x + y * y + z * z;
}

/** Goes through all pairs of neighbours: direction, both pixels, and both nodes of the cut. */
function overNeighbours(
  { width, height }: Scene,
  each: (direction: number, i: number, k: number, node: number, there: number) => void,
): void {
  const across = width + 2;
  for (let n = 0; n < STEPS.length; n += 1) {
    const [dx, dy] = STEPS[n] as (typeof STEPS)[number];
    const way = dy * width + dx;
    const nodes = dy * across + dx;
    for (let y = 0; y + dy < height; y += 1)
      for (let x = Math.max(0, -dx); x + Math.max(0, dx) < width; x += 1) {
        const i = y * width + x;
        const node = (y + 1) * across + x + 1;
        each(n, i, i + way, node, node + nodes);
      }
  }
}

/** What a border between two neighbours costs, by direction. */
function priceOf(
  { colours }: Scene,
  beta: number,
  direction: number,
  i: number,
  k: number,
): number {
  const most = GAMMA / (STEPS[direction] as (typeof STEPS)[number])[2];
  return most * Math.exp(-beta * squared(colours, 3 * i, 3 * k));
}

const linkCount = ({ width, height }: Scene): number => 8 * (width + 2) * (height + 2);

/** Prices of the borders between all neighbours: they follow from the colours alone, so rounds and strokes share them. */
function allLinks(scene: Scene): Float32Array {
  const known = linksOf.get(scene.colours);
  if (known) return known;
  const links = new Float32Array(linkCount(scene));
  const beta = betaOf(scene);
  overNeighbours(scene, (n, i, k, node, there) => {
    const price = priceOf(scene, beta, n, i, k);
    links[8 * node + 4 + n] = price;
    links[8 * there + 3 - n] = price;
  });
  linksOf.set(scene.colours, links);
  return links;
}

/** The same where only some pixels are free; what borders on the others pulls at the free ones (added to `ties`). */
function linksWithin(
  scene: Scene,
  free: Uint8Array,
  inside: Uint8Array,
  ties: Float32Array,
): Float32Array {
  const links = new Float32Array(linkCount(scene));
  const beta = betaOf(scene);
  overNeighbours(scene, (n, i, k, node, there) => {
    const own = free[i] === 1;
    const other = free[k] === 1;
    if (!own && !other) return;
    const price = priceOf(scene, beta, n, i, k);
    if (own && other) {
      links[8 * node + 4 + n] = price;
      links[8 * there + 3 - n] = price;
    } else if (own) ties[node] = (ties[node] as number) + (inside[k] === 1 ? price : -price);
    else ties[there] = (ties[there] as number) + (inside[i] === 1 ? price : -price);
  });
  return links;
}

/** The colours of both sides. */
interface Sides {
  readonly kept: Mixture;
  readonly dropped: Mixture;
}

function fitSides({ colours, known }: Scene, inside: Uint8Array): Sides {
  const [kept, dropped]: [number[], number[]] = [[], []];
  for (let i = 0; i < known.length; i += 1) (inside[i] === 1 ? kept : dropped).push(i);
  return { kept: fitMixture(colours, kept), dropped: fitMixture(colours, dropped) };
}

/**
 * The cheapest cut for given colours of both sides.
 * @param free pixels that may change; the others stay as `inside` has them and only hold the border (banded cut: H. Lombaert,
 * Y. Sun, L. Grady, C. Xu, "A multilevel banded graph cuts method for fast image segmentation" (2005))
 */
function cutOnce(
  scene: Scene,
  sides: Sides,
  inside: Uint8Array,
  free: Uint8Array | undefined,
  checkpoint: Checkpoint,
): Uint8Array {
  const { width, height, colours, known } = scene;
  const across = width + 2;
  const ties = new Float32Array(across * (height + 2));
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const i = y * width + x;
      if (free && free[i] !== 1) continue;
      ties[(y + 1) * across + x + 1] =
        known[i] === KEPT
          ? LAMBDA
          : known[i] === DROPPED
            ? -LAMBDA
            : sides.dropped.cost(colours, 3 * i) - sides.kept.cost(colours, 3 * i);
    }
  checkpoint(0.2);
  // The cut uses its links up.
  const links = free ? linksWithin(scene, free, inside, ties) : allLinks(scene).slice();
  checkpoint(0.4);
  const side = new MinCut(across, height + 2, links, ties).run(() => {
    checkpoint(0.5);
  });
  return bytesOf(width * height, (i) => {
    if (free && free[i] !== 1) return inside[i] as number;
    return side[(Math.floor(i / width) + 1) * across + (i % width) + 1] as number;
  });
}

/**
 * Parts a picture in what is kept and what is dropped: Gaussians of colours and least cuts in turn.
 * @param inside where the subject may be to begin with
 * @returns 1 for what is kept; colours of both sides for a finer cut
 * @throws Cancelled from the checkpoint
 */
export function cutScene(
  scene: Scene,
  inside: Uint8Array,
  checkpoint: Checkpoint,
): { readonly inside: Uint8Array; readonly sides: Sides } {
  let present = inside;
  let sides = fitSides(scene, present);
  for (let round = 0; round < ROUNDS; round += 1) {
    checkpoint(round / ROUNDS);
    const next = cutOnce(scene, sides, present, undefined, checkpoint);
    let moved = 0;
    for (let i = 0; i < next.length; i += 1) if (next[i] !== present[i]) moved += 1;
    present = next;
    if (moved <= STILL * next.length) break;
    // A side without a pixel would make the next fit meaningless.
    if (!present.includes(1) || !present.includes(0)) break;
    sides = fitSides(scene, present);
  }
  return { inside: present, sides };
}

/** Cuts a finer picture again, near the border that a coarse one gave. */
export function refineCut(
  scene: Scene,
  coarse: Uint8Array,
  coarseWidth: number,
  coarseHeight: number,
  sides: Sides,
  reach: number,
  checkpoint: Checkpoint,
): Uint8Array {
  const { width, height, known } = scene;
  const near = borderBand(coarse, coarseWidth, coarseHeight, reach);
  const inside = new Uint8Array(width * height);
  const free = new Uint8Array(width * height);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const k =
        Math.floor(((y + 0.5) * coarseHeight) / height) * coarseWidth +
        Math.floor(((x + 0.5) * coarseWidth) / width);
      const i = y * width + x;
      inside[i] = known[i] === KEPT ? 1 : known[i] === DROPPED ? 0 : (coarse[k] as number);
      free[i] = near[k] as number;
    }
  return cutOnce(scene, sides, inside, free, checkpoint);
}

/** Pixels within some steps of a border between inside and outside. */
export function borderBand(
  inside: Uint8Array,
  width: number,
  height: number,
  reach: number,
): Uint8Array {
  const band = new Uint8Array(inside.length);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const i = y * width + x;
      const side = inside[i];
      if (
        (x + 1 < width && inside[i + 1] !== side) ||
        (x > 0 && inside[i - 1] !== side) ||
        (y + 1 < height && inside[i + width] !== side) ||
        (y > 0 && inside[i - width] !== side)
      )
        band[i] = 1;
    }
  return widened(band, width, height, reach - 1);
}

/** A set of pixels with all within so many rows and columns of one of them. */
export function widened(
  from: Uint8Array,
  width: number,
  height: number,
  by: number,
): Uint8Array<ArrayBuffer> {
  const rows = new Uint8Array(from.length);
  for (let y = 0; y < height; y += 1) widenLine(from, rows, y * width, 1, width, by);
  const out = new Uint8Array(from.length);
  for (let x = 0; x < width; x += 1) widenLine(rows, out, x, width, height, by);
  return out;
}

/** One line of {@link widened}: forwards from each pixel of the set, then backwards. */
function widenLine(
  from: Uint8Array,
  to: Uint8Array,
  start: number,
  step: number,
  count: number,
  by: number,
): void {
  const last = start + (count - 1) * step;
  for (let i = start, left = -1; i <= last; i += step) {
    if (from[i] === 1) left = by;
    if (left >= 0) to[i] = 1;
    left -= 1;
  }
  for (let i = last, left = -1; i >= start; i -= step) {
    if (from[i] === 1) left = by;
    if (left >= 0) to[i] = 1;
    left -= 1;
  }
}

/** Takes islands and holes away that are smaller than a share of the picture; 1 is inside. The largest part always stays. */
export function withoutSmallParts(
  inside: Uint8Array,
  width: number,
  height: number,
  leastPx: number,
): Uint8Array {
  const out = inside.slice();
  const seen = new Uint8Array(inside.length);
  const queue = new Int32Array(inside.length);
  const parts: { readonly from: number; readonly to: number }[] = [];
  let end = 0;
  let largest = 0;
  for (let start = 0; start < inside.length; start += 1) {
    if (seen[start] === 1) continue;
    const from = end;
    const side = inside[start];
    queue[end++] = start;
    seen[start] = 1;
    for (let at = from; at < end; at += 1) {
      const i = queue[at] as number;
      const x = i % width;
      for (let n = 0; n < 4; n += 1) {
        const k = n === 0 ? i - 1 : n === 1 ? i + 1 : n === 2 ? i - width : i + width;
        if ((n === 0 && x === 0) || (n === 1 && x + 1 === width) || k < 0 || k >= width * height)
          continue;
        if (seen[k] === 1 || inside[k] !== side) continue;
        seen[k] = 1;
        queue[end++] = k;
      }
    }
    parts.push({ from, to: end });
    if (side === 1) largest = Math.max(largest, end - from);
  }
  for (const { from, to } of parts) {
    const side = inside[queue[from] as number] as number;
    if (to - from >= leastPx || (side === 1 && to - from === largest)) continue;
    for (let at = from; at < to; at += 1) out[queue[at] as number] = 1 - side;
  }
  return out;
}
