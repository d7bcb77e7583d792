import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import { reliefMesh } from '../relief/relief-mesh.ts';
import { layerTopsMm } from '../stack/layer-grid.ts';
import { totalLayers } from '../stack/stack.ts';
import { bandSolids, describeGrid, type ReliefSource } from './band-solids.ts';
import { write3mf } from './write-3mf.ts';
import { writeStl, writeStlText } from './write-stl.ts';

export type { ReliefSource } from './band-solids.ts';

/** A file with how many triangles it holds. */
export interface MeshFile {
  readonly bytes: Uint8Array<ArrayBuffer>;
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
  const mesh = reliefMesh(source, tops, partOf(checkpoint, 0, 0.7));
  const header = `Zesty Strata ${stamp} mm, ${describeGrid(stack)}`;
  const bytes = form === 'binary' ? writeStl(mesh, header) : writeStlText(mesh, header);
  checkpoint(1);
  return { bytes, triangles: mesh.triangles.length / 3 };
}

/** The relief as 3MF with one solid for each band. */
export function relief3mf(source: ReliefSource, checkpoint: Checkpoint = noCheckpoint): MeshFile {
  const solids = bandSolids(source, partOf(checkpoint, 0, 0.7));
  const bytes = write3mf(solids, {
    Title: source.title,
    Application: 'Zesty Strata',
    Description: `Stamp ${source.stamp}; ${describeGrid(source.stack)} mm`,
  });
  checkpoint(1);
  return {
    bytes,
    triangles: solids.reduce((sum, { mesh }) => sum + mesh.triangles.length / 3, 0),
  };
}
