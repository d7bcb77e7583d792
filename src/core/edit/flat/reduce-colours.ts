import { partOf, type Checkpoint } from '../../base/checkpoint.ts';
import type { RgbaRaster } from '../../base/raster.ts';
import { formatHex, parseHex, type Triple } from '../../colour/srgb.ts';
import type { EditSettings, PaletteColour } from '../artwork-edit.ts';
import { writeRuleScale } from '../similar.ts';
import { CUT_AWAY, lookForCalm, PLAIN, type CalmPicture } from './calm-pixels.ts';
import { findPalette, proposeCount, thinDarkColour, type FoundColour } from './palette.ts';

/** How near a calm pixel is to its colour to be sure of it, in the rule scale. */
const CORE = 15;
/** How far sure pixels of a colour may be for a mix with it, pixels. */
const MIX_REACH = 3;
/** By how much a far colour must be better than a mix, in squared codes. */
const FAR_PRICE = 900;
/** No label: cut away. */
const NONE = 255;

/** What a picture was reduced to. */
export interface ReducedPicture {
  readonly palette: readonly PaletteColour[];
  /** Pixels of each colour. */
  readonly counts: readonly number[];
  /** For each pixel its place in the palette, 255 where it is cut away. */
  readonly labels: Uint8Array;
  /** What was proposed by itself. */
  readonly proposed: number;
}

function byteTriple([r, g, b]: readonly [number, number, number]): Triple {
  return [Math.round(r), Math.round(g), Math.round(b)];
}

/** The colours to reduce to: the maker's own, or those that are found. */
function paletteOf(
  picture: CalmPicture,
  { count, thin, palette }: EditSettings['colours'],
  proposed: number,
): PaletteColour[] {
  if (palette && palette.length > 0) return [...palette];
  const found: FoundColour[] = findPalette(picture, count ?? proposed);
  const line = thin ? thinDarkColour(picture, found) : undefined;
  return [...found, ...(line ? [line] : [])].map(({ codes }) => {
    const hex = formatHex(byteTriple(codes));
    return { seed: hex, colour: hex };
  });
}

/**
 * Reduces a picture to a few colours without a fringe between them: pixels in the middle of areas and along lines are sure of
 * their colour; every other one is read as a mix of two colours that are sure nearby, in sRGB codes, because that is where
 * programs mix them.
 * @throws Cancelled from the checkpoint
 */
export function reduceColours(
  raster: RgbaRaster,
  settings: EditSettings['colours'],
  checkpoint: Checkpoint,
): ReducedPicture {
  const picture = lookForCalm(raster, partOf(checkpoint, 0, 0.4));
  const proposed = proposeCount(picture);
  const palette = paletteOf(picture, settings, proposed);
  const labels = labelPixels(raster, picture, palette, partOf(checkpoint, 0.4, 0.9));
  const counts = palette.map(() => 0);
  for (const label of labels) if (label !== NONE) counts[label] = (counts[label] as number) + 1;
  return { palette, counts, labels, proposed };
}

/** Writes the colours of a palette into a picture. */
export function paintLabels(
  raster: RgbaRaster,
  { labels, palette }: Pick<ReducedPicture, 'labels' | 'palette'>,
): RgbaRaster {
  const { width, height, data } = raster;
  const out = new Uint8ClampedArray(data);
  const colours = palette.map(({ colour }) => parseHex(colour) ?? [0, 0, 0]);
  for (let i = 0; i < labels.length; i += 1) {
    const colour = colours[labels[i] as number];
    if (colour) out.set(colour, 4 * i);
  }
  return { width, height, data: out };
}

function labelPixels(
  raster: RgbaRaster,
  { kinds }: CalmPicture,
  palette: readonly PaletteColour[],
  checkpoint: Checkpoint,
): Uint8Array {
  const { width, height, data } = raster;
  const area = width * height;
  const codes = palette.map(({ seed }) => parseHex(seed) ?? ([0, 0, 0] as Triple));
  const colours = new Float32Array(3 * palette.length);
  codes.forEach(([r, g, b], k) => {
    writeRuleScale(r, g, b, colours, 3 * k);
  });
  const labels = new Uint8Array(area).fill(NONE);
  const sure = new Uint32Array(area);
  const lab = new Float32Array(3);
  for (let i = 0; i < area; i += 1) {
    if (i % (1 << 18) === 0) checkpoint((0.4 * i) / area);
    const kind = kinds[i];
    if (kind === CUT_AWAY || kind === PLAIN) continue;
    writeRuleScale(
      data[4 * i] as number,
      data[4 * i + 1] as number,
      data[4 * i + 2] as number,
      lab,
    );
    let [best, least] = [0, Infinity];
    for (let k = 0; k < codes.length; k += 1) {
      const d =
        ((lab[0] as number) - (colours[3 * k] as number)) ** 2 +
        ((lab[1] as number) - (colours[3 * k + 1] as number)) ** 2 +
        ((lab[2] as number) - (colours[3 * k + 2] as number)) ** 2;
      if (d < least) [best, least] = [k, d];
    }
    if (least > CORE * CORE) continue;
    labels[i] = best;
    sure[i] = 1 << best;
  }
  const near = spreadSets(sure, width, height, MIX_REACH);
  for (let i = 0; i < area; i += 1) {
    if (i % (1 << 18) === 0) checkpoint(0.4 + (0.5 * i) / area);
    if (sure[i] !== 0 || kinds[i] === CUT_AWAY) continue;
    labels[i] = readMix(data, 4 * i, codes, near[i] as number);
  }
  dissolve(labels, sure, width, height);
  return labels;
}

