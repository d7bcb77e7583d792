import { documentSchema, type ProjectDocument } from './project-document.ts';

const { shape } = documentSchema;

/** Documents that were found valid. They are never changed in place, so each is looked at once. */
const valid = new WeakSet<ProjectDocument>();

/** A fault of a document in one line: where, and what. */
function firstFault(error: {
  readonly issues: readonly { readonly path: readonly PropertyKey[]; readonly message: string }[];
}): string {
  const [issue] = error.issues;
  return issue ? `${issue.path.map(String).join('.') || 'document'}: ${issue.message}` : 'invalid';
}

/**
 * Checks what an edit changed: the slices that are not the same as before. What is large stands beside the document, so a slice
 * is read in well under the time of a frame, for every pixel of a drag.
 * @param before a valid document
 * @returns what is wrong, or null
 */
export function checkChange(before: ProjectDocument, after: ProjectDocument): string | null {
  for (const key of Object.keys(shape) as (keyof ProjectDocument)[]) {
    if (after[key] === before[key]) continue;
    const read = shape[key].safeParse(after[key]);
    if (!read.success) return `${key}.${firstFault(read.error)}`;
  }
  if (valid.has(before)) valid.add(after);
  return null;
}

/** Checks a whole document. Returns what is wrong, or null. */
export function checkDocument(document: ProjectDocument): string | null {
  if (valid.has(document)) return null;
  const read = documentSchema.safeParse(document);
  if (!read.success) return firstFault(read.error);
  valid.add(document);
  return null;
}
