import {
  NO_EDITS,
  type ArtworkEdit,
  type BrushLine,
  type Recipe,
  type Selection,
  type SelectionStep,
} from '#core/edit/artwork-edit.ts';
import { changesNothing } from '#core/edit/edit-schema.ts';
import { editsDigest } from '#core/edit/edits-digest.ts';
import { frameOfEdits, type Frame } from '#core/edit/frame.ts';
import type { ArtworkSlice, KeptEdit, KeptSelection, ProjectDocument } from './project-document.ts';
import { pointsOf } from './strokes.ts';

/** A line with its places; a line whose places are lost is left out. */
function linesOf<Line extends { readonly points: string }>(
  lines: readonly Line[],
): (Omit<Line, 'points'> & Pick<BrushLine, 'points'>)[] {
  return lines.flatMap((line) => {
    const points = pointsOf(line.points);
    return points ? [{ ...line, points }] : [];
  });
}

/** An edit of a document with the places of its lines. */
export function editOf(kept: KeptEdit): ArtworkEdit {
  if (kept.kind !== 'cutout') return kept;
  return {
    ...kept,
    keep: linesOf(kept.keep),
    drop: linesOf(kept.drop),
    hair: linesOf(kept.hair),
    touch: linesOf(kept.touch),
  };
}

/** A selection of a document with the places of its lines. */
export function selectionOf(kept: KeptSelection): Selection {
  return {
    ...kept,
    steps: kept.steps.flatMap((step): SelectionStep[] => {
      if (step.from !== 'polygon' && step.from !== 'brush') return [step];
      const points = pointsOf(step.points);
      return points ? [{ ...step, points }] : [];
    }),
  };
}

/** Recipes that were made already: a slice never changes in place. */
const made = new WeakMap<ArtworkSlice, Recipe>();
const digests = new WeakMap<Recipe, string | undefined>();

/** All that is done to the picture of a document. */
export function recipeOf({ artwork }: Pick<ProjectDocument, 'artwork'>): Recipe {
  const known = made.get(artwork);
  if (known) return known;
  const edits = artwork.edits
    .filter(({ on }) => on)
    .map(editOf)
    .filter((edit) => !changesNothing(edit));
  const recipe: Recipe =
    edits.length === 0
      ? NO_EDITS
      : {
          key: JSON.stringify([artwork.edits, artwork.selections]),
          edits,
          selections: artwork.selections.map(selectionOf),
        };
  made.set(artwork, recipe);
  return recipe;
}

/** The recipe of a document with all edits in their places, so that one that changes nothing is found too. */
export function askingRecipe(artwork: ArtworkSlice): Recipe {
  const selections = artwork.selections.map(selectionOf);
  const full = recipeOf({ artwork });
  // Edits that are off, or change nothing, have no place in a recipe: they are put back for the question alone.
  const edits = artwork.edits.map((kept) => {
    const own = full.edits.find(({ id }) => id === kept.id);
    return own ?? { ...emptied(kept), on: false };
  });
  return { key: `${full.key}?`, edits, selections };
}

/** An edit that is off, without what is kept beside the document. */
function emptied(kept: KeptEdit): ArtworkEdit {
  return kept.kind === 'cutout' ? { ...kept, keep: [], drop: [], hair: [], touch: [] } : kept;
}

/** What the edits of a document are in its stamp; undefined where nothing is done. */
export function editsDigestOf(document: Pick<ProjectDocument, 'artwork'>): string | undefined {
  const recipe = recipeOf(document);
  if (!digests.has(recipe)) digests.set(recipe, editsDigest(recipe));
  return digests.get(recipe);
}

/** Where the edited picture of a document lies in the original, and its size at full size, in pixels. */
export function editedFrameOf({ artwork }: Pick<ProjectDocument, 'artwork'>): Frame {
  const { file } = artwork;
  return frameOfEdits(file.width, file.height, recipeOf({ artwork }).edits);
}
