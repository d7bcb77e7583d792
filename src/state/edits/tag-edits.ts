import { clamp } from '#core/base/numbers.ts';
import { MAX_LAYERS } from '#core/base/raster.ts';
import type { Outline } from '#core/tags/outline-kinds.ts';
import {
  isColoured,
  isPlaced,
  type ElementSide,
  type ElementWay,
  type Flush,
  type TagBack,
  type TagElement,
} from '#core/tags/tag.ts';
import type { Filament } from '#core/stack/filament.ts';
import { plannedFilament } from '../document-facts.ts';
import type { KeptElement, ProjectDocument, TagSlice } from '../project-document.ts';
import {
  LONGEST_LETTERING,
  MOST_COLUMNS,
  MOST_ELEMENTS,
  MOST_FLUSH_LAYERS,
  MOST_FONTS,
  MOST_NAMES,
  MOST_PLATE_LAYERS,
  TAG_LIMITS,
} from '#core/tags/tag-limits.ts';
import { tagSchema } from '#core/tags/tag-schema.ts';
import { placeFromSide } from '../tag-side.ts';
import { edit, whole, type Edit } from './edit.ts';

/** An edit of a tag: levels and stack follow (see `edit`). Of a project that is none it does nothing. */
function tagEdit(
  what: string,
  make: (tag: TagSlice, document: ProjectDocument) => TagSlice,
  filament?: Filament,
): Edit {
  return edit(what, (document) => {
    if (!document.tag) return document;
    const tag = make(document.tag, document);
    if (tag === document.tag || !tagSchema.safeParse(tag).success) return document;
    const { stack } = document;
    const filaments = filament
      ? { ...stack.filaments, [filament.id]: plannedFilament(filament) }
      : stack.filaments;
    return { ...document, tag, stack: { ...stack, filaments } };
  });
}

const [LEAST_SIDE, MOST_SIDE] = TAG_LIMITS.sideMm;

/** Numbers of an outline within what can be asked. */
function outlineWithin(outline: TagSlice['outline']): TagSlice['outline'] {
  return {
    ...outline,
    widthMm: clamp(outline.widthMm, LEAST_SIDE, MOST_SIDE),
    heightMm: clamp(outline.heightMm, LEAST_SIDE, MOST_SIDE),
    cornerMm: clamp(outline.cornerMm, 0, MOST_SIDE / 2),
    ...(outline.grownMm === undefined ? {} : { grownMm: clamp(outline.grownMm, 0, 50) }),
  };
}

/** Form and size of the tag itself. */
export function setTagOutline(patch: Partial<Outline>): Edit {
  return tagEdit(`outline ${Object.keys(patch).join(' ')}`, (tag) => ({
    ...tag,
    outline: outlineWithin({ ...tag.outline, ...patch }),
  }));
}

/** Layers of the plate. */
export function setPlateLayers(layers: number): Edit {
  return tagEdit('plate', (tag) => {
    const own = whole(layers, 1, MOST_PLATE_LAYERS);
    return { ...tag, plate: { ...tag.plate, layers: own } };
  });
}

/** Layers of the plate's upper edge that step back. */
export function setChamfer(layers: number): Edit {
  return tagEdit('edge', (tag) => ({
    ...tag,
    plate: { ...tag.plate, chamferLayers: whole(layers, 0, MOST_PLATE_LAYERS) },
  }));
}

/** Filament of the plate. */
export function setPlateFilament(filament: Filament): Edit {
  return tagEdit(
    'plate filament',
    (tag) => ({ ...tag, plate: { ...tag.plate, filamentId: filament.id } }),
    filament,
  );
}

/** Whether levels are found or set by hand. */
export function setTagLevels(levels: TagSlice['levels']): Edit {
  return tagEdit('levels', (tag) => ({ ...tag, levels }));
}

/** How thick inlays are, and how they are printed. */
export function setFlush(patch: Partial<Flush>): Edit {
  return tagEdit(`flush ${Object.keys(patch).join(' ')}`, (tag) => {
    const flush = { ...tag.flush, ...patch };
    return { ...tag, flush: { ...flush, layers: whole(flush.layers, 1, MOST_FLUSH_LAYERS) } };
  });
}

/** What is on the back. */
export function setTagBack(back: TagBack): Edit {
  return tagEdit('back', (tag) => ({ ...tag, back }));
}

/**
 * Puts an element in front of the others; one of a filament that the project does not know gets that of the plate.
 * @param filament its own, where that comes from the rack
 */
