import { add, fractal, hex, mix, scale, smooth, stars, type Rgb, type Shader } from './shading.ts';

export const WIDTH = 1000;
export const HEIGHT = 800;

/** Glowing gas in separate hues over a dark field: saturated groups, thin threads and stars. */
export function veilNebula(): Shader {
  const warp = fractal(3);
  const gas = fractal(71);
  const threads = fractal(113);
  const dust = fractal(151);
  const small = stars(17, WIDTH, HEIGHT, 1500, 1.2);
  const large = stars(29, WIDTH, HEIGHT, 60, 4.5);
  const ember = scale([
    [0, '#08060f'],
    [0.3, '#45102f'],
    [0.55, '#a31c48'],
    [0.78, '#ec5a4a'],
    [1, '#ffc27a'],
  ]);
  const ice = scale([
    [0, '#050812'],
    [0.3, '#0b2f4c'],
    [0.55, '#107a8a'],
    [0.8, '#4fd0b8'],
    [1, '#e2fff0'],
  ]);
  return (x, y) => {
    const u = x / 300;
    const v = y / 300;
    const wx = u + 0.55 * warp(u + 5, v, 4);
    const wy = v + 0.55 * warp(u, v + 9, 4);
    const arc = Math.hypot(x - 330, y - 900) / 620;
    const body = Math.exp(-(((arc - 0.98 - 0.2 * warp(u * 0.7, v * 0.7, 3)) / 0.24) ** 2));
    const veil = (1 - Math.abs(threads(wx * 1.5, wy * 1.5, 5)) * 2.1) * body;
    const thread = Math.max(0, veil) ** 3;
    const warm = smooth(-0.35, 0.45, gas(wx * 0.6 + 2, wy * 0.6, 3) + (x - 470) / 620);
    const haze = body * (0.5 + 0.6 * gas(wx * 0.9, wy * 0.9, 5));
    const power = Math.max(0, 0.52 * haze + 0.72 * thread);
    let colour: Rgb = mix(ice(power), ember(power), warm);
    const violet = smooth(0.1, 0.7, gas(wx * 0.8 - 4, wy * 0.8 + 4, 4)) * (1 - body) * 0.5;
    colour = add(colour, hex('#4a2aa8'), violet);
    colour = add(colour, hex('#0c1030'), 0.5);
    const lane = smooth(0.12, 0.5, dust(wx * 1.1 + 8, wy * 1.1, 5)) * 0.75;
    colour = mix(colour, hex('#07060d'), lane * (0.35 + 0.65 * body));
    const [sr, sg, sb] = small(x, y);
    colour = add(colour, [sr, sg, sb], 0.85);
    const [lr, lg, lb] = large(x, y);
    colour = add(colour, [lr, lg, lb], 1);
    const core = Math.hypot(x - 690, y - 250);
    colour = add(colour, hex('#fff2cf'), Math.exp(-core / 5) + 0.35 * Math.exp(-core / 42));
    const spike = Math.min(Math.abs(x - 690), Math.abs(y - 250));
    colour = add(colour, hex('#ffe9c0'), 0.8 * Math.exp(-spike * 0.9) * Math.exp(-core / 38));
    return [colour[0], colour[1], colour[2], 1];
  };
}
