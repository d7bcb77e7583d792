/** Stands for no distance at all. */
const FAR = 1e20;

/**
 * Squared distances of a line of samples: the lower envelope of parabolas.
 * Source: P. F. Felzenszwalb and D. P. Huttenlocher, "Distance transforms of sampled functions" (2012), section 2.
 */
function transformLine(
  f: Float64Array,
  n: number,
  out: Float64Array,
  roots: Int32Array,
  bounds: Float64Array,
): void {
  let k = 0;
  roots[0] = 0;
  bounds[0] = -FAR;
  bounds[1] = FAR;
  for (let q = 1; q < n; q += 1) {
    const fq = (f[q] as number) + q * q;
    let v = roots[k] as number;
    let s = (fq - ((f[v] as number) + v * v)) / (2 * (q - v));
    while (s <= (bounds[k] as number)) {
      k -= 1;
      v = roots[k] as number;
      s = (fq - ((f[v] as number) + v * v)) / (2 * (q - v));
    }
    k += 1;
    roots[k] = q;
    bounds[k] = s;
    bounds[k + 1] = FAR;
  }
  k = 0;
  for (let q = 0; q < n; q += 1) {
    while ((bounds[k + 1] as number) < q) k += 1;
    const v = roots[k] as number;
    out[q] = (q - v) * (q - v) + (f[v] as number);
  }
}

/**
 * Squared distance of each pixel's middle to the nearest pixel on the wanted side of a mask; {@link FAR} where there is none.
 * @param inside true: pixels of 128 and more; false: the others
 */
export function squaredDistances(
  mask: Uint8Array,
  inside: boolean,
  width: number,
  height: number,
): Float64Array {
  // Column by column, so that the second pass goes through memory in order.
  const field = new Float64Array(width * height);
  for (let y = 0; y < height; y += 1) {
    let run = FAR;
    const row = y * width;
    for (let x = 0, at = y; x < width; x += 1, at += height) {
      run = (mask[row + x] as number) >= 128 === inside ? 0 : run === FAR ? FAR : run + 1;
      field[at] = run;
    }
    run = FAR;
    for (let x = width - 1, at = x * height + y; x >= 0; x -= 1, at -= height) {
      const before = field[at] as number;
      run = before === 0 ? 0 : run === FAR ? FAR : run + 1;
      const nearest = run < before ? run : before;
      field[at] = nearest === FAR ? FAR : nearest * nearest;
    }
  }
  const out = new Float64Array(height);
  const roots = new Int32Array(height);
  const bounds = new Float64Array(height + 1);
  for (let x = 0; x < width; x += 1) {
    const line = field.subarray(x * height, (x + 1) * height);
    transformLine(line, height, out, roots, bounds);
    line.set(out);
  }
  return field;
}

/**
 * Signed distance of each pixel's middle to the border of a mask, in pixels: above 0 inside. The border lies half way between
 * the middles of pixels inside and outside.
 */
export function signedDistances(mask: Uint8Array, width: number, height: number): Float32Array {
  const outward = squaredDistances(mask, true, width, height);
  const inward = squaredDistances(mask, false, width, height);
  const signed = new Float32Array(mask.length);
  for (let x = 0, from = 0; x < width; x += 1)
    for (let y = 0, at = x; y < height; y += 1, at += width, from += 1) {
      const out = outward[from] as number;
      signed[at] = out > 0 ? 0.5 - Math.sqrt(out) : Math.sqrt(inward[from] as number) - 0.5;
    }
  return signed;
}
