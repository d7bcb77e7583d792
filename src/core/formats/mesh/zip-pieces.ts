import { Zip, ZipDeflate, ZipPassThrough } from 'fflate';
import { PieceWriter, type BytePieces } from '../../base/byte-pieces.ts';

/** A file of a zip: its name, and what writes it. */
export interface ZipEntry {
  readonly name: string;
  readonly write: (out: PieceWriter) => void;
  /** Left as it is, because it is compressed already. */
  readonly stored?: boolean;
}

/**
 * A zip in pieces: each file is compressed while it is written, and none is ever held as a whole.
 * Source of the layout: PKWARE, .ZIP File Format Specification (APPNOTE), as fflate writes it.
 */
export function zipPieces(entries: readonly ZipEntry[]): BytePieces {
  const pieces: BytePieces = [];
  const failures: Error[] = [];
  const zip = new Zip((error: Error | null, data) => {
    // Typed without null, but null where nothing is wrong.
    if (error) failures.push(error);
    else if (data.length > 0) pieces.push(data);
  });
  for (const { name, write, stored = false } of entries) {
    const file = stored ? new ZipPassThrough(name) : new ZipDeflate(name, { level: 6 });
    zip.add(file);
    const out = new PieceWriter((piece) => {
      file.push(piece);
    });
    write(out);
    out.flush();
    file.push(new Uint8Array(0), true);
  }
  zip.end();
  for (const failure of failures) throw failure;
  return pieces;
}
