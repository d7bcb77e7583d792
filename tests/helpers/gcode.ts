import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { expect } from 'chai';
import type { HeightMap } from '#core/base/raster.ts';
import type { PrintPlan } from '#core/gcode/print-plan.ts';
import { readGcode, type ReadOptions } from '#core/gcode/read-gcode.ts';
import type { GcodeReport } from '#core/gcode/report.ts';
import { bytesSource } from '#core/gcode/source.ts';

/** How a relief is sliced for a test. */
export interface SliceOptions {
  readonly firstMm?: number;
  readonly layerMm?: number;
  /** Factor on all heights, as scaling in Z gives it. */
  readonly zScale?: number;
  /** Factor on width and depth. */
  readonly scale?: number;
  /** Factor on the strand. */
  readonly flow?: number;
  readonly mirrored?: boolean;
  readonly turned?: boolean;
  /** A loop around the first layer, so far out, mm; named in a remark or not. */
  readonly loopMm?: number;
  readonly loopRemark?: string;
  /** A square beside the piece in every layer. */
  readonly tower?: boolean;
  readonly relative?: boolean;
  /** `layer` writes a mark with a number, `change` one without, `none` none. */
  readonly marks?: 'layer' | 'change' | 'none';
  readonly crlf?: boolean;
  /** Copies one after the other, to the right. */
  readonly objects?: number;
  /** Lines before a layer (counted from 1, in each piece), or in the middle of it. */
  readonly before?: Readonly<Record<number, readonly string[]>>;
  readonly inside?: Readonly<Record<number, readonly string[]>>;
  /** Leaves every so many line out, as sparse infill does. */
  readonly sparse?: number;
  /** Thicker by so much in one layer; the next is thinner by it. */
  readonly uneven?: readonly [layer: number, byMm: number];
}

export const STRAND_MM = 1.75;
export const SAMPLE_MM = 0.4;
const SECTION = (Math.PI / 4) * STRAND_MM ** 2;

/**
 * A slicing program of a few lines: each row of samples of each layer is one laid line. It shares nothing with the reader or the
 * planner, so it can be their witness.
 */
export function slice(heights: HeightMap, layers: number, options: SliceOptions = {}): string {
  const { firstMm = 0.16, layerMm = 0.08, zScale = 1, scale = 1, flow = 1 } = options;
  const { relative = true, marks = 'layer', objects = 1 } = options;
  const out: string[] = ['G21', 'G90', relative ? 'M83' : 'M82', 'M104 S205', 'G28', 'G92 E0'];
  let e = 0;
  const strand = (mm: number): string => {
    e += mm;
    return `E${(relative ? mm : e).toFixed(5)}`;
  };
  const { width, height } = heights;
  const side = SAMPLE_MM * scale;
  const place = (column: number, row: number, shift: number): string => {
    let x = column * side;
    let y = (height - row) * side;
    if (options.mirrored === true) x = width * side - x;
    if (options.turned === true) [x, y] = [height * side - y, x];
    return `X${(20 + shift + x).toFixed(3)} Y${(20 + y).toFixed(3)}`;
  };
  for (let object = 0; object < objects; object += 1) {
    const shift = object * (width * side + 20);
    if (object > 0) out.push('G1 Z20 F600');
    let below = 0;
    for (let layer = 1; layer <= layers; layer += 1) {
      const uneven = options.uneven;
      const more = uneven?.[0] === layer ? uneven[1] : 0;
      const top = zScale * (firstMm + (layer - 1) * layerMm + more);
      const thick = top - below;
      below = top;
      out.push(...(options.before?.[layer] ?? []));
      if (marks === 'layer') out.push(`;LAYER:${layer - 1}`);
      if (marks === 'change') out.push(';LAYER_CHANGE');
      out.push(`G1 ${strand(-0.8)} F2400`, `G1 Z${top.toFixed(4)} F600`);
      let owed = true;
      const lay = (from: string, to: string, mm: number): void => {
        out.push(`G1 ${from} F9000`);
        if (owed) out.push(`G1 ${strand(0.8)} F2400`);
        owed = false;
        out.push(`G1 ${to} ${strand(mm)} F2400`);
      };
      const loop = options.loopMm ?? 0;
      if (layer === 1 && loop > 0) {
        if (options.loopRemark !== undefined) out.push(options.loopRemark);
        const out1 = loop / side;
        for (const [a, b] of [
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 1],
        ] as const) {
          const to = a === b ? [1 - b, b] : [a, 1 - b];
          const at = (u: number, v: number): string =>
            place(-out1 + u * (width + 2 * out1), -out1 + v * (height + 2 * out1), shift);
          lay(at(a, b), at(to[0] ?? 0, to[1] ?? 0), (width * side * 0.42 * thick) / SECTION);
        }
        if (options.loopRemark !== undefined) out.push(';TYPE:solid');
      }
      if (options.tower === true)
        for (let k = 0; k < 12; k += 1)
          lay(place(-40, k, shift), place(-20, k, shift), (20 * side * side * thick) / SECTION);
      let count = 0;
      for (let row = 0; row < height; row += 1) {
        if (row === height >> 1) out.push(...(options.inside?.[layer] ?? []));
        for (let from = 0; from < width;) {
          if ((heights.data[row * width + from] as number) < layer) {
            from += 1;
            continue;
          }
          let to = from;
          while (to < width && (heights.data[row * width + to] as number) >= layer) to += 1;
          count += 1;
          if (options.sparse === undefined || count % options.sparse !== 0)
            lay(
              place(from + 0.5, row + 0.5, shift),
              place(to - 0.5 + (to - from === 1 ? 0.01 : 0), row + 0.5, shift),
              (flow * (to - from) * side * side * thick) / SECTION,
            );
          from = to;
        }
      }
    }
  }
  out.push('G1 E-2 F2400', 'G1 Z40 F600', 'M104 S0', 'M84');
  return out.join(options.crlf === true ? '\r\n' : '\n') + (options.crlf === true ? '\r\n' : '\n');
}

