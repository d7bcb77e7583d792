import { bytesToHex, hexToBytes } from '@noble/hashes/utils.js';
import { z } from 'zod';
import { dataOf, keepData } from '../../state/kept-data.ts';
import type { CopiedEdits } from '../../state/edits/picture-edits.ts';
import type { ArtworkSlice } from '../../state/project-document.ts';
import { documentEditSchema, documentSelectionSchema } from '../../state/slices/artwork.ts';
import { toast } from '../../ui/toast.ts';

const KEY = 'zesty-strata-copied-edits';

const copiedSchema = z.object({
  edits: z.array(documentEditSchema),
  selections: z.array(documentSelectionSchema),
  /** What stands beside the document, in hex. */
  data: z.array(z.string()),
});

/** Digests of the lines that edits and selections name. */
function linesOf({ edits, selections }: CopiedEdits): string[] {
  return [
    ...edits.flatMap((edit) =>
      edit.kind === 'cutout'
        ? [...edit.keep, ...edit.drop, ...edit.hair, ...edit.touch].map(({ points }) => points)
        : [],
    ),
    ...selections.flatMap(({ steps }) =>
      steps.flatMap((step) =>
        step.from === 'polygon' || step.from === 'brush' ? [step.points] : [],
      ),
    ),
  ];
}

/** Keeps edits with the selections that they need, to be put into another project. */
export function keepForOthers(artwork: ArtworkSlice, ids: readonly string[]): void {
  const edits = artwork.edits.filter(({ id }) => ids.includes(id));
  // A selection may be made of others.
  const needed = new Set<string | null>(edits.map(({ mask }) => mask));
  artwork.selections.forEach(() => {
    for (const { id, steps } of artwork.selections)
      if (needed.has(id)) for (const step of steps) if (step.from === 'mask') needed.add(step.mask);
  });
  const selections = artwork.selections.filter(({ id }) => needed.has(id));
  const copied = { edits, selections };
  const data = linesOf(copied).flatMap((digest) => {
    const bytes = dataOf(digest);
    return bytes ? [bytesToHex(bytes)] : [];
  });
  try {
    localStorage.setItem(KEY, JSON.stringify({ ...copied, data }));
    toast(
      edits.length === 1
        ? 'Kept. Open the other project and choose "Put copied edits here".'
        : `${edits.length} edits kept. Open the other project and choose "Put copied edits here".`,
    );
  } catch {
    toast('The browser does not keep anything here, so edits cannot be copied.');
  }
}

/** The edits that were kept; undefined where there are none. */
export function keptForOthers(): CopiedEdits | undefined {
  try {
    const text = localStorage.getItem(KEY);
    if (text === null) return undefined;
    const { data, ...copied } = copiedSchema.parse(JSON.parse(text));
    for (const one of data) keepData(hexToBytes(one).slice());
    return copied;
  } catch {
    return undefined;
  }
}