/** The colour of a mixed pixel. @param near bits of the colours that are sure nearby */
function readMix(
  data: ArrayLike<number>,
  at: number,
  codes: readonly Triple[],
  near: number,
): number {
  const p: Triple = [data[at] as number, data[at + 1] as number, data[at + 2] as number];
  let [label, error] = [-1, Infinity];
  let [far, farError] = [0, Infinity];
  for (const [a, [ar, ag, ab]] of codes.entries()) {
    const own = (p[0] - ar) ** 2 + (p[1] - ag) ** 2 + (p[2] - ab) ** 2;
    if (own < farError) [far, farError] = [a, own];
    if (((near >> a) & 1) === 0) continue;
    if (own < error) [label, error] = [a, own];
    for (let b = a + 1; b < codes.length; b += 1) {
      if (((near >> b) & 1) === 0) continue;
      const [br, bg, bb] = codes[b] as Triple;
      const [dr, dg, db] = [br - ar, bg - ag, bb - ab];
      const square = dr * dr + dg * dg + db * db;
      if (square === 0) continue;
      const t = ((p[0] - ar) * dr + (p[1] - ag) * dg + (p[2] - ab) * db) / square;
      if (t <= 0 || t >= 1) continue;
      const off = (p[0] - ar - t * dr) ** 2 + (p[1] - ag - t * dg) ** 2 + (p[2] - ab - t * db) ** 2;
      if (off < error) [label, error] = [t <= 0.5 ? a : b, off];
    }
  }
  return label < 0 || farError + FAR_PRICE < error ? far : label;
}

/** For each pixel the union of the sets within some pixels, rows and columns in turn. */
function spreadSets(sets: Uint32Array, width: number, height: number, reach: number): Uint32Array {
  const rows = new Uint32Array(sets.length);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      let union = 0;
      const from = y * width + Math.max(0, x - reach);
      const to = y * width + Math.min(width - 1, x + reach);
      for (let i = from; i <= to; i += 1) union |= sets[i] as number;
      rows[y * width + x] = union;
    }
  const out = new Uint32Array(sets.length);
  for (let y = 0; y < height; y += 1) {
    const row = y * width;
    for (let r = Math.max(0, y - reach); r <= Math.min(height - 1, y + reach); r += 1)
      for (let x = 0; x < width; x += 1)
        out[row + x] = (out[row + x] as number) | (rows[r * width + x] as number);
  }
  return out;
}

/** Connected parts of one label without a sure pixel take the label that most of the pixels around them have. */
function dissolve(labels: Uint8Array, sure: Uint32Array, width: number, height: number): void {
  const seen = new Uint8Array(labels.length);
  for (let start = 0; start < labels.length; start += 1) {
    if (seen[start] === 1 || sure[start] !== 0 || labels[start] === NONE) continue;
    const own = [start];
    seen[start] = 1;
    const around = new Map<number, number>();
    let isSure = false;
    for (const i of own) {
      const x = i % width;
      for (const k of [
        x > 0 ? i - 1 : -1,
        x + 1 < width ? i + 1 : -1,
        i - width,
        i + width < width * height ? i + width : -1,
      ]) {
        if (k < 0) continue;
        const label = labels[k] as number;
        if (label !== labels[i]) {
          if (label !== NONE) around.set(label, (around.get(label) ?? 0) + 1);
        } else if (sure[k] !== 0) isSure = true;
        else if (seen[k] === 0) {
          seen[k] = 1;
          own.push(k);
        }
      }
    }
    if (isSure || around.size === 0) continue;
    const [[label] = [NONE]] = [...around].sort(([, a], [, b]) => b - a);
    for (const i of own) labels[i] = label;
  }
}
