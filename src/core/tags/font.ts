import { Unzlib } from 'fflate';
import opentype, { type Font, type Glyph, type PathCommand } from 'opentype.js';
import { fail, succeed, type Fault, type Result } from '../base/result.ts';
import { addCubic, addQuadratic } from './curves.ts';
import type { Contour } from './rings.ts';

export type FontFault =
  Fault<'too-large' | 'too-much' | 'packed' | 'not-a-font'> | Fault<'no-letters' | 'empty-letters'>;

/** Largest font file that is read, bytes. */
export const LARGEST_FONT = 10_000_000;

/** What the tables of a packed font may come to, bytes: three times the largest plain one. */
const MOST_UNPACKED = 30_000_000;

/** Packed bytes that are unpacked before it is counted again: at most 1032 times as many come of them (RFC 1951). */
const UNPACKED_AT_ONCE = 4096;

/** A typeface of one weight, from one file or several that complete each other. */
export interface Face {
  /** Height of its capitals, and of an x, in ems. */
  readonly capitals: number;
  readonly xHeight: number;
  /** From one line to the next, in ems, as it is set without more. */
  readonly line: number;
  /** Draws a letter at the origin, 1 em high, y up; undefined where the face has no such letter. */
  readonly letter: (character: string) => Letter | undefined;
  /** What is added between two letters, in ems. */
  readonly kerning: (left: string, right: string) => number;
}

export interface Letter {
  /** In ems: how far the next letter stands. */
  readonly advance: number;
  /** Contours of a size: mm, the origin on the baseline. */
  readonly contours: (emMm: number, toleranceMm: number) => Contour[];
}

/** Reads a font file: TrueType, OpenType or WOFF. */
export function readFont(bytes: Uint8Array): Result<Font, FontFault> {
  if (bytes.length > LARGEST_FONT) return fail('too-large');
  const kind = String.fromCharCode(...bytes.subarray(0, 4));
  if (kind === 'wOF2') return fail('packed');
  if (kind === 'wOFF') {
    const trouble = woffTrouble(bytes);
    if (trouble) return trouble;
  }
  try {
    const font = opentype.parse(new Uint8Array(bytes).buffer);
    return font.unitsPerEm > 0 ? succeed(font) : fail('not-a-font');
  } catch (error) {
    return fail('not-a-font', undefined, error instanceof Error ? error.message : String(error));
  }
}

/**
 * What is wrong with the tables of a WOFF file (WOFF File Format 1.0, sections 4 and 5), looked at before anything is unpacked for
 * good: its directory says how long each table will be, and a table that comes to more is refused while it is counted.
 */
function woffTrouble(bytes: Uint8Array): Result<never, FontFault> | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const cut = (): Result<never, FontFault> => fail('not-a-font', undefined, 'it is cut off');
  const much = (): Result<never, FontFault> =>
    fail('too-much', undefined, `${MOST_UNPACKED / 1e6} MB`);
  if (bytes.length < 44) return cut();
  const tables = view.getUint16(12);
  if (44 + 20 * tables > bytes.length) return cut();
  let unpacked = 0;
  for (let n = 0; n < tables; n += 1) {
    const entry = 44 + 20 * n;
    const [offset, packed, full] = [4, 8, 12].map((at) => view.getUint32(entry + at)) as [
      number,
      number,
      number,
    ];
    if (offset + packed > bytes.length) return cut();
    unpacked += full;
    if (unpacked > MOST_UNPACKED) return much();
    if (packed >= full) continue;
    let counted = 0;
    const inflate = new Unzlib((piece) => {
      counted += piece.length;
      if (counted > full) throw new Error('more than it says');
    });
    try {
      const table = bytes.subarray(offset, offset + packed);
      for (let at = 0; at < table.length; at += UNPACKED_AT_ONCE)
        inflate.push(table.subarray(at, at + UNPACKED_AT_ONCE), at + UNPACKED_AT_ONCE >= packed);
    } catch (error) {
      if (counted > full) return much();
      return fail('not-a-font', undefined, error instanceof Error ? error.message : String(error));
    }
  }
  return undefined;
}

/** The greatest height of letters of a font, in ems; 0 where it has none of them. */
function heightOf(font: Font, letters: string): number {
  let most = 0;
  for (const letter of letters) {
    if (!has(font, letter)) continue;
    // The first letter that is there decides: those behind it stand in for it.
    for (const command of commandsOf(font.charToGlyph(letter)))
      if ('y' in command) most = Math.max(most, -command.y);
    if (most > 0) break;
  }
  return most;
}

const has = (font: Font, character: string): boolean => font.charToGlyphIndex(character) > 0;

const commandsOf = (glyph: Glyph): readonly PathCommand[] => {
  try {
    return glyph.getPath(0, 0, 1).commands;
  } catch {
    // A damaged letter of a font that otherwise reads is one that is not there.
    return [];
  }
};

/**
 * A face of fonts: each letter comes from the first that has it.
 * @returns a fault where the first has neither capitals nor figures, by which heights are told
 */
export function faceOf(
  fonts: readonly [Font, ...Font[]],
): Result<Face, Fault<'no-letters' | 'empty-letters'>> {
  const [first] = fonts;
  const kept = new Map<string, Letter | undefined>();
  const fontOf = (character: string): Font | undefined =>
    fonts.find((font) => has(font, character));
  const capitals = heightOf(first, 'HEINX0');
  if (!(capitals > 0))
    return fail(
      ['H', 'E', 'I', 'N', 'X', '0'].some((letter) => has(first, letter))
        ? 'empty-letters'
        : 'no-letters',
    );
  return succeed({
    capitals,
    xHeight: heightOf(first, 'xzvwaHX0'),
    line: 1.2,
    letter: (character) => {
      if (!kept.has(character)) {
        const font = fontOf(character);
        kept.set(character, font && letterOf(font, font.charToGlyph(character)));
      }
      return kept.get(character);
    },
    kerning: (left, right) => {
      const font = fontOf(left);
      if (!font || font !== fontOf(right)) return 0;
      const units = font.getKerningValue(font.charToGlyph(left), font.charToGlyph(right));
      return Number.isFinite(units) ? units / font.unitsPerEm : 0;
    },
  });
}

function letterOf(font: Font, glyph: Glyph): Letter {
  const commands = commandsOf(glyph);
  return {
    advance: (glyph.advanceWidth ?? 0) / font.unitsPerEm,
    contours: (emMm, toleranceMm) => flattened(commands, emMm, toleranceMm),
  };
}

function flattened(commands: readonly PathCommand[], emMm: number, toleranceMm: number): Contour[] {
  const contours: number[][] = [];
  let line: number[] = [];
  const at = (): readonly [number, number] => [line.at(-2) ?? 0, line.at(-1) ?? 0];
  const end = (): void => {
    if (line.length >= 6) contours.push(line);
    line = [];
  };
  for (const command of commands) {
    switch (command.type) {
      case 'M':
        end();
        line.push(command.x * emMm, -command.y * emMm);
        break;
      case 'L':
        line.push(command.x * emMm, -command.y * emMm);
        break;
      case 'Q':
        addQuadratic(
          line,
          [...at(), command.x1 * emMm, -command.y1 * emMm, command.x * emMm, -command.y * emMm],
          toleranceMm,
        );
        break;
      case 'C':
        addCubic(
          line,
          [
            ...at(),
            command.x1 * emMm,
            -command.y1 * emMm,
            command.x2 * emMm,
            -command.y2 * emMm,
            command.x * emMm,
            -command.y * emMm,
          ],
          toleranceMm,
        );
        break;
      case 'Z':
        end();
    }
  }
  end();
  return contours;
}
