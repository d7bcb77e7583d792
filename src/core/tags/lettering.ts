import { FLAT_MM } from './curves.ts';
import type { Face } from './font.ts';
import type { Contour } from './rings.ts';

/** Lettering on a straight line or an arc. */
export interface Lettering {
  /** Lines are parted by line ends. */
  readonly text: string;
  /** Height of the capitals, mm. */
  readonly heightMm: number;
  /** Added between letters, in thousandths of an em, as printers of books count it. */
  readonly tracking: number;
  /** From one baseline to the next, in ems. */
  readonly lineSpacing: number;
  /** Radius of the circle that the baseline lies on, mm: above its middle where it is positive, below where negative; 0 is straight. */
  readonly arcMm: number;
}

/** Lettering that was set. */
export interface SetLettering {
  /** In mm around the middle of the lettering, y up. */
  readonly contours: readonly Contour[];
  /** Letters that the face does not have. */
  readonly missing: readonly string[];
}

interface Placed {
  readonly character: string;
  /** Where it begins, and how wide it is, mm. */
  readonly at: number;
  readonly width: number;
}

/**
 * Sets lettering in a face, with the kerning of its fonts. The middle of a straight one lies half way along its longest line and
 * half way between the top of the capitals of its first line and the baseline of its last; lines are centred. On an arc it is the
 * middle of the arc's first baseline.
 */
export function setLettering(lettering: Lettering, face: Face): SetLettering {
  const { text, heightMm, tracking, lineSpacing, arcMm } = lettering;
  const emMm = heightMm / face.capitals;
  const missing = new Set<string>();
  const lines = text.split(/\r?\n/).map((line) => {
    const placed: Placed[] = [];
    let at = 0;
    let before: string | undefined;
    for (const character of line) {
      const letter = face.letter(character);
      if (!letter) {
        if (character.trim() !== '') missing.add(character);
        at += emMm / 4;
        before = undefined;
        continue;
      }
      if (before !== undefined) at += (face.kerning(before, character) + tracking / 1000) * emMm;
      placed.push({ character, at, width: letter.advance * emMm });
      at += letter.advance * emMm;
      before = character;
    }
    return { placed, width: at };
  });
  const lineMm = lineSpacing * face.line * emMm;
  const tall = heightMm + (lines.length - 1) * lineMm;
  const contours: Contour[] = [];
  lines.forEach(({ placed, width }, n) => {
    const baseline = tall / 2 - heightMm - n * lineMm;
    for (const { character, at, width: own } of placed) {
      const drawn = face.letter(character)?.contours(emMm, FLAT_MM) ?? [];
      const x = at - width / 2;
      for (const line of drawn)
        contours.push(
          arcMm === 0
            ? line.map((value, k) => value + (k % 2 === 0 ? x : baseline))
            : bent(line, x + own / 2, own / 2, n * lineMm, arcMm),
        );
    }
  });
  return { contours, missing: [...missing] };
}

/**
 * A letter turned on a circle so that the middle of its foot touches it.
 * @param middle where that is along the baseline, mm
 * @param belowMm how far its line lies below the first
 */
function bent(
  line: Contour,
  middle: number,
  half: number,
  belowMm: number,
  arcMm: number,
): Contour {
  const over = arcMm > 0;
  // Lines below the first one lie nearer to the middle of a circle that they stand on, and farther from one that they hang in.
  const radius = Math.max(0.1, Math.abs(arcMm) + (over ? -belowMm : belowMm));
  const angle = middle / radius;
  const [sin, cos] = [Math.sin(angle), Math.cos(angle)];
  const out: number[] = [];
  for (let n = 0; n < line.length; n += 2) {
    const x = (line[n] as number) - half;
    const y = line[n + 1] as number;
    // Seen from the middle of the circle a letter stands outward above, and inward below.
    if (over) {
      const r = radius + y;
      out.push(r * sin + x * cos, r * cos - x * sin - Math.abs(arcMm));
    } else {
      const r = radius - y;
      out.push(r * sin + x * cos, -r * cos + x * sin + Math.abs(arcMm));
    }
  }
  return out;
}
