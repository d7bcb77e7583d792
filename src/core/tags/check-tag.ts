import { distanceBetween, scaleToLine, thinnest, widthsAlong, type WidthAt } from './fine.ts';
import { isPrinted, liesOn, type PlannedTag } from './plan-tag.ts';
import {
  areaMm2,
  boxOf,
  grown,
  mirroredRings,
  UNITS_PER_MM,
  withoutRings,
  type Ring,
} from './rings.ts';
import type { ElementShape } from './shapes.ts';
import { isColoured, type Tag, type TagElement } from './tag.ts';

/** What can be wrong with an element. */
export const TAG_PROBLEMS = [
  'thin-stroke',
  'thin-gap',
  'rim',
  'outside',
  'level',
  'clash',
  'no-letter',
  'no-outline',
] as const;
export type TagProblemCode = (typeof TAG_PROBLEMS)[number];

/** What is wrong, where, and the number that would mend it. */
export interface TagProblem {
  readonly code: TagProblemCode;
  /** Place in the list of elements; -1 is the plate. */
  readonly element: number;
  /** How much it is: width of a stroke, a gap or a rim, how far something lies outside, or mm of a level. */
  readonly mm: number;
  /** What is wanted in place of that, mm: height of an x, a line's width, the top of the next level that is free. */
  readonly neededMm: number | null;
  /** Where, mm from the middle of the outline. */
  readonly at: { readonly xMm: number; readonly yMm: number } | null;
  /** The other element of a gap, a clash or a rim; a clash without one lies as it cannot be printed, see `WayFault`. */
  readonly other?: number | undefined;
  /** Of a series: which of its names it is, counted from 0. */
  readonly row?: number | undefined;
  /** Letters that are missing, or the fault of an outline. */
  readonly detail?: string | undefined;
}

/** How wide and fine an element is, for its readout. */
export interface ElementFigures {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly strokeMm: number | null;
  readonly gapMm: number | null;
}

/** Widths above this are nobody's trouble, mm. */
const MOST_WIDTH_MM = 3;

/** Less than this beyond the outline is rounding, mm². */
const LEAST_OUTSIDE_MM2 = 0.005;

/** A thinnest part, and how many times larger it would be as wide as a line. */
interface FinePart extends WidthAt {
  readonly scale: number;
}

interface Fine {
  readonly stroke: FinePart | undefined;
  readonly gap: FinePart | undefined;
}

/** Forms whose fine parts are kept. */
const MOST_KEPT = 400;

/** Checks elements; what is fine of a form is looked at once, wherever it lies. */
export class TagChecks {
  #kept = new Map<string, Fine>();

