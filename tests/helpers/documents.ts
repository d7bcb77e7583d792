import { digestBytes } from '#core/base/stamp.ts';
import { firstStack, newProject, type StackRecipe } from '../../src/state/new-project.ts';
import type { ProjectDocument } from '../../src/state/project-document.ts';
import { FILAMENTS } from './stacks.ts';

/** Stands for the bytes of a picture. */
export const PICTURE = Uint8Array.of(1, 2, 3, 4);

/** A project of an even picture, 300 x 200. */
export function testDocument(
  recipe: StackRecipe = firstStack(Object.values(FILAMENTS)),
): ProjectDocument {
  return newProject(
    {
      name: 'Dome at dusk',
      artwork: {
        fileName: 'dome.png',
        kind: 'png',
        digest: digestBytes(PICTURE),
        width: 300,
        height: 200,
      },
      histogram: new Uint32Array(4096).fill(1),
    },
    Object.values(FILAMENTS),
    recipe,
  );
}