export function addElement(element: TagElement, filament?: Filament): Edit {
  const make = (tag: TagSlice, { stack }: ProjectDocument): TagSlice => {
    if (tag.elements.length >= MOST_ELEMENTS || tag.elements.some(({ id }) => id === element.id))
      return tag;
    const known =
      isColoured(element) &&
      element.filamentId !== filament?.id &&
      !Object.hasOwn(stack.filaments, element.filamentId)
        ? { ...element, filamentId: tag.plate.filamentId }
        : element;
    return { ...tag, elements: [...tag.elements, within(known)] };
  };
  return tagEdit('new element', make, filament);
}

/** Takes elements away. */
export function removeElements(ids: readonly string[]): Edit {
  return tagEdit('remove elements', (tag) => {
    const elements = tag.elements.filter(({ id }) => !ids.includes(id));
    return elements.length === tag.elements.length ? tag : { ...tag, elements };
  });
}

/** Copies elements beside themselves, a step to the right and down, in front of all. */
export function duplicateElements(ids: readonly string[], stepMm: number): Edit {
  return tagEdit('duplicate elements', (tag) => {
    const copies = tag.elements
      .filter(({ id }) => ids.includes(id))
      .map((element) => {
        const copy = { ...element, id: crypto.randomUUID(), group: null };
        return isPlaced(copy)
          ? within({ ...copy, xMm: copy.xMm + stepMm, yMm: copy.yMm - stepMm })
          : copy;
      });
    if (copies.length === 0 || tag.elements.length + copies.length > MOST_ELEMENTS) return tag;
    return { ...tag, elements: [...tag.elements, ...copies] };
  });
}

/** Moves an element in the order: 0 is behind all others. */
export function moveElement(id: string, to: number): Edit {
  return tagEdit('order of elements', (tag) => {
    const from = tag.elements.findIndex((element) => element.id === id);
    const at = whole(to, 0, tag.elements.length - 1);
    if (from < 0 || from === at) return tag;
    const elements = [...tag.elements];
    elements.splice(at, 0, ...elements.splice(from, 1));
    return { ...tag, elements };
  });
}

/** What of an element can be said at once; what it does not have is passed by. */
export type ElementPatch = Partial<
  Record<
    | 'xMm'
    | 'yMm'
    | 'turnDeg'
    | 'heightMm'
    | 'tracking'
    | 'lineSpacing'
    | 'arcMm'
    | 'fitMm'
    | 'insetMm'
    | 'widthMm'
    | 'diameterMm'
    | 'lengthMm'
    | 'rimMm'
    | 'layers'
    | 'level',
    number
  > & {
    name: string;
    text: string;
    face: string;
    mirrored: boolean;
    way: ElementWay;
    side: ElementSide;
  } & {
    outline: Partial<Outline>;
  }
>;

/** Changes an element. */
export function patchElement(id: string, patch: ElementPatch): Edit {
  return tagEdit(`element ${id} ${Object.keys(patch).join(' ')}`, (tag) =>
    changed(tag, [id], (element) => {
      const own = Object.fromEntries(
        Object.entries(patch).filter(
          ([key, value]) => key in element && key !== 'outline' && !Number.isNaN(value),
        ),
      );
      const next = { ...element, ...own };
      if (next.kind === 'shape' && patch.outline)
        return within({
          ...next,
          outline: { ...next.outline, ...patch.outline },
        });
      return within(next);
    }),
  );
}

/** Sets lettering in a font of the maker's own; see `keepData`. */
export function setOwnFont(
  element: string,
  font: { readonly id: string; readonly name: string },
): Edit {
  return tagEdit('font', (tag) => {
    const known = tag.fonts.some(({ id }) => id === font.id);
    if (!known && tag.fonts.length >= MOST_FONTS) return tag;
    const fonts = known
      ? tag.fonts
      : [...tag.fonts, { id: font.id, name: font.name.slice(0, 200) }];
    return {
      ...changed(tag, [element], (own) => (own.kind === 'text' ? { ...own, face: font.id } : own)),
      fonts,
    };
  });
}

/** Filament of elements. */
export function setElementFilament(ids: readonly string[], filament: Filament): Edit {
  return tagEdit(
    'filament of elements',
    (tag) =>
      changed(tag, ids, (element) =>
        isColoured(element) ? { ...element, filamentId: filament.id } : element,
      ),
    filament,
  );
}

/** How all coloured elements of a side lie. */
export function setWays(side: ElementSide, way: ElementWay): Edit {
  return tagEdit('ways of a side', (tag) => ({
    ...tag,
    elements: tag.elements.map((element) =>
      isColoured(element) && element.side === side ? { ...element, way } : element,
    ),
  }));
}

