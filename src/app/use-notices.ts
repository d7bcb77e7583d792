import { useDeferredValue, useMemo } from 'react';
import { FINE_SHARE, findNotices, type Notice } from '#core/heights/notices.ts';
import { describeProblem } from '../features/tag/tag-words.ts';
import { finerPxOf, printAdviceOf, stackOf } from '../state/document-facts.ts';
import { useDocument, useLive } from '../state/project-context.ts';

/** Something to be looked at: of a relief, or of a tag, in words already. */
export type AppNotice = Notice | { readonly code: 'tag-problem'; readonly text: string };

/** What should be looked at in the present plan. It follows a drag when there is time. */
export function useNotices(): readonly AppNotice[] {
  const document = useDeferredValue(useDocument((state) => state.document));
  const ramp = useDeferredValue(useLive((state) => state.ramp));
  const counts = useDeferredValue(useLive((state) => state.counts));
  const fine = useLive((state) => state.fine?.share ?? 0);
  const checked = useLive((state) => state.checked);
  return useMemo(() => {
    if (!counts) return [];
    const { tag } = document;
    if (tag)
      return (checked?.of.elements === tag.elements ? checked.problems : []).map((problem) => ({
        code: 'tag-problem' as const,
        text: describeProblem(problem, tag),
      }));
    const { crisp, ...soft } = printAdviceOf(document);
    return [
      ...findNotices(stackOf(document), ramp, counts, document.heights.leastLayers),
      ...(fine > FINE_SHARE ? [{ code: 'finer-than-line' as const, share: fine }] : []),
      ...(crisp
        ? []
        : [{ code: 'prints-soft' as const, ...soft, drawing: finerPxOf(document) !== undefined }]),
    ];
  }, [document, ramp, counts, fine, checked]);
}