/** A relief that looks alike in no way it can be laid, of so many layers. */
export function reliefForSlices(layers = 10, width = 90, height = 60): HeightMap {
  const data = new Uint8Array(width * height);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const hill = Math.hypot(x - 0.3 * width, y - 0.25 * height) / (0.6 * width);
      const ridge = x > 0.8 * width && y < 0.5 * height ? 3 : 0;
      data[y * width + x] = Math.max(2, Math.min(layers, Math.round(layers * (1 - hill)) + ridge));
    }
  data[Math.round(0.25 * height) * width + Math.round(0.3 * width)] = layers;
  return { width, height, data };
}

/** Reads text, and expects it to be readable. */
export async function reportOf(
  text: string | Uint8Array,
  options?: ReadOptions,
): Promise<GcodeReport> {
  const bytes = typeof text === 'string' ? new TextEncoder().encode(text) : text;
  const read = await readGcode(bytesSource(bytes), options);
  if (!read.ok) return expect.fail(`not read: ${read.fault.code}`);
  return read.value;
}

/** A fixture, see the page beside them. */
function unpacked(file: string): Buffer {
  const hex = readFileSync(new URL(`../fixtures/gcode/${file}.gz.hex`, import.meta.url), 'latin1');
  return gunzipSync(Buffer.from(hex.replaceAll('\n', ''), 'hex'));
}

/** A sliced file of the fixtures. */
export function slicedFile(name: string): Buffer {
  return unpacked(`${name}.gcode`);
}

/** What the program that wrote a sliced file counted while it wrote. */
export function sliceTruth(name: string): SliceTruth {
  return JSON.parse(unpacked(`${name}.truth.json`).toString()) as SliceTruth;
}

export interface SliceTruth {
  readonly lines: number;
  readonly layers: readonly {
    readonly filament_mm: number;
    readonly extruded_forward_mm: number;
    readonly extrude_path_mm: number;
    readonly travel_mm: number;
    readonly time_s: number;
    readonly z_top: number;
    readonly marker_line: number | null;
    readonly first_extrusion_line: number;
    readonly tools: readonly number[];
    readonly object: number | null;
  }[];
  readonly total_filament_mm: number;
  readonly total_time_s: number;
  readonly filament_by_tool_mm: Readonly<Record<string, number>>;
  readonly objects?: number;
  readonly pauses_in_file?: readonly {
    readonly line: number;
    readonly layer: number;
    readonly command: string;
  }[];
}

/** The plan of a relief: areas and middles are counted here, sample by sample. */
export function planOf(
  heights: HeightMap,
  layers: number,
  stops: readonly number[] = [3, 6],
  sampleMm = SAMPLE_MM,
): PrintPlan {
  const { width, height, data } = heights;
  const areasMm2: number[] = [];
  const centresMm: [number, number][] = [];
  for (let layer = 1; layer <= layers; layer += 1) {
    let count = 0;
    let sumX = 0;
    let sumY = 0;
    data.forEach((own, i) => {
      if (own < layer) return;
      count += 1;
      sumX += (i % width) + 0.5 - width / 2;
      sumY += height / 2 - Math.floor(i / width) - 0.5;
    });
    areasMm2.push(count * sampleMm ** 2);
    centresMm.push([(sumX / count) * sampleMm, (sumY / count) * sampleMm]);
  }
  const top = (layer: number): number => Number((0.16 + (layer - 1) * 0.08).toFixed(4));
  const ids = ['soot', 'rust', 'sand', 'ivory', 'moss'];
  return {
    stamp: '7K2Q-M9XD',
    swaps: stops.map((layer, n) => ({
      swap: n + 1,
      layer,
      stopAfterMm: top(layer - 1),
      layerTopMm: top(layer),
      from: ids[n] ?? '',
      to: ids[n + 1] ?? '',
    })),
    layerGrid: { firstLayerMm: 0.16, layerMm: 0.08 },
    layers,
    widthMm: width * sampleMm,
    depthMm: height * sampleMm,
    lineMm: 0.42,
    filamentMm: STRAND_MM,
    areasMm2,
    centresMm,
    pauses: ['M600'],
    copies: 1,
    oneByOne: false,
  };
}
