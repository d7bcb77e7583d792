import type { Face } from '#core/tags/font.ts';
import type { FaceView } from '#core/tags/face-ramp.ts';
import type { OutlinePiece } from '#core/tags/outline-piece.ts';
import type { PlannedTag } from '#core/tags/plan-tag.ts';
import type { PlatePlan } from '#core/tags/series.ts';
import { isColoured } from '#core/tags/tag.ts';
import type { ProjectDocument, TagSlice } from './project-document.ts';

export type Tagged = Pick<ProjectDocument, 'stack' | 'tag'>;

/** A series as it is laid out: a piece for each name, by plates. */
export interface PlannedSeries extends PlatePlan {
  /** One for each name. */
  readonly pieces: readonly PlannedTag[];
  readonly cell: { readonly widthMm: number; readonly heightMm: number };
  /** The plate that is made. */
  readonly plate: number;
  readonly piece: OutlinePiece;
  readonly face: FaceView | undefined;
}

export type InSeries = Tagged & Pick<ProjectDocument, 'print'>;

/** What plans tags; see `tag-engine.ts`. */
export interface TagEngine {
  faceOfTag(id: string): Face | undefined;
  plannedTagOf(document: Tagged): PlannedTag | undefined;
  plannedSeriesOf(document: InSeries): PlannedSeries | undefined;
  withTagSettled<T extends Tagged>(document: T): T;
}

let engine: TagEngine | undefined;

/** From now on tags are planned by this. */
export function planTagsWith(own: TagEngine): void {
  engine = own;
}

function theEngine(): TagEngine {
  // Better no tag than one without its letters: a plan of it would be wrong and look right.
  if (!engine) throw new Error('A tag is planned before what plans it was loaded.');
  return engine;
}

/**
 * A face by its id: those that ship are there before a tag is opened, and a font of the maker's own stands beside the document under
 * its digest. Undefined where it is neither.
 */
export function faceOfTag(id: string): Face | undefined {
  return theEngine().faceOfTag(id);
}

/** Everything that follows from a document's tag; undefined where it is none. */
export function plannedTagOf(document: Tagged): PlannedTag | undefined {
  return document.tag ? theEngine().plannedTagOf(document) : undefined;
}

/** The series of a document's tag; undefined where it is one piece alone. */
export function plannedSeriesOf(document: InSeries): PlannedSeries | undefined {
  return document.tag?.series ? theEngine().plannedSeriesOf(document) : undefined;
}

/**
 * A document whose stack is what its tag wants: levels found where they are to be, bands of them. Bands that stay keep their ids.
 */
export function withTagSettled<T extends Tagged>(document: T): T {
  return document.tag ? theEngine().withTagSettled(document) : document;
}

/** What of a tag is made: the piece, or a plate of its series. */
export function pieceOfTag(document: InSeries): OutlinePiece | undefined {
  return plannedSeriesOf(document)?.piece ?? plannedTagOf(document)?.piece;
}

/** How what is made of a tag is looked at, where a face of it lies on the bed. */
export function faceOfDocument(document: InSeries): FaceView | undefined {
  const series = plannedSeriesOf(document);
  return series ? series.face : plannedTagOf(document)?.face;
}

/** A document as one piece of it, whatever its series is. */
export function withoutSeries<T extends Pick<ProjectDocument, 'tag'>>(document: T): T {
  const { tag } = document;
  if (!tag?.series) return document;
  const known = single.get(tag);
  const alone = known ?? { ...tag, series: null };
  if (!known) single.set(tag, alone);
  return { ...document, tag: alone };
}

const single = new WeakMap<TagSlice, TagSlice>();

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
