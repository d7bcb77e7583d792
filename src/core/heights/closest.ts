import { ruleColourOf, type ColourCells } from '../artwork/colour-cells.ts';
import type { HeightMap } from '../base/raster.ts';
import { ciede2000Of } from '../colour/ciede2000.ts';
import { prepareDifferences, writeDifferences } from '../colour/fast-difference.ts';
import { labOfLinear, linearOfLab } from '../colour/lab.ts';
import { linearOfOklab } from '../colour/oklab.ts';
import { linearOfBytes, parseHex } from '../colour/srgb.ts';
import type { Ramp } from '../optics/ramp.ts';
import { heightScale, positionOfLayer } from '../stack/height-scale.ts';
import { farOff, nearPlace } from '../stack/lean.ts';
import { tonePosition, type ToneRule } from './tone.ts';

/**
 * What each height aims at: three numbers a layer on the scale of `ruleColourOf`, element 0 for the first layer. NaN
 * takes a layer out.
 */
export type LayerColours = Float32Array;

/** The seen colours of a ramp. */
export function coloursOfRamp(ramp: Ramp): LayerColours {
  const colours = new Float32Array(3 * ramp.length);
  ramp.forEach(({ lab }, i) => {
    colours.set(ruleColourOf(linearOfLab(lab)), 3 * i);
  });
  return colours;
}

/** Takes out all layers but those of some bands (indices from 0). */
export function onlyBands(
  colours: LayerColours,
  ramp: Ramp,
  bands: ReadonlySet<number>,
): LayerColours {
  const out = colours.slice();
  ramp.forEach(({ bandIndex }, i) => {
    if (!bands.has(bandIndex)) out.fill(Number.NaN, 3 * i, 3 * i + 3);
  });
  return out;
}

/** A colour pinned to a layer (counted from 1) that steers heights in place of the printed filaments. */
export interface AimColour {
  readonly colour: string;
  readonly layerNumber: number;
}

/**
 * Layer colours that follow aim colours: evenly blended (Oklab) from one pinned layer to the next. The lowest and the
 * highest layer keep their own colour unless they are pinned, so that a single pin bends the way between them. Without any
 * pin the given colours come back.
 */
export function aimColours(colours: LayerColours, aims: readonly AimColour[]): LayerColours {
  const pins = aims
    .flatMap(({ colour, layerNumber }) => {
      const bytes = parseHex(colour);
      return bytes ? [{ layerNumber, colour: ruleColourOf(linearOfBytes(bytes)) }] : [];
    })
    .sort((a, b) => a.layerNumber - b.layerNumber);
  if (pins.length === 0) return colours;
  const layers = colours.length / 3;
  const own = (layerNumber: number): (typeof pins)[number] => {
    const [l = 0, a = 0, b = 0] = colours.subarray(3 * layerNumber - 3, 3 * layerNumber);
    return { layerNumber, colour: [l, a, b] };
  };
  if ((pins[0]?.layerNumber ?? 0) > 1) pins.unshift(own(1));
  if ((pins.at(-1)?.layerNumber ?? 0) < layers) pins.push(own(layers));
  const first = pins[0] ?? own(1);
  const last = pins.at(-1) ?? own(layers);
  const out = new Float32Array(colours.length);
  for (let i = 0; i < layers; i += 1) {
    const above = pins.find(({ layerNumber }) => layerNumber >= i + 1) ?? last;
    const below = pins.filter(({ layerNumber }) => layerNumber <= i + 1).at(-1) ?? first;
    const span = above.layerNumber - below.layerNumber;
    const share = span > 0 ? (i + 1 - below.layerNumber) / span : 0;
    for (let k = 0; k < 3; k += 1) {
      const from = below.colour[k] ?? 0;
      out[3 * i + k] = from + ((above.colour[k] ?? 0) - from) * share;
    }
  }
  return out;
}

/**
 * For each cell the height (in layers) whose colour is nearest. The lowest of equally near ones: less plastic for the same
 * look. Layers below `leastLayers` are never chosen; where none is left the top is.
 */
export function nearestLayers(
  cells: Pick<ColourCells, 'colour'>,
  colours: LayerColours,
  leastLayers: number,
): Uint8Array {
  const layers = colours.length / 3;
  const least = Math.min(leastLayers, layers);
  const count = cells.colour.length / 3;
  const out = new Uint8Array(count).fill(layers);
  for (let n = 0; n < count; n += 1)
    out[n] = nearestLayer(cells.colour, 3 * n, colours, least, layers);
  return out;
}

