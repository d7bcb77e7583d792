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

/** Squared distance of each pixel's middle to the nearest pixel with `inside`; {@link FAR} where there is none. */
export function squaredDistances(
  inside: (index: number) => boolean,
  width: number,
  height: number,
): Float64Array {
  const area = width * height;
  const field = new Float64Array(area);
  // Along a row the distance is simply counted; only the columns need the envelope.
  for (let y = 0; y < height; y += 1) {
    let run = FAR;
    const row = y * width;
    for (let x = 0; x < width; x += 1) {
      run = inside(row + x) ? 0 : run === FAR ? FAR : run + 1;
      field[row + x] = run;
    }
    run = FAR;
    for (let x = width - 1; x >= 0; x -= 1) {
      run = inside(row + x) ? 0 : run === FAR ? FAR : run + 1;
      const nearest = Math.min(run, field[row + x] as number);
      field[row + x] = nearest === FAR ? FAR : nearest * nearest;
    }
  }
  const line = new Float64Array(height);
  const out = new Float64Array(height);
  const roots = new Int32Array(height);
  const bounds = new Float64Array(height + 1);
  for (let x = 0; x < width; x += 1) {
    for (let y = 0; y < height; y += 1) line[y] = field[y * width + x] as number;
    transformLine(line, height, out, roots, bounds);
    for (let y = 0; y < height; y += 1) field[y * width + x] = out[y] as number;
  }
  return field;
}

/**
 * Signed distance of each pixel's middle to the border of a mask, in pixels: above 0 inside. The border lies half way between
 * the middles of pixels inside and outside.
 */
export function signedDistances(mask: Uint8Array, width: number, height: number): Float32Array {
  const outward = squaredDistances((i) => (mask[i] as number) >= 128, width, height);
  const inward = squaredDistances((i) => (mask[i] as number) < 128, width, height);
  return Float32Array.from({ length: mask.length }, (_, i) => {
    const out = outward[i] as number;
    if (out > 0) return 0.5 - Math.sqrt(Math.min(out, FAR));
    return Math.sqrt(Math.min(inward[i] as number, FAR)) - 0.5;
  });
}
