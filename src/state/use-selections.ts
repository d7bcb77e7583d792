import { useEffect, useState } from 'react';
import { Cancelled } from '#core/base/checkpoint.ts';
import type { ShownSelection } from '../workers/artwork/edit-jobs.ts';
import { useDocument, useProject } from './project-context.ts';
import { askingRecipe } from './recipe.ts';

/** Selections as they lie over the edited picture, by id; the last ones while newer ones are on the way. */
export function useShownSelections(ids: readonly string[]): ReadonlyMap<string, ShownSelection> {
  const { worker } = useProject();
  const artwork = useDocument((state) => state.document.artwork);
  const wanted = ids.join(' ');
  const [shown, setShown] = useState<ReadonlyMap<string, ShownSelection>>(new Map());
  useEffect(() => {
    const abort = new AbortController();
    const recipe = askingRecipe(artwork);
    Promise.all(
      wanted
        .split(' ')
        .filter((id) => id !== '')
        .map(async (id) => [id, await worker.run('selection', { recipe, id }, abort)] as const),
    )
      .then((all) => {
        setShown(new Map(all));
      })
      .catch((error: unknown) => {
        // Cancelled, a newer one is on the way; all else the live print says.
        if (!(error instanceof Cancelled)) setShown(new Map());
      });
    return () => {
      abort.abort();
    };
  }, [worker, artwork, wanted]);
  return shown;
}

/**
 * The outline of a selection as an SVG path.
 * @param width of the edited picture where it is drawn
 * @param left where its left side is
 */
export function outlinePath(
  { lines }: ShownSelection,
  width: number,
  height: number,
  left = 0,
  top = 0,
): string {
  return lines
    .map((line) => {
      const places: string[] = [];
      for (let i = 0; i + 1 < line.length; i += 2)
        places.push(
          `${left + (line[i] as number) * width} ${top + (line[i + 1] as number) * height}`,
        );
      return `M${places.join('L')}Z`;
    })
    .join('');
}
