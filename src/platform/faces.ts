import { faceOf, readFont, type Face, type FontFault } from '#core/tags/font.ts';
import type { Result } from '#core/base/result.ts';

/** A typeface that ships with the app, in one weight. */
export interface ShippedFace {
  readonly id: string;
  readonly name: string;
  readonly weight: 'regular' | 'bold';
  /** Package of its files, and the weight that they are named by. */
  readonly family: string;
  readonly fileWeight: number;
}

const face = (
  id: string,
  name: string,
  weight: ShippedFace['weight'],
  family: string,
  fileWeight: number,
): ShippedFace => ({ id, name, weight, family, fileWeight });

/** The faces that ship, each in two weights: plain, slab, narrow, round. All under the SIL Open Font License 1.1. */
export const SHIPPED_FACES: readonly ShippedFace[] = [
  face('hanken', 'Hanken Grotesk', 'regular', 'hanken-grotesk', 500),
  face('hanken-bold', 'Hanken Grotesk', 'bold', 'hanken-grotesk', 800),
  face('zilla', 'Zilla Slab', 'regular', 'zilla-slab', 500),
  face('zilla-bold', 'Zilla Slab', 'bold', 'zilla-slab', 700),
  face('barlow', 'Barlow Condensed', 'regular', 'barlow-condensed', 500),
  face('barlow-bold', 'Barlow Condensed', 'bold', 'barlow-condensed', 700),
  face('fredoka', 'Fredoka', 'regular', 'fredoka', 500),
  face('fredoka-bold', 'Fredoka', 'bold', 'fredoka', 700),
];

/** What a face is called with its weight. */
export function faceName({ name, weight }: ShippedFace): string {
  return weight === 'bold' ? `${name}, bold` : name;
}

/** Signs of a shipped face lie in two files: those of western languages, and what they lack of others. */
export const FACE_PARTS = ['latin', 'latin-ext'] as const;

const known = new Map<string, Face>();

/** A face by its id, once it was read. */
export function faceById(id: string): Face | undefined {
  return known.get(id);
}

/**
 * Takes a face of font files under an id; the first of them counts where several have a letter.
 * @returns the fault of the first file, where it is none
 */
export function takeFace(
  id: string,
  [first, ...more]: readonly [Uint8Array, ...Uint8Array[]],
): Result<Face, FontFault> {
  const font = readFont(first);
  if (!font.ok) return font;
  const others = more.map(readFont).flatMap((read) => (read.ok ? [read.value] : []));
  const made = faceOf([font.value, ...others]);
  if (made.ok) known.set(id, made.value);
  return made;
}
