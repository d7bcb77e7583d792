/** Bytes that are read in parts, wherever they lie: a file of the maker, or a file with changes. */
export interface ByteSource {
  readonly size: number;
  /** The bytes from one place up to, not with, another. */
  read(from: number, to: number): Promise<Uint8Array>;
}

/** Bytes in memory. */
export function bytesSource(bytes: Uint8Array): ByteSource {
  return { size: bytes.length, read: (from, to) => Promise.resolve(bytes.subarray(from, to)) };
}

/** Bytes in pieces, as files are written. */
export function piecesSource(pieces: readonly Uint8Array[]): ByteSource {
  const ends: number[] = [];
  let size = 0;
  for (const { length } of pieces) ends.push((size += length));
  return {
    size,
    read: (from, to) => {
      const out = new Uint8Array(Math.max(0, Math.min(to, size) - from));
      let filled = 0;
      for (
        let n = ends.findIndex((end) => end > from);
        n >= 0 && n < pieces.length && filled < out.length;
        n += 1
      ) {
        const piece = pieces[n] as Uint8Array;
        const skip = from + filled - ((ends[n] as number) - piece.length);
        const part = piece.subarray(skip, skip + out.length - filled);
        out.set(part, filled);
        filled += part.length;
      }
      return Promise.resolve(out);
    },
  };
}

/** Bytes taken out of a source, or put in, at a place of it. */
export type Change =
  { readonly at: number; readonly put: Uint8Array } | { readonly at: number; readonly cut: number };

/** A stretch of a source, or bytes of its own. */
export type Piece = { readonly from: number; readonly to: number } | Uint8Array;

/** The pieces that a changed source is made of. Changes at one place keep their order. */
export function piecesOf(size: number, changes: readonly Change[]): Piece[] {
  const pieces: Piece[] = [];
  let at = 0;
  for (const change of [...changes].sort((a, b) => a.at - b.at)) {
    if (change.at > at) pieces.push({ from: at, to: change.at });
    at = Math.max(at, change.at);
    if ('put' in change) pieces.push(change.put);
    else at = Math.max(at, change.at + change.cut);
  }
  if (at < size) pieces.push({ from: at, to: size });
  return pieces;
}

/** A source with changes, without a copy of it. */
export function changedSource(source: ByteSource, changes: readonly Change[]): ByteSource {
  const pieces = piecesOf(source.size, changes);
  const lengths = pieces.map((piece) =>
    piece instanceof Uint8Array ? piece.length : piece.to - piece.from,
  );
  const ends: number[] = [];
  let size = 0;
  for (const length of lengths) ends.push((size += length));
  return {
    size,
    read: async (from, to) => {
      const out = new Uint8Array(Math.max(0, Math.min(to, size) - from));
      let filled = 0;
      let n = ends.findIndex((end) => end > from);
      while (n >= 0 && n < pieces.length && filled < out.length) {
        const piece = pieces[n] as Piece;
        const begin = (ends[n] as number) - (lengths[n] as number);
        const skip = from + filled - begin;
        const take = Math.min((lengths[n] as number) - skip, out.length - filled);
        out.set(
          piece instanceof Uint8Array
            ? piece.subarray(skip, skip + take)
            : await source.read(piece.from + skip, piece.from + skip + take),
          filled,
        );
        filled += take;
        n += 1;
      }
      return out;
    },
  };
}

/** Bytes read at once. */
export const CHUNK_BYTES = 1 << 20;

/** Hands all bytes of a source over, chunk by chunk; the next one is fetched meanwhile. */
export async function eachChunk(
  source: ByteSource,
  take: (chunk: Uint8Array, readBytes: number) => void,
  { from = 0, to = source.size, chunkBytes = CHUNK_BYTES } = {},
): Promise<void> {
  let next = from < to ? source.read(from, Math.min(to, from + chunkBytes)) : null;
  let at = from;
  while (next) {
    const chunk = await next;
    if (chunk.length === 0) return;
    at += chunk.length;
    next = at < to ? source.read(at, Math.min(to, at + chunkBytes)) : null;
    take(chunk, at - from);
  }
}
