import { hexOfRuleColour, type ColourCells } from '../artwork/colour-cells.ts';
import { positionsOf, zonePositions, type ZoneColours } from './zone.ts';

/** Price of a border between two samples of one colour, on the scale of zones; it falls with their difference. */
const BORDER_PRICE = 6;
const BORDER_DIFFERENCE = 6;

/** Sweeps over the picture; later ones change next to nothing. */
const SWEEPS = 3;

/** Pieces of a zone with fewer samples go to the zone around them. */
const LEAST_PIECE = 60;

/** Rounds in which pieces go: what goes to another small piece goes on with it. */
const PIECE_ROUNDS = 3;

/** What was said to belong to a zone, whatever its colour: samples from 128 on. */
export interface PaintedZone {
  /** Index of the zone. */
  readonly zone: number;
  readonly samples: Uint8Array;
}

/** Stands for a sample that no zone was painted over. */
const UNPAINTED = 255;

/**
 * The zone of each sample, counted from 1; 0 where nothing is printed. Samples go to the zone with the nearest colour, and
 * ragged borders are smoothed (iterated conditional modes with a Potts price: J. Besag, "On the statistical analysis of dirty
 * pictures", Journal of the Royal Statistical Society B 48 (1986)); what was painted stays as it was painted.
 * @param zones zones without colours have only what was painted
 * @param painted later ones go over earlier ones
 */
export function labelSamples(
  cells: ColourCells,
  zones: readonly ZoneColours[],
  painted: readonly PaintedZone[] = [],
): Uint8Array {
  const { width, height, cell, count } = cells;
  const positions = zonePositions(cells.colour);
  const prices = pricesOfCells(positions, zones);
  const cheapest = Uint8Array.from({ length: count.length + 1 }, (_, n) =>
    n < count.length ? cheapestZone(prices, n, zones.length) + 1 : 0,
  );
  const labels = new Uint8Array(cell.length);
  for (let i = 0; i < labels.length; i += 1) labels[i] = cheapest[cell[i] as number] as number;
  const fixed = paintZones(labels, painted);
  for (let sweep = 0; sweep < SWEEPS; sweep += 1)
    if (!smoothOnce(labels, width, cell, positions, prices, zones.length, fixed)) break;
  for (let round = 0; round < PIECE_ROUNDS; round += 1)
    if (!withoutPieces(labels, width, height, fixed)) break;
  return labels;
}

/** Distance of each cell to the nearest colour of each zone; zones without any are as far as can be. */
function pricesOfCells(positions: Float32Array, zones: readonly ZoneColours[]): Float32Array {
  const cells = positions.length / 3;
  const prices = new Float32Array(cells * zones.length).fill(Infinity);
  zones.forEach(({ colours }, zone) => {
    for (const [l, a, b] of positionsOf(colours))
      for (let n = 0; n < cells; n += 1) {
        const dl = (positions[3 * n] as number) - l;
        const da = (positions[3 * n + 1] as number) - a;
        const db = (positions[3 * n + 2] as number) - b;
        const distance = Math.sqrt(dl * dl + da * da + db * db);
        const at = n * zones.length + zone;
        if (distance < (prices[at] as number)) prices[at] = distance;
      }
  });
  return prices;
}

/** The zone that a cell is nearest to; the lowest of equal ones, and where no zone has a colour. */
function cheapestZone(prices: Float32Array, cell: number, zones: number): number {
  let best = 0;
  for (let zone = 1; zone < zones; zone += 1)
    if ((prices[cell * zones + zone] as number) < (prices[cell * zones + best] as number))
      best = zone;
  return best;
}

/** Writes what was painted into the labels; returns the zone that was painted over each sample, or {@link UNPAINTED}. */
function paintZones(labels: Uint8Array, painted: readonly PaintedZone[]): Uint8Array | undefined {
  if (painted.length === 0) return undefined;
  const fixed = new Uint8Array(labels.length).fill(UNPAINTED);
  for (const { zone, samples } of painted)
    for (let i = 0; i < labels.length; i += 1) {
      if (labels[i] === 0 || (samples[i] as number) < 128) continue;
      labels[i] = zone + 1;
      fixed[i] = zone;
    }
  return fixed;
}

function smoothOnce(
  labels: Uint8Array,
  width: number,
  cell: ColourCells['cell'],
  positions: Float32Array,
  prices: Float32Array,
  zones: number,
  fixed: Uint8Array | undefined,
): boolean {
  let changed = false;
  const beside = [0, 0, 0, 0];
  const pulls = [0, 0, 0, 0];
  for (let i = 0; i < labels.length; i += 1) {
    const own = labels[i] as number;
    if (own === 0 || (fixed && fixed[i] !== UNPAINTED)) continue;
    const x = i % width;
    const west = x > 0 ? (labels[i - 1] as number) : 0;
    const east = x + 1 < width ? (labels[i + 1] as number) : 0;
    const north = i >= width ? (labels[i - width] as number) : 0;
    const south = i + width < labels.length ? (labels[i + width] as number) : 0;
    if (
      (west === own || west === 0) &&
      (east === own || east === 0) &&
      (north === own || north === 0) &&
      (south === own || south === 0)
    )
      continue;
    beside[0] = west;
    beside[1] = east;
    beside[2] = north;
    beside[3] = south;
    for (let side = 0; side < 4; side += 1)
      pulls[side] =
        beside[side] === 0
          ? 0
          : pullBetween(cell[i] as number, cell[besideOf(i, side, width)] as number, positions);
    let best = own;
    let least = Infinity;
    for (let choice = -1; choice < 4; choice += 1) {
      const zone = choice < 0 ? own : (beside[choice] as number);
      if (zone === 0 || (choice >= 0 && zone === own)) continue;
      let price = prices[(cell[i] as number) * zones + zone - 1] as number;
      for (let side = 0; side < 4; side += 1)
        if (beside[side] !== zone) price += pulls[side] as number;
      if (price >= least) continue;
      least = price;
      best = zone;
    }
    if (best === own) continue;
    labels[i] = best;
    changed = true;
  }
  return changed;
}

