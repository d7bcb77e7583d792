import { tidyMm } from '#core/base/numbers.ts';
import { batchesOf, type Batch } from '#core/schedule/pieces.ts';
import type { ProjectDocument } from './project-document.ts';
import { withGrid } from './regrid.ts';
import { withTagSettled } from './tag-plan.ts';

/** Pieces in the same layers, and the document that says how one of them is printed. */
export interface DocumentBatch {
  readonly batch: Batch;
  /** With as many copies as the batch has; null where its layers would be too many. */
  readonly document: ProjectDocument | null;
}

const known = new WeakMap<ProjectDocument, readonly DocumentBatch[]>();

/**
 * The pieces of a document by the height of their layers; the first one is that of the project itself. In other layers everything
 * keeps its height as near as whole layers come to it; what the slicing program says is said of the project's own.
 */
export function batchesOfDocument(document: ProjectDocument): readonly DocumentBatch[] {
  const before = known.get(document);
  if (before) return before;
  const made = batchesOf(document.print.pieces).map((batch) => ({
    batch,
    document: documentOf(document, batch),
  }));
  known.set(document, made);
  return made;
}

/** The document of one batch; of the first one where there is no such batch (any more), or where it cannot be printed. */
export function documentOfBatch(document: ProjectDocument, index: number): ProjectDocument {
  const batches = batchesOfDocument(document);
  return batches[index]?.document ?? batches[0]?.document ?? document;
}

function documentOf(document: ProjectDocument, { copies, layerMm }: Batch): ProjectDocument | null {
  const { print, stack } = document;
  // Nothing is made anew where there is nothing of its own: what follows from a document is kept by it.
  if (print.pieces.own.length === 0) return document;
  const own = { ...document, print: { ...print, pieces: { ...print.pieces, copies, own: [] } } };
  if (layerMm === null) return own;
  const moved = withGrid(own, { ...stack.grid, layerMm: tidyMm(layerMm) });
  if (!moved.ok) return null;
  const unasked = { ...moved.value.print, slicedMinutes: null, slicedGrams: null };
  return withTagSettled({ ...moved.value, print: unasked });
}
