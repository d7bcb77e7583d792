import { useEffect, useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { sumBatches, type BatchSum } from '#core/schedule/batches.ts';
import { heightRequest } from '../../state/document-facts.ts';
import type { DocumentBatch } from '../../state/batches.ts';
import { useProject } from '../../state/project-context.ts';
import { sliceKey } from '../../state/slice-plan.ts';
import { sheetsOfBatches } from '../../state/batch-sheets.ts';
import type { ReliefCounts } from '../../state/project-export.ts';

/** What pieces in layers of several heights take beside each other; null where all are alike, and while it is worked out. */
export function useBatchSum(batches: readonly DocumentBatch[]): BatchSum | null {
  const { exporter, slicer, rack } = useProject();
  const slice = useStore(slicer.store, (state) => state.slice);
  const [counted, setCounted] = useState<ReadonlyMap<string, ReliefCounts>>(new Map());
  const known = useMemo(
    () =>
      batches.length < 2
        ? []
        : batches.flatMap(({ batch, document }) =>
            document ? [{ batch, document, request: heightRequest(document) }] : [],
          ),
    [batches],
  );
  const keys = known.map(({ request }) => JSON.stringify(request));
  const all = keys.join('\n');
  useEffect(() => {
    const abort = new AbortController();
    const count = async (): Promise<void> => {
      for (const [i, { request }] of known.entries()) {
        const key = keys[i] ?? '';
        const value = await exporter.run('counts', request, abort);
        setCounted((before) => new Map([...before, [key, value]]));
      }
    };
    // Given up, or the project was closed meanwhile; what cannot be counted is told by the sheet itself.
    count().catch(() => undefined);
    return () => {
      abort.abort();
    };
    // The requests are the same as long as their keys are.
  }, [all, exporter]);
  return useMemo(() => {
    const all = known.flatMap(({ batch, document }, i) => {
      const counts = counted.get(keys[i] ?? '');
      const own = slice?.of === sliceKey(document) ? slice.made.figures : null;
      return counts ? [{ batch, document, counts, slice: own }] : [];
    });
    if (all.length < 2 || all.length < known.length) return null;
    const sheets = sheetsOfBatches(all, rack);
    return sumBatches(
      all.flatMap(({ batch }, i) => {
        const sheet = sheets[i];
        return sheet ? [{ batch, sheet }] : [];
      }),
    );
    // The keys follow from what is known.
  }, [known, counted, rack, slice]);
}
