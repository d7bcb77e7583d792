import { dataOf, keepData } from './kept-data.ts';

/** Places that were read already: one list for each digest, so that what follows from them is found again. */
const read = new Map<string, readonly number[]>();

/** Keeps places (x, y in turn, as shares) as 64-bit floats, little-endian, and gives their digest. */
export function keepPoints(points: readonly number[]): string {
  const view = new DataView(new ArrayBuffer(8 * points.length));
  points.forEach((share, i) => {
    view.setFloat64(8 * i, share, true);
  });
  return keepData(new Uint8Array(view.buffer));
}

/** The places of a digest; undefined where they are lost. */
export function pointsOf(digest: string): readonly number[] | undefined {
  const known = read.get(digest);
  const bytes = dataOf(digest);
  if (known || !bytes) return known;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const points = Array.from({ length: Math.floor(bytes.length / 8) }, (_, i) =>
    view.getFloat64(8 * i, true),
  );
  read.set(digest, points);
  return points;
}
