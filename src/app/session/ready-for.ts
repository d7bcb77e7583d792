import { readyForTags } from '../../state/ready-for-tags.ts';
import type { ProjectDocument } from '../../state/project-document.ts';

/** Loads what only some documents need: lettering is set by the document alone, so its faces are there before it is opened. */
export async function readyFor({ tag }: Pick<ProjectDocument, 'tag'>): Promise<void> {
  if (tag) await readyForLettering();
}

/** Loads all that a tag needs before there is one. */
export async function readyForLettering(): Promise<void> {
  const { loadShippedFaces } = await import('../../platform/browser/load-faces.ts');
  await readyForTags(loadShippedFaces);
}
