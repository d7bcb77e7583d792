import { add, fractal, hex, mix, scale, smooth, stars, type Rgb, type Shader } from './shading.ts';

export const WIDTH = 1200;
export const HEIGHT = 800;

const sky = scale([
  [0, '#0a1030'],
  [0.22, '#1c2560'],
  [0.42, '#453a80'],
  [0.58, '#85508c'],
  [0.7, '#c4636f'],
  [0.8, '#ec8a52'],
  [0.9, '#f9b65a'],
  [1, '#ffd98a'],
]);

const HORIZON = 590;

/** The dome on its hill under a long evening sky: gradients, thin cloud, haze and small lights. */
export function domeAtDusk(): Shader {
  const cloud = fractal(11);
  const ridge = fractal(23);
  const soil = fractal(37);
  const field = stars(5, WIDTH, HEIGHT, 900, 1.7);
  const ranges = [
    { base: 560, rise: 70, scale: 260, seed: 0, near: hex('#b5647a'), far: 0.55 },
    { base: 580, rise: 78, scale: 200, seed: 40, near: hex('#6f4269'), far: 0.35 },
    { base: 604, rise: 66, scale: 150, seed: 80, near: hex('#382a4e'), far: 0.16 },
  ];

  const skyAt = (x: number, y: number): Rgb => {
    const drift = 16 * ridge(x / 700, y / 900, 2);
    let colour = sky((y + drift) / HORIZON);
    const [r, g, b] = field(x, y);
    colour = add(colour, [r, g, b], 0.95 * smooth(430, 60, y));
    // Thin cloud, drawn out along x, lit from below near the horizon.
    const veil = cloud(x / 420 + 3, y / 70, 5) + 0.25 * cloud(x / 90, y / 22, 3);
    const density = smooth(0.08, 0.62, veil) * smooth(110, 330, y) * smooth(590, 500, y);
    const lit = mix(hex('#5b4a8c'), hex('#ffc58f'), smooth(240, 520, y));
    colour = mix(colour, lit, 0.62 * density);
    // The moon and its glow.
    const distance = Math.hypot(x - 905, y - 196);
    colour = add(colour, hex('#c9a9c8'), 0.42 * Math.exp(-distance / 95));
    if (distance < 58) {
      const shade = 0.86 + 0.14 * smooth(58, 0, Math.hypot(x - 888, y - 182));
      const seas = 0.13 * smooth(0.05, 0.45, cloud(x / 44 + 9, y / 44, 4));
      const moon = mix(hex('#f6e7d2'), hex('#b59a9e'), seas * 4);
      colour = mix(
        colour,
        [moon[0] * shade, moon[1] * shade, moon[2] * shade],
        smooth(58, 56.5, distance),
      );
    }
    return colour;
  };

  const landAt = (x: number, y: number): Rgb | undefined => {
    let colour: Rgb | undefined;
    for (const { base, rise, scale: span, seed, near, far } of ranges) {
      const top = base - rise * (0.5 + ridge(x / span + seed, seed, 5));
      if (y < top) continue;
      const haze = smooth(top + 90, top, y);
      const texture = 0.05 * soil(x / 16 + seed, y / 9, 4);
      const face = mix(near, sky(0.84), far * (1 - haze) + 0.05);
      colour = [face[0] + texture, face[1] + texture * 0.8, face[2] + texture * 0.9];
    }
    const hill = 668 - 92 * Math.exp(-(((x - 500) / 330) ** 2)) + 16 * ridge(x / 120 + 7, 3, 5);
    if (y >= hill) {
      const depth = smooth(hill, 800, y);
      const grass = soil(x / 5, y / 14, 3) * 0.6 + soil(x / 40, y / 22, 4);
      const base = mix(hex('#2a2334'), hex('#0c0d14'), depth);
      const rim = smooth(hill + 10, hill, y) * 0.26;
      colour = add(add(base, hex('#e08a5a'), rim), hex('#6a5a64'), 0.2 * grass * (1 - 0.6 * depth));
      // A lit path down from the door.
      const path = Math.abs(x - (506 + (y - 600) * 0.5 + 22 * Math.sin(y / 46)));
      colour = mix(
        colour,
        hex('#a37a58'),
        0.5 * smooth(5 + (y - 590) * 0.11, 0, path) * smooth(592, 620, y),
      );
    }
    return colour;
  };

  const buildingAt = (x: number, y: number): Rgb | undefined => {
    const cx = 482;
    const shade = (u: number): Rgb =>
      mix(hex('#4a4468'), hex('#f3bd8b'), smooth(-0.95, 0.9, u)).map(
        (v) => v * (1 - 0.22 * smooth(0.55, 1, u)),
      ) as unknown as Rgb;
    const inDome = Math.hypot(x - cx, (y - 500) * 1.02) < 126 && y < 500;
    if (inDome) {
      const u = (x - cx) / 126;
      const v = (500 - y) / 126;
      let colour = shade(u * 0.9 + v * 0.22);
      const longitude = Math.asin(
        Math.max(-1, Math.min(1, u / Math.sqrt(Math.max(1e-3, 1 - v * v)))),
      );
      const seam = Math.abs(((longitude * 7.2) % 1) - 0.5);
      colour = mix(colour, hex('#35304c'), 0.38 * smooth(0.46, 0.5, seam));
      const slit = Math.abs(x - cx - 16 - 6 * v);
      if (slit < 21 && v > 0.06) {
        const glow = mix(hex('#fff0b4'), hex('#f39a3c'), smooth(0, 1, v));
        const tube = Math.abs(x - cx - 20 - (500 - y) * 0.12) < 6 && v < 0.72;
        colour = slit > 18 ? hex('#2a2436') : tube ? hex('#8c4a2c') : glow;
      }
      return add(colour, hex('#ffffff'), 0.02 * soil(x / 3, y / 3, 2));
    }
    if (y >= 500 && y < 512 && Math.abs(x - cx) < 134)
      return mix(hex('#262036'), hex('#6a4a4c'), smooth(-134, 134, x - cx));
    if (y >= 512 && y < 600 && Math.abs(x - cx) < 124) {
      const u = (x - cx) / 124;
      let colour = shade(u * 0.85);
      const brick =
        Math.abs(((y + (Math.floor(x / 22) % 2) * 5) % 11) - 5.5) > 4.9 ||
        Math.abs((x % 22) - 11) > 10.4;
      if (brick) colour = mix(colour, hex('#3b3348'), 0.22);
      for (const wx of [-92, -46, 56, 98]) {
        if (Math.abs(x - cx - wx) < 10 && Math.abs(y - 548) < 17)
          colour =
            Math.abs(x - cx - wx) < 1.2 || Math.abs(y - 548) < 1.2
              ? hex('#7a4a24')
              : mix(hex('#ffe9a3'), hex('#ffb648'), smooth(531, 565, y));
      }
      if (Math.abs(x - cx - 4) < 17 && y > 536)
        colour = mix(hex('#ffd27a'), hex('#b3602c'), smooth(536, 600, y));
      return colour;
    }
    return undefined;
  };

  return (x, y) => {
    const [r, g, b] = buildingAt(x, y) ?? landAt(x, y) ?? skyAt(x, y);
    return [r, g, b, 1];
  };
}
