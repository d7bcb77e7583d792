/**
 * How a flush face is printed: its inlays before the rest, which goes over them; or filaments are changed within each of its layers.
 */
export const FLUSH_PRINTS = ['first', 'within'] as const;
export type FlushPrint = (typeof FLUSH_PRINTS)[number];

/** A face on the bed with inlays in it. */
export interface FlushFace {
  readonly print: FlushPrint;
  /** Lowest layers that the inlays reach through. */
  readonly layers: number;
  /** Of the inlays, by their numbers from 1. */
  readonly filaments: readonly string[];
}

/** How far the nozzle keeps above inlays that lie on the bed already, mm over their tops. Common practice, no source. */
export const HOP_MM = 0.5;

/**
 * Changes of filament that a flush face takes, the one to the rest with them: n layers of m filaments take n (m - 1) where they are
 * changed within the layers, and m - 1 where the inlays are printed first.
 * @param inlays filaments besides that of the rest: m - 1
 */
export function flushSwaps(
  { print, layers }: Pick<FlushFace, 'print' | 'layers'>,
  inlays: number,
): number {
  return print === 'first' ? inlays : layers * inlays;
}

/**
 * In which order the parts of each layer are laid where filaments are changed within them: 0 is the rest, other numbers are inlays.
 * Each layer begins with what the one below ended with, and the last one ends with the rest, which goes on above.
 * @returns element n is that of layer n + 1
 */
export function flushOrders({
  layers,
  filaments,
}: Pick<FlushFace, 'layers' | 'filaments'>): number[][] {
  const parts = [0, ...filaments.map((_, i) => i + 1)];
  const orders: number[][] = [];
  let last = 0;
  for (let layer = layers; layer >= 1; layer -= 1) {
    const order = [...parts.filter((part) => part !== last).reverse(), last];
    orders.unshift(order);
    last = order[0] as number;
  }
  return orders;
}

/** The parts of a face by the tools that a file has for them: they are numbered as they are first laid. */
export function toolParts(face: Pick<FlushFace, 'layers' | 'filaments'>): number[] {
  return flushOrders(face)[0] ?? [0];
}
