import { bytesOf } from '../../base/numbers.ts';
import { sampleArtwork } from '../../artwork/sample-artwork.ts';
import { partOf, type Checkpoint } from '../../base/checkpoint.ts';
import type { RgbaRaster } from '../../base/raster.ts';
import type { BrushLine, EditSettings, PixelBox } from '../artwork-edit.ts';
import { fillLine } from '../fill.ts';
import { smoothstep } from '../hue.ts';
import { signedDistances } from '../distance.ts';
import { keptScaleOf } from '../similar.ts';
import { cleanColours } from './clean-colours.ts';
import { mixedEdge, softEdge } from './edge.ts';
import { guessBox } from './first-box.ts';
import { cutScene, DROPPED, KEPT, refineCut, withoutSmallParts, type Scene } from './graph-cut.ts';
import { solveMatte } from './matting.ts';
import { fitBackground, outsideOfBackground, PLAIN_SHARE } from './plain.ts';

/** Pixels of the pictures that the first and the finer cut look at. */
const COARSE_PX = 60_000;
const FINE_PX = 400_000;
/** How far from the coarse border the finer cut may move, coarse pixels. */
const REFINED = 4;
/** Islands and holes below this share of the picture go. */
const SMALL_SHARE = 0.004;
/** Strokes are at least this wide where they are cut by, pixels. */
const LEAST_STROKE_PX = 3;
/** Half width of the band in which the edge is soft, pixels, and radius of its windows. */
const EDGE_PX = 3;

/** What `fitsPlain` found of a picture. */
export interface PlainOffer {
  /** Share of the border that is one smooth surface. */
  readonly share: number;
  readonly plain: boolean;
}

/** Copies that were made already, by their most pixels: one stroke after the other looks at the same ones. */
const copies = new WeakMap<RgbaRaster, Map<number, RgbaRaster>>();

/** A smaller copy of a picture, of at most so many pixels; the same one each time, so nobody may write into it. */
export function smallCopy(raster: RgbaRaster, mostPx: number): RgbaRaster {
  const made = copies.get(raster) ?? new Map<number, RgbaRaster>();
  copies.set(raster, made);
  const known = made.get(mostPx);
  if (known) return known;
  const factor = Math.min(1, Math.sqrt(mostPx / (raster.width * raster.height)));
  const copy = sampleArtwork(
    raster,
    Math.max(1, Math.round(raster.width * factor)),
    Math.max(1, Math.round(raster.height * factor)),
  );
  made.set(mostPx, copy);
  return copy;
}

/** Has a picture a plain background, so that a cut-out may be proposed? Something must stand on it. */
export function fitsPlain(raster: RgbaRaster): PlainOffer {
  const small = smallCopy(raster, COARSE_PX);
  const background = fitBackground(small);
  if (!background) return { share: 0, plain: false };
  const inside = outsideOfBackground(small, background);
  let kept = 0;
  for (const one of inside) kept += one;
  const part = kept / inside.length;
  return {
    share: background.share,
    plain: background.share >= PLAIN_SHARE && part > 0.01 && part < 0.95,
  };
}

/** Guesses where the subject is, in pixels of the picture. */
export function proposeBox(raster: RgbaRaster): PixelBox {
  const small = smallCopy(raster, COARSE_PX / 3);
  const box = guessBox(small);
  const scale = raster.width / small.width;
  return {
    left: Math.round(box.left * scale),
    top: Math.round(box.top * scale),
    width: Math.round(box.width * scale),
    height: Math.round(box.height * scale),
  };
}

/**
 * Cuts the subject of a picture out. All lengths and places are pixels of this picture. The result follows from all strokes
 * together, so taking one back gives exactly what was before it.
 * @param selected a selection that is the subject, 0..255; undefined lets colours and strokes decide
 * @returns a picture with alpha, its half-covered colours cleaned where that is asked for
 * @throws Cancelled from the checkpoint
 */
