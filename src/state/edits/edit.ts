import { clamp } from '#core/base/numbers.ts';
import { produce } from 'immer';
import type { ProjectDocument } from '../project-document.ts';
import { filamentsOfTag, withTagSettled } from '../tag-plan.ts';

/**
 * One change of a document under a name: a pure function from a document to the changed one (the same one where nothing
 * changes). Whatever it is given, it ends in a document that the schema takes.
 */
export interface Edit {
  (document: ProjectDocument): ProjectDocument;
  /** Names what is changed, down to the field: repeats of one edit may become one step of history. */
  readonly what: string;
}

/**
 * Makes an edit of a pure function.
 * @param what see {@link Edit.what}
 */
export function edit(what: string, make: (document: ProjectDocument) => ProjectDocument): Edit {
  return Object.assign((document: ProjectDocument) => settled(make(document), document), { what });
}

/**
 * The stack of a tag follows from its elements, whatever an edit did to one of them: one filament a layer is kept here, and nowhere
 * else. Filaments that the tag names stay.
 */
function settled(after: ProjectDocument, before: ProjectDocument): ProjectDocument {
  if (!after.tag || (after.tag === before.tag && after.stack === before.stack)) return after;
  const { stack, tag } = after;
  const gone = filamentsOfTag(tag).filter((id) => !Object.hasOwn(stack.filaments, id));
  const kept = gone.flatMap((id) => {
    const filament = before.stack.filaments[id];
    return filament ? [[id, filament] as const] : [];
  });
  return withTagSettled({
    ...after,
    stack: { ...stack, filaments: { ...stack.filaments, ...Object.fromEntries(kept) } },
  });
}

/** Makes an edit of a recipe that changes a draft in place. */
export function alter(what: string, recipe: (draft: ProjectDocument) => void): Edit {
  return edit(what, (document) =>
    produce(document, (draft) => {
      recipe(draft);
    }),
  );
}

/** The nearest whole number within limits, both included; NaN becomes the lower one. */
export function whole(value: number, least: number, greatest: number): number {
  return clamp(Math.round(value), least, greatest);
}
