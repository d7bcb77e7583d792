import { MAX_LAYERS } from '#core/base/raster.ts';
import { planTag, withFoundLevels, type PlannedTag } from '#core/tags/plan-tag.ts';
import { TagShapes } from '#core/tags/shapes.ts';
import { isColoured } from '#core/tags/tag.ts';
import { faceById } from '../platform/faces.ts';
import type { ProjectDocument, StackSlice, TagSlice } from './project-document.ts';

type Tagged = Pick<ProjectDocument, 'stack' | 'tag'>;

/** Forms of elements, kept for all projects of the page. Faces are there before a tag is opened. */
export const tagShapes = new TagShapes(faceById);

const planned = new WeakMap<TagSlice, Map<string, PlannedTag>>();

/** Everything that follows from a document's tag; undefined where it is none. */
export function plannedTagOf({ tag, stack: { grid } }: Tagged): PlannedTag | undefined {
  if (!tag) return undefined;
  const key = JSON.stringify(grid);
  const known = planned.get(tag) ?? new Map<string, PlannedTag>();
  planned.set(tag, known);
  let plan = known.get(key);
  if (!plan) known.set(key, (plan = planTag(tag, tagShapes, grid)));
  return plan;
}

/** The filaments that a tag names. */
export function filamentsOfTag({ plate, elements }: TagSlice): string[] {
  return [
    ...new Set([
      plate.filamentId,
      ...elements.flatMap((element) => (isColoured(element) ? [element.filamentId] : [])),
    ]),
  ];
}

/** The faces that a tag's lettering is set in. */
export function facesOf({ elements }: TagSlice): string[] {
  return [
    ...new Set(elements.flatMap((element) => (element.kind === 'text' ? [element.face] : []))),
  ];
}

/**
 * A document whose stack is what its tag wants: levels found where they are to be, bands of them. Bands that stay keep their ids.
 */
export function withTagSettled<T extends Tagged>(document: T): T {
  const { tag: given, stack } = document;
  if (!given) return document;
  const found = given.levels === 'found' ? withFoundLevels(given, tagShapes) : given;
  const tag = { ...given, elements: limited(found as TagSlice) };
  const { bands } = planTag(tag, tagShapes, stack.grid);
  return { ...document, tag, stack: { ...stack, bands: withIds(bands, stack.bands) } };
}

/** Levels that no stack would hold are brought down to the highest that it does. */
function limited({ elements, plate }: TagSlice): TagSlice['elements'] {
  const over = Math.max(1, MAX_LAYERS - plate.layers);
  return elements.map((element) => {
    if (!isColoured(element)) return element;
    const most = element.way === 'raised' ? over : MAX_LAYERS;
    return element.level > most ? { ...element, level: most } : element;
  });
}

function withIds(bands: PlannedTag['bands'], before: StackSlice['bands']): StackSlice['bands'] {
  const free = [...before];
  return bands.map(({ filamentId, layers }) => {
    const i = free.findIndex((band) => band.filamentId === filamentId);
    const [old] = i < 0 ? [] : free.splice(i, 1);
    return { id: old?.id ?? crypto.randomUUID(), filamentId, layers };
  });
}
