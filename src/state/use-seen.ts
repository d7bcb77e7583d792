import { useEffect, useState } from 'react';
import { Cancelled } from '#core/base/checkpoint.ts';
import type { LightKind } from '#core/optics/lights.ts';
import type { ArtworkJobs } from '../workers/artwork/jobs.ts';
import { stackOf } from './document-facts.ts';
import { useDocument, useLive, useProject } from './project-context.ts';

/** Rest after the last change before anything is worked out, ms. */
const DELAY_MS = 250;

export type Seen = ArtworkJobs['seen']['output'];

/**
 * What the print looks like from some distances, mm, in the order in which they were asked for; null while it is worked out.
 * @param room light that it is seen in
 */
export function useSeen(
  distancesMm: readonly number[],
  room: LightKind = 'd65',
): readonly Seen[] | null {
  const { worker } = useProject();
  const request = useLive((state) => state.request);
  const stack = useDocument((state) => state.document.stack);
  const wanted = distancesMm.join(' ');
  const [seen, setSeen] = useState<readonly Seen[] | null>(null);
  useEffect(() => {
    setSeen(null);
    if (!request || wanted === '') return;
    const abort = new AbortController();
    const timer = setTimeout(() => {
      Promise.all(
        wanted.split(' ').map((distance) =>
          worker.run(
            'seen',
            {
              request,
              stack: stackOf({ stack }),
              filaments: stack.filaments,
              distanceMm: Number(distance),
              room,
            },
            abort,
          ),
        ),
      )
        .then(setSeen)
        .catch((error: unknown) => {
          // What is wrong with the worker is said by the live print.
          if (!(error instanceof Cancelled)) setSeen(null);
        });
    }, DELAY_MS);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [worker, request, stack, wanted, room]);
  return seen;
}
