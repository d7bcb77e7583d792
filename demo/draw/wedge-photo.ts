import { clamp } from '../../src/core/base/numbers.ts';
import type { RgbaRaster } from '../../src/core/base/raster.ts';
import { encodeSrgb, linearOfBytes, type Triple } from '../../src/core/colour/srgb.ts';
import { linearOfLab } from '../../src/core/colour/lab.ts';
import type { Filament } from '../../src/core/stack/filament.ts';
import { layerTopsMm } from '../../src/core/stack/layer-grid.ts';
import { totalLayers } from '../../src/core/stack/stack.ts';
import { rampOfStack } from '../../src/core/stack/stack-ramp.ts';
import type { Point, Quad } from '../../src/core/wedge/straighten.ts';
import type { WedgePlan } from '../../src/core/wedge/wedge-plan.ts';
import { WEDGE_SAMPLE_MM, wedgeHeights, wedgeStack } from '../../src/core/wedge/wedge-relief.ts';
import { fractal, randomFrom } from './shading.ts';

/** A simulated camera looking at a printed wedge on a table. */
export interface WedgeScene {
  readonly plan: WedgePlan;
  readonly white: Filament;
  readonly tested: Filament;
  readonly black: Filament;
  readonly width: number;
  readonly height: number;
  /** Angle between the line of sight and the plate's normal, degrees, and the side it leans to (0 is towards the top). */
  readonly tiltDegrees: number;
  readonly leanDegrees: number;
  /** Turn of the camera about its line of sight, degrees. */
  readonly rollDegrees: number;
  /** Standard deviation of the noise, in codes of 0..255. */
  readonly noiseCodes: number;
  /** How much less light there is on the far side, 0..1. */
  readonly unevenness: number;
  /** Light on the wedge: 1 shows a perfect white as code 255. */
  readonly exposure: number;
  /** Stray light over everything, as a reflectance. */
  readonly veil: number;
  /** A lamp mirrored in the plastic: where, in mm on the wedge, and how strong. */
  readonly highlight?: { readonly x: number; readonly y: number; readonly strength: number };
  /** How far light goes sideways in the tested filament in the mean, mm; none by default. */
  readonly spreadMm?: number;
  readonly seed: number;
}

/** Distance of the camera from the middle of the wedge, mm, and its focal length in picture widths. */
const DISTANCE_MM = 170;
const FOCAL_WIDTHS = 0.85;

/** Rays by which light that went sideways is gathered: lengths, and directions of each. */
const RINGS = 10;
const RAYS = 8;

type Vector = readonly [number, number, number];

function dot(a: Vector, b: Vector): number {
  return a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
}

/**
 * Draws the photo, and says where the corners of the print's white ground lie in it. Each pixel's ray is followed down
 * through the layers until it meets plastic, so steps hide what lies behind them as real ones do.
 */
