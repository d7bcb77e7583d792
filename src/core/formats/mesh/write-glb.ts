import { strToU8 } from 'fflate';
import { bytesIn, type BytePieces } from '../../base/byte-pieces.ts';
import { noCheckpoint, type Checkpoint } from '../../base/checkpoint.ts';
import { linearOfBytes, parseHex, type Triple } from '../../colour/srgb.ts';
import type { Ramp } from '../../optics/ramp.ts';
import type { Mesh } from '../../relief/terrace-mesh.ts';
import { layerTopsMm } from '../../stack/layer-grid.ts';
import { bandEnds, bandLetter, totalLayers, type Stack } from '../../stack/stack.ts';
import type { FilamentTable } from '../../stack/stack-ramp.ts';
import { describeGrid } from './band-solids.ts';

const GLB_MAGIC = 0x46546c67;
const JSON_CHUNK = 0x4e4f534a;
const BINARY_CHUNK = 0x004e4942;
const FLOAT = 5126;
const UNSIGNED_INT = 5125;
const ARRAY_BUFFER = 34962;
const ELEMENT_ARRAY_BUFFER = 34963;

/** Triangles between two looks at whether anybody still wants the file. */
const STRIDE = 50_000;

const MIDDLE_GREY: Triple = [128, 128, 128];

/** Triangles of one colour: a part of all triangles, which are sorted by colour. */
interface Surface {
  readonly name: string;
  /** Linear red, green, blue, 0..1. */
  readonly colour: Triple;
  /** Corner numbers of its triangles: where they begin, and how many. */
  readonly first: number;
  readonly length: number;
}

/**
 * Sorts the faces of a relief by what one sees of them: tops in the colour of their height, walls in that of their band.
 * @returns the surfaces that have any, and the corner numbers of all triangles in their order
 */
function sortSurfaces(
  mesh: Mesh,
  stack: Stack,
  filaments: FilamentTable,
  ramp: Ramp,
  inlays: readonly InlaySurface[],
  checkpoint: Checkpoint,
): { readonly surfaces: readonly Surface[]; readonly triangles: Uint32Array<ArrayBuffer> } {
  const tops = layerTopsMm(stack.grid, totalLayers(stack.bands));
  const ends = bandEnds(stack.bands);
  const { positions: p, triangles: t } = mesh;
  const z = (corner: number): number => p[3 * corner + 2] as number;
  const layerAt = (mm: number): number => {
    let low = 0;
    let high = tops.length - 1;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((tops[middle] as number) < mm - 1e-4) low = middle + 1;
      else high = middle;
    }
    return low;
  };
  // Tops by their layer, then walls by their band.
  const kinds = tops.length + ends.length + inlays.length;
  const inlayFrom = inlays[0]?.firstTriangle ?? Infinity;
  const count = t.length / 3;
  const kindOf = new Uint16Array(count);
  const sizes = new Uint32Array(kinds);
  for (let n = 0; n < count; n += 1) {
    if (n % STRIDE === 0) checkpoint((0.6 * n) / count);
    const [a, b, c] = [t[3 * n], t[3 * n + 1], t[3 * n + 2]] as [number, number, number];
    const low = Math.min(z(a), z(b), z(c));
    const high = Math.max(z(a), z(b), z(c));
    let kind: number;
    if (n >= inlayFrom)
      kind =
        tops.length +
        ends.length +
        inlays.filter(({ firstTriangle }) => firstTriangle <= n).length -
        1;
    else if (low === high && high > 0) kind = layerAt(high);
    else {
      // A wall runs over several bands at times; it goes with the one that it begins in.
      const band = ends.findIndex((end) => low < (tops[end] as number) - 1e-4);
      kind = tops.length + Math.max(0, band);
    }
    kindOf[n] = kind;
    sizes[kind] = (sizes[kind] as number) + 3;
  }
  const surfaces: Surface[] = [];
  const next = new Uint32Array(kinds);
  let first = 0;
  for (let kind = 0; kind < kinds; kind += 1) {
    const length = sizes[kind] as number;
    next[kind] = first;
    if (length === 0) continue;
    const band = kind - tops.length;
    const inlay = inlays[band - ends.length];
    if (inlay) {
      surfaces.push({ name: inlay.name, colour: linearOfBytes(inlay.colour), first, length });
      first += length;
      continue;
    }
    const filament = filaments[stack.bands[band]?.filamentId ?? ''];
    surfaces.push({
      name: band < 0 ? `layer ${kind}` : `band ${bandLetter(band)} ${filament?.name ?? ''}`,
      colour: linearOfBytes(
        (band < 0 ? ramp[kind - 1]?.colour : parseHex(filament?.colour ?? '')) ?? MIDDLE_GREY,
      ),
      first,
      length,
    });
    first += length;
  }
  const triangles = new Uint32Array(t.length);
  for (let n = 0; n < count; n += 1) {
    const kind = kindOf[n] as number;
    const at = next[kind] as number;
    triangles[at] = t[3 * n] as number;
    triangles[at + 1] = t[3 * n + 1] as number;
    triangles[at + 2] = t[3 * n + 2] as number;
    next[kind] = at + 3;
  }
  checkpoint(1);
  return { surfaces, triangles };
}

