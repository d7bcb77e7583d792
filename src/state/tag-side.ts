import svgpath from 'svgpath';
import { isColoured, isPlaced, type ElementSide } from '#core/tags/tag.ts';
import type { KeptElement, ProjectDocument, TagSlice } from './project-document.ts';
import { withoutSeries, withTagSettled } from './tag-plan.ts';

/** Has a tag a back of its own to work on? */
export function hasOwnBack({ back }: Pick<TagSlice, 'back'>): boolean {
  return back === 'halves' || back === 'one';
}

/** The side that is worked on: the front, where there is no other. */
export function sideAtHand(tag: Pick<TagSlice, 'back'>, wished: ElementSide): ElementSide {
  return hasOwnBack(tag) ? wished : 'front';
}

const bySide = {
  front: new WeakMap<TagSlice, TagSlice>(),
  back: new WeakMap<TagSlice, TagSlice>(),
};

/**
 * One side of a tag as a tag of its own, as it is looked at: with the elements of that side, and seen from the back what goes through
 * it is mirrored. Ids stay, so what is done there is done to the tag itself; see {@link placeFromSide}.
 */
export function tagOfSide(tag: TagSlice, side: ElementSide): TagSlice {
  if (tag.back === 'plain' && !tag.elements.some((one) => isColoured(one) && one.side === 'back'))
    return tag;
  const known = bySide[side].get(tag);
  if (known) return known;
  const own = tag.elements.filter((element) => !isColoured(element) || element.side === side);
  // The front of one piece with a back lies on the bed, whatever is on it; anything else is as if it were alone.
  const back = side === 'front' && tag.back === 'one' ? 'one' : 'plain';
  const made: TagSlice = {
    ...tag,
    back,
    levels: 'own',
    outline: side === 'front' ? tag.outline : mirroredOutline(tag.outline),
    elements: side === 'front' ? own : own.map(fromBehind),
  };
  bySide[side].set(tag, made);
  return made;
}

function mirroredOutline(outline: TagSlice['outline']): TagSlice['outline'] {
  // All other forms are as they are in a mirror.
  return outline.path === undefined
    ? outline
    : { ...outline, path: svgpath(outline.path).scale(-1, 1).toString() };
}

function fromBehind(element: KeptElement): KeptElement {
  if (isColoured(element)) return { ...element, side: 'front' };
  const { xMm, turnDeg, mirrored } = element;
  return { ...element, xMm: -xMm, turnDeg: -turnDeg, mirrored: !mirrored };
}

/** Where an element of a side lies, as the tag itself says it. */
export function placeFromSide<Place extends { readonly xMm: number }>(
  element: KeptElement,
  side: ElementSide,
  place: Place,
): Place {
  return side === 'back' && !isColoured(element) && isPlaced(element)
    ? { ...place, xMm: -place.xMm }
    : place;
}

const shown = {
  front: new WeakMap<ProjectDocument, ProjectDocument>(),
  back: new WeakMap<ProjectDocument, ProjectDocument>(),
};

/** A document as one side of one piece of its tag. */
export function documentOfSide(whole: ProjectDocument, side: ElementSide): ProjectDocument {
  const known = shown[side].get(whole);
  if (known) return known;
  const document = withoutSeries(whole);
  const tag = document.tag && tagOfSide(document.tag, side);
  // Its stack is that of the side alone, so that faces and layers are numbered alike in both.
  const made = tag === document.tag ? document : withTagSettled({ ...document, tag });
  shown[side].set(whole, made);
  return made;
}
