import { MAX_LAYERS } from '../base/raster.ts';
import { clamp } from '../base/numbers.ts';
import type { LayerGrid } from './layer-grid.ts';

/** A run of consecutive layers in one filament. */
export interface Band {
  readonly filamentId: string;
  /** Whole layers, at least 1. */
  readonly layers: number;
  /** A locked band keeps its layers: edges slide it, and scaling, trimming and trading leave it as it is. */
  readonly locked?: boolean | undefined;
}

/** Bands from the plate up, on a layer grid. Functions that change bands keep whatever else a band carries. */
export interface Stack {
  readonly grid: LayerGrid;
  readonly bands: readonly Band[];
}

/** Letter of a band: A at the plate, then B, C ... Z, AA, AB. */
export function bandLetter(bandIndex: number): string {
  const last = String.fromCharCode(65 + (bandIndex % 26));
  return bandIndex < 26 ? last : bandLetter(Math.floor(bandIndex / 26) - 1) + last;
}

/** Number of the last layer (counted from 1) of each band. */
export function bandEnds(bands: readonly Band[]): number[] {
  let end = 0;
  return bands.map((band) => (end += band.layers));
}

/** Layers of the whole stack. */
export function totalLayers(bands: readonly Band[]): number {
  return bands.reduce((sum, band) => sum + band.layers, 0);
}

/** Index of the band that holds a layer (counted from 1); the last band for anything above the stack. */
export function bandOfLayer(bands: readonly Band[], layerNumber: number): number {
  let end = 0;
  for (let i = 0; i < bands.length; i += 1) {
    end += bands[i]?.layers ?? 0;
    if (layerNumber <= end) return i;
  }
  return bands.length - 1;
}

/** How edges behave. */
export interface EdgeOptions {
  /** The height of the stack stays: what one band gives, another takes. */
  readonly holdTotal?: boolean;
}

/** The bands that give and take when the upper edge of a band moves: the nearest below and above that are not locked. */
function tradersOf(
  bands: readonly Band[],
  bandIndex: number,
): { readonly below: number; readonly above: number } {
  let below = bandIndex;
  while (below >= 0 && bands[below]?.locked) below -= 1;
  let above = bandIndex + 1;
  while (above < bands.length && bands[above]?.locked) above += 1;
  return { below, above };
}

/**
 * The layers at which the upper edge of a band may lie. The nearest bands below and above that are not locked trade
 * layers and keep at least one; locked ones between them are slid. With no such band above, the height of the stack
 * changes, unless it is held; with none below, the edge stays.
 */
export function boundaryRange(
  bands: readonly Band[],
  bandIndex: number,
  { holdTotal = false }: EdgeOptions = {},
): { readonly least: number; readonly greatest: number } {
  const end = bandEnds(bands)[bandIndex] ?? 0;
  const { below, above } = tradersOf(bands, bandIndex);
  const giver = bands[below];
  const taker = bands[above];
  if (!giver || (!taker && holdTotal)) return { least: end, greatest: end };
  return {
    least: end - giver.layers + 1,
    greatest: end + (taker ? taker.layers - 1 : MAX_LAYERS - totalLayers(bands)),
  };
}

/**
 * Moves the upper edge of a band to the end of `layerNumber`; see {@link boundaryRange} for which bands give and take.
 * A wish outside that range goes as far as it can.
 */
export function moveBoundary<B extends Band>(
  bands: readonly B[],
  bandIndex: number,
  layerNumber: number,
  options: EdgeOptions = {},
): readonly B[] {
  const { least, greatest } = boundaryRange(bands, bandIndex, options);
  const from = bandEnds(bands)[bandIndex];
  if (from === undefined) return bands;
  const shift = clamp(Math.round(layerNumber), least, greatest) - from;
  if (shift === 0) return bands;
  const { below, above } = tradersOf(bands, bandIndex);
  return bands.map((band, i) => {
    if (i === below) return { ...band, layers: band.layers + shift };
    if (i === above) return { ...band, layers: band.layers - shift };
    return band;
  });
}

/**
 * Brings a stack to a number of layers through the bands nearest to one place: each gives down to one layer, or the
 * nearest takes what is free. Locked bands and the one at `index` itself stay, so the total may not be reached.
 * @param index the band that has just been changed; a place between bands as half a number
 */
