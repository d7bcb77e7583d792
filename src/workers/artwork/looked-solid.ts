import { noCheckpoint, partOf, type Checkpoint } from '#core/base/checkpoint.ts';
import { bandSpans } from '#core/formats/mesh/band-solids.ts';
import { inlaidMeshes, spanMeshes, type ReliefShape } from '#core/relief/relief-mesh.ts';
import type { Mesh } from '#core/relief/terrace-mesh.ts';
import { layerTopsMm } from '#core/stack/layer-grid.ts';
import { bandEnds, totalLayers, type Stack } from '#core/stack/stack.ts';
import { faceEntry } from '#core/tags/face-ramp.ts';
import type { ShownSolid } from './jobs.ts';

/** Heights within this are the same, mm. */
const SAME_MM = 1e-4;

/**
 * A piece of outlines to look at: each triangle has what it looks like with it, as an entry of the ramp counted from 0, so bands and
 * inlays end just where they do.
 * @param faceDown it lies on a face; that is turned up
 */
export function lookedSolid(
  shape: ReliefShape,
  stack: Stack,
  faceDown: boolean,
  checkpoint: Checkpoint = noCheckpoint,
): ShownSolid {
  const { heights, sampleMm } = shape;
  const tops = layerTopsMm(stack.grid, totalLayers(stack.bands));
  const ends = bandEnds(stack.bands);
  const widthMm = heights.width * sampleMm;
  const highMm = tops.at(-1) ?? 0;
  const bands = spanMeshes(shape, bandSpans(stack), partOf(checkpoint, 0, 0.5));
  const inlays = inlaidMeshes(shape, tops, partOf(checkpoint, 0.5, 0.9))?.inlays ?? [];
  const solids = [
    ...bands.map((mesh, i) => ({ mesh, liftMm: tops[ends[i - 1] ?? 0] ?? 0, part: 0, band: i })),
    ...inlays.map((mesh, i) => ({ mesh, liftMm: 0, part: i + 1, band: 0 })),
  ];
  const corners = solids.reduce((sum, { mesh }) => sum + mesh.triangles.length, 0);
  const positions = new Float32Array(3 * corners);
  const looks = new Float32Array(corners);
  let at = 0;
  for (const { mesh, liftMm, part, band } of solids) {
    const wall = part > 0 ? faceEntry(stack.bands, part) : (ends[band] ?? 1);
    for (let n = 0; n < mesh.triangles.length; n += 3) {
      const zs = [0, 1, 2].map((k) => zOf(mesh, n + k) + liftMm) as [number, number, number];
      const level = Math.max(...zs) - Math.min(...zs) < SAME_MM;
      let look = wall;
      if (level && zs[0] > SAME_MM && part === 0) look = layerInTops(zs[0]);
      else if (level && faceDown) look = faceEntry(stack.bands, part);
      for (let k = 0; k < 3; k += 1, at += 1) {
        const corner = mesh.triangles[n + k] as number;
        const x = mesh.positions[3 * corner] as number;
        positions[3 * at] = faceDown ? widthMm - x : x;
        positions[3 * at + 1] = mesh.positions[3 * corner + 1] as number;
        positions[3 * at + 2] = faceDown ? highMm - (zs[k] as number) : (zs[k] as number);
        looks[at] = look - 1;
      }
    }
  }
  checkpoint(1);
  return {
    positions,
    triangles: Uint32Array.from({ length: corners }, (_, n) => n),
    looks,
    widthMm,
    heightMm: heights.height * sampleMm,
  };

  function layerInTops(mm: number): number {
    const layer = tops.findIndex((top) => top > mm - SAME_MM);
    return layer < 1 ? 1 : layer;
  }
}

function zOf({ positions, triangles }: Mesh, place: number): number {
  return positions[3 * (triangles[place] as number) + 2] as number;
}