/**
 * Where elements lie: from a drag, the arrows, or aligning.
 * @param side from which the places are told: what goes through the piece lies mirrored from the back
 */
export function placeElements(
  places: Readonly<Record<string, { readonly xMm: number; readonly yMm: number }>>,
  side: ElementSide = 'front',
): Edit {
  return tagEdit('place of elements', (tag) =>
    changed(tag, Object.keys(places), (element) => {
      const told = places[element.id];
      const place = told && placeFromSide(element, side, told);
      return place && isPlaced(element) && Number.isFinite(place.xMm + place.yMm)
        ? within({ ...element, xMm: place.xMm, yMm: place.yMm } as KeptElement)
        : element;
    }),
  );
}

/** Makes a piece for each of a list of names, or one alone. Rows and cells beyond what can be are left out. */
export function setSeries(
  table: {
    readonly columns: readonly string[];
    readonly rows: readonly (readonly string[])[];
  } | null,
): Edit {
  return tagEdit('series', (tag) => {
    if (!table || table.columns.length === 0 || table.rows.length === 0)
      return tag.series ? { ...tag, series: null } : tag;
    const columns = table.columns.slice(0, MOST_COLUMNS).map((name) => name.slice(0, 100));
    const rows = table.rows
      .slice(0, MOST_NAMES)
      .map((row) => row.slice(0, columns.length).map((cell) => cell.slice(0, LONGEST_LETTERING)));
    const spacingMm = tag.series?.spacingMm ?? USUAL_SPACING_MM;
    return { ...tag, series: { columns, rows, spacingMm, plate: 0 } };
  });
}

/** Between pieces of a new series, mm. */
const USUAL_SPACING_MM = 4;

/** Which plate of a series is made, counted from 0. */
export function setSeriesPlate(plate: number): Edit {
  return tagEdit('plate of the series', (tag) =>
    tag.series
      ? { ...tag, series: { ...tag.series, plate: whole(plate, 0, tag.series.rows.length - 1) } }
      : tag,
  );
}

/** Room between the pieces of a series, mm. */
export function setSeriesSpacing(mm: number): Edit {
  return tagEdit('room between pieces', (tag) =>
    tag.series ? { ...tag, series: { ...tag.series, spacingMm: clamp(mm, 0, 50) } } : tag,
  );
}

/** Makes one group of elements, or takes them out of theirs. */
export function groupElements(ids: readonly string[], group: string | null): Edit {
  return tagEdit('group', (tag) =>
    changed(tag, ids, (element) => ({ ...element, group: group === '' ? null : group })),
  );
}

function changed(
  tag: TagSlice,
  ids: readonly string[],
  change: (element: KeptElement) => KeptElement,
): TagSlice {
  if (!tag.elements.some(({ id }) => ids.includes(id))) return tag;
  return {
    ...tag,
    elements: tag.elements.map((element) => (ids.includes(element.id) ? change(element) : element)),
  };
}

/** Limits by the names of fields. */
const LIMITS: Readonly<Record<string, readonly [number, number]>> = {
  xMm: TAG_LIMITS.placeMm,
  yMm: TAG_LIMITS.placeMm,
  heightMm: TAG_LIMITS.heightMm,
  tracking: TAG_LIMITS.tracking,
  lineSpacing: TAG_LIMITS.lineSpacing,
  arcMm: TAG_LIMITS.arcMm,
  fitMm: [0, 400],
  insetMm: [0, 100],
  widthMm: TAG_LIMITS.widthMm,
  diameterMm: TAG_LIMITS.holeMm,
  lengthMm: TAG_LIMITS.holeMm,
  rimMm: TAG_LIMITS.widthMm,
};

/** An element with its numbers within what can be asked, angles within a turn, and texts no longer than they may be. */
function within(element: KeptElement): KeptElement {
  const out: Record<string, unknown> = { ...element };
  for (const [key, value] of Object.entries(element)) {
    if (typeof value !== 'number') continue;
    const limits = LIMITS[key];
    if (limits) out[key] = clamp(value, ...limits);
    else if (key === 'layers' || key === 'level') out[key] = whole(value, 1, MAX_LAYERS);
    else if (key === 'turnDeg') out[key] = Number.isFinite(value) ? value % 360 : 0;
  }
  if (typeof out.text === 'string') out.text = out.text.slice(0, LONGEST_LETTERING);
  if (typeof out.name === 'string') out.name = out.name.slice(0, 200);
  if (element.kind === 'hole')
    out.lengthMm = Math.max(out.lengthMm as number, out.diameterMm as number);
  if (element.kind === 'shape') out.outline = outlineWithin(element.outline);
  return out as KeptElement;
}