  /** The thinnest stroke and gap of rings, with where they are. */
  fine(rings: readonly Ring[], lineMm: number): Fine {
    const [x, y] = [rings[0]?.[0] ?? 0, rings[0]?.[1] ?? 0];
    const still = rings.map((ring) => ring.map((at, n) => at - (n % 2 === 0 ? x : y)));
    const key = `${lineMm} ${still.map((ring) => ring.join(' ')).join('/')}`;
    let known = this.#kept.get(key);
    if (!known) {
      const part = (inside: boolean): FinePart | undefined => {
        const widths = widthsAlong(still, inside, MOST_WIDTH_MM);
        const at = thinnest(widths, lineMm);
        return at && { ...at, scale: scaleToLine(widths, lineMm) };
      };
      known = { stroke: part(true), gap: part(false) };
      if (this.#kept.size > MOST_KEPT) this.#kept = new Map();
      this.#kept.set(key, known);
    }
    const moved = (at: FinePart | undefined): FinePart | undefined =>
      at && { ...at, xMm: at.xMm + x / UNITS_PER_MM, yMm: at.yMm + y / UNITS_PER_MM };
    return { stroke: moved(known.stroke), gap: moved(known.gap) };
  }

  /** Size of an element and its thinnest parts. */
  figures({ rings }: ElementShape, lineMm: number): ElementFigures | undefined {
    const box = boxOf(rings);
    if (!box) return undefined;
    const { stroke, gap } = this.fine(rings, lineMm);
    return {
      widthMm: box.right - box.left,
      heightMm: box.top - box.bottom,
      strokeMm: stroke?.widthMm ?? null,
      gapMm: gap?.widthMm ?? null,
    };
  }

  /**
   * All that is wrong with a tag, in the order of its elements.
   * @param layerMm of the layers over the plate
   * @param lineMm width of a printed line: nothing finer than that can be printed
   */
  problems(
    tag: Tag,
    planned: PlannedTag,
    { lineMm, layerMm }: { readonly lineMm: number; readonly layerMm: number },
  ): TagProblem[] {
    const problems: TagProblem[] = [];
    const add = (
      code: TagProblemCode,
      element: number,
      mm: number,
      rest: Partial<Omit<TagProblem, 'code' | 'element' | 'mm'>> = {},
    ): void => {
      problems.push({ code, element, mm: rounded(mm), neededMm: null, at: null, ...rest });
    };
    const { outline, shapes, clashes, badLevels, wayFaults } = planned;
    if (outline.rings.length === 0)
      add('no-outline', -1, 0, { detail: outline.fault?.code ?? 'no-area' });
    for (const { element, layers } of badLevels) {
      const own = tag.elements[element];
      if (own && isColoured(own))
        add('level', element, own.level * layerMm, { neededMm: layers * layerMm });
    }
    for (const { element, other } of clashes) {
      const own = tag.elements[element];
      if (own && isColoured(own))
        add('clash', element, own.level * layerMm, {
          other,
          neededMm: freeLevel(tag, own) * layerMm,
        });
    }
    for (const { element, why } of wayFaults) {
      const own = tag.elements[element];
      if (own && isColoured(own)) add('clash', element, own.level * layerMm, { detail: why });
    }
    const plates = [
      outline.rings,
      ...tag.elements.flatMap((element, i) =>
        element.kind === 'loop' ? [(shapes[i] as ElementShape).rings] : [],
      ),
    ];
    const behind = mirroredRings(outline.rings);
    tag.elements.forEach((element, i) => {
      const shape = shapes[i] as ElementShape;
      if (shape.fault)
        add(shape.fault.code === 'no-face' ? 'no-letter' : 'no-outline', i, 0, {
          detail: shape.fault.detail ?? shape.fault.code,
        });
      if (shape.missing) add('no-letter', i, 0, { detail: shape.missing.join(' ') });
      if (shape.rings.length === 0 || !isPrinted(tag, element)) return;
      if (isColoured(element)) {
        gapProblems(tag, shapes, i, lineMm, (mm, at, other) => {
          add('thin-gap', i, mm, { at, other, neededMm: lineMm });
        });
        this.#fineProblems(element, shape.rings, lineMm, (code, mm, rest) => {
          add(code, i, mm, rest);
        });
        if (isCutBehind(tag, shapes, shape)) add('outside', i, 0, { detail: 'hole-behind' });
        const out = outsideOf(shape.rings, element.side === 'back' ? behind : outline.rings);
        if (out) add('outside', i, out.mm, { at: out.at });
        return;
      }
      this.#rimProblems(tag, shapes, plates, i, lineMm, (mm, at, other) => {
        add('rim', i, mm, { at, other, neededMm: lineMm });
      });
    });
    return problems;
  }

  #fineProblems(
    element: TagElement,
    rings: readonly Ring[],
    lineMm: number,
    add: (code: TagProblemCode, mm: number, rest: Pick<TagProblem, 'neededMm' | 'at'>) => void,
  ): void {
    const { stroke, gap } = this.fine(rings, lineMm);
    const tell = (code: TagProblemCode, found: FinePart): void => {
      const { widthMm, xMm, yMm, scale } = found;
      // Lettering grows as a whole, so what would do is told as its own height: that of its capitals, as it is set.
      const neededMm = element.kind === 'text' ? element.heightMm * scale : lineMm;
      add(code, widthMm, { neededMm: rounded(neededMm), at: { xMm, yMm } });
    };
    if (stroke && stroke.widthMm < lineMm - WIDTH_ERROR_MM) tell('thin-stroke', stroke);
    if (gap && gap.widthMm < lineMm - WIDTH_ERROR_MM) tell('thin-gap', gap);
  }

  /** Holes too near to the rim, to each other, or across it. */
  #rimProblems(
    tag: Tag,
    shapes: readonly ElementShape[],
    plates: readonly (readonly Ring[])[],
    i: number,
    lineMm: number,
    add: (mm: number, at: TagProblem['at'], other?: number) => void,
  ): void {
    const own = shapes[i] as ElementShape;
    const hole = tag.elements[i]?.kind === 'loop' ? (own.hole ?? []) : own.rings;
    // Within any of the plates it is rimmed by that one.
    const rims = plates
      .filter((rings) => areaMm2(withoutRings(hole, rings)) < LEAST_OUTSIDE_MM2)
      .map((rings) => distanceBetween(hole, rings))
      .filter((rim) => rim !== undefined);
    if (rims.length === 0) {
      add(0, distanceBetween(hole, plates.flat()) ?? null);
      return;
    }
    const widest = rims.reduce((best, rim) => (rim.mm > best.mm ? rim : best));
    if (widest.mm < lineMm - WIDTH_ERROR_MM) add(widest.mm, widest);
    for (let j = 0; j < i; j += 1) {
      const element = tag.elements[j];
      if (element?.kind !== 'hole' && element?.kind !== 'loop') continue;
      const other = shapes[j] as ElementShape;
      const between = distanceBetween(
        hole,
        element.kind === 'loop' ? (other.hole ?? []) : other.rings,
      );
      if (between && between.mm < lineMm - WIDTH_ERROR_MM) add(between.mm, between, j);
    }
  }
}

