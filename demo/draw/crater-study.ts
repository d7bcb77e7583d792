import { clamp01, fractal, randomFrom, smooth, type Shader } from './shading.ts';

export const WIDTH = 900;
export const HEIGHT = 900;

interface Crater {
  readonly x: number;
  readonly y: number;
  readonly r: number;
  readonly depth: number;
}

/** A cratered plain in grey under a low sun: relief shading from a height field, light and dark ground. */
export function craterStudy(): Shader {
  const rough = fractal(7);
  const ground = fractal(19);
  const random = randomFrom(41);
  const craters: Crater[] = [
    { x: 372, y: 408, r: 205, depth: 1 },
    { x: 690, y: 660, r: 112, depth: 1 },
    { x: 700, y: 196, r: 92, depth: 0.9 },
  ];
  for (let i = 0; i < 520; i += 1) {
    const r = 4 + 46 * random() ** 5;
    craters.push({ x: random() * WIDTH, y: random() * HEIGHT, r, depth: 0.5 + 0.5 * random() });
  }
  const CELL = 60;
  const grid = new Map<number, Crater[]>();
  for (const crater of craters) {
    const reach = crater.r * 1.7;
    for (let gy = Math.floor((crater.y - reach) / CELL); gy <= (crater.y + reach) / CELL; gy += 1)
      for (let gx = Math.floor((crater.x - reach) / CELL); gx <= (crater.x + reach) / CELL; gx += 1)
        grid.set(gy * 100 + gx, [...(grid.get(gy * 100 + gx) ?? []), crater]);
  }
  const heightAt = (x: number, y: number): number => {
    let h = 26 * rough(x / 260, y / 260, 6) + 3.2 * rough(x / 24, y / 24, 4);
    for (const { x: cx, y: cy, r, depth } of grid.get(
      Math.floor(y / CELL) * 100 + Math.floor(x / CELL),
    ) ?? []) {
      const wobble = 1 + 0.06 * ground(x / (r * 0.6), y / (r * 0.6), 3);
      const d = (Math.hypot(x - cx, y - cy) / r) * wobble;
      if (d > 1.7) continue;
      const bowl = d < 1 ? 0.95 * (d * d - 1) + (r > 80 ? 0.34 * smooth(0.62, 0.3, d) : 0) : 0;
      const rim = 0.3 * Math.exp(-(((d - 1.04) / 0.14) ** 2));
      const apron = d > 1 ? 0.1 * smooth(1.7, 1, d) : 0;
      const peak =
        r > 80 ? 0.42 * Math.exp(-((d / 0.15) ** 2)) * (1 + 0.4 * rough(x / 14, y / 14, 3)) : 0;
      const terraces = r > 80 && d < 1 ? 0.035 * Math.sin(d * 26) * smooth(0.55, 0.75, d) : 0;
      h += depth * r * 0.34 * (bowl + rim + apron + peak + terraces);
    }
    return h;
  };
  return (x, y) => {
    const e = 1.2;
    const dx = (heightAt(x + e, y) - heightAt(x - e, y)) / (2 * e);
    const dy = (heightAt(x, y + e) - heightAt(x, y - e)) / (2 * e);
    const lit = (0.62 * dx + 0.42 * dy + 0.62) / Math.sqrt(1 + dx * dx + dy * dy);
    const soil = 0.84 + 0.22 * smooth(-0.3, 0.4, ground(x / 330 + 2, y / 330, 4));
    const rays = craters.slice(1, 3).reduce((sum, { x: cx, y: cy, r }) => {
      const angle = Math.atan2(y - cy, x - cx);
      const d = Math.hypot(x - cx, y - cy) / r;
      return (
        sum +
        0.16 *
          smooth(0.1, 0.5, rough(Math.cos(angle) * 3 + cx, Math.sin(angle) * 3, 3)) *
          smooth(3.4, 1, d) *
          smooth(0.8, 1.1, d)
      );
    }, 0);
    const dusk = 1 - 0.55 * smooth(300, -120, 900 - (x * 0.62 + y * 0.6));
    const grey = clamp01((0.06 + 0.9 * Math.max(0, lit) * soil + rays) * dusk) ** 0.92;
    return [grey, grey, grey, 1];
  };
}
