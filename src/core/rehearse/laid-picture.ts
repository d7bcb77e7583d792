import { reflectanceOver, decayOf } from '../optics/kubelka-munk.ts';
import { BIN_COUNT, linearOfSpectrum } from '../optics/spectral-bins.ts';
import type { FilamentOptics } from '../optics/filament-optics.ts';
import { bytesOfLinear } from '../colour/srgb.ts';
import { firstAtLeast, type LaidLayer, type LaidPrint } from './laid-print.ts';
import type { LaidSpool } from './printer-run.ts';
import { orderBefore, stretchesOf, type LaidStretch } from './score.ts';

/** Room for piles that are kept, bytes: going on from the nearest one is quick, and keeping all may take too much. */
const KEPT_BYTES = 64e6;

/**
 * The picture of a print as it is laid: each cell is a pile of the layers that lie there, seen with Kubelka-Munk as in a stack's ramp.
 * Cells with the same pile share one *node* of a tree, so a colour is worked out once for each pile that occurs.
 */
export class LaidPicture {
  /** Colour of each node, packed as canvas pixels; node 0 is the bare plate, which is clear. */
  #colours = new Uint32Array(1024);
  #spectra = new Float64Array(1024 * BIN_COUNT);
  #nodes = 1;
  /** Nodes of all cells after some layers, and the stretches that made them. */
  readonly #kept: (Uint32Array | undefined)[] = [];
  #laidBy: readonly (readonly LaidStretch[])[] = [];
  /** Child of a node under a spool and a thickness. */
  readonly #children = new Map<string, Int32Array>();
  readonly #cells: number;
  /** Layers between two piles that are kept. */
  readonly #every: number;

  constructor(
    private readonly print: LaidPrint,
    /** By id; what is not here lies as nothing. */
    private readonly optics: ReadonlyMap<string, FilamentOptics>,
  ) {
    this.#cells = print.grid.width * print.grid.height;
    this.#every = Math.max(1, Math.ceil((4 * this.#cells * print.layers.length) / KEPT_BYTES));
  }

