import {
  clamp01,
  fractal,
  hex,
  mix,
  scale,
  smooth,
  stars,
  toRoundedBox,
  toSegment,
  type Rgb,
  type Rgba,
  type Shader,
} from './shading.ts';

export const BADGE_SIZE = 800;

/** Soft edge of about a pixel and a half, as scaled art has it. */
const soft = (distance: number): number => clamp01(0.5 - distance / 3);

/** A round badge in exactly four flat colours, with the soft fringes that scaling leaves along every edge. */
export function domeBadge(): Shader {
  const night = hex('#17264f');
  const brass = hex('#e0a526');
  const chalk = hex('#f4efe2');
  const clay = hex('#b4472e');
  const rays = Array.from({ length: 24 }, (_, i) => (i * Math.PI) / 12);
  const starPlaces = [
    [250, 250, 15],
    [560, 232, 20],
    [330, 180, 11],
    [470, 158, 13],
    [620, 330, 11],
    [188, 345, 12],
  ] as const;
  return (x, y) => {
    const d = Math.hypot(x - 400, y - 400);
    let colour: Rgb = night;
    const paint = (next: Rgb, distance: number): void => {
      colour = mix(colour, next, soft(distance));
    };
    for (const [sx, sy, r] of starPlaces) {
      const angle = Math.atan2(y - sy, x - sx);
      const spread = r * (0.52 + 0.48 * Math.cos(4 * angle) ** 3);
      paint(chalk, Math.hypot(x - sx, y - sy) - spread);
    }
    paint(clay, 545 - y + 18 * Math.sin(x / 70));
    paint(chalk, Math.max(Math.hypot(x - 400, y - 470) - 142, y - 470));
    paint(chalk, toRoundedBox(x, y, 400, 520, 132, 48, 2));
    paint(night, toRoundedBox(x, y, 400, 476, 150, 7, 3));
    paint(brass, Math.max(Math.abs(x - 424 - (470 - y) * 0.06) - 22, y - 468, 336 - y));
    for (const wx of [310, 356, 468, 500]) paint(night, toRoundedBox(x, y, wx, 524, 11, 17, 10));
    paint(brass, Math.abs(d - 352) - 28);
    for (const angle of rays)
      paint(
        night,
        toSegment(
          x,
          y,
          400 + 336 * Math.cos(angle),
          400 + 336 * Math.sin(angle),
          400 + 368 * Math.cos(angle),
          400 + 368 * Math.sin(angle),
        ) - 4,
      );
    return [colour[0], colour[1], colour[2], clamp01(0.5 - (d - 380))];
  };
}

export const COMET_WIDTH = 1000;
export const COMET_HEIGHT = 640;

/** A comet with two tails on a transparent ground: a shaped outline, a gradient along it and streaks of dust. */
export function cometCutOut(): Shader {
  const dust = fractal(83);
  const glow = scale([
    [0, '#2b1f5c'],
    [0.35, '#5d3fa8'],
    [0.6, '#c8578f'],
    [0.8, '#f39a5b'],
    [1, '#fff1c4'],
  ]);
  const ion = scale([
    [0, '#12365e'],
    [0.5, '#2487b8'],
    [1, '#c6f2ee'],
  ]);
  const sparks = stars(61, COMET_WIDTH, COMET_HEIGHT, 260, 2);
  return (x, y): Rgba => {
    const hx = 790;
    const hy = 452;
    const along = Math.max(0, (hx - x) / 720);
    const bend = 330 * along ** 1.35;
    const width =
      30 + 150 * Math.max(0, along) ** 0.8 + 20 * dust(x / 70, y / 70, 3) * Math.max(0, along);
    const off = y - (hy - bend);
    const head = Math.hypot(x - hx, y - hy);
    const end = along - 0.9 - 0.12 * dust(y / 40 + 3, 2, 4);
    const tail = Math.max(Math.abs(off) - width * 0.62, end * 500, x - hx);
    const ionOff = y - (hy - 20 - 120 * along);
    const ionEnd = along - 1.02 - 0.06 * dust(y / 16, 8, 3);
    const ionTail = Math.max(
      Math.abs(ionOff) - (14 + 26 * Math.max(0, along)),
      ionEnd * 500,
      x - hx,
    );
    const outline = Math.min(tail, ionTail, head - 68);
    const alpha = clamp01(0.5 - outline / 1.2);
    if (alpha === 0) return [0, 0, 0, 0];
    const streak = dust(along * 3, (off / Math.max(20, width)) * 5, 4);
    const heat = clamp01(
      1.05 -
        along * 0.9 -
        (Math.abs(off) / (width * 1.1)) * (head < 68 ? 0.1 : 0.45) +
        0.22 * streak * smooth(30, 120, head),
    );
    let colour = glow(heat);
    if (ionTail < 3)
      colour = mix(
        colour,
        ion(clamp01(1 - along * 0.75 - Math.abs(ionOff) / 80 + 0.15 * streak)),
        smooth(3, -8, ionTail) * (tail < 0 ? 0.72 : 1),
      );
    colour = mix(colour, hex('#fff6d8'), smooth(70, 18, head + 8 * dust(x / 20, y / 20, 3)));
    const [sr, sg, sb] = sparks(x, y);
    return [colour[0] + sr * 0.6, colour[1] + sg * 0.6, colour[2] + sb * 0.6, alpha];
  };
}