function nearestLayer(
  cells: Float32Array,
  at: number,
  colours: LayerColours,
  least: number,
  layers: number,
): number {
  const lightness = cells[at] as number;
  const a = cells[at + 1] as number;
  const b = cells[at + 2] as number;
  let best = layers;
  let bestDistance = Infinity;
  for (let layer = least - 1; layer < layers; layer += 1) {
    const dl = lightness - (colours[3 * layer] as number);
    // Lightness alone settles most layers.
    if (dl * dl >= bestDistance) continue;
    const da = a - (colours[3 * layer + 1] as number);
    const db = b - (colours[3 * layer + 2] as number);
    const distance = dl * dl + da * da + db * db;
    // A comparison with NaN is false, so layers that are taken out are never the nearest.
    if (distance < bestDistance) {
      bestDistance = distance;
      best = layer + 1;
    }
  }
  return best;
}

/** Layers whose distance on the rule's scale is up to this many times the least, and a little, may be nearest by CIEDE2000. */
const CANDIDATE_RATIO = 1.8;
const CANDIDATE_SLACK = 2;

/** CIELAB of positions on the rule's scale, three numbers each. */
export function labsOf(positions: Float32Array): Float64Array {
  const labs = new Float64Array(positions.length);
  for (let at = 0; at < positions.length; at += 3) {
    const [l = 0, a = 0, b = 0] = positions.subarray(at, at + 3);
    labs.set(labOfLinear(linearOfOklab([l / 100, a / 200, b / 200])), at);
  }
  return labs;
}

/**
 * As {@link nearestLayers}, decided by CIEDE2000 among the layers that come close. Ten to thirty times slower, and the
 * last few hundredths of colour error better: for heights that stay.
 */
export function nearestLayersExactly(
  cells: Pick<ColourCells, 'colour'>,
  colours: LayerColours,
  leastLayers: number,
): Uint8Array {
  const layers = colours.length / 3;
  const least = Math.min(leastLayers, layers);
  const count = cells.colour.length / 3;
  const cellLabs = labsOf(cells.colour);
  const layerLabs = labsOf(colours);
  const distances = new Float64Array(layers);
  const out = new Uint8Array(count).fill(layers);
  for (let n = 0; n < count; n += 1) {
    let nearest = Infinity;
    for (let layer = least - 1; layer < layers; layer += 1) {
      let square = 0;
      for (let k = 0; k < 3; k += 1)
        square += ((cells.colour[3 * n + k] as number) - (colours[3 * layer + k] as number)) ** 2;
      const distance = Math.sqrt(square);
      distances[layer] = distance;
      if (distance < nearest) nearest = distance;
    }
    const limit = nearest * CANDIDATE_RATIO + CANDIDATE_SLACK;
    let best = Infinity;
    for (let layer = least - 1; layer < layers; layer += 1) {
      if (!((distances[layer] as number) <= limit)) continue;
      const difference = ciede2000Of(
        cellLabs[3 * n] as number,
        cellLabs[3 * n + 1] as number,
        cellLabs[3 * n + 2] as number,
        layerLabs[3 * layer] as number,
        layerLabs[3 * layer + 1] as number,
        layerLabs[3 * layer + 2] as number,
      );
      if (difference < best) {
        best = difference;
        out[n] = layer + 1;
      }
    }
  }
  return out;
}

/** Tables that were worked out last, by the colours of their picture: a rule that leans asks for them at every move of a hand. */
const tables = new WeakMap<Float32Array, { readonly key: string; readonly costs: Float32Array }>();

/**
 * CIEDE2000 of every cell to every layer by the fast formula (within 0.3, see `writeDifferences`), `layers + 1` numbers a cell;
 * Infinity where it may not go. Kept while picture and stack stay, so nobody may write into it.
 */
export function differencesOfCells(
  cells: Pick<ColourCells, 'colour'>,
  colours: LayerColours,
  leastLayers: number,
): Float32Array {
  const key = `${leastLayers} ${colours.join(' ')}`;
  const known = tables.get(cells.colour);
  if (known?.key === key) return known.costs;
  const layers = colours.length / 3;
  const least = Math.min(leastLayers, layers);
  const count = cells.colour.length / 3;
  const labs = labsOf(cells.colour);
  const used: number[] = [];
  for (let layer = least - 1; layer < layers; layer += 1)
    if (!Number.isNaN(colours[3 * layer])) used.push(layer);
  const own = labsOf(
    Float32Array.from(used.flatMap((layer) => [...colours.subarray(3 * layer, 3 * layer + 3)])),
  );
  const prepared = prepareDifferences({
    lab: own,
    weight: new Float64Array(used.length).fill(1),
  });
  const row = new Float32Array(used.length);
  const costs = new Float32Array(count * (layers + 1)).fill(Infinity);
  for (let n = 0; n < count; n += 1) {
    const at = 3 * n;
    const [l, a, b] = [labs[at], labs[at + 1], labs[at + 2]] as [number, number, number];
    writeDifferences(prepared, l, a, b, row, 0);
    for (let i = 0; i < used.length; i += 1)
      costs[n * (layers + 1) + (used[i] as number) + 1] = row[i] as number;
  }
  tables.set(cells.colour, { key, costs });
  return costs;
}