function besideOf(i: number, side: number, width: number): number {
  return side === 0 ? i - 1 : side === 1 ? i + 1 : side === 2 ? i - width : i + width;
}

function pullBetween(first: number, second: number, positions: Float32Array): number {
  const dl = (positions[3 * first] as number) - (positions[3 * second] as number);
  const da = (positions[3 * first + 1] as number) - (positions[3 * second + 1] as number);
  const db = (positions[3 * first + 2] as number) - (positions[3 * second + 2] as number);
  return BORDER_PRICE / (1 + (dl * dl + da * da + db * db) / BORDER_DIFFERENCE ** 2);
}

/** Gives pieces that are too small to the zone that most of their rim has. What was painted stays. */
function withoutPieces(
  labels: Uint8Array,
  width: number,
  height: number,
  fixed: Uint8Array | undefined,
): boolean {
  const seen = new Uint8Array(labels.length);
  const stack: number[] = [];
  let changed = false;
  for (let start = 0; start < labels.length; start += 1) {
    const own = labels[start] as number;
    if (own === 0 || seen[start] === 1) continue;
    const piece: number[] = [];
    const rim = new Map<number, number>();
    let keeps = false;
    stack.push(start);
    seen[start] = 1;
    while (stack.length > 0) {
      const i = stack.pop() as number;
      // A piece that is large enough needs no list.
      if (piece.length < LEAST_PIECE) piece.push(i);
      if (fixed && fixed[i] !== UNPAINTED) keeps = true;
      const x = i % width;
      const y = (i - x) / width;
      for (let side = 0; side < 4; side += 1) {
        if (side === 0 ? x === 0 : side === 1 ? x + 1 === width : false) continue;
        if (side === 2 ? y === 0 : side === 3 ? y + 1 === height : false) continue;
        const beside = besideOf(i, side, width);
        const other = labels[beside] as number;
        if (other === own) {
          if (seen[beside] === 1) continue;
          seen[beside] = 1;
          stack.push(beside);
        } else if (other !== 0) rim.set(other, (rim.get(other) ?? 0) + 1);
      }
    }
    if (piece.length >= LEAST_PIECE || keeps || rim.size === 0) continue;
    const [[heir] = [own]] = [...rim].sort((a, b) => b[1] - a[1] || a[0] - b[0]);
    for (const i of piece) labels[i] = heir;
    changed = true;
  }
  return changed;
}

/**
 * For each sample near a border the other zone there, counted from 1; 0 elsewhere.
 * @param reach how far from a border, in samples
 */
export function otherZones(labels: Uint8Array, width: number, reach: number): Uint8Array {
  const others = new Uint8Array(labels.length);
  for (let step = 0; step < reach; step += 1) {
    const before = step === 0 ? labels : others.slice();
    for (let i = 0; i < labels.length; i += 1) {
      const own = labels[i] as number;
      if (own === 0 || others[i] !== 0) continue;
      const x = i % width;
      for (let side = 0; side < 4; side += 1) {
        if (side === 0 ? x === 0 : side === 1 ? x + 1 === width : false) continue;
        const beside = besideOf(i, side, width);
        if (beside < 0 || beside >= labels.length) continue;
        // First those beside another zone; then those beside one that has found it.
        const other = before[beside] as number;
        if (step > 0 && labels[beside] !== own) continue;
        if (other === 0 || other === own) continue;
        others[i] = other;
        break;
      }
    }
  }
  return others;
}

/** Mean colour of each zone, `#rrggbb`; null where it has no samples. */
export function meanColours(
  { cell, colour }: Pick<ColourCells, 'cell' | 'colour'>,
  labels: Uint8Array,
  zones: number,
): (string | null)[] {
  const sums = new Float64Array(4 * zones);
  for (let i = 0; i < labels.length; i += 1) {
    const label = labels[i] as number;
    if (label === 0) continue;
    const at = 4 * (label - 1);
    const own = 3 * (cell[i] as number);
    sums[at + 3] = (sums[at + 3] as number) + 1;
    for (let k = 0; k < 3; k += 1)
      sums[at + k] = (sums[at + k] as number) + (colour[own + k] as number);
  }
  return Array.from({ length: zones }, (_, zone) => {
    const [l = 0, a = 0, b = 0, count = 0] = sums.subarray(4 * zone, 4 * zone + 4);
    return count > 0 ? hexOfRuleColour(l / count, a / count, b / count) : null;
  });
}

/** Samples of each zone. */
export function zoneCounts(labels: Uint8Array, zones: number): Uint32Array {
  const counts = new Uint32Array(zones);
  for (const label of labels) if (label > 0) counts[label - 1] = (counts[label - 1] as number) + 1;
  return counts;
}
