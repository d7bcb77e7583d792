import { fail, succeed, type Fault, type Result } from '#core/base/result.ts';

/** How the text of a file was encoded. */
export type TextEncoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

export type TextFault = Fault<'empty' | 'too-large' | 'not-text'>;

/** Largest text file that is taken in. A rack of 20,000 filaments has about 2 MB. */
export const MOST_TEXT_BYTES = 8_000_000;

/**
 * The text of a file: UTF-16 by its byte order mark, else UTF-8, else what older table programs write. Files with zero
 * bytes (pictures, archives) are no text.
 */
export function decodeText(
  bytes: Uint8Array,
): Result<{ readonly text: string; readonly encoding: TextEncoding }, TextFault> {
  if (bytes.length === 0) return fail('empty');
  if (bytes.length > MOST_TEXT_BYTES)
    return fail('too-large', undefined, `${Math.round(bytes.length / 1e6)} MB`);
  const [a, b] = bytes;
  const marked =
    a === 0xff && b === 0xfe ? 'utf-16le' : a === 0xfe && b === 0xff ? 'utf-16be' : undefined;
  if (marked) return succeed({ text: new TextDecoder(marked).decode(bytes), encoding: marked });
  if (bytes.includes(0)) return fail('not-text');
  try {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return succeed({ text, encoding: 'utf-8' });
  } catch {
    return succeed({
      text: new TextDecoder('windows-1252').decode(bytes),
      encoding: 'windows-1252',
    });
  }
}

/** Why a file is not read as text, in words, to follow its name. */
export function describeTextFault({ code, detail = '' }: TextFault): string {
  switch (code) {
    case 'empty':
      return 'the file is empty (0 bytes). Save or copy it again.';
    case 'too-large':
      return `the file has ${detail}; at most ${MOST_TEXT_BYTES / 1e6} MB can be taken in. Is it the right one?`;
    default:
      return 'this is not a text file. Choose a CSV or JSON file.';
  }
}