export function cutOutSubject(
  raster: RgbaRaster,
  settings: EditSettings['cutout'],
  selected: Uint8Array | undefined,
  checkpoint: Checkpoint,
): RgbaRaster {
  const { width, height, data } = raster;
  const plain = settings.way === 'plain' && !selected ? fitBackground(raster) : undefined;
  let inside: Uint8Array;
  if (selected) inside = selected.map((one) => (one >= 128 ? 1 : 0));
  else if (plain) inside = outsideOfBackground(raster, plain);
  else inside = cutByColours(raster, settings, partOf(checkpoint, 0, 0.5));
  if (plain || selected) paintKnown(inside, width, height, settings, 1);
  // A cut by colours had its small parts taken away on the smaller copy.
  if (!settings.smallParts && (plain || selected))
    inside = withoutSmallParts(inside, width, height, SMALL_SHARE * width * height);
  checkpoint(0.55);
  const finer = Math.max(1, Math.sqrt((width * height) / FINE_PX));
  const reach = plain ? EDGE_PX : Math.max(EDGE_PX, Math.ceil(finer));
  let alpha: Uint8Array;
  if (settings.edge === 'crisp') alpha = crispEdge(inside, width, height);
  else if (plain) alpha = mixedEdge(raster, inside, 2);
  else alpha = softEdge(raster, inside, reach, partOf(checkpoint, 0.55, 0.75));
  if (settings.hair.length > 0 || settings.edge === 'hair')
    matte(raster, inside, alpha, settings, partOf(checkpoint, 0.75, 0.9));
  for (const { adds, radius, points } of settings.touch) {
    const line = new Uint8Array(width * height);
    fillLine({ width, height, data: line }, points, radius);
    for (let i = 0; i < line.length; i += 1)
      alpha[i] = adds
        ? Math.max(alpha[i] as number, line[i] as number)
        : Math.min(alpha[i] as number, 255 - (line[i] as number));
  }
  const out = { width, height, data: new Uint8ClampedArray(data) };
  if (settings.cleanColours) cleanColours(out, alpha, partOf(checkpoint, 0.9, 1));
  for (let i = 0; i < alpha.length; i += 1)
    out.data[4 * i + 3] = Math.round(((data[4 * i + 3] as number) * (alpha[i] as number)) / 255);
  return out;
}

/** A picture in the rule scale with what strokes and box say of it. */
function sceneOf(
  raster: RgbaRaster,
  box: PixelBox,
  { keep, drop }: EditSettings['cutout'],
  scale: number,
): Scene {
  const { width, height, data } = raster;
  const known = new Uint8Array(width * height);
  const [left, top] = [box.left * scale, box.top * scale];
  const [right, bottom] = [left + box.width * scale, top + box.height * scale];
  for (let i = 0; i < known.length; i += 1) {
    const [x, y] = [(i % width) + 0.5, Math.floor(i / width) + 0.5];
    const out = x < left || x > right || y < top || y > bottom;
    if (out || (data[4 * i + 3] as number) < 128) known[i] = DROPPED;
  }
  const paint = (lines: readonly BrushLine[], what: number): void => {
    for (const { points, radius } of lines) {
      const line = new Uint8Array(known.length);
      fillLine(
        { width, height, data: line },
        points.map((one) => one * scale),
        Math.max(LEAST_STROKE_PX / 2, radius * scale),
      );
      for (let i = 0; i < line.length; i += 1) if ((line[i] as number) >= 128) known[i] = what;
    }
  };
  paint(keep, KEPT);
  paint(drop, DROPPED);
  return { width, height, colours: keptScaleOf(raster), known };
}

