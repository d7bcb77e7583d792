import { produce } from 'immer';
import { clamp } from '#core/base/numbers.ts';
import type { ImportanceStroke, Mark } from '#core/artwork/importance.ts';
import { MOST_STROKE_NUMBERS, MOST_STROKES } from '../slices/artwork.ts';
import type { KeptMark } from '../importance.ts';
import { editedFrameOf } from '../recipe.ts';
import { keepPoints } from '../strokes.ts';
import type { ArtworkSlice, ProjectDocument } from '../project-document.ts';
import { alter, edit, type Edit } from './edit.ts';

/** Keeps a stroke of the importance brush over the edited picture; the oldest marks go where there are too many. */
export function addStroke({ mark, radius, points }: ImportanceStroke): Edit {
  const even = points.slice(0, Math.min(MOST_STROKE_NUMBERS, 2 * Math.floor(points.length / 2)));
  return edit('importance', (document) => {
    if (even.length < 2 || !(radius > 0)) return document;
    const { width, height, toOriginal } = editedFrameOf(document);
    const stroke: KeptMark = {
      mark,
      radius: Math.min(1, radius),
      points: keepPoints(even.map((share) => clamp(share, -1, 2))),
      over: { width, height, toOriginal: [...toOriginal] },
    };
    return produce(document, ({ artwork: { masks } }) => {
      masks.importance = [...masks.importance, stroke].slice(-MOST_STROKES);
    });
  });
}

/** Says that all of a selection matters more or less, or as usual. It is said once of each selection, and last. */
export function markSelection(selection: string, mark: Mark): Edit {
  return alter('importance', ({ artwork: { selections, masks } }) => {
    if (!selections.some(({ id }) => id === selection)) return;
    masks.importance = [
      ...masks.importance.filter((one) => !('selection' in one) || one.selection !== selection),
      { mark, selection },
    ].slice(-MOST_STROKES);
  });
}

/** Takes everything painted or said away. */
export function clearImportance(): Edit {
  return alter('importance', ({ artwork: { masks } }) => {
    masks.importance = [];
  });
}

/** What is printed of the edited picture, as it was measured; completes a document. */
export function setEditedBox(box: ArtworkSlice['editedBox']): Edit {
  return edit('edited box', (document: ProjectDocument) =>
    JSON.stringify(document.artwork.editedBox) === JSON.stringify(box)
      ? document
      : { ...document, artwork: { ...document.artwork, editedBox: box } },
  );
}
