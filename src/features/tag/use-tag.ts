import { useMemo } from 'react';
import { layerThicknessMm } from '#core/stack/layer-grid.ts';
import type { PlannedTag } from '#core/tags/plan-tag.ts';
import type { ElementSide } from '#core/tags/tag.ts';
import { useDocument, useView } from '../../state/project-context.ts';
import type { KeptElement, StackSlice, TagSlice } from '../../state/project-document.ts';
import { plannedTagOf } from '../../state/tag-plan.ts';
import { documentOfSide, sideAtHand } from '../../state/tag-side.ts';
import { mm } from './tag-words.ts';

/** The tag of the open project; the stop is only there for one. */
export function useTag(): TagSlice {
  const tag = useDocument((state) => state.document.tag);
  if (!tag) throw new Error('the project is no tag');
  return tag;
}

/** Everything that follows from the tag. */
export function usePlannedTag(): PlannedTag {
  const tag = useDocument((state) => state.document.tag);
  const stack = useDocument((state) => state.document.stack);
  const planned = useMemo(() => plannedTagOf({ tag, stack }), [tag, stack]);
  if (!planned) throw new Error('the project is no tag');
  return planned;
}

/** The side that is worked on, as a tag of its own with all that follows from it, and the stack that it is seen with. */
export function useSide(): {
  readonly side: ElementSide;
  readonly tag: TagSlice;
  readonly planned: PlannedTag;
  readonly bands: StackSlice['bands'];
} {
  const document = useDocument((state) => state.document);
  const wished = useView((state) => state.tagDesk.side);
  return useMemo(() => {
    if (!document.tag) throw new Error('the project is no tag');
    const side = sideAtHand(document.tag, wished);
    const own = documentOfSide(document, side);
    const planned = plannedTagOf(own);
    if (!own.tag || !planned) throw new Error('the project is no tag');
    return { side, tag: own.tag, planned, bands: own.stack.bands };
  }, [document, wished]);
}

/** The elements in hand, in the order of the list. */
export function useSelected(): readonly KeptElement[] {
  const { elements } = useTag();
  const selected = useView((state) => state.tagDesk.selected);
  return useMemo(() => elements.filter(({ id }) => selected.includes(id)), [elements, selected]);
}

/** What a number of layers over the plate is in mm. */
export function useLevelWords(): (layers: number) => string {
  const grid = useDocument((state) => state.document.stack.grid);
  return (layers) => mm(layers * layerThicknessMm(grid, 2));
}