export function drawWedgePhoto(scene: WedgeScene): {
  readonly photo: RgbaRaster;
  readonly corners: Quad;
} {
  const { plan, width, height } = scene;
  const heights = wedgeHeights(plan);
  const stack = wedgeStack(plan, { white: 'white', tested: 'tested', black: 'black' });
  const ramp = rampOfStack(stack, {
    white: scene.white,
    tested: scene.tested,
    black: scene.black,
  });
  const colours = ramp.map(({ lab }) => linearOfLab(lab));
  const tops = layerTopsMm(plan.grid, totalLayers(stack.bands));
  const used = [...new Set(heights.data)].sort((a, b) => b - a);

  const radians = (degrees: number): number => (degrees * Math.PI) / 180;
  const tilt = radians(scene.tiltDegrees);
  const lean = radians(scene.leanDegrees);
  const roll = radians(scene.rollDegrees);
  // The wedge lies with its middle in the origin, x to the right, y down, z up towards the camera.
  const back: Vector = [
    Math.sin(tilt) * Math.sin(lean),
    Math.sin(tilt) * Math.cos(lean),
    Math.cos(tilt),
  ];
  const flat: Vector = [Math.cos(roll), Math.sin(roll), 0];
  const along = dot(flat, back);
  const rightRaw: Vector = [flat[0] - along * back[0], flat[1] - along * back[1], -along * back[2]];
  const length = Math.sqrt(dot(rightRaw, rightRaw));
  const right: Vector = [rightRaw[0] / length, rightRaw[1] / length, rightRaw[2] / length];
  const down: Vector = [
    back[1] * right[2] - back[2] * right[1],
    back[2] * right[0] - back[0] * right[2],
    back[0] * right[1] - back[1] * right[0],
  ];
  // Seen from above with y down the axes are left-handed; the cross product then points up.
  const sign = down[1] < 0 ? -1 : 1;
  const eye: Vector = [back[0] * DISTANCE_MM, back[1] * DISTANCE_MM, back[2] * DISTANCE_MM];
  const focal = FOCAL_WIDTHS * width;
  const whiteTop = tops[plan.whiteLayers] ?? 0;

  const project = (x: number, y: number, z: number): Point => {
    const from: Vector = [
      x - plan.widthMm / 2 - eye[0],
      y - plan.heightMm / 2 - eye[1],
      z - eye[2],
    ];
    const depth = -dot(from, back);
    return {
      x: width / 2 + (focal * dot(from, right)) / depth,
      y: height / 2 + (focal * sign * dot(from, down)) / depth,
    };
  };
  const corners: Quad = [
    project(0, 0, whiteTop),
    project(plan.widthMm, 0, whiteTop),
    project(plan.widthMm, plan.heightMm, whiteTop),
    project(0, plan.heightMm, whiteTop),
  ];

  const foundAt = (x: number, y: number): number => {
    const c = Math.floor(x / WEDGE_SAMPLE_MM);
    const r = Math.floor(y / WEDGE_SAMPLE_MM);
    const outside = c < 0 || r < 0 || c >= heights.width || r >= heights.height;
    return outside ? 0 : (heights.data[r * heights.width + c] ?? 0);
  };
  const bandAt = (x: number, y: number): string | undefined =>
    stack.bands[ramp[foundAt(x, y) - 1]?.bandIndex ?? -1]?.filamentId;
  const testedOnTop = (x: number, y: number): boolean => bandAt(x, y) === 'tested';
  /** Light from around a spot: rays by the distribution of their length, in all directions. */
  const gathered = (x: number, y: number, spreadMm: number): Triple => {
    const sums = [0, 0, 0];
    let rays = 0;
    for (let ring = 0; ring < RINGS; ring += 1) {
      const length = -spreadMm * Math.log(1 - (ring + random()) / RINGS);
      const turn = random();
      for (let ray = 0; ray < RAYS; ray += 1) {
        const angle = (2 * Math.PI * (ray + turn)) / RAYS;
        const colour =
          colours[foundAt(x + length * Math.cos(angle), y + length * Math.sin(angle)) - 1];
        if (!colour) continue;
        rays += 1;
        for (let channel = 0; channel < 3; channel += 1)
          sums[channel] = (sums[channel] ?? 0) + (colour[channel] ?? 0);
      }
    }
    return sums.map((sum) => sum / Math.max(1, rays)) as unknown as Triple;
  };

  const random = randomFrom(scene.seed);
  const grain = fractal(scene.seed);
  const gauss = (): number =>
    Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const data = new Uint8ClampedArray(4 * width * height);
  const levels = used.map((layer) => ({ layer, z: tops[layer] ?? 0 }));
  for (let row = 0; row < height; row += 1)
    for (let column = 0; column < width; column += 1) {
      const px = (column + 0.5 - width / 2) / focal;
      const py = (sign * (row + 0.5 - height / 2)) / focal;
      const ray: Vector = [
        px * right[0] + py * down[0] - back[0],
        px * right[1] + py * down[1] - back[1],
        px * right[2] + py * down[2] - back[2],
      ];
      let reflectance: Triple | undefined;
      let x = 0;
      let y = 0;
      for (const { layer, z } of levels) {
        const t = (z - eye[2]) / ray[2];
        x = eye[0] + t * ray[0] + plan.widthMm / 2;
        y = eye[1] + t * ray[1] + plan.heightMm / 2;
        const c = Math.floor(x / WEDGE_SAMPLE_MM);
        const r = Math.floor(y / WEDGE_SAMPLE_MM);
        if (c < 0 || r < 0 || c >= heights.width || r >= heights.height) continue;
        const found = heights.data[r * heights.width + c] ?? 0;
        if (found < layer) continue;
        reflectance = colours[found - 1];
        // A ray that enters from the side sees a wall, which lies in shade.
        if (found > layer && reflectance)
          reflectance = reflectance.map((value) => value * 0.6) as unknown as Triple;
        break;
      }
      if (reflectance && scene.spreadMm && testedOnTop(x, y))
        reflectance = gathered(x, y, scene.spreadMm);
      if (!reflectance) {
        const t = -eye[2] / ray[2];
        x = eye[0] + t * ray[0] + plan.widthMm / 2;
        y = eye[1] + t * ray[1] + plan.heightMm / 2;
        reflectance = tableAt(x, y, grain);
      }
      const u = x / plan.widthMm - 0.5;
      const v = y / plan.heightMm - 0.5;
      const light =
        scene.exposure *
        (1 - scene.unevenness * (0.5 + 0.6 * u + 0.4 * v + 0.15 * (u * u + v * v)));
      const shine = scene.highlight
        ? scene.highlight.strength *
          Math.exp(-((x - scene.highlight.x) ** 2 + (y - scene.highlight.y) ** 2) / 30)
        : 0;
      const at = 4 * (row * width + column);
      for (let channel = 0; channel < 3; channel += 1) {
        const value = light * ((reflectance[channel] ?? 0) + scene.veil) + shine;
        data[at + channel] = 255 * encodeSrgb(clamp(value, 0, 1)) + scene.noiseCodes * gauss();
      }
      data[at + 3] = 255;
    }
  return { photo: { width, height, data }, corners };
}

const TABLE = linearOfBytes([139, 118, 92]);

/** The wooden table of the observatory's workshop. */
function tableAt(
  x: number,
  y: number,
  grain: (x: number, y: number, octaves: number) => number,
): Triple {
  const shade = 1 + 0.35 * grain(x / 90, y / 6, 3) + 0.1 * grain(x / 3, y / 1.5, 2);
  return TABLE.map((value) => clamp(value * shade, 0.01, 1)) as unknown as Triple;
}
