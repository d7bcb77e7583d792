import { useEffect, useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { Cancelled } from '#core/base/checkpoint.ts';
import { MOST_SAMPLES } from '#core/relief/sampling.ts';
import type { SwapSheet } from '#core/schedule/swap-sheet.ts';
import { heightRequest, samplesOf } from '../../state/document-facts.ts';
import { sheetOfDocument, type ReliefCounts } from '../../state/project-export.ts';
import { sliceKey } from '../../state/slice-plan.ts';
import { useProject } from '../../state/project-context.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { toast } from '../../ui/toast.ts';

/**
 * The sheet of the open project: the finished relief's samples are counted as often as the relief changes.
 * @param document the project's, or that of some of several pieces
 */
export function useSheet(document: ProjectDocument): {
  readonly sheet: SwapSheet | null;
  readonly fraction: number;
  readonly tooMany: boolean;
} {
  const { worker, exporter, slicer, live, rack } = useProject();
  const [counted, setCounted] = useState<{
    readonly of: string;
    readonly value: ReliefCounts;
  } | null>(null);
  const [fraction, setFraction] = useState(0);
  const { columns, rows } = samplesOf(document);
  const tooMany = columns * rows > MOST_SAMPLES;
  // What the sheet is told (copies, times) changes nothing that is counted.
  const request = useMemo(() => heightRequest(document), [document]);
  const key = JSON.stringify(request);
  useEffect(() => {
    const abort = new AbortController();
    setFraction(0);
    if (tooMany) return;
    // What is shown is the finished relief itself, but for the largest pieces.
    const { shown } = live.store.getState();
    const isShown = shown.columns === request.columns && shown.rows === request.rows;
    const watched = { signal: abort.signal, onProgress: setFraction };
    (isShown ? worker.run('counts', request, watched) : exporter.run('counts', request, watched))
      .then((value) => {
        setCounted({ of: key, value });
      })
      .catch((error: unknown) => {
        if (!(error instanceof Cancelled))
          toast.error(
            `The swap sheet could not be made: ${error instanceof Error ? error.message : String(error)}`,
          );
      });
    return () => {
      abort.abort();
    };
    // The request is the same as long as its key is.
  }, [key, worker, tooMany]);
  const slice = useStore(slicer.store, (state) => state.slice);
  const sheet = useMemo(
    () =>
      counted?.of === key
        ? sheetOfDocument(
            document,
            counted.value,
            rack,
            slice?.of === sliceKey(document) ? slice.made.figures : null,
          )
        : null,
    [counted, key, document, rack, slice],
  );
  return { sheet, fraction, tooMany };
}
