import { useEffect, useState } from 'react';
import { Cancelled } from '#core/base/checkpoint.ts';
import type { Frame } from '#core/edit/frame.ts';
import { useDocument, useLive, useProject, useView } from '../../state/project-context.ts';
import { askingRecipe, editedFrameOf } from '../../state/recipe.ts';
import type { KeptEdit } from '../../state/project-document.ts';
import type { Answer, Question } from '../../workers/artwork/edit-jobs.ts';
import type { PictureDesk } from '../../state/view-store.ts';

/** Rest after the last change before something is asked of the picture, ms. */
const ASK_DELAY_MS = 120;

/** What the picture is like before an edit (or at the end of the list); the last answer while a new one is on the way. */
export function useAnswer(question: Question, editId: string | null): Answer | null {
  const { worker } = useProject();
  const artwork = useDocument((state) => state.document.artwork);
  const key = JSON.stringify(question);
  const [answer, setAnswer] = useState<Answer | null>(null);
  useEffect(() => {
    const abort = new AbortController();
    const timer = setTimeout(() => {
      worker
        .run(
          'ask',
          {
            recipe: askingRecipe(artwork),
            editId,
            question: JSON.parse(key) as Question,
          },
          abort,
        )
        .then(setAnswer)
        .catch((error: unknown) => {
          if (!(error instanceof Cancelled)) setAnswer(null);
        });
    }, ASK_DELAY_MS);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [worker, artwork, key, editId]);
  return answer;
}

/** The edit whose settings are open. */
export function useOpenEdit(): KeptEdit | undefined {
  const id = useView((state) => state.desk.openEdit);
  return useDocument((state) => state.document.artwork.edits.find((one) => one.id === id));
}

export function useDesk(): PictureDesk {
  return useView((state) => state.desk);
}

/** Where the shown picture lies in the original. */
export function useFrame(): Frame {
  const artwork = useDocument((state) => state.document.artwork);
  return editedFrameOf({ artwork });
}

/** The pad around the picture in the piece, as shares of its sides. */
export function useInset(): { readonly x: number; readonly y: number } {
  const { columns, rows, pad = 0 } = useLive((state) => state.shown);
  return { x: pad / columns, y: pad / rows };
}
