import { Unzip, UnzipInflate } from 'fflate';

/**
 * Bytes of the zip that are read before it is counted again: at most 1032 times as many come of them (RFC 1951 codes 258 bytes in
 * two bits at best).
 */
const READ_AT_ONCE = 16_384;

/** A zip holds more than it says, or than is allowed. */
export class TooMuch extends Error {
  constructor(readonly entry: string) {
    super(`${entry} unpacks to more than it may`);
  }
}

/**
 * Unpacks entries of a zip, and counts what comes while it comes: what a zip says of its sizes may be anything.
 * @param most bytes that an entry may come to; undefined leaves it packed
 * @param mostTogether bytes that all of them may come to
 * @throws TooMuch as soon as more has come; an Error where the zip is damaged
 */
export function unzipWithin(
  bytes: Uint8Array,
  most: (name: string) => number | undefined,
  mostTogether = Infinity,
): Map<string, Uint8Array<ArrayBuffer>> {
  const found = new Map<string, Uint8Array<ArrayBuffer>>();
  let together = 0;
  const unzip = new Unzip((file) => {
    const own = most(file.name);
    if (own === undefined) return;
    const pieces: Uint8Array[] = [];
    let counted = 0;
    file.ondata = (error, piece, final) => {
      if (error) throw error;
      counted += piece.length;
      together += piece.length;
      if (counted > own || together > mostTogether) throw new TooMuch(file.name);
      pieces.push(piece);
      if (!final) return;
      const whole = new Uint8Array(counted);
      let at = 0;
      for (const one of pieces) {
        whole.set(one, at);
        at += one.length;
      }
      found.set(file.name, whole);
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  for (let at = 0; at < bytes.length; at += READ_AT_ONCE)
    unzip.push(bytes.subarray(at, at + READ_AT_ONCE), at + READ_AT_ONCE >= bytes.length);
  return found;
}
