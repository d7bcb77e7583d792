import { open, rename, rm, type FileHandle } from 'node:fs/promises';
import type { ByteSource, Piece } from '#core/gcode/source.ts';

/** A file that is read in parts. It stays open until it is closed. */
export async function openSource(
  path: string,
): Promise<ByteSource & { readonly close: () => Promise<void> }> {
  const file = await open(path, 'r');
  const { size } = await file.stat();
  return {
    size,
    read: async (from, to) => {
      const bytes = new Uint8Array(Math.max(0, to - from));
      const { bytesRead } = await file.read(bytes, 0, bytes.length, from);
      return bytesRead < bytes.length ? bytes.subarray(0, bytesRead) : bytes;
    },
    close: () => file.close(),
  };
}

/** Bytes copied at once. */
const COPY_BYTES = 4 << 20;

/** Writes pieces of a source to a file, which is there whole or not at all. */
export async function writePieces(
  path: string,
  source: ByteSource,
  pieces: readonly Piece[],
): Promise<void> {
  const part = `${path}.part`;
  let file: FileHandle | null = null;
  try {
    file = await open(part, 'w');
    for (const piece of pieces) {
      if (piece instanceof Uint8Array) {
        await file.write(piece);
        continue;
      }
      for (let at = piece.from; at < piece.to; at += COPY_BYTES)
        await file.write(await source.read(at, Math.min(piece.to, at + COPY_BYTES)));
    }
    await file.close();
    file = null;
    await rename(part, path);
  } catch (error) {
    await file?.close();
    await rm(part, { force: true });
    throw error;
  }
}
