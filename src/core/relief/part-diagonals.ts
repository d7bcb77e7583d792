import type { HeightMap } from '../base/raster.ts';

/** A height map whose solid has clean edges, and how many samples had to be raised for it. */
export interface PartedHeights {
  readonly heights: HeightMap;
  readonly raisedSamples: number;
}

/**
 * Where two samples touch only diagonally above their neighbours, four wall faces would share one edge and the solid
 * would not be well formed. The higher of the two neighbours is raised to the lower of the two samples (a cut-away
 * neighbour thereby gets printed), again and again until no such place is left. Heights only grow and never pass the
 * tallest sample, so it ends. The input is not changed.
 */
export function partDiagonals(source: HeightMap): PartedHeights {
  const { width, height } = source;
  const data = source.data.slice();
  let raisedSamples = 0;
  // Raising a sample can only make new diagonals at its own four corners, so those are looked at again.
  const waiting: number[] = [];
  const mend = (corner: number): void => {
    const a = corner;
    const b = corner + 1;
    const c = corner + width;
    const d = c + 1;
    const raised =
      raise(data, b, c, Math.min(data[a] as number, data[d] as number)) ??
      raise(data, a, d, Math.min(data[b] as number, data[c] as number));
    if (raised === undefined) return;
    raisedSamples += 1;
    const x = raised % width;
    const y = (raised - x) / width;
    for (let dy = -1; dy <= 0; dy += 1)
      for (let dx = -1; dx <= 0; dx += 1)
        if (x + dx >= 0 && x + dx < width - 1 && y + dy >= 0 && y + dy < height - 1)
          waiting.push((y + dy) * width + x + dx);
  };
  for (let y = 0; y < height - 1; y += 1) {
    for (let x = 0; x < width - 1; x += 1) {
      mend(y * width + x);
      for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) mend(next);
    }
  }
  return { heights: { width, height, data }, raisedSamples };
}

/** Raises the higher of two samples to `level` when both lie below it; tells which one it raised. */
function raise(data: Uint8Array, first: number, second: number, level: number): number | undefined {
  const one = data[first] as number;
  const two = data[second] as number;
  if (one >= level || two >= level) return undefined;
  const higher = one >= two ? first : second;
  data[higher] = level;
  return higher;
}
