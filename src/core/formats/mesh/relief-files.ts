import type { BytePieces } from '../../base/byte-pieces.ts';
import { noCheckpoint, partOf, type Checkpoint } from '../../base/checkpoint.ts';
import { inlaidMeshes, reliefMesh } from '../../relief/relief-mesh.ts';
import type { Mesh } from '../../relief/terrace-mesh.ts';
import { layerTopsMm } from '../../stack/layer-grid.ts';
import { totalLayers } from '../../stack/stack.ts';
import { bandSolids, describeGrid, inlaySolids, type ReliefSource } from './band-solids.ts';
import { write3mf } from './write-3mf.ts';
import { writeStl, writeStlText } from './write-stl.ts';

export type { ReliefSource } from './band-solids.ts';

/** A file with how many triangles it holds. */
export interface MeshFile {
  readonly pieces: BytePieces;
  readonly triangles: number;
}

/** The whole relief as one STL whose header carries stamp and layer grid. */
export function reliefStl(
  source: ReliefSource,
  checkpoint: Checkpoint = noCheckpoint,
  form: 'binary' | 'text' = 'binary',
): MeshFile {
  const { stack, stamp } = source;
  const tops = layerTopsMm(stack.grid, totalLayers(stack.bands));
  const mesh = reliefMesh(source, tops, partOf(checkpoint, 0, 0.5));
  const header = `Zesty Strata ${stamp} mm, ${describeGrid(stack)}`;
  const write = form === 'binary' ? writeStl : writeStlText;
  const pieces = write(mesh, header, partOf(checkpoint, 0.5, 1));
  checkpoint(1);
  return { pieces, triangles: mesh.triangles.length / 3 };
}

/** The body of a piece with inlays as STL: what is printed around and over them. */
export function bodyStl(source: ReliefSource, checkpoint: Checkpoint = noCheckpoint): MeshFile {
  const { stack } = source;
  const tops = layerTopsMm(stack.grid, totalLayers(stack.bands));
  const mesh = inlaidMeshes(source, tops, partOf(checkpoint, 0, 0.5))?.body;
  if (!mesh) throw new Error('a piece without inlays has no body of its own');
  return partStl(source, mesh, 'body', partOf(checkpoint, 0.5, 1));
}

/** The inlays of a piece as STL each, aligned with its body. */
export function inlayStls(
  source: ReliefSource,
  checkpoint: Checkpoint = noCheckpoint,
): (MeshFile & { readonly name: string })[] {
  return inlaySolids(source, checkpoint).map(({ name, mesh }) => ({
    name,
    ...partStl(source, mesh, name.replace(/[^ -~]/g, ' '), noCheckpoint),
  }));
}

function partStl(
  { stack, stamp }: ReliefSource,
  mesh: Mesh,
  part: string,
  checkpoint: Checkpoint,
): MeshFile {
  const header = `Zesty Strata ${stamp} mm, ${describeGrid(stack)}, ${part}`.slice(0, 80);
  const pieces = writeStl(mesh, header, checkpoint);
  return { pieces, triangles: mesh.triangles.length / 3 };
}

/** The relief as 3MF with one solid for each band. */
export function relief3mf(source: ReliefSource, checkpoint: Checkpoint = noCheckpoint): MeshFile {
  const solids = bandSolids(source, partOf(checkpoint, 0, 0.3));
  const pieces = write3mf(
    solids,
    {
      Title: source.title,
      Application: 'Zesty Strata',
      Description: `Stamp ${source.stamp}; ${describeGrid(source.stack)} mm`,
    },
    partOf(checkpoint, 0.3, 1),
  );
  checkpoint(1);
  return {
    pieces,
    triangles: solids.reduce((sum, { mesh }) => sum + mesh.triangles.length / 3, 0),
  };
}
