/** Limits `value` to `low..high`; NaN becomes `low`. */
export function clamp(value: number, low: number, high: number): number {
  return value > low ? (value < high ? value : high) : low;
}

/**
 * Removes binary noise from a length in mm: rounded to a nanometre, so that 0.16 + 8 x 0.08 reads 0.8.
 */
export function tidyMm(mm: number): number {
  return Math.round(mm * 1e6) / 1e6;
}

/**
 * Root of an increasing function on `low..high` by bisection on a logarithmic scale.
 * Both limits must be above 0. Where the root lies outside, the nearer limit comes back.
 * 80 halvings leave less than a part in 1e15 of any span used here.
 */
export function bisectLog(increasing: (x: number) => number, low: number, high: number): number {
  let a = Math.log(low);
  let b = Math.log(high);
  for (let i = 0; i < 80; i += 1) {
    const middle = (a + b) / 2;
    if (increasing(Math.exp(middle)) < 0) a = middle;
    else b = middle;
  }
  return Math.exp((a + b) / 2);
}

/**
 * Bytes worked out one by one. `Uint8Array.from` asks an iterator for each: a tenth of a second for a megapixel, where this takes
 * some milliseconds.
 * @param of number of an index, 0..255
 */
export function bytesOf(count: number, of: (index: number) => number): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(count);
  for (let i = 0; i < count; i += 1) bytes[i] = of(i);
  return bytes;
}
