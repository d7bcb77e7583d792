import { whiteFromGrey } from '#core/edit/light.ts';
import { mapPlace } from '#core/edit/frame.ts';
import type { SelectionStep } from '#core/edit/artwork-edit.ts';
import { edit as makeEdit } from '../../state/edits/edit.ts';
import {
  addCutoutLine,
  addSelection,
  addSelectionStep,
  changePictureEdit,
} from '../../state/edits/picture-edits.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { askingRecipe } from '../../state/recipe.ts';
import { setDesk, type PictureTool } from '../../state/view-store.ts';
import { freshName } from './SelectionBar.tsx';
import { useDesk, useFrame, useOpenEdit } from './use-artwork.ts';

/** What a tool does with the places it was drawn through: shares of the edited picture's sides, x and y in turn. */
export function useToolAction(
  tool: Exclude<PictureTool, 'crop'>,
): (points: readonly number[]) => void {
  const { documents, views, worker } = useProject();
  const change = useDocument((state) => state.change);
  const frame = useFrame();
  const desk = useDesk();
  const open = useOpenEdit();

  /** Places in pixels of the original. */
  const original = (points: readonly number[]): number[] => {
    const out: number[] = [];
    for (let i = 0; i + 1 < points.length; i += 2)
      out.push(
        ...mapPlace(
          frame.toOriginal,
          (points[i] as number) * frame.width,
          (points[i + 1] as number) * frame.height,
        ),
      );
    return out;
  };
  const select = (step: SelectionStep): void => {
    const { artwork } = documents.getState().document;
    const own = artwork.selections.find(({ id }) => id === desk.selection);
    if (own) {
      change(addSelectionStep(own.id, step));
      return;
    }
    // A selection and its first step are one step of history.
    const id = crypto.randomUUID();
    const name = freshName(artwork.selections.map((one) => one.name));
    const both = makeEdit('selections', (document) =>
      addSelectionStep(id, step)(addSelection(id, name)(document)),
    );
    change(both);
    setDesk(views, { selection: id });
  };
  const corners = ([x0 = 0, y0 = 0, x1 = 0, y1 = 0]: readonly number[]): number[] =>
    original([x0, y0, x1, y0, x1, y1, x0, y1]);
  const radius = desk.brush * documents.getState().document.artwork.file.width;

  return (points) => {
    const { way, tolerance, connected } = desk;
    switch (tool) {
      case 'similar': {
        const [x = 0, y = 0] = original(points);
        select({ from: 'similar', x, y, tolerance, connected, way });
        break;
      }
      case 'box':
        if (points.length >= 4) select({ from: 'polygon', points: corners(points), way });
        break;
      case 'lasso':
        if (points.length >= 6) select({ from: 'polygon', points: original(points), way });
        break;
      case 'brush':
        select({ from: 'brush', radius, points: original(points), way });
        break;
      case 'subject': {
        if (points.length < 4 || !open) break;
        const places = corners(points);
        const xs = places.filter((_, i) => i % 2 === 0);
        const ys = places.filter((_, i) => i % 2 === 1);
        const [left, top] = [Math.min(...xs), Math.min(...ys)];
        const box = { left, top, width: Math.max(...xs) - left, height: Math.max(...ys) - top };
        change(changePictureEdit(open.id, { box }));
        break;
      }
      case 'grey': {
        const [x = 0, y = 0] = points;
        if (!open) break;
        void worker
          .run('ask', {
            recipe: askingRecipe(documents.getState().document.artwork),
            editId: open.id,
            question: { of: 'colour', x, y },
          })
          .then(({ colour }) => {
            const white = colour && whiteFromGrey(colour);
            if (white) change(changePictureEdit(open.id, white));
            setDesk(views, { tool: null });
          })
          // The live print tells what is wrong with the worker.
          .catch(() => undefined);
        break;
      }
      default:
        if (open) change(addCutoutLine(open.id, tool, { radius, points: original(points) }));
    }
  };
}