/** An inlay, whose triangles come after those of the rest. */
export interface InlaySurface {
  readonly name: string;
  readonly colour: Triple;
  readonly firstTriangle: number;
}

/**
 * A relief as binary glTF, for showing it in a viewer: metres, y up, tops in the colours that are seen there.
 * Source of the layout: Khronos glTF 2.0 specification, sections 3.6 (buffers), 3.9 (materials), 4.4 (GLB).
 */
export function writeGlb(
  mesh: Mesh,
  stack: Stack,
  filaments: FilamentTable,
  ramp: Ramp,
  {
    title,
    stamp,
    inlays = [],
  }: {
    readonly title: string;
    readonly stamp: string;
    readonly inlays?: readonly InlaySurface[] | undefined;
  },
  checkpoint: Checkpoint = noCheckpoint,
): BytePieces {
  const { surfaces, triangles } = sortSurfaces(mesh, stack, filaments, ramp, inlays, checkpoint);
  const positions = mesh.positions;
  const least = [Infinity, Infinity, Infinity];
  const most = [-Infinity, -Infinity, -Infinity];
  positions.forEach((value, i) => {
    least[i % 3] = Math.min(least[i % 3] as number, value);
    most[i % 3] = Math.max(most[i % 3] as number, value);
  });
  const accessors: object[] = [
    {
      bufferView: 0,
      componentType: FLOAT,
      count: positions.length / 3,
      type: 'VEC3',
      min: least,
      max: most,
    },
  ];
  const primitives = surfaces.map(({ first, length }, material) => {
    accessors.push({
      bufferView: 1,
      byteOffset: 4 * first,
      componentType: UNSIGNED_INT,
      count: length,
      type: 'SCALAR',
    });
    return { attributes: { POSITION: 0 }, indices: accessors.length - 1, material };
  });
  const binaryBytes = positions.byteLength + triangles.byteLength;
  const document = {
    asset: {
      version: '2.0',
      generator: 'Zesty Strata',
      extras: { stamp, layers: describeGrid(stack) },
    },
    scene: 0,
    scenes: [{ nodes: [0] }],
    // Millimetres to metres, and z up to y up.
    nodes: [
      {
        mesh: 0,
        name: title,
        scale: [0.001, 0.001, 0.001],
        rotation: [-Math.SQRT1_2, 0, 0, Math.SQRT1_2],
      },
    ],
    meshes: [{ name: title, primitives }],
    materials: surfaces.map(({ name, colour }) => ({
      name,
      pbrMetallicRoughness: {
        baseColorFactor: [...colour, 1],
        metallicFactor: 0,
        roughnessFactor: 0.9,
      },
    })),
    accessors,
    bufferViews: [
      { buffer: 0, byteOffset: 0, byteLength: positions.byteLength, target: ARRAY_BUFFER },
      {
        buffer: 0,
        byteOffset: positions.byteLength,
        byteLength: triangles.byteLength,
        target: ELEMENT_ARRAY_BUFFER,
      },
    ],
    buffers: [{ byteLength: binaryBytes }],
  };
  return packGlb(strToU8(JSON.stringify(document)), [bytesOf(positions), bytesOf(triangles)]);
}

/** The bytes of numbers, little-endian as every machine that runs this stores them. */
function bytesOf({ buffer, byteOffset, byteLength }: ArrayBufferView): Uint8Array<ArrayBuffer> {
  return new Uint8Array(buffer as ArrayBuffer, byteOffset, byteLength).slice();
}

/** Header and two chunks, each filled up to four bytes: JSON with blanks, binary with zeros (both are whole words here). */
function packGlb(json: Uint8Array, binary: BytePieces): BytePieces {
  const jsonLength = (json.length + 3) & ~3;
  const binaryLength = bytesIn(binary);
  const head = new Uint8Array(28 + jsonLength);
  const view = new DataView(head.buffer);
  view.setUint32(0, GLB_MAGIC, true);
  view.setUint32(4, 2, true);
  view.setUint32(8, head.length + binaryLength, true);
  view.setUint32(12, jsonLength, true);
  view.setUint32(16, JSON_CHUNK, true);
  head.fill(0x20, 20, 20 + jsonLength);
  head.set(json, 20);
  view.setUint32(20 + jsonLength, binaryLength, true);
  view.setUint32(24 + jsonLength, BINARY_CHUNK, true);
  return [head, ...binary];
}
