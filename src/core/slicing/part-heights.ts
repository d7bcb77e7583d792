import type { HeightMap } from '../base/raster.ts';
import type { Inlaid } from '../relief/inlaid.ts';

/**
 * Heights of one part of a piece, as far as layers are concerned: of a piece with inlays its lowest layers belong to the rest and to
 * each inlay apart. 0 is the rest, other numbers are inlays.
 */
export class PartHeights {
  readonly #heights: HeightMap;
  readonly #inlaid: Inlaid | undefined;
  /** Of the lowest layers, by part. */
  readonly #low = new Map<number, Uint8Array>();
  readonly #nothing: Uint8Array;

  constructor(heights: HeightMap, inlaid: Inlaid | undefined) {
    this.#heights = heights;
    this.#inlaid = inlaid;
    this.#nothing = inlaid ? new Uint8Array(heights.data.length) : heights.data;
  }

  /** For each sample how many layers the part has there, true for this layer: it reaches it where they are as many. */
  at(layer: number, part: number): Uint8Array {
    const inlaid = this.#inlaid;
    const { data } = this.#heights;
    if (!inlaid) return data;
    if (layer > inlaid.layers) return part === 0 ? data : this.#nothing;
    let low = this.#low.get(part);
    if (!low) {
      low = data.map((layers, i) => (inlaid.map.data[i] === part ? layers : 0));
      this.#low.set(part, low);
    }
    return low;
  }
}