/** 1 for what is kept, at the size of the picture. */
function cutByColours(
  raster: RgbaRaster,
  settings: EditSettings['cutout'],
  checkpoint: Checkpoint,
): Uint8Array {
  const { width, height } = raster;
  const box = settings.box ?? proposeBox(raster);
  const fine = smallCopy(raster, FINE_PX);
  const coarse = smallCopy(fine, COARSE_PX);
  checkpoint(0.1);
  const first = sceneOf(coarse, box, settings, coarse.width / width);
  const begin = first.known.map((one) => (one === DROPPED ? 0 : 1));
  const cut = cutScene(first, begin, partOf(checkpoint, 0.1, 0.6));
  const scene = sceneOf(fine, box, settings, fine.width / width);
  const inside =
    fine.width === coarse.width
      ? cut.inside
      : refineCut(
          scene,
          cut.inside,
          coarse.width,
          coarse.height,
          cut.sides,
          REFINED,
          partOf(checkpoint, 0.6, 0.9),
        );
  const whole = settings.smallParts
    ? inside
    : withoutSmallParts(inside, fine.width, fine.height, SMALL_SHARE * fine.width * fine.height);
  return enlarged(whole, fine.width, fine.height, width, height);
}

/** Sets of pixels at another size: read between four middles, so that the border has no steps. */
function enlarged(
  inside: Uint8Array,
  width: number,
  height: number,
  columns: number,
  rows: number,
): Uint8Array {
  if (width === columns && height === rows) return inside;
  const out = new Uint8Array(columns * rows);
  for (let y = 0; y < rows; y += 1) {
    const sy = Math.min(height - 1, Math.max(0, ((y + 0.5) * height) / rows - 0.5));
    const y0 = Math.floor(sy);
    const y1 = Math.min(height - 1, y0 + 1);
    const fy = sy - y0;
    for (let x = 0; x < columns; x += 1) {
      const sx = Math.min(width - 1, Math.max(0, ((x + 0.5) * width) / columns - 0.5));
      const x0 = Math.floor(sx);
      const x1 = Math.min(width - 1, x0 + 1);
      const fx = sx - x0;
      const upper =
        (1 - fx) * (inside[y0 * width + x0] as number) + fx * (inside[y0 * width + x1] as number);
      const lower =
        (1 - fx) * (inside[y1 * width + x0] as number) + fx * (inside[y1 * width + x1] as number);
      out[y * columns + x] = (1 - fy) * upper + fy * lower >= 0.5 ? 1 : 0;
    }
  }
  return out;
}

/** Strokes on a plain background's cut-out. */
function paintKnown(
  inside: Uint8Array,
  width: number,
  height: number,
  { keep, drop }: EditSettings['cutout'],
  kept: number,
): void {
  for (const [lines, what] of [
    [keep, kept],
    [drop, 0],
  ] as const)
    for (const { points, radius } of lines) {
      const line = new Uint8Array(inside.length);
      fillLine({ width, height, data: line }, points, radius);
      for (let i = 0; i < line.length; i += 1) if ((line[i] as number) >= 128) inside[i] = what;
    }
}

/** A border one pixel soft. */
function crispEdge(inside: Uint8Array, width: number, height: number): Uint8Array {
  const distance = signedDistances(
    inside.map((one) => 255 * one),
    width,
    height,
  );
  return bytesOf(distance.length, (i) =>
    Math.round(255 * smoothstep(-0.75, 0.75, distance[i] as number)),
  );
}

/** Looks for hair under the hair brush, or along the whole border. */
function matte(
  raster: RgbaRaster,
  inside: Uint8Array,
  alpha: Uint8Array,
  { hair, edge }: EditSettings['cutout'],
  checkpoint: Checkpoint,
): void {
  const { width, height } = raster;
  const unknown = new Uint8Array(inside.length);
  const line = new Uint8Array(inside.length);
  for (const { points, radius } of hair) fillLine({ width, height, data: line }, points, radius);
  for (let i = 0; i < line.length; i += 1) if ((line[i] as number) >= 128) unknown[i] = 1;
  if (edge === 'hair' && hair.length === 0) {
    const reach = Math.max(4, Math.round(Math.max(width, height) / 150));
    const distance = signedDistances(
      inside.map((one) => 255 * one),
      width,
      height,
    );
    distance.forEach((d, i) => {
      if (Math.abs(d) <= reach) unknown[i] = 1;
    });
  }
  solveMatte(raster, alpha, unknown, checkpoint);
}