/** Mean cost of heights over the samples of a picture; undefined where none is printed. `costs` as `differencesOfCells` has them. */
export function meanOfCosts(
  { cell, count }: ColourCells,
  costs: Float32Array,
  { data }: HeightMap,
): number | undefined {
  const stride = costs.length / count.length;
  let sum = 0;
  let printed = 0;
  for (let i = 0; i < data.length; i += 1) {
    const own = cell[i] as number;
    const height = data[i] as number;
    if (height === 0 || own >= count.length) continue;
    sum += costs[own * stride + height] as number;
    printed += 1;
  }
  return printed > 0 && Number.isFinite(sum) ? sum / printed : undefined;
}

/** How strongly heights by colour lean to where tone would have them. */
export interface Lean {
  /** Price of standing away from there, CIEDE2000 for a whole stack times `farOff`; 0..`MOST_LEAN`. */
  readonly price: number;
  readonly tone: ToneRule;
}

/**
 * What every height costs every cell where heights lean: CIEDE2000 + price x `farOff` |x - t|, with x the place of the height
 * in the stack and t where tone would put the cell's brightness, both 0..1. `layers + 1` numbers a cell.
 * @param tops see `evenTops`
 */
export function leaningCosts(
  cells: Pick<ColourCells, 'colour'>,
  colours: LayerColours,
  { price, tone }: Lean,
  leastLayers: number,
  tops?: readonly number[],
): Float32Array {
  const differences = differencesOfCells(cells, colours, leastLayers);
  const layers = colours.length / 3;
  const scale = heightScale(layers, leastLayers, tops);
  const places = Float64Array.from({ length: layers + 1 }, (_, layer) =>
    layer < scale.least ? 0 : positionOfLayer(scale, layer),
  );
  const labs = labsOf(cells.colour);
  const costs = differences.slice();
  const near = nearPlace(price);
  for (let n = 0, at = 0; at < costs.length; n += 1) {
    const aim = tonePosition(tone, labs[3 * n] as number);
    for (let layer = 0; layer <= layers; layer += 1, at += 1)
      costs[at] =
        (costs[at] as number) + price * farOff(Math.abs((places[layer] as number) - aim), near);
  }
  return costs;
}

/** For each cell the height that costs least; of equal ones the lowest. `layers + 1` costs a cell. */
export function cheapestLayers(costs: Float32Array, layers: number): Uint8Array {
  const stride = layers + 1;
  const out = new Uint8Array(costs.length / stride).fill(layers);
  for (let n = 0; n < out.length; n += 1) {
    let least = Infinity;
    for (let layer = 1; layer <= layers; layer += 1) {
      const cost = costs[n * stride + layer] as number;
      if (cost >= least) continue;
      least = cost;
      out[n] = layer;
    }
  }
  return out;
}

/** Spreads heights of cells over the samples; cut-away samples get 0. */
export function heightsOfCells(cells: ColourCells, heightOfCell: Uint8Array): HeightMap {
  const { width, height, cell } = cells;
  const data = new Uint8Array(cell.length);
  // One more cell, of height 0, for what is cut away: no question has to be asked at any sample.
  const heights = new Uint8Array(heightOfCell.length + 1);
  heights.set(heightOfCell);
  spread(cell, heights, data);
  return { width, height, data };
}

function spread(cell: Uint16Array | Uint32Array, heights: Uint8Array, data: Uint8Array): void {
  for (let i = 0; i < data.length; i += 1) data[i] = heights[cell[i] as number] as number;
}

/** Height rule *Closest blend*: each spot gets the height whose predicted colour is nearest to the artwork. */
export function closestHeights(
  cells: ColourCells,
  colours: LayerColours,
  leastLayers: number,
): HeightMap {
  return heightsOfCells(cells, nearestLayers(cells, colours, leastLayers));
}