/** The same comet in a plain evening sky, as a camera would have it: a background to cut away. */
export function cometInSky(): Shader {
  const comet = cometCutOut();
  const high = hex('#3a5f86');
  const low = hex('#86a7bd');
  return (x, y): Rgba => {
    const [r, g, b, alpha] = comet(x, y);
    const sky = mix(high, low, (0.8 * y) / COMET_HEIGHT + (0.2 * x) / COMET_WIDTH);
    return [...mix(sky, [r, g, b], alpha), 1];
  };
}

export const LOCKER_WIDTH = 900;
export const LOCKER_HEIGHT = 480;

/** Capital letters as strokes on a grid 4 wide and 6 tall. */
const STROKES: Readonly<Record<string, readonly (readonly [number, number, number, number])[]>> = {
  L: [
    [0, 0, 0, 6],
    [0, 6, 3.4, 6],
  ],
  O: [
    [1, 0, 3, 0],
    [3, 0, 4, 1],
    [4, 1, 4, 5],
    [4, 5, 3, 6],
    [3, 6, 1, 6],
    [1, 6, 0, 5],
    [0, 5, 0, 1],
    [0, 1, 1, 0],
  ],
  C: [
    [4, 1, 3, 0],
    [3, 0, 1, 0],
    [1, 0, 0, 1],
    [0, 1, 0, 5],
    [0, 5, 1, 6],
    [1, 6, 3, 6],
    [3, 6, 4, 5],
  ],
  K: [
    [0, 0, 0, 6],
    [3.8, 0, 0, 3.4],
    [1.2, 2.4, 3.9, 6],
  ],
  E: [
    [0, 0, 0, 6],
    [0, 0, 3.5, 0],
    [0, 3, 2.9, 3],
    [0, 6, 3.5, 6],
  ],
  R: [
    [0, 0, 0, 6],
    [0, 0, 3, 0],
    [3, 0, 3.9, 0.9],
    [3.9, 0.9, 3.9, 2.3],
    [3.9, 2.3, 3, 3.2],
    [3, 3.2, 0, 3.2],
    [1.8, 3.2, 3.9, 6],
  ],
  '7': [
    [0, 0, 4, 0],
    [4, 0, 1.4, 6],
  ],
};

function lettering(
  text: string,
  x: number,
  y: number,
  left: number,
  top: number,
  unit: number,
  pitch: number,
): number {
  let nearest = 1e9;
  Array.from(text).forEach((letter, i) => {
    for (const [ax, ay, bx, by] of STROKES[letter] ?? [])
      nearest = Math.min(
        nearest,
        toSegment(
          x,
          y,
          left + (i * pitch + ax) * unit,
          top + ay * unit,
          left + (i * pitch + bx) * unit,
          top + by * unit,
        ),
      );
  });
  return nearest;
}

/** A locker tag: a plate with a hole, a line of capitals and one large figure, in three flat colours. */
export function lockerSeven(): Shader {
  const plate = hex('#20343a');
  const letter = hex('#f2ead8');
  const figure = hex('#e58a2b');
  return (x, y) => {
    const outline = Math.max(
      toRoundedBox(x, y, 450, 240, 430, 220, 70),
      46 - Math.hypot(x - 118, y - 240),
    );
    let colour: Rgb = plate;
    colour = mix(colour, letter, soft(Math.abs(toRoundedBox(x, y, 450, 240, 398, 188, 48)) - 7));
    colour = mix(colour, plate, soft(Math.hypot(x - 118, y - 240) - 84));
    colour = mix(colour, letter, soft(Math.abs(Math.hypot(x - 118, y - 240) - 66) - 7));
    colour = mix(colour, letter, soft(lettering('LOCKER', x, y, 224, 180, 10.6, 6) - 8.5));
    for (let i = 0; i < 3; i += 1)
      colour = mix(
        colour,
        figure,
        soft(toSegment(x, y, 222, 294 + i * 28, 588 - i * 80, 294 + i * 28) - 6),
      );
    colour = mix(colour, figure, soft(lettering('7', x, y, 676, 140, 31, 1) - 25));
    return [colour[0], colour[1], colour[2], clamp01(0.5 - outline)];
  };
}

export const STRIP_WIDTH = 480;
export const STRIP_HEIGHT = 160;
/** Greys of the strip's four fields: L* 0, 33, 67 and 100. */
const STRIP_GREYS = [0, 78 / 255, 163 / 255, 1] as const;

/** A bar in four steps from dark to light: each field ends in a band of its own. */
export function testStrip(): Shader {
  return (x) => {
    const grey = STRIP_GREYS[Math.min(3, Math.floor((4 * x) / STRIP_WIDTH))] ?? 1;
    return [grey, grey, grey, 1];
  };
}
