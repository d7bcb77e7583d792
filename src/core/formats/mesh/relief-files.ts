import type { BytePieces } from '../../base/byte-pieces.ts';
import { noCheckpoint, partOf, type Checkpoint } from '../../base/checkpoint.ts';
import { reliefMesh } from '../../relief/relief-mesh.ts';
import { layerTopsMm } from '../../stack/layer-grid.ts';
import { totalLayers } from '../../stack/stack.ts';
import { bandSolids, describeGrid, type ReliefSource } from './band-solids.ts';
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
