/** A Gaussian is cut off after so many standard deviations. */
const CUT_OFF = 3;

/** From here on, in samples, running means come near enough: an edge is off by at most 1 % of its step, measured at 5 to 20. */
const WIDE = 5;

/** Running means that stand for a wide Gaussian. */
const MEANS = 4;

/**
 * A plane blurred by a Gaussian along rows and columns. Nothing lies beyond the ends: what is blurred over them is lost.
 * Wide ones are made of running means: P. Kovesi, "Fast almost-Gaussian filtering", DICTA (2010).
 * @param plane width x height values, row by row; stays as it is
 * @param deviation standard deviation in samples; 0 changes nothing
 */
export function blurPlane(
  plane: Float32Array,
  width: number,
  height: number,
  deviation: number,
): Float32Array {
  if (deviation >= WIDE) return blurWide(plane, width, height, deviation);
  const half = kernelOf(deviation);
  if (half.length === 1) return plane.slice();
  const rows = new Float32Array(plane.length);
  const out = new Float32Array(plane.length);
  for (let y = 0; y < height; y += 1) blurRow(plane, rows, y * width, width, half);
  // Whole rows at a time: columns one by one would miss the processor's cache at each step.
  for (let y = 0; y < height; y += 1)
    for (let k = 1 - half.length; k < half.length; k += 1) {
      const row = y + k;
      if (row < 0 || row >= height) continue;
      const weight = half[Math.abs(k)] as number;
      const to = y * width;
      const from = row * width;
      for (let x = 0; x < width; x += 1)
        out[to + x] = (out[to + x] as number) + weight * (rows[from + x] as number);
    }
  return out;
}

/** Half of a Gaussian, its middle first, with the whole summing to 1. */
function kernelOf(deviation: number): Float32Array {
  const reach = Math.ceil(CUT_OFF * deviation);
  const half = Float32Array.from({ length: reach + 1 }, (_, i) =>
    i === 0 ? 1 : Math.exp(-0.5 * (i / deviation) ** 2),
  );
  const sum = half.reduce((total, one, i) => total + (i === 0 ? one : 2 * one), 0);
  return half.map((one) => one / sum);
}

function blurRow(
  from: Float32Array,
  to: Float32Array,
  start: number,
  count: number,
  half: Float32Array,
): void {
  for (let n = 0; n < count; n += 1) {
    const i = start + n;
    let sum = (half[0] as number) * (from[i] as number);
    for (let k = 1; k < half.length; k += 1) {
      const before = n >= k ? (from[i - k] as number) : 0;
      const after = n + k < count ? (from[i + k] as number) : 0;
      sum += (half[k] as number) * (before + after);
    }
    to[i] = sum;
  }
}

function blurWide(
  plane: Float32Array,
  width: number,
  height: number,
  deviation: number,
): Float32Array {
  const ideal = Math.sqrt((12 * deviation * deviation) / MEANS + 1);
  const low = 2 * Math.floor((ideal - 1) / 2) + 1;
  const lower = Math.round(
    (12 * deviation * deviation - MEANS * low * low - 4 * MEANS * low - 3 * MEANS) / (-4 * low - 4),
  );
  // What a mean carries over an end comes back with the next one, so ends get room for all of them.
  const room = Math.ceil((MEANS * (low + 1)) / 2);
  let lines = padded(plane, width, height, room);
  const along = width + 2 * room;
  for (let n = 0; n < MEANS; n += 1)
    lines = means(lines, height, along, n < lower ? (low - 1) / 2 : (low + 1) / 2);
  const rows = turned(lines, height, along, room, width);
  let columns = padded(rows, height, width, room);
  const down = height + 2 * room;
  for (let n = 0; n < MEANS; n += 1)
    columns = means(columns, width, down, n < lower ? (low - 1) / 2 : (low + 1) / 2);
  return turned(columns, width, down, room, height);
}

/** Lines with `room` zeros at both ends. */
function padded(plane: Float32Array, length: number, lines: number, room: number): Float32Array {
  const out = new Float32Array((length + 2 * room) * lines);
  for (let n = 0; n < lines; n += 1)
    out.set(plane.subarray(n * length, (n + 1) * length), n * (length + 2 * room) + room);
  return out;
}

/** Running means over `2 r + 1` values of each line. */
function means(from: Float32Array, lines: number, length: number, r: number): Float32Array {
  const out = new Float32Array(from.length);
  const share = 1 / (2 * r + 1);
  for (let n = 0; n < lines; n += 1) {
    const start = n * length;
    let sum = 0;
    for (let i = 0; i < Math.min(r, length); i += 1) sum += from[start + i] as number;
    for (let i = 0; i < length; i += 1) {
      if (i + r < length) sum += from[start + i + r] as number;
      if (i - r - 1 >= 0) sum -= from[start + i - r - 1] as number;
      out[start + i] = sum * share;
    }
  }
  return out;
}

/** Lines without the room at their ends, as the columns of the result. */
function turned(
  from: Float32Array,
  lines: number,
  length: number,
  room: number,
  kept: number,
): Float32Array {
  const out = new Float32Array(lines * kept);
  for (let n = 0; n < lines; n += 1)
    for (let i = 0; i < kept; i += 1) out[i * lines + n] = from[n * length + room + i] as number;
  return out;
}
