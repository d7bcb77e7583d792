import type { Mesh } from '#core/relief/terrace-mesh.ts';
import type { HeightMap } from '#core/base/raster.ts';

/** A height map from rows of figures, top row first. */
export function heightsOf(...rows: readonly (readonly number[])[]): HeightMap {
  return {
    width: rows[0]?.length ?? 0,
    height: rows.length,
    data: Uint8Array.from(rows.flat()),
  };
}

/** Directed edges that do not occur exactly once with their reverse exactly once. 0 for a closed, oriented solid. */
export function countBadEdges(mesh: Mesh): number {
  const seen = new Map<number, number>();
  const corners = mesh.positions.length / 3;
  for (let t = 0; t < mesh.triangles.length; t += 3) {
    for (let k = 0; k < 3; k += 1) {
      const a = mesh.triangles[t + k] as number;
      const b = mesh.triangles[t + ((k + 1) % 3)] as number;
      const key = a * corners + b;
      seen.set(key, (seen.get(key) ?? 0) + 1);
    }
  }
  let bad = 0;
  for (const [key, count] of seen) {
    const a = Math.floor(key / corners);
    const b = key % corners;
    if (count !== 1 || seen.get(b * corners + a) !== 1) bad += 1;
  }
  return bad;
}

/** Triangles with no area. */
export function countFlatTriangles(mesh: Mesh): number {
  const { positions: p, triangles: t } = mesh;
  let flat = 0;
  for (let i = 0; i < t.length; i += 3) {
    const at = [0, 1, 2].map((k) => {
      const c = (t[i + k] as number) * 3;
      return [p[c] as number, p[c + 1] as number, p[c + 2] as number] as const;
    });
    const [a, b, c] = at as [
      [number, number, number],
      [number, number, number],
      [number, number, number],
    ];
    const u = [b[0] - a[0], b[1] - a[1], b[2] - a[2]] as const;
    const v = [c[0] - a[0], c[1] - a[1], c[2] - a[2]] as const;
    const area = Math.hypot(
      u[1] * v[2] - u[2] * v[1],
      u[2] * v[0] - u[0] * v[2],
      u[0] * v[1] - u[1] * v[0],
    );
    if (area < 1e-9) flat += 1;
  }
  return flat;
}

/** Volume by the divergence theorem, mm3: positive for a solid that faces outward. */
export function meshVolume(mesh: Mesh): number {
  const { positions: p, triangles: t } = mesh;
  let six = 0;
  for (let i = 0; i < t.length; i += 3) {
    const a = (t[i] as number) * 3;
    const b = (t[i + 1] as number) * 3;
    const c = (t[i + 2] as number) * 3;
    const [ax, ay, az] = [p[a] as number, p[a + 1] as number, p[a + 2] as number];
    const [bx, by, bz] = [p[b] as number, p[b + 1] as number, p[b + 2] as number];
    const [cx, cy, cz] = [p[c] as number, p[c + 1] as number, p[c + 2] as number];
    six += ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
  }
  return six / 6;
}

/**
 * Slices a mesh at one height and tells for the middle of every sample whether it is inside: crossings of a ray along +x
 * with the triangles that pass that height. Independent of how the mesh was made.
 */
export function sliceMask(
  positions: ArrayLike<number>,
  triangles: ArrayLike<number>,
  zMm: number,
  columns: number,
  rows: number,
  sampleMm: number,
): Uint8Array {
  const crossings: number[][] = Array.from({ length: rows }, () => []);
  for (let t = 0; t < triangles.length; t += 3) {
    const points: [number, number][] = [];
    for (let k = 0; k < 3; k += 1) {
      const a = (triangles[t + k] as number) * 3;
      const b = (triangles[t + ((k + 1) % 3)] as number) * 3;
      const za = positions[a + 2] as number;
      const zb = positions[b + 2] as number;
      if (za < zMm === zb < zMm) continue;
      const share = (zMm - za) / (zb - za);
      points.push([
        (positions[a] as number) + share * ((positions[b] as number) - (positions[a] as number)),
        (positions[a + 1] as number) +
          share * ((positions[b + 1] as number) - (positions[a + 1] as number)),
      ]);
    }
    const [first, second] = points;
    if (!first || !second) continue;
    const low = Math.min(first[1], second[1]);
    const high = Math.max(first[1], second[1]);
    const firstRow = Math.max(0, Math.floor(rows - high / sampleMm) - 1);
    const lastRow = Math.min(rows - 1, Math.ceil(rows - low / sampleMm) + 1);
    for (let row = firstRow; row <= lastRow; row += 1) {
      const y = (rows - row - 0.5) * sampleMm;
      if (first[1] < y === second[1] < y) continue;
      const share = (y - first[1]) / (second[1] - first[1]);
      crossings[row]?.push(first[0] + share * (second[0] - first[0]));
    }
  }
  const mask = new Uint8Array(columns * rows);
  crossings.forEach((xs, row) => {
    for (let column = 0; column < columns; column += 1) {
      const x = (column + 0.5) * sampleMm;
      mask[row * columns + column] = xs.filter((crossing) => crossing < x).length % 2;
    }
  });
  return mask;
}
