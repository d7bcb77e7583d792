import { planTagsWith } from './tag-plan.ts';

/**
 * Loads what plans tags, and the faces that lettering is set in: to be waited for before a document with a tag is worked with.
 * @param loadFaces loads the faces that ship, where this runs
 */
export async function readyForTags(loadFaces: () => Promise<void>): Promise<void> {
  const [{ tagEngine }] = await Promise.all([import('./tag-engine.ts'), loadFaces()]);
  planTagsWith(tagEngine);
}
