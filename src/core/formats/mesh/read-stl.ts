import { strFromU8 } from 'fflate';
import { fail, succeed, type Fault, type Result } from '../../base/result.ts';
import type { Mesh } from '../../relief/terrace-mesh.ts';

export type StlFault = Fault<'empty' | 'cut-off' | 'not-stl'>;

/** A mesh read from a file, and how many of its stored normals look the other way. */
export interface ReadStl {
  readonly mesh: Mesh;
  readonly wrongNormals: number;
}

const HEADER_BYTES = 84;
const TRIANGLE_BYTES = 50;

/**
 * Reads an STL of either form; equal corners become one. A binary file is known by its length, since headers that begin with
 * `solid` occur in binary files too.
 */
export function readStl(bytes: Uint8Array): Result<ReadStl, StlFault> {
  if (bytes.length === 0) return fail('empty');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const count = bytes.length >= HEADER_BYTES ? view.getUint32(80, true) : 0;
  if (bytes.length >= HEADER_BYTES && bytes.length === HEADER_BYTES + TRIANGLE_BYTES * count) {
    const numbers: number[] = [];
    for (let n = 0; n < count; n += 1)
      for (let k = 0; k < 12; k += 1)
        numbers.push(view.getFloat32(HEADER_BYTES + TRIANGLE_BYTES * n + 4 * k, true));
    return succeed(weld(numbers));
  }
  const text = strFromU8(bytes);
  if (!/^\s*solid\b/.test(text) || !text.includes('facet'))
    return fail(bytes.length > HEADER_BYTES ? 'cut-off' : 'not-stl');
  if (!/endsolid[^\n]*\s*$/.test(text)) return fail('cut-off');
  const numbers: number[] = [];
  for (const [, words] of text.matchAll(/(?:normal|vertex)\s+([^\n]+)/g))
    numbers.push(...(words ?? '').trim().split(/\s+/).map(Number));
  return numbers.length % 12 === 0 ? succeed(weld(numbers)) : fail('not-stl');
}

/** Normals and corners, twelve numbers a triangle, to a mesh with shared corners. */
function weld(numbers: readonly number[]): ReadStl {
  const known = new Map<string, number>();
  const positions: number[] = [];
  const triangles: number[] = [];
  let wrongNormals = 0;
  for (let at = 0; at < numbers.length; at += 12) {
    const corners = [3, 6, 9].map((k) => numbers.slice(at + k, at + k + 3));
    for (const corner of corners) {
      // -0 and 0 are one place.
      const key = corner.map((value) => value + 0).join();
      let index = known.get(key);
      if (index === undefined) {
        index = positions.length / 3;
        known.set(key, index);
        positions.push(...corner);
      }
      triangles.push(index);
    }
    const [a, b, c] = corners as [number[], number[], number[]];
    const [u, v] = [b, c].map((other) => other.map((value, i) => value - (a[i] ?? 0))) as [
      number[],
      number[],
    ];
    const normal = [0, 1, 2].map(
      (i) =>
        (u[(i + 1) % 3] ?? 0) * (v[(i + 2) % 3] ?? 0) -
        (u[(i + 2) % 3] ?? 0) * (v[(i + 1) % 3] ?? 0),
    );
    const along = normal.reduce((sum, value, i) => sum + value * (numbers[at + i] ?? 0), 0);
    if (along < 0) wrongNormals += 1;
  }
  return {
    mesh: { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) },
    wrongNormals,
  };
}