export function restoreTotal<B extends Band>(
  bands: readonly B[],
  layers: number,
  index: number,
): readonly B[] {
  const result = [...bands];
  const byDistance = bands
    .map((_, i) => i)
    .filter((i) => i !== index && !bands[i]?.locked)
    .sort((a, b) => Math.abs(a - index) - Math.abs(b - index) || a - b);
  for (const i of byDistance) {
    const missing = layers - totalLayers(result);
    const band = result[i];
    if (missing === 0 || !band) break;
    result[i] = { ...band, layers: Math.max(1, band.layers + missing) };
  }
  return result;
}

/** Puts a band in at `index` (0 is at the plate); its layers are limited so that the stack stays within MAX_LAYERS. */
export function insertBand<B extends Band>(
  bands: readonly B[],
  index: number,
  band: B,
): readonly B[] {
  const room = MAX_LAYERS - totalLayers(bands);
  if (room < 1) return bands;
  const layers = clamp(Math.round(band.layers), 1, room);
  return [...bands.slice(0, index), { ...band, layers }, ...bands.slice(index)];
}

/** Takes a band out; what lies above sinks by its layers. The last remaining band stays. */
export function removeBand<B extends Band>(bands: readonly B[], index: number): readonly B[] {
  return bands.length <= 1 ? bands : bands.filter((_, i) => i !== index);
}

/** Moves a band, with its layers, to another place in the order. */
export function reorderBand<B extends Band>(
  bands: readonly B[],
  from: number,
  to: number,
): readonly B[] {
  const moved = bands[from];
  if (!moved || from === to) return bands;
  const rest = bands.filter((_, i) => i !== from);
  const place = clamp(to, 0, rest.length);
  return [...rest.slice(0, place), moved, ...rest.slice(place)];
}

/** Prints a band in another filament. */
export function replaceFilament<B extends Band>(
  bands: readonly B[],
  index: number,
  filamentId: string,
): readonly B[] {
  return bands.map((band, i) => (i === index ? { ...band, filamentId } : band));
}

/**
 * Divides a band in two of the same filament, the lower one with the odd layer. A band of one layer stays as it is.
 * @param upper makes the upper part out of the band, with whatever must be its own
 */
export function splitBand<B extends Band>(
  bands: readonly B[],
  index: number,
  upper: (band: B) => B,
): readonly B[] {
  const band = bands[index];
  if (!band || band.layers < 2) return bands;
  const above = Math.floor(band.layers / 2);
  return [
    ...bands.slice(0, index),
    { ...band, layers: band.layers - above },
    { ...upper(band), layers: above },
    ...bands.slice(index + 1),
  ];
}

/** Joins a band with the one under it, which keeps its filament and takes the layers. The lowest band stays as it is. */
export function joinWithBelow<B extends Band>(bands: readonly B[], index: number): readonly B[] {
  const band = bands[index];
  const below = bands[index - 1];
  if (!band || !below) return bands;
  return [
    ...bands.slice(0, index - 1),
    { ...below, layers: below.layers + band.layers },
    ...bands.slice(index + 1),
  ];
}

/**
 * Stretches or squeezes a whole stack to a number of layers, every band that is not locked by the same share. What is
 * left over by rounding goes where it is missed most; no band gets shorter than one layer, so the result may be taller
 * than asked.
 */
export function scaleStack<B extends Band>(bands: readonly B[], layers: number): readonly B[] {
  const free = bands.filter(({ locked }) => !locked);
  const held = totalLayers(bands) - totalLayers(free);
  if (free.length === 0) return bands;
  const wanted = clamp(Math.round(layers) - held, free.length, MAX_LAYERS - held);
  const factor = wanted / totalLayers(free);
  const exact = free.map((band) => Math.max(1, band.layers * factor));
  const scaled = exact.map((value) => Math.max(1, Math.floor(value)));
  let missing = wanted - scaled.reduce((sum, value) => sum + value, 0);
  const byNeed = exact
    .map((value, i) => ({ i, need: value - (scaled[i] ?? 0) }))
    .sort((a, b) => b.need - a.need || a.i - b.i);
  for (let k = 0; missing > 0; k += 1, missing -= 1) {
    const place = byNeed[k % byNeed.length]?.i ?? 0;
    scaled[place] = (scaled[place] ?? 0) + 1;
  }
  // Bands held at one layer may have made the sum too large: the tallest gives.
  for (; missing < 0; missing += 1) {
    const tallest = scaled.indexOf(Math.max(...scaled));
    if ((scaled[tallest] ?? 1) <= 1) break;
    scaled[tallest] = (scaled[tallest] ?? 1) - 1;
  }
  let next = 0;
  return bands.map((band) => {
    if (band.locked) return band;
    const layersNow = scaled[next] ?? band.layers;
    next += 1;
    return { ...band, layers: layersNow };
  });
}
