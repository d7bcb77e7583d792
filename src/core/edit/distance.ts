/** Stands for no distance at all. */
const FAR = 1e20;

/**
 * Squared distances of a line of samples: the lower envelope of parabolas, of one stretch after the other. A stretch ends where
 * a sample is 0: whatever lies beyond it is farther than that sample is.
 * Source: P. F. Felzenszwalb and D. P. Huttenlocher, "Distance transforms of sampled functions" (2012), section 2.
 */
function transformLine(
  f: Float64Array,
  n: number,
  out: Float64Array,
  roots: Int32Array,
  bounds: Float64Array,
): void {
  let from = 0;
  while (from < n) {
    if (f[from] === 0 && (from + 1 >= n || f[from + 1] === 0)) {
      out[from] = 0;
      from += 1;
      continue;
    }
    let to = from + 1;
    while (to < n && f[to] !== 0) to += 1;
    transformStretch(f, from, Math.min(to, n - 1), out, roots, bounds);
    from = Math.max(to, from + 1);
  }
}

/** The same of `first..last`, both with them. */
function transformStretch(
  f: Float64Array,
  first: number,
  last: number,
  out: Float64Array,
  roots: Int32Array,
  bounds: Float64Array,
): void {
  let k = 0;
  roots[0] = first;
  bounds[0] = -FAR;
  bounds[1] = FAR;
  for (let q = first + 1; q <= last; q += 1) {
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
  for (let q = first; q <= last; q += 1) {
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
