import { readFile } from 'node:fs/promises';
import { checkMeshFile } from '#core/formats/mesh/check-mesh-file.ts';
import { BadInput } from '../platform/bad-input.ts';
import { Answer } from './answer.ts';

/** `mesh check FILE`: whether a file of solids can be printed; see `checkMeshFile`. Ends with 1 where it cannot. */
export async function runMesh([what, path, ...rest]: string[]): Promise<object> {
  if (what !== 'check' || path === undefined || rest.length > 0)
    throw new BadInput('mesh takes "check" and one file: mesh check relief.stl');
  let bytes: Uint8Array;
  try {
    bytes = await readFile(path);
  } catch (error) {
    throw new BadInput(
      `${path} cannot be read (${(error as NodeJS.ErrnoException).code ?? 'unknown error'}). Is the path right?`,
    );
  }
  const report = checkMeshFile(bytes);
  return new Answer(report, report.sound ? 0 : 1);
}