/** Widths are right within this, mm: what is as wide as a line is not called thinner. */
const WIDTH_ERROR_MM = 0.01;

const rounded = (mm: number): number => Math.round(mm * 1000) / 1000;

/** Is an element cut by a hole of the other half, where both have the same on them? There holes lie mirrored. */
function isCutBehind(tag: Tag, shapes: readonly ElementShape[], { rings }: ElementShape): boolean {
  if (tag.back !== 'same') return false;
  return tag.elements.some((element, j) => {
    const { rings: own, hole } = shapes[j] as ElementShape;
    const through = element.kind === 'hole' ? own : (hole ?? []);
    return through.length > 0 && !liesOn(rings, through) && liesOn(rings, mirroredRings(through));
  });
}

/** Elements beside each other with less than a line between them; what lies on others has no gap to them, and what touches is one. */
function gapProblems(
  tag: Tag,
  shapes: readonly ElementShape[],
  i: number,
  lineMm: number,
  add: (mm: number, at: TagProblem['at'], other: number) => void,
): void {
  const element = tag.elements[i];
  const own = (shapes[i] as ElementShape).rings;
  const box = boxOf(own);
  if (!box || !element || !isColoured(element)) return;
  for (let j = 0; j < i; j += 1) {
    const other = tag.elements[j];
    const rings = (shapes[j] as ElementShape).rings;
    const near = boxOf(rings);
    if (!other || !near || !isColoured(other) || !isPrinted(tag, other)) continue;
    if (other.side !== element.side || other.way !== element.way) continue;
    const apart = Math.max(
      near.left - box.right,
      box.left - near.right,
      near.bottom - box.top,
      box.bottom - near.top,
    );
    if (apart >= lineMm || liesOn(own, rings)) continue;
    const gap = distanceBetween(own, rings);
    if (gap && gap.mm > WIDTH_ERROR_MM && gap.mm < lineMm - WIDTH_ERROR_MM) add(gap.mm, gap, j);
  }
}

/** How far rings lie beyond an outline. */
function outsideOf(
  rings: readonly Ring[],
  outline: readonly Ring[],
):
  { readonly mm: number; readonly at: { readonly xMm: number; readonly yMm: number } } | undefined {
  const out = withoutRings(rings, outline);
  if (areaMm2(out) < LEAST_OUTSIDE_MM2) return undefined;
  // Grown until nothing is left beyond it, by halves.
  let [low, high] = [0, 1];
  const beyond = (mm: number): boolean => withoutRings(out, grown(outline, mm)).length > 0;
  while (beyond(high) && high < 1000) high *= 2;
  for (let n = 0; n < 12; n += 1) {
    const middle = (low + high) / 2;
    if (beyond(middle)) low = middle;
    else high = middle;
  }
  const box = boxOf(out);
  return {
    mm: high,
    at: box
      ? { xMm: (box.left + box.right) / 2, yMm: (box.bottom + box.top) / 2 }
      : { xMm: 0, yMm: 0 },
  };
}

/** The nearest level from an element's own upward (or deeper) that no other filament has. */
export function freeLevel(tag: Tag, own: Extract<TagElement, { readonly level: number }>): number {
  const taken = new Map<number, string>();
  for (const element of tag.elements)
    if (isColoured(element) && element !== own && element.way === own.way)
      taken.set(element.level, element.filamentId);
  let level = own.level;
  while ((taken.get(level) ?? own.filamentId) !== own.filamentId) level += 1;
  return level;
}
