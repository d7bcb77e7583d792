import { useDeferredValue, useMemo } from 'react';
import { FINE_SHARE, findNotices, type Notice } from '#core/heights/notices.ts';
import { printAdviceOf, stackOf } from '../state/document-facts.ts';
import { useDocument, useLive } from '../state/project-context.ts';

/** What should be looked at in the present plan. It follows a drag when there is time. */
export function useNotices(): readonly Notice[] {
  const document = useDeferredValue(useDocument((state) => state.document));
  const ramp = useDeferredValue(useLive((state) => state.ramp));
  const counts = useDeferredValue(useLive((state) => state.counts));
  const fine = useLive((state) => state.fine?.share ?? 0);
  return useMemo(() => {
    if (!counts) return [];
    const { crisp, ...soft } = printAdviceOf(document);
    return [
      ...findNotices(stackOf(document), ramp, counts, document.heights.leastLayers),
      ...(fine > FINE_SHARE ? [{ code: 'finer-than-line' as const, share: fine }] : []),
      ...(crisp ? [] : [{ code: 'prints-soft' as const, ...soft }]),
    ];
  }, [document, ramp, counts, fine]);
}
