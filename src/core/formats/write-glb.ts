import { strToU8 } from 'fflate';
import { linearOfBytes, parseHex, type Triple } from '../colour/srgb.ts';
import type { Ramp } from '../optics/ramp.ts';
import type { Mesh } from '../relief/terrace-mesh.ts';
import { layerTopsMm } from '../stack/layer-grid.ts';
import { bandEnds, bandLetter, totalLayers, type Stack } from '../stack/stack.ts';
import type { FilamentTable } from '../stack/stack-ramp.ts';
import { describeGrid } from './band-solids.ts';

const GLB_MAGIC = 0x46546c67;
const JSON_CHUNK = 0x4e4f534a;
const BINARY_CHUNK = 0x004e4942;
const FLOAT = 5126;
const UNSIGNED_INT = 5125;
const ARRAY_BUFFER = 34962;
const ELEMENT_ARRAY_BUFFER = 34963;

const MIDDLE_GREY: Triple = [128, 128, 128];

/** Triangles of one colour. */
interface Surface {
  readonly name: string;
  /** Linear red, green, blue, 0..1. */
  readonly colour: Triple;
  readonly triangles: readonly number[];
}

/** Sorts the faces of a relief by what one sees of them: tops in the colour of their height, walls in that of their band. */
function surfacesOf(mesh: Mesh, stack: Stack, filaments: FilamentTable, ramp: Ramp): Surface[] {
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
  const topTriangles = new Map<number, number[]>();
  const wallTriangles: number[][] = stack.bands.map(() => []);
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [t[i], t[i + 1], t[i + 2]] as [number, number, number];
    const low = Math.min(z(a), z(b), z(c));
    const high = Math.max(z(a), z(b), z(c));
    if (low === high && high > 0) {
      const layer = layerAt(high);
      let list = topTriangles.get(layer);
      if (!list) topTriangles.set(layer, (list = []));
      list.push(a, b, c);
    } else {
      // A wall runs over several bands at times; it goes with the one that it begins in.
      const band = ends.findIndex((end) => low < (tops[end] as number) - 1e-4);
      wallTriangles[Math.max(0, band)]?.push(a, b, c);
    }
  }
  return [
    ...[...topTriangles].map(([layer, triangles]): Surface => ({
      name: `layer ${layer}`,
      colour: linearOfBytes(ramp[layer - 1]?.colour ?? MIDDLE_GREY),
      triangles,
    })),
    ...wallTriangles.flatMap((triangles, i): Surface[] => {
      const filament = filaments[stack.bands[i]?.filamentId ?? ''];
      return triangles.length === 0
        ? []
        : [
            {
              name: `band ${bandLetter(i)} ${filament?.name ?? ''}`,
              colour: linearOfBytes(parseHex(filament?.colour ?? '') ?? MIDDLE_GREY),
              triangles,
            },
          ];
    }),
  ];
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
  { title, stamp }: { readonly title: string; readonly stamp: string },
): Uint8Array<ArrayBuffer> {
  const surfaces = surfacesOf(mesh, stack, filaments, ramp);
  const positions = mesh.positions;
  const indices = surfaces.reduce((sum, { triangles }) => sum + triangles.length, 0);
  const binary = new Uint8Array(positions.byteLength + 4 * indices);
  binary.set(new Uint8Array(positions.buffer, positions.byteOffset, positions.byteLength));
  const words = new Uint32Array(binary.buffer, positions.byteLength);
  const least = [Infinity, Infinity, Infinity];
  const most = [-Infinity, -Infinity, -Infinity];
  positions.forEach((value, i) => {
    least[i % 3] = Math.min(least[i % 3] as number, value);
    most[i % 3] = Math.max(most[i % 3] as number, value);
  });
  let at = 0;
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
  const primitives = surfaces.map(({ triangles }, material) => {
    words.set(triangles, at);
    accessors.push({
      bufferView: 1,
      byteOffset: 4 * at,
      componentType: UNSIGNED_INT,
      count: triangles.length,
      type: 'SCALAR',
    });
    at += triangles.length;
    return { attributes: { POSITION: 0 }, indices: accessors.length - 1, material };
  });
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
        byteLength: 4 * indices,
        target: ELEMENT_ARRAY_BUFFER,
      },
    ],
    buffers: [{ byteLength: binary.length }],
  };
  return packGlb(strToU8(JSON.stringify(document)), binary);
}

/** Header and two chunks, each filled up to four bytes: JSON with blanks, binary with zeros. */
function packGlb(json: Uint8Array, binary: Uint8Array): Uint8Array<ArrayBuffer> {
  const jsonLength = (json.length + 3) & ~3;
  const binaryLength = (binary.length + 3) & ~3;
  const out = new Uint8Array(28 + jsonLength + binaryLength);
  const view = new DataView(out.buffer);
  view.setUint32(0, GLB_MAGIC, true);
  view.setUint32(4, 2, true);
  view.setUint32(8, out.length, true);
  view.setUint32(12, jsonLength, true);
  view.setUint32(16, JSON_CHUNK, true);
  out.fill(0x20, 20, 20 + jsonLength);
  out.set(json, 20);
  view.setUint32(20 + jsonLength, binaryLength, true);
  view.setUint32(24 + jsonLength, BINARY_CHUNK, true);
  out.set(binary, 28 + jsonLength);
  return out;
}
