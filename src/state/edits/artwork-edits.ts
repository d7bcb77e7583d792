import { clamp } from '#core/base/numbers.ts';
import type { ImportanceStroke } from '#core/artwork/importance.ts';
import { MOST_STROKE_NUMBERS, MOST_STROKES } from '../slices/artwork.ts';
import { keepPoints } from '../strokes.ts';
import type { ArtworkSlice, ProjectDocument } from '../project-document.ts';
import { alter, edit, type Edit } from './edit.ts';

/** Keeps a stroke of the importance brush; the oldest go where there are too many. */
export function addStroke({ mark, radius, points }: ImportanceStroke): Edit {
  return alter('importance', ({ artwork: { masks } }) => {
    const even = points.slice(0, Math.min(MOST_STROKE_NUMBERS, 2 * Math.floor(points.length / 2)));
    if (even.length < 2 || !(radius > 0)) return;
    masks.importance = [
      ...masks.importance,
      {
        mark,
        radius: Math.min(1, radius),
        points: keepPoints(even.map((share) => clamp(share, -1, 2))),
      },
    ].slice(-MOST_STROKES);
  });
}

/** Takes everything painted away. */
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
