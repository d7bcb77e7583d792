import type { ImportanceStroke, SelectedImportance } from '#core/artwork/importance.ts';
import { inverseMap, joinMaps, mapPlace, type Frame } from '#core/edit/frame.ts';
import type { ArtworkSlice, ProjectDocument } from './project-document.ts';
import { editedFrameOf } from './recipe.ts';
import { pointsOf } from './strokes.ts';

/** A mark as the document has it. */
export type KeptMark = ArtworkSlice['masks']['importance'][number];

/**
 * What was said to matter more or less, in order, with strokes in shares of the edited picture as it is now. A stroke whose
 * places are lost is left out.
 */
export function importanceOf({
  artwork,
}: Pick<ProjectDocument, 'artwork'>): (ImportanceStroke | SelectedImportance)[] {
  const frame = editedFrameOf({ artwork });
  return artwork.masks.importance.flatMap((kept): (ImportanceStroke | SelectedImportance)[] => {
    if ('selection' in kept) return [kept];
    const points = pointsOf(kept.points);
    return points ? [strokeOver(frame, kept, points)] : [];
  });
}

function strokeOver(
  now: Frame,
  { mark, radius, over }: Extract<KeptMark, { readonly points: string }>,
  places: readonly number[],
): ImportanceStroke {
  const map = joinMaps(inverseMap(now.toOriginal), over.toOriginal);
  const points: number[] = [];
  for (let i = 0; i + 1 < places.length; i += 2) {
    const [x, y] = mapPlace(
      map,
      (places[i] as number) * over.width,
      (places[i + 1] as number) * over.height,
    );
    points.push(x / now.width, y / now.height);
  }
  return { mark, radius: (radius * over.width) / now.width, points };
}
