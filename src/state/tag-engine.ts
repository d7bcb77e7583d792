import { MAX_LAYERS } from '#core/base/raster.ts';
import { planTag, withFoundLevels, type PlannedTag } from '#core/tags/plan-tag.ts';
import type { OutlinePiece } from '#core/tags/outline-piece.ts';
import { fillFields, joinPieces, planPlates, rowOf } from '#core/tags/series.ts';
import { TagShapes } from '#core/tags/shapes.ts';
import { isColoured } from '#core/tags/tag.ts';
import type { Face } from '#core/tags/font.ts';
import { faceById, takeFace } from '../platform/faces.ts';
import { dataOf } from './kept-data.ts';
import type { StackSlice, TagSlice } from './project-document.ts';
import type { InSeries, PlannedSeries, TagEngine, Tagged } from './tag-plan.ts';

/**
 * Plans tags, with what only they need: fonts are read, polygons are cut. A page without a tag never loads it; see `ready-for-tags.ts`.
 */
export const tagEngine: TagEngine = { faceOfTag, plannedTagOf, plannedSeriesOf, withTagSettled };

/**
 * A face by its id: those that ship are there before a tag is opened, and a font of the maker's own stands beside the document under
 * its digest. Undefined where it is neither.
 */
function faceOfTag(id: string): Face | undefined {
  const known = faceById(id);
  if (known) return known;
  const bytes = dataOf(id);
  const taken = bytes && takeFace(id, [bytes]);
  return taken?.ok === true ? taken.value : undefined;
}

/** Forms of elements, kept for all projects of the page. */
const tagShapes = new TagShapes(faceOfTag);

const planned = new WeakMap<TagSlice, Map<string, PlannedTag>>();

/** Everything that follows from a document's tag; undefined where it is none. */
function plannedTagOf({ tag, stack: { grid } }: Tagged): PlannedTag | undefined {
  if (!tag) return undefined;
  const key = JSON.stringify(grid);
  const known = planned.get(tag) ?? new Map<string, PlannedTag>();
  planned.set(tag, known);
  let plan = known.get(key);
  if (!plan) known.set(key, (plan = planTag(tag, tagShapes, grid)));
  return plan;
}

const plannedSeries = new WeakMap<TagSlice, Map<string, PlannedSeries>>();

/** The series of a document's tag; undefined where it is one piece alone. */
function plannedSeriesOf(document: InSeries): PlannedSeries | undefined {
  const { tag, stack, print } = document;
  if (!tag?.series) return undefined;
  const { bed } = print.printer;
  const key = JSON.stringify([stack.grid, bed]);
  const known = plannedSeries.get(tag) ?? new Map<string, PlannedSeries>();
  plannedSeries.set(tag, known);
  let plan = known.get(key);
  if (!plan) known.set(key, (plan = planSeries(tag, tag.series, document)));
  return plan;
}

function planSeries(
  tag: TagSlice,
  series: NonNullable<TagSlice['series']>,
  { stack: { grid }, print: { printer } }: InSeries,
): PlannedSeries {
  const digits = String(series.rows.length).length;
  const pieces = series.rows.map((_, i) =>
    planTag(fillFields(tag, rowOf(series, i), i + 1, digits), tagShapes, grid),
  );
  const cell = pieces.reduce(
    ({ widthMm, heightMm }, { piece: { box } }) => ({
      widthMm: Math.max(widthMm, box.right - box.left),
      heightMm: Math.max(heightMm, box.top - box.bottom),
    }),
    { widthMm: 0, heightMm: 0 },
  );
  const { bed } = printer;
  const side = bed.shape === 'round' ? bed.diameterMm * Math.SQRT1_2 : 0;
  const room = bed.shape === 'round' ? { widthMm: side, depthMm: side } : bed;
  const plates = planPlates(pieces.length, cell.widthMm, cell.heightMm, series.spacingMm, room);
  const plate = Math.min(series.plate, plates.plates - 1);
  const own = pieces.slice(plate * plates.perPlate, (plate + 1) * plates.perPlate);
  const join = (of: (planned: PlannedTag) => OutlinePiece): OutlinePiece =>
    joinPieces(own.map(of), plates.columns, cell, series.spacingMm);
  const face = own[0]?.face;
  return {
    ...plates,
    pieces,
    cell,
    plate,
    piece: join(({ piece }) => piece),
    face: face && { ...face, piece: join((planned) => planned.face?.piece ?? planned.piece) },
  };
}

/**
 * A document whose stack is what its tag wants: levels found where they are to be, bands of them. Bands that stay keep their ids.
 */
function withTagSettled<T extends Tagged>(document: T): T {
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
