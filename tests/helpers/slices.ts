import type { ProjectDocument } from '../../src/state/project-document.ts';

type Slices = Pick<ProjectDocument, 'artwork' | 'stack' | 'heights' | 'piece' | 'print'>;

/** Changes part of one slice of a document. */
export function inSlice<Name extends keyof Slices>(
  name: Name,
  part: Partial<Slices[Name]>,
): (document: ProjectDocument) => ProjectDocument {
  return (document) => ({ ...document, [name]: { ...document[name], ...part } });
}
