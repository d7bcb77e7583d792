import { digestBytes } from '#core/base/stamp.ts';
import type { ProjectDocument } from './project-document.ts';

/*
 * What is large in a document (what was painted, stroke by stroke; fonts) stands beside it, under the SHA-256 of its bytes, so that
 * history, versions and autosave pass digests around. Bytes never change under their digest, so a table that only grows is as
 * good as a value: edits stay pure functions of the document. Storage and `.strata` files keep the same bytes under the same
 * digests.
 */
const kept = new Map<string, Uint8Array<ArrayBuffer>>();

/** Keeps bytes for this visit and gives the digest that a document names them by. */
export function keepData(bytes: Uint8Array<ArrayBuffer>): string {
  const digest = digestBytes(bytes);
  if (!kept.has(digest)) kept.set(digest, bytes);
  return digest;
}

/** The bytes of a digest; undefined where they were never read. */
export function dataOf(digest: string): Uint8Array<ArrayBuffer> | undefined {
  return kept.get(digest);
}

/** Digests of all data that documents name, each once. Their pictures are not among them. */
export function dataNamedBy(documents: readonly ProjectDocument[]): string[] {
  const named = new Set<string>();
  // History shares what did not change.
  for (const { edits, selections, masks } of new Set(documents.map(({ artwork }) => artwork))) {
    for (const one of [...masks.importance, ...masks.zones])
      if ('points' in one) named.add(one.points);
    for (const edit of edits)
      if (edit.kind === 'cutout')
        for (const list of [edit.keep, edit.drop, edit.hair, edit.touch])
          for (const { points } of list) named.add(points);
    for (const { steps } of selections)
      for (const step of steps)
        if (step.from === 'polygon' || step.from === 'brush') named.add(step.points);
  }
  for (const tag of new Set(documents.map((document) => document.tag)))
    for (const { id } of tag?.fonts ?? []) named.add(id);
  return [...named];
}
