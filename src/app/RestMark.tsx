import { useDeferredValue, useEffect, useLayoutEffect, useRef } from 'react';
import type { SaveStatus } from '../state/autosave.ts';
import { useDocument, useLive, useProject, useView } from '../state/project-context.ts';

/**
 * Says on the bench when it is at rest: everything that follows from the document is worked out, painted and saved. Programs
 * that drive the page wait for that in place of guessing (`data-settled`, `data-revision` on the bench).
 */
export function RestMark({
  saveStatus,
  known,
}: {
  readonly saveStatus: SaveStatus;
  /** It is known who may write the project. */
  readonly known: boolean;
}) {
  const mark = useRef<HTMLSpanElement>(null);
  const { documents, views } = useProject();
  const document = useDocument((state) => state.document);
  const dragging = useDocument((state) => state.gestureFrom !== null);
  const pending = useLive((state) => state.pending);
  const drawing = useView((state) => state.drawing || state.looking);
  // The ledger follows when there is time: what is deferred here is deferred there, and comes in one go.
  const followed = useDeferredValue(document);
  const quiet = useDeferredValue(pending);
  const rest =
    known &&
    saveStatus !== 'saving' &&
    !dragging &&
    !drawing &&
    !pending &&
    !quiet &&
    followed === document;

  useEffect(() => {
    const bench = mark.current?.parentElement;
    if (!bench) return;
    let revision = 0;
    bench.dataset.revision = '0';
    // At once, whenever the screen is drawn: nobody must take the rest before for the one after.
    const unfollow = documents.subscribe((now, before) => {
      if (now.document === before.document) return;
      bench.dataset.settled = 'false';
      revision += 1;
      bench.dataset.revision = String(revision);
    });
    const unwatch = views.subscribe(({ drawing: now, looking }) => {
      if (now || looking) bench.dataset.settled = 'false';
    });
    return () => {
      unfollow();
      unwatch();
    };
  }, [documents, views]);
  useLayoutEffect(() => {
    const bench = mark.current?.parentElement;
    if (!bench) return;
    bench.dataset.settled = 'false';
    if (!rest) return;
    // Canvases are painted in the next frame.
    let frame = requestAnimationFrame(() => {
      frame = requestAnimationFrame(() => {
        bench.dataset.settled = 'true';
      });
    });
    return () => {
      cancelAnimationFrame(frame);
    };
  }, [rest, document]);
  return <span ref={mark} hidden />;
}
