import type { ByteSource, Piece } from '#core/gcode/source.ts';

/** A file of the maker, read in parts. */
export function blobSource(blob: Blob): ByteSource {
  return {
    size: blob.size,
    read: async (from, to) => new Uint8Array(await blob.slice(from, to).arrayBuffer()),
  };
}

/** Pieces of a file as a new one: nothing of it is copied. */
export function blobOf(blob: Blob, pieces: readonly Piece[]): Blob {
  return new Blob(
    pieces.map((piece) =>
      piece instanceof Uint8Array
        ? (piece as Uint8Array<ArrayBuffer>)
        : blob.slice(piece.from, piece.to),
    ),
    { type: 'text/plain' },
  );
}
