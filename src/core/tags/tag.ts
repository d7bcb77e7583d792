import type { FlushPrint } from '../stack/flush.ts';
import type { Outline } from './outline-kinds.ts';

/** How an element of a colour lies: over the plate, in it, or level with its face. */
export const ELEMENT_WAYS = ['raised', 'sunk', 'flush'] as const;
export type ElementWay = (typeof ELEMENT_WAYS)[number];

/** Which side of a piece an element is on, seen from there. Holes and loops go through both, seen from the front. */
export const ELEMENT_SIDES = ['front', 'back'] as const;
export type ElementSide = (typeof ELEMENT_SIDES)[number];

/**
 * What is on the back: nothing; or the piece is made of two halves to glue, with the same elements on both or with others; or it is
 * one piece, whose front then lies on the bed and is flush.
 */
export const TAG_BACKS = ['plain', 'same', 'halves', 'one'] as const;
export type TagBack = (typeof TAG_BACKS)[number];

/** How many layers inlays are thick, and how they are printed. */
export interface Flush {
  readonly print: FlushPrint;
  readonly layers: number;
}

/** Inlays of 0.4 mm where layers are of 0.2. Common practice, no source. */
export const USUAL_FLUSH: Flush = { print: 'first', layers: 2 };

/** Where an element lies: mm from the middle of the outline, x to the right, y up. */
export interface Place {
  readonly xMm: number;
  readonly yMm: number;
  /** Counter-clockwise. */
  readonly turnDeg: number;
  /** Left and right changed, before it is turned. */
  readonly mirrored: boolean;
}

/** In which layers an element lies. */
export interface Colour {
  readonly filamentId: string;
  readonly way: ElementWay;
  readonly side: ElementSide;
  /** How many layers of its own filament it wants; used where levels are found. */
  readonly layers: number;
  /** Layers over the plate, or down into it; of what is flush nothing follows from it. */
  readonly level: number;
}

interface Named {
  readonly id: string;
  /** What the maker calls it; empty where it goes by what it is. */
  readonly name: string;
  /** Elements of one group are taken in hand together. */
  readonly group: string | null;
}

export interface TextElement extends Named, Place, Colour {
  readonly kind: 'text';
  readonly text: string;
  /** Id of a face: a shipped one, or a font of the maker's own by its digest. */
  readonly face: string;
  readonly heightMm: number;
  readonly tracking: number;
  readonly lineSpacing: number;
  readonly arcMm: number;
  /** Lettering that would be wider is set smaller, down to half its height; 0 leaves it as it is. */
  readonly fitMm: number;
}

export interface ShapeElement extends Named, Place, Colour {
  readonly kind: 'shape';
  readonly outline: Outline;
}

/** A raised line along the rim of the outline. */
export interface RimElement extends Named, Colour {
  readonly kind: 'rim';
  readonly insetMm: number;
  readonly widthMm: number;
}

export interface HoleElement extends Named, Place {
  readonly kind: 'hole';
  readonly diameterMm: number;
  /** From one end to the other of a slot; the diameter of a round hole. */
  readonly lengthMm: number;
}

/** A ring that goes beyond the outline, with a hole in it; of the plate's layers and filament. */
export interface LoopElement extends Named, Place {
  readonly kind: 'loop';
  readonly diameterMm: number;
  /** Width of the ring around the hole. */
  readonly rimMm: number;
}

export type TagElement = TextElement | ShapeElement | RimElement | HoleElement | LoopElement;
export type ElementKind = TagElement['kind'];
export type ColouredElement = TextElement | ShapeElement | RimElement;

/** A flat-colour piece built from outlines. */
export interface Tag {
  readonly outline: Outline;
  readonly plate: {
    readonly filamentId: string;
    readonly layers: number;
    /** Layers of its upper edge that step back, each by as much as it is high; 0 leaves it straight. */
    readonly chamferLayers: number;
  };
  readonly flush: Flush;
  readonly back: TagBack;
  /** Of each side from below to above. */
  readonly elements: readonly TagElement[];
  /** Levels follow from filaments and what lies on what, with the fewest swaps; or each is set by hand. */
  readonly levels: 'found' | 'own';
  /** Names of which each gets a piece; null where there is one alone. */
  readonly series: Series | null;
  /** Fonts of the maker's own, by the digest of their files. */
  readonly fonts: readonly { readonly id: string; readonly name: string }[];
}

/** A list of names: the same tag for each of them. */
export interface Series {
  readonly columns: readonly string[];
  /** A cell for each column. */
  readonly rows: readonly (readonly string[])[];
  /** Between pieces on the bed. */
  readonly spacingMm: number;
  /** Which of the plates is made, counted from 0. */
  readonly plate: number;
}

/** Has an element layers and a filament of its own? */
export function isColoured(element: TagElement): element is ColouredElement {
  return element.kind === 'text' || element.kind === 'shape' || element.kind === 'rim';
}

/** Can an element be moved? */
export function isPlaced(element: TagElement): element is TagElement & Place {
  return element.kind !== 'rim';
}

/** The elements of the face that a half or a piece is seen from, with what goes through it. */
export function isOnSide(
  { back }: Pick<Tag, 'back'>,
  element: TagElement,
  side: ElementSide,
): boolean {
  if (!isColoured(element)) return true;
  return side === 'back' && back === 'same' ? element.side === 'front' : element.side === side;
}

/** Does a face of a tag lie on the bed? Where anything on it is flush, and where the back is printed over it. */
export function liesOnFace(
  tag: Pick<Tag, 'back' | 'elements'>,
  side: ElementSide = 'front',
): boolean {
  if (side === 'back' && tag.back === 'plain') return false;
  if (tag.back === 'one') return side === 'front';
  return tag.elements.some(
    (element) => isColoured(element) && element.way === 'flush' && isOnSide(tag, element, side),
  );
}