  /**
   * What lies on the plate at a moment.
   * @param atS seconds of printing
   * @returns four bytes a cell, straight alpha, 0 where nothing lies
   */
  at(laid: readonly LaidSpool[], atS: number): Uint8ClampedArray<ArrayBuffer> {
    const { layers, slotS } = this.print;
    const stretches = layers.map((_, index) => stretchesOf(this.print, index, laid));
    // What is kept holds up to the first layer that was laid otherwise.
    const same = stretches.findIndex((own, n) => !sameStretches(own, this.#laidBy[n]));
    if (same >= 0)
      this.#kept.length = Math.min(this.#kept.length, Math.floor(same / this.#every) + 1);
    this.#laidBy = stretches;
    const slots = atS >= this.print.totalS ? slotS.length : firstAtLeast(slotS, atS + 1e-9);
    let whole = 0;
    while (whole < layers.length && (layers[whole + 1]?.firstSlot ?? slotS.length) <= slots)
      whole += 1;
    const nodes = this.#after(whole);
    const part = layers[whole];
    const pixels = new Uint32Array(this.#cells);
    if (part && slots > part.firstSlot) {
      const own = nodes.slice();
      this.#lay(own, part, clip(stretches[whole] ?? [], slots - part.firstSlot));
      this.#paint(own, pixels);
    } else this.#paint(nodes, pixels);
    return new Uint8ClampedArray(pixels.buffer);
  }

  #paint(nodes: Uint32Array, pixels: Uint32Array): void {
    const colours = this.#colours;
    for (let i = 0; i < pixels.length; i += 1) pixels[i] = colours[nodes[i] as number] as number;
  }

  /** Nodes after a number of whole layers. The result is not to be changed. */
  #after(whole: number): Uint32Array {
    let from = Math.min(Math.floor(whole / this.#every), this.#kept.length - 1);
    while (from > 0 && !this.#kept[from]) from -= 1;
    if (from <= 0) {
      from = 0;
      this.#kept[0] ??= new Uint32Array(this.#cells);
    }
    let nodes = this.#kept[from] as Uint32Array;
    if (whole === from * this.#every) return nodes;
    nodes = nodes.slice();
    for (let index = from * this.#every; index < whole; index += 1) {
      this.#lay(nodes, this.print.layers[index] as LaidLayer, this.#laidBy[index] ?? []);
      if ((index + 1) % this.#every === 0) this.#kept[(index + 1) / this.#every] = nodes.slice();
    }
    return nodes;
  }

  #lay(nodes: Uint32Array, layer: LaidLayer, stretches: readonly LaidStretch[]): void {
    const { order } = layer;
    let from = 1;
    for (const { toSlot, spool } of stretches) {
      const to = orderBefore(layer, toSlot);
      const optics = spool === null ? undefined : this.optics.get(spool);
      if (optics && to >= from)
        this.#layStretch(
          nodes,
          order,
          from,
          to,
          this.#childrenOf(spool as string, layer),
          optics,
          layer,
        );
      from = Math.max(from, to + 1);
    }
  }

  #layStretch(
    nodes: Uint32Array,
    order: Uint16Array,
    from: number,
    to: number,
    known: Int32Array,
    optics: FilamentOptics,
    { thicknessMm }: LaidLayer,
  ): void {
    let children = known;
    for (let i = 0; i < order.length; i += 1) {
      const value = order[i] as number;
      if (value < from || value > to) continue;
      const node = nodes[i] as number;
      if (node >= children.length) children = this.#grown(children);
      let child = children[node] as number;
      if (child === 0) {
        child = this.#pile(node, optics, thicknessMm);
        children[node] = child;
      }
      nodes[i] = child;
    }
  }

  #childrenOf(spool: string, { thicknessMm }: LaidLayer): Int32Array {
    const key = `${thicknessMm.toFixed(4)} ${spool}`;
    let children = this.#children.get(key);
    if (!children || children.length < this.#nodes) {
      const larger = new Int32Array(Math.max(1024, 2 * this.#nodes));
      if (children) larger.set(children);
      children = larger;
      this.#children.set(key, children);
    }
    return children;
  }

  /** A longer table of children in the place of one. */
  #grown(children: Int32Array): Int32Array {
    const larger = new Int32Array(2 * Math.max(children.length, this.#nodes));
    larger.set(children);
    for (const [key, own] of this.#children) if (own === children) this.#children.set(key, larger);
    return larger;
  }

  /** A further layer on a pile. */
  #pile(node: number, optics: FilamentOptics, thicknessMm: number): number {
    const child = this.#nodes;
    this.#nodes += 1;
    if (child >= this.#colours.length) {
      const colours = new Uint32Array(2 * child);
      colours.set(this.#colours);
      this.#colours = colours;
      const spectra = new Float64Array(2 * child * BIN_COUNT);
      spectra.set(this.#spectra);
      this.#spectra = spectra;
    }
    const own = this.#spectra.subarray(child * BIN_COUNT, (child + 1) * BIN_COUNT);
    for (let bin = 0; bin < BIN_COUNT; bin += 1) {
      const opaque = optics.opaque[bin] ?? 0;
      const decay = decayOf(opaque, optics.scatterPerMm[bin] ?? 0, thicknessMm);
      own[bin] = reflectanceOver(this.#spectra[node * BIN_COUNT + bin] as number, opaque, decay);
    }
    const [r, g, b] = bytesOfLinear(linearOfSpectrum(own));
    new Uint8Array(this.#colours.buffer).set([r, g, b, 255], 4 * child);
    return child;
  }
}

function sameStretches(
  one: readonly LaidStretch[],
  other: readonly LaidStretch[] | undefined,
): boolean {
  return (
    one.length === other?.length &&
    one.every(({ toSlot, spool }, n) => other[n]?.toSlot === toSlot && other[n].spool === spool)
  );
}

/** Stretches up to a slot. */
function clip(stretches: readonly LaidStretch[], slots: number): LaidStretch[] {
  return stretches.map(({ toSlot, spool }) => ({ toSlot: Math.min(toSlot, slots), spool }));
}
