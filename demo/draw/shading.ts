import { createNoise2D } from 'simplex-noise';

/** Linear-ish working colour, 0..1 in sRGB code values: these pictures are composed by eye, not measured. */
export type Rgb = readonly [number, number, number];

/** Colour and coverage of one spot. */
export type Rgba = readonly [number, number, number, number];

/** A picture as a function of place: x and y in pixels, top left origin. */
export type Shader = (x: number, y: number) => Rgba;

/** Repeatable random numbers 0..1 (mulberry32, public domain). */
export function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Fractal noise, about -1..1: `octaves` of simplex noise, each twice as fine and half as strong. */
export function fractal(seed: number): (x: number, y: number, octaves: number) => number {
  const noise = createNoise2D(randomFrom(seed));
  return (x, y, octaves) => {
    let sum = 0;
    let strength = 0.5;
    let scale = 1;
    for (let i = 0; i < octaves; i += 1) {
      sum += strength * noise(x * scale + i * 17.3, y * scale - i * 9.1);
      strength /= 2;
      scale *= 2.03;
    }
    return sum;
  };
}

export const clamp01 = (x: number): number => (x < 0 ? 0 : x > 1 ? 1 : x);

/** Smooth step from 0 at `low` to 1 at `high` (which may be the smaller). */
export function smooth(low: number, high: number, x: number): number {
  const t = clamp01((x - low) / (high - low));
  return t * t * (3 - 2 * t);
}

export function mix(a: Rgb, b: Rgb, t: number): Rgb {
  return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];
}

export function add(a: Rgb, b: Rgb, strength: number): Rgb {
  return [a[0] + b[0] * strength, a[1] + b[1] * strength, a[2] + b[2] * strength];
}

/** `#rrggbb` as a working colour. */
export function hex(text: string): Rgb {
  const value = Number.parseInt(text.slice(1), 16);
  return [(value >> 16) / 255, ((value >> 8) & 255) / 255, (value & 255) / 255];
}

/** A colour scale through the given stops; places outside take the end colours. */
export function scale(stops: readonly (readonly [number, string])[]): (t: number) => Rgb {
  const parsed = stops.map(([at, text]) => [at, hex(text)] as const);
  return (t) => {
    let [lowAt, low] = parsed[0] as readonly [number, Rgb];
    for (const [at, colour] of parsed) {
      if (t <= at) return at === lowAt ? colour : mix(low, colour, smooth(lowAt, at, t));
      [lowAt, low] = [at, colour];
    }
    return low;
  };
}

/** A field of stars to be added onto a sky: brightness at a place. */
export function stars(
  seed: number,
  width: number,
  height: number,
  count: number,
  largest: number,
): Shader {
  const random = randomFrom(seed);
  const CELL = 24;
  const columns = Math.ceil(width / CELL);
  const cells = new Map<number, { x: number; y: number; r: number; glow: Rgb }[]>();
  for (let i = 0; i < count; i += 1) {
    const x = random() * width;
    const y = random() * height;
    const r = 0.5 + largest * random() ** 9;
    const warmth = random();
    const glow: Rgb = [0.8 + 0.2 * warmth, 0.86 + 0.05 * warmth, 1 - 0.25 * warmth];
    const key = Math.floor(y / CELL) * columns + Math.floor(x / CELL);
    cells.set(key, [...(cells.get(key) ?? []), { x, y, r, glow }]);
  }
  return (x, y) => {
    let out: Rgb = [0, 0, 0];
    const cx = Math.floor(x / CELL);
    const cy = Math.floor(y / CELL);
    for (let dy = -1; dy <= 1; dy += 1) {
      for (let dx = -1; dx <= 1; dx += 1) {
        for (const star of cells.get((cy + dy) * columns + cx + dx) ?? []) {
          const distance = Math.hypot(x - star.x, y - star.y) / star.r;
          if (distance < 8)
            out = add(
              out,
              star.glow,
              Math.exp(-distance * distance * 0.7) + 0.09 * Math.exp(-distance * 0.8),
            );
        }
      }
    }
    return [out[0], out[1], out[2], 1];
  };
}

/** Distance from a point to a line segment. */
export function toSegment(
  px: number,
  py: number,
  ax: number,
  ay: number,
  bx: number,
  by: number,
): number {
  const dx = bx - ax;
  const dy = by - ay;
  const t = clamp01(((px - ax) * dx + (py - ay) * dy) / (dx * dx + dy * dy || 1));
  return Math.hypot(px - ax - t * dx, py - ay - t * dy);
}

/** Signed distance to a rectangle with rounded corners, negative inside. */
export function toRoundedBox(
  px: number,
  py: number,
  cx: number,
  cy: number,
  halfW: number,
  halfH: number,
  r: number,
): number {
  const qx = Math.abs(px - cx) - halfW + r;
  const qy = Math.abs(py - cy) - halfH + r;
  return Math.hypot(Math.max(qx, 0), Math.max(qy, 0)) + Math.min(Math.max(qx, qy), 0) - r;
}

/** Renders with `samples` x `samples` spots a pixel, weighting colour by coverage. Straight alpha, 8 bits. */
export function render(width: number, height: number, samples: number, shader: Shader): Uint8Array {
  const out = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y += 1) {
    for (let x = 0; x < width; x += 1) {
      const sum = [0, 0, 0, 0] as [number, number, number, number];
      for (let i = 0; i < samples * samples; i += 1) {
        const [r, g, b, a] = shader(
          x + ((i % samples) + 0.5) / samples,
          y + (Math.floor(i / samples) + 0.5) / samples,
        );
        sum[0] += clamp01(r) * a;
        sum[1] += clamp01(g) * a;
        sum[2] += clamp01(b) * a;
        sum[3] += a;
      }
      const at = (y * width + x) * 4;
      if (sum[3] > 0)
        for (let k = 0; k < 3; k += 1)
          out[at + k] = Math.round(((sum[k] as number) / sum[3]) * 255);
      out[at + 3] = Math.round((sum[3] / (samples * samples)) * 255);
    }
  }
  return out;
}
