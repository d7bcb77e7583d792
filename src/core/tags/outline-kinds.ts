/** Longest path data that is read, characters. */
export const LONGEST_PATH = 400_000;

/** The forms that have a name of their own. */
export const NAMED_OUTLINES = [
  'disc',
  'rectangle',
  'rounded',
  'pill',
  'hexagon',
  'heart',
  'shield',
  'drop',
] as const;

/** The forms that the outline of a tag may have, and shapes on it. */
export const OUTLINE_KINDS = [...NAMED_OUTLINES, 'path'] as const;
export type OutlineKind = (typeof OUTLINE_KINDS)[number];

/** A form of a size. */
export interface Outline {
  readonly kind: OutlineKind;
  readonly widthMm: number;
  readonly heightMm: number;
  /** Radius of the corners of a rounded one, mm; no more than half its shorter side. */
  readonly cornerMm: number;
  /** SVG path data, for a path: scaled to width and height. */
  readonly path?: string | undefined;
  /** How lines of a path that lie over each other count; what is wound round by default. */
  readonly fill?: 'nonzero' | 'evenodd' | undefined;
  /** How far the outline of a tag goes beyond a path all round, mm; none where it is missing. */
  readonly grownMm?: number | undefined;
}
