import { strToU8 } from 'fflate';

/** Size of a piece: large files are lists of pieces, since one text or one array of them may be more than the engine holds. */
const PIECE_BYTES = 1 << 20;

/** Bytes of a file in pieces, in their order. */
export type BytePieces = Uint8Array<ArrayBuffer>[];

/** Bytes in all pieces. */
export function bytesIn(pieces: readonly Uint8Array[]): number {
  return pieces.reduce((sum, { length }) => sum + length, 0);
}

/** All pieces as one array. Only for what is known to be small. */
export function joinPieces(pieces: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(bytesIn(pieces));
  let at = 0;
  for (const piece of pieces) {
    out.set(piece, at);
    at += piece.length;
  }
  return out;
}

/** Takes text and bytes, and hands them on in pieces of about a megabyte. */
export class PieceWriter {
  private buffer = new Uint8Array(PIECE_BYTES);
  private used = 0;

  /** @param emit gets each piece once; it may keep it */
  constructor(private readonly emit: (piece: Uint8Array<ArrayBuffer>) => void) {}

  /** Writes text as UTF-8. */
  text(text: string): void {
    const { length } = text;
    if (length > PIECE_BYTES - this.used) this.flush();
    if (length > PIECE_BYTES) {
      this.bytes(strToU8(text));
      return;
    }
    const from = this.used;
    for (let i = 0; i < length; i += 1) {
      const code = text.charCodeAt(i);
      if (code > 127) {
        // Rare: names. Everything else is digits.
        this.used = from;
        this.bytes(strToU8(text));
        return;
      }
      this.buffer[from + i] = code;
    }
    this.used = from + length;
  }

  bytes(bytes: Uint8Array): void {
    let at = 0;
    while (at < bytes.length) {
      if (this.used === PIECE_BYTES) this.flush();
      const part = bytes.subarray(at, at + PIECE_BYTES - this.used);
      this.buffer.set(part, this.used);
      this.used += part.length;
      at += part.length;
    }
  }

  /** Hands on what was taken so far. */
  flush(): void {
    if (this.used === 0) return;
    this.emit(this.buffer.slice(0, this.used));
    this.used = 0;
  }
}

/** Runs a writer and gives what it wrote in pieces. */
export function writePieces(write: (out: PieceWriter) => void): BytePieces {
  const pieces: BytePieces = [];
  const out = new PieceWriter((piece) => pieces.push(piece));
  write(out);
  out.flush();
  return pieces;
}
