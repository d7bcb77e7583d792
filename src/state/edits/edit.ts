import { clamp } from '#core/base/numbers.ts';
import { produce } from 'immer';
import type { ProjectDocument } from '../project-document.ts';

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
  return Object.assign((document: ProjectDocument) => make(document), { what });
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
