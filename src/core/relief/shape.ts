import type { HeightMap, Raster } from '../base/raster.ts';

/** Outlines that a backing plate can have. `own` is the outline of the picture itself, grown by the margin. */
export const PLATE_OUTLINES = ['rectangle', 'rounded', 'circle', 'own'] as const;
export type PlateOutline = (typeof PLATE_OUTLINES)[number];

/** What is done to the outline of a piece. Lengths in mm; heights in layers. */
export interface PieceShape {
  /** A frame around the picture. */
  readonly border: { readonly widthMm: number; readonly layers: number } | null;
  /** A plate behind what is cut away. */
  readonly plate: {
    readonly outline: PlateOutline;
    readonly marginMm: number;
    readonly layers: number;
  } | null;
  /** Radius of the corners of the whole piece; 0 leaves them square. */
  readonly cornerMm: number;
  /** Holes, by the place of their middle from the upper left corner of the piece. */
  readonly holes: readonly {
    readonly xMm: number;
    readonly yMm: number;
    readonly diameterMm: number;
  }[];
}

/** A piece that is just its picture. */
export const PLAIN_SHAPE: PieceShape = { border: null, plate: null, cornerMm: 0, holes: [] };

/** Space around the picture that border and plate need, mm. */
export function padOfShape({ border, plate }: PieceShape): number {
  return Math.max(border?.widthMm ?? 0, plate?.marginMm ?? 0);
}

/** Radius of a rounded plate as a share of its shorter side, where the piece has no corner radius of its own. */
const PLATE_ROUNDING = 0.1;

/** Distance of a place from a rounded rectangle that fills the piece: negative inside. All in samples. */
function outsideRounded(
  x: number,
  y: number,
  width: number,
  height: number,
  radius: number,
): number {
  const dx = Math.abs(x - width / 2) - (width / 2 - radius);
  const dy = Math.abs(y - height / 2) - (height / 2 - radius);
  return Math.hypot(Math.max(0, dx), Math.max(0, dy)) + Math.min(0, Math.max(dx, dy)) - radius;
}

/**
 * Gives a piece its border, plate, corners and holes. The picture keeps its heights; a border covers what lies under it, a
 * plate fills what is cut away, corners and holes cut through all.
 * @param heights the picture with the space around it that {@link padOfShape} tells
 * @param layers of the stack: nothing becomes taller
 */
export function shapePiece(
  heights: HeightMap,
  shape: PieceShape,
  sampleMm: number,
  layers: number,
): HeightMap {
  const { border, plate, cornerMm, holes } = shape;
  if (!border && !plate && cornerMm === 0 && holes.length === 0) return heights;
  const { width, height } = heights;
  const data = heights.data.slice();
  const shorter = Math.min(width, height);
  const corner = Math.min(shorter / 2, cornerMm / sampleMm);
  if (plate) {
    const inPlate = plateMask(heights, plate, sampleMm, corner);
    const tall = Math.min(layers, plate.layers);
    for (let i = 0; i < data.length; i += 1)
      if (data[i] === 0 && inPlate(i % width, Math.floor(i / width))) data[i] = tall;
  }
  const wide = border ? border.widthMm / sampleMm : 0;
  for (let y = 0, at = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1, at += 1) {
      const [px, py] = [x + 0.5, y + 0.5];
      if (corner > 0 && outsideRounded(px, py, width, height, corner) > 0) data[at] = 0;
      else if (border) {
        const inner = Math.max(0, corner - wide);
        const inside =
          outsideRounded(px - wide, py - wide, width - 2 * wide, height - 2 * wide, inner) <= 0;
        if (!inside) data[at] = Math.min(layers, border.layers);
      }
    }
  for (const { xMm, yMm, diameterMm } of holes) {
    const [cx, cy, reach] = [xMm / sampleMm, yMm / sampleMm, diameterMm / 2 / sampleMm];
    for (let y = Math.max(0, Math.floor(cy - reach)); y < Math.min(height, cy + reach); y += 1)
      for (let x = Math.max(0, Math.floor(cx - reach)); x < Math.min(width, cx + reach); x += 1)
        if (Math.hypot(x + 0.5 - cx, y + 0.5 - cy) <= reach) data[y * width + x] = 0;
  }
  return { width, height, data };
}

/** Tells whether the plate reaches a sample. */
function plateMask(
  heights: HeightMap,
  { outline, marginMm }: NonNullable<PieceShape['plate']>,
  sampleMm: number,
  corner: number,
): (x: number, y: number) => boolean {
  const { width, height } = heights;
  const shorter = Math.min(width, height);
  switch (outline) {
    case 'rectangle':
      return () => true;
    case 'rounded': {
      const radius = corner > 0 ? corner : PLATE_ROUNDING * shorter;
      return (x, y) => outsideRounded(x + 0.5, y + 0.5, width, height, radius) <= 0;
    }
    case 'circle':
      return (x, y) => Math.hypot(x + 0.5 - width / 2, y + 0.5 - height / 2) <= shorter / 2;
    case 'own': {
      const near = squaredDistances(heights);
      const reach = (marginMm / sampleMm) ** 2;
      return (x, y) => (near.data[y * width + x] as number) <= reach;
    }
  }
}

/**
 * Squared distance of each sample to the nearest printed one, in samples: the lower envelope of parabolas, along columns and
 * then along rows. Source: P. F. Felzenszwalb, D. P. Huttenlocher, "Distance transforms of sampled functions", Theory of
 * Computing 8 (2012).
 */
function squaredDistances({ width, height, data }: HeightMap): Raster<Float64Array> {
  const out = Float64Array.from(data, (layers) => (layers > 0 ? 0 : 1e20));
  const longest = Math.max(width, height);
  const line = new Float64Array(longest);
  const done = new Float64Array(longest);
  const places = new Int32Array(longest);
  const borders = new Float64Array(longest + 1);
  const pass = (from: number, step: number, count: number): void => {
    for (let i = 0; i < count; i += 1) line[i] = out[from + i * step] as number;
    envelope(line, count, done, places, borders);
    for (let i = 0; i < count; i += 1) out[from + i * step] = done[i] as number;
  };
  for (let x = 0; x < width; x += 1) pass(x, width, height);
  for (let y = 0; y < height; y += 1) pass(y * width, 1, width);
  return { width, height, data: out };
}

function envelope(
  line: Float64Array,
  count: number,
  done: Float64Array,
  places: Int32Array,
  borders: Float64Array,
): void {
  let last = 0;
  places[0] = 0;
  borders[0] = -Infinity;
  borders[1] = Infinity;
  for (let q = 1; q < count; q += 1) {
    for (;;) {
      const p = places[last] as number;
      const meet = ((line[q] as number) + q * q - ((line[p] as number) + p * p)) / (2 * (q - p));
      if (meet > (borders[last] as number)) {
        last += 1;
        places[last] = q;
        borders[last] = meet;
        borders[last + 1] = Infinity;
        break;
      }
      last -= 1;
    }
  }
  let k = 0;
  for (let q = 0; q < count; q += 1) {
    while ((borders[k + 1] as number) < q) k += 1;
    const p = places[k] as number;
    done[q] = (q - p) ** 2 + (line[p] as number);
  }
}
