const DEGREE = Math.PI / 180;
const POW25_7 = 25 ** 7;

/** Table steps for a unit of chroma, and the largest chroma in the table. */
const CHROMA_STEPS = 4;
const MOST_CHROMA = 200;

/** Table steps for the cosine of the angle between the mean hue and 275 degrees, from -1 to 1. */
const TURN_STEPS = 2048;

/** CIEDE2000 against a fixed set of colours, prepared. */
export interface FastDifferences {
  /** L*, a*, b*, chroma and weight of each colour, five numbers a colour. */
  readonly table: Float64Array;
}

/** Numbers of each colour in the table. */
const STRIDE = 5;

/** 1 / S_L by the sum of both L*, in halves. */
const LIGHTNESS = Float64Array.from({ length: 408 }, (_, step) => {
  const offset = (step / 4 - 50) ** 2;
  return 1 / (1 + (0.015 * offset) / Math.sqrt(20 + offset));
});

/** sqrt(C^7 / (C^7 + 25^7)) by the mean chroma. */
const SATURATION = Float64Array.from({ length: CHROMA_STEPS * MOST_CHROMA }, (_, step) => {
  const chroma7 = (step / CHROMA_STEPS) ** 7;
  return Math.sqrt(chroma7 / (chroma7 + POW25_7));
});

/** -2 sin(2 dTheta) by the cosine of the angle between the mean hue and 275 degrees. */
const TURN = Float64Array.from({ length: TURN_STEPS + 1 }, (_, step) => {
  const degrees = Math.acos(Math.max(-1, (2 * step) / TURN_STEPS - 1)) / DEGREE;
  return -2 * Math.sin(60 * Math.exp(-((degrees / 25) ** 2)) * DEGREE);
});

const COS_275 = Math.cos(275 * DEGREE);
const SIN_275 = Math.sin(275 * DEGREE);
const [COS_30, SIN_30] = [Math.cos(30 * DEGREE), Math.sin(30 * DEGREE)];
const [COS_6, SIN_6] = [Math.cos(6 * DEGREE), Math.sin(6 * DEGREE)];
const [COS_63, SIN_63] = [Math.cos(63 * DEGREE), Math.sin(63 * DEGREE)];

/**
 * @param lab L*, a*, b* of each colour
 * @param weight what the differences to each are multiplied by
 */
export function prepareDifferences({
  lab,
  weight,
}: {
  readonly lab: Float64Array;
  readonly weight: Float64Array;
}): FastDifferences {
  const table = new Float64Array(STRIDE * weight.length);
  weight.forEach((share, k) => {
    const [l = 0, a = 0, b = 0] = lab.subarray(3 * k, 3 * k + 3);
    table.set([l, a, b, Math.hypot(a, b), share], STRIDE * k);
  });
  return { table };
}

/**
 * Writes the CIEDE2000 of a colour to all prepared ones, times their weights. The formula is that of `ciede2000`, with the
 * same names, without its angles: the mean hue is the direction of the sum of both unit vectors, its multiples follow by
 * the addition theorems, and what depends on one number alone comes from tables. Errors stay below 0.3 (checked in the
 * tests).
 */
export function writeDifferences(
  { table }: FastDifferences,
  l: number,
  a: number,
  b: number,
  out: Float32Array,
  at: number,
): void {
  const chroma = Math.sqrt(a * a + b * b);
  const bb = b * b;
  for (let i = 0, k = at; i < table.length; i += STRIDE, k += 1) {
    const l2 = table[i] as number;
    const b2 = table[i + 2] as number;
    const half = (chroma + (table[i + 3] as number)) / 2;
    const g = 1.5 - 0.5 * (SATURATION[(half * CHROMA_STEPS + 0.5) | 0] as number);
    const ap = g * a;
    const a2p = g * (table[i + 1] as number);
    const c1 = Math.sqrt(ap * ap + bb);
    const c2 = Math.sqrt(a2p * a2p + b2 * b2);
    const dl = (l - l2) * (LIGHTNESS[(2 * (l + l2) + 0.5) | 0] as number);
    const difference = c1 - c2;
    const mean = (c1 + c2) / 2;
    // (2 sqrt(C1 C2) sin(dh / 2))^2 is what the distance in a', b' holds besides the difference of chroma.
    const da = ap - a2p;
    const db = b - b2;
    const rest = da * da + db * db - difference * difference;
    const hue2 = rest > 0 ? rest : 0;
    let cos = 1;
    let sin = 0;
    if (c1 > 1e-9 && c2 > 1e-9) {
      const x = ap / c1 + a2p / c2;
      const y = b / c1 + b2 / c2;
      const length = Math.sqrt(x * x + y * y);
      if (length > 1e-9) {
        cos = x / length;
        sin = y / length;
      }
    } else if (c1 + c2 > 1e-9) {
      cos = (ap + a2p) / (c1 + c2);
      sin = (b + b2) / (c1 + c2);
    }
    const cos2 = cos * cos - sin * sin;
    const sin2 = 2 * cos * sin;
    const cos3 = cos2 * cos - sin2 * sin;
    const sin3 = sin2 * cos + cos2 * sin;
    const cos4 = cos2 * cos2 - sin2 * sin2;
    const sin4 = 2 * cos2 * sin2;
    const t =
      1 -
      0.17 * (cos * COS_30 + sin * SIN_30) +
      0.24 * cos2 +
      0.32 * (cos3 * COS_6 - sin3 * SIN_6) -
      0.2 * (cos4 * COS_63 + sin4 * SIN_63);
    const dc = difference / (1 + 0.045 * mean);
    const sh = 1 + 0.015 * mean * t;
    let square = dl * dl + dc * dc + hue2 / (sh * sh);
    const turn = TURN[((cos * COS_275 + sin * SIN_275 + 1) * (TURN_STEPS / 2) + 0.5) | 0] as number;
    if (turn < -0.02) {
      const dh = Math.sqrt(hue2) / sh;
      const strength = turn * (SATURATION[(mean * CHROMA_STEPS + 0.5) | 0] as number);
      // From the first colour to the second, as the formula has it; the difference of chroma turns its sign with it.
      square += strength * dc * (ap * b2 - b * a2p > 0 ? -dh : dh);
    }
    out[k] = (table[i + 4] as number) * Math.sqrt(square > 0 ? square : 0);
  }
}
