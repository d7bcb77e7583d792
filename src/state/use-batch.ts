import { useMemo } from 'react';
import { describeBatch } from '#core/schedule/words.ts';
import { batchesOfDocument, type DocumentBatch } from './batches.ts';
import type { ProjectDocument } from './project-document.ts';
import { useDocument, useProject, useView } from './project-context.ts';

/** The pieces at hand, where several are printed one by one in layers of several heights. */
export interface BatchAtHand {
  readonly batches: readonly DocumentBatch[];
  readonly index: number;
  /** How one piece of it is printed. */
  readonly document: ProjectDocument;
  /** What can be chosen from, in words; one entry where all pieces are alike. */
  readonly options: readonly { readonly value: string; readonly text: string }[];
  readonly choose: (index: string) => void;
}

/** The batch that sheet, files, G-code and rehearsal are of. */
export function useBatch(): BatchAtHand {
  const { views } = useProject();
  const whole = useDocument((state) => state.document);
  const wished = useView((state) => state.batch);
  return useMemo(() => {
    const batches = batchesOfDocument(whole);
    const index = batches[wished]?.document ? wished : 0;
    return {
      batches,
      index,
      document: batches[index]?.document ?? whole,
      options: batches.flatMap(({ batch, document }, i) =>
        document
          ? [{ value: String(i), text: describeBatch(batch, whole.stack.grid.layerMm) }]
          : [],
      ),
      choose: (value: string) => {
        views.setState({ batch: Number(value) });
      },
    };
  }, [whole, wished, views]);
}
