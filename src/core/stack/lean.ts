/** The strongest lean of heights: mostly relief. */
export const MOST_LEAN = 30;

/** How near a place is near where heights hardly lean, as a share of the scale: tried out; its figures are in docs/bench/heights.md. */
const NEAR_PLACE = 0.45;

/**
 * How near a place must be to where it is wanted to count as near, as a share of the scale: evenly less, the more heights lean, and
 * nothing counts as near where they lean as much as they can.
 * @param price of standing a whole scale away, CIEDE2000; 0..{@link MOST_LEAN}
 */
export function nearPlace(price: number): number {
  return NEAR_PLACE * Math.max(0, 1 - price / MOST_LEAN);
}

/**
 * How far off a place counts that is some way from where it is wanted, both as shares of the scale: by the square while it is near,
 * and straight on from there (P. J. Huber, "Robust Estimation of a Location Parameter", Annals of Mathematical Statistics 35 (1964)).
 * A step or two away harms no relief and often gets a better colour; what stands on the wrong side of the stack is what spoils it. The
 * gain over the plain distance is told in docs/architecture.md.
 * @param near see {@link nearPlace}
 */
export function farOff(distance: number, near: number): number {
  return distance < near ? (distance * distance) / (2 * near) : distance - near / 2;
}
