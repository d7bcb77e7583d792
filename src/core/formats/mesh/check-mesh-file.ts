import { checkMesh, isSoundMesh, type MeshFaults } from '../../relief/check-mesh.ts';
import type { Mesh } from '../../relief/terrace-mesh.ts';
import { read3mf } from './read-3mf.ts';
import { readStl } from './read-stl.ts';

/** Looking for crossings takes ever longer; a file of more triangles is judged without. */
export const MOST_FOR_CROSSINGS = 40_000;

/** What a look at a file of solids finds. */
export interface MeshFileReport {
  readonly format: 'stl' | '3mf';
  /** Closed solids whose faces look outward and cross nowhere, in a file that keeps to its format. */
  readonly sound: boolean;
  readonly triangles: number;
  readonly volumeMm3: number;
  /** Faults of each solid; see `checkMesh`. */
  readonly solids: readonly MeshFaults[];
  /** Whether crossings were looked for: only in files of up to {@link MOST_FOR_CROSSINGS} triangles. */
  readonly crossingsLooked: boolean;
  /** STL: normals that do not suit their triangles. */
  readonly wrongNormals: number;
  /** Why the file could not be read. */
  readonly fault?: { readonly code: string; readonly where?: string; readonly detail?: string };
}

/** Looks over an STL or 3MF file: whether it keeps to its format, and whether its solids are closed and sound. */
export function checkMeshFile(bytes: Uint8Array): MeshFileReport {
  // A zip begins with PK, whatever the file is called.
  const format: MeshFileReport['format'] = bytes[0] === 0x50 && bytes[1] === 0x4b ? '3mf' : 'stl';
  const empty = {
    format,
    sound: false,
    triangles: 0,
    volumeMm3: 0,
    solids: [],
    wrongNormals: 0,
    crossingsLooked: false,
  };
  if (format === '3mf') {
    const read = read3mf(bytes);
    return read.ok ? { ...empty, ...summed(read.value) } : { ...empty, fault: read.fault };
  }
  const read = readStl(bytes);
  if (!read.ok) return { ...empty, fault: read.fault };
  const { mesh, wrongNormals } = read.value;
  const found = summed([mesh]);
  return { ...empty, ...found, wrongNormals, sound: found.sound && wrongNormals === 0 };
}

function summed(
  meshes: readonly Mesh[],
): Pick<MeshFileReport, 'sound' | 'triangles' | 'volumeMm3' | 'solids' | 'crossingsLooked'> {
  const triangles = meshes.reduce((sum, mesh) => sum + mesh.triangles.length / 3, 0);
  const crossings = triangles <= MOST_FOR_CROSSINGS;
  const solids = meshes.map((mesh) => checkMesh(mesh, { crossings }));
  return {
    solids,
    sound: solids.length > 0 && solids.every(isSoundMesh),
    triangles,
    volumeMm3: solids.reduce((sum, { volumeMm3 }) => sum + volumeMm3, 0),
    crossingsLooked: crossings,
  };
}
