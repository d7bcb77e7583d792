import { Matrix, solve } from 'ml-matrix';
import { clamp } from '../base/numbers.ts';
import type { RgbaRaster } from '../base/raster.ts';
import { fail, succeed, type Fault, type Result } from '../base/result.ts';
import {
  decodeSrgb,
  encodeSrgb,
  linearOfBytes,
  mapTriple,
  parseHex,
  type Triple,
} from '../colour/srgb.ts';
import type { Ground, PhotoReading } from '../optics/wedge-reading.ts';
import {
  attitudeOf,
  isUprightQuad,
  perspectiveOf,
  projectPoint,
  type Attitude,
  type Perspective,
  type Quad,
} from './straighten.ts';
import { edgeSpread, type EdgeSpread } from './edge-spread.ts';
import { findSlant, innerRect, shiftRect, type Slant } from './slant.ts';
import type { PlanPatch, PlanRect, WedgePlan } from './wedge-plan.ts';

/** Why a photo cannot be read. `where` names a patch such as `3 white` (step and ground; step 0 is bare). */
export type PhotoFault = Fault<
  | 'bad-corners'
  | 'outside'
  | 'too-small'
  | 'too-tilted'
  | 'too-dark'
  | 'overexposed'
  | 'grounds-swapped'
  | 'low-contrast'
  | 'glare'
  | 'uneven-light'
  | 'bad-ground'
>;

/** What is not good about a photo that can be read all the same. */
export interface PhotoDoubt {
  readonly code: 'tilted' | 'uneven-light' | 'some-glare';
  readonly detail: string;
}

/** A photographed wedge with how well it was to be read. */
export interface ReadPhoto {
  readonly reading: PhotoReading;
  readonly attitude: Attitude;
  readonly doubts: readonly PhotoDoubt[];
  readonly slant: Slant;
  /** Least light on the wedge as a share of the most, 0..1. */
  readonly evenness: number;
  /** How far light goes sideways in the filament; undefined where the photo does not tell. */
  readonly spread: EdgeSpread | undefined;
}

/** Limits of what is read. Set with simulated photos, with room to spare: common practice, no source. */
const LEAST_PIXELS_PER_MM = 2.5;
const MOST_TILT_DEGREES = 35;
const DOUBTFUL_TILT_DEGREES = 26;
const LEAST_WHITE_CODE = 96;
const CLIPPED_CODE = 254;
const MOST_CLIPPED_SHARE = 0.1;
const LEAST_GROUND_RATIO = 4;
const LEAST_EVENNESS = 0.4;
const DOUBTFUL_EVENNESS = 0.7;
/** A pixel that is so many codes brighter than the middle of its patch is a highlight. */
const GLARE_CODES = 22;
/** Up to the share that is trimmed away, a highlight does not move the mean. */
const MOST_GLARE_SHARE = 0.2;
const DOUBTFUL_GLARE_SHARE = 0.06;
/** Nothing diffuse is brighter than this many times a perfect white. */
const MOST_REFLECTANCE = 1.25;

/** Part of the values left out at each end before the mean is taken. */
const TRIM_SHARE = 0.2;
const MOST_SAMPLES_A_SIDE = 48;

interface SampledPatch {
  readonly patch: PlanPatch;
  /** Middle of the patch, 0..1 across the wedge. */
  readonly u: number;
  readonly v: number;
  /** Trimmed mean of the codes, 0..255. */
  readonly code: Triple;
  readonly linear: Triple;
  readonly glareShare: number;
  readonly clippedShare: number;
}

/** Reads the colours of a wedge off a photo. `corners` are those of the print's white ground, in photo pixels. */
export function readWedgePhoto(
  photo: RgbaRaster,
  corners: Quad,
  plan: WedgePlan,
  grounds: PhotoReading['grounds'],
  date: string,
): Result<ReadPhoto, PhotoFault> {
  const known: Partial<Record<Ground, Triple>> = {};
  for (const ground of ['white', 'black'] as const) {
    const bytes = parseHex(grounds[ground]);
    if (!bytes) return fail('bad-ground', ground, grounds[ground]);
    known[ground] = linearOfBytes(bytes);
  }
  const map = isUprightQuad(corners) ? perspectiveOf(corners) : undefined;
  if (!map) return fail('bad-corners');
  const stray = corners.findIndex(
    ({ x, y }) => x < -1 || y < -1 || x > photo.width + 1 || y > photo.height + 1,
  );
  if (stray >= 0) return fail('outside', String(stray + 1));
  const attitude = attitudeOf(map, plan.widthMm, plan.heightMm);
  if (attitude.pixelsPerMm < LEAST_PIXELS_PER_MM)
    return fail('too-small', undefined, attitude.pixelsPerMm.toFixed(1));
  if (attitude.tiltDegrees > MOST_TILT_DEGREES)
    return fail('too-tilted', undefined, attitude.tiltDegrees.toFixed(0));

  const slant = findSlant(photo, map, plan);
  const all = plan.patches.map((patch) =>
    samplePatch(photo, map, plan, patch, shiftRect(innerRect(patch.rect), patch, slant, plan)),
  );
  // Bare ground that a tall step hides, or that shines, is left out: there is plenty of it.
  const sampled = all.filter(
    ({ patch, glareShare }) => patch.step > 0 || glareShare <= MOST_GLARE_SHARE,
  );
  for (const ground of ['white', 'black'] as const)
    if (bareOf(sampled, ground).length * 2 < bareOf(all, ground).length)
      return fail('glare', `0 ${ground}`);
  const exposure = judgeExposure(sampled);
  if (exposure) return { ok: false, fault: exposure };
  const light = fitLight(sampled, known.white ?? [1, 1, 1], known.black ?? [0, 0, 0]);
  if (light.evenness < LEAST_EVENNESS)
    return fail('uneven-light', undefined, String(Math.round(100 * light.evenness)));

  const patches = sampled.map((sample) => ({
    sample,
    reflectance: mapTriple(
      sample.linear,
      (value, channel) => value / light.gainAt(channel, sample.u, sample.v) - light.veil,
    ),
  }));
  const shiny = patches.find(
    ({ sample, reflectance }) =>
      sample.patch.step > 0 &&
      (sample.glareShare > MOST_GLARE_SHARE ||
        reflectance.reduce((sum, value) => sum + value, 0) / 3 > MOST_REFLECTANCE),
  );
  if (shiny) return fail('glare', nameOf(shiny.sample.patch));

  const doubts: PhotoDoubt[] = [];
  if (attitude.tiltDegrees > DOUBTFUL_TILT_DEGREES)
    doubts.push({ code: 'tilted', detail: attitude.tiltDegrees.toFixed(0) });
  if (light.evenness < DOUBTFUL_EVENNESS)
    doubts.push({ code: 'uneven-light', detail: String(Math.round(100 * light.evenness)) });
  const specked = sampled.find(({ glareShare }) => glareShare > DOUBTFUL_GLARE_SHARE);
  if (specked) doubts.push({ code: 'some-glare', detail: nameOf(specked.patch) });
  return succeed({
    attitude,
    slant,
    doubts,
    evenness: light.evenness,
    spread: edgeSpread(photo, map, slant, plan),
    reading: {
      kind: 'photo',
      date,
      grounds,
      patches: patches
        .filter(({ sample }) => sample.patch.step > 0)
        .map(({ sample, reflectance }) => ({
          ground: sample.patch.ground,
          thicknessMm: sample.patch.thicknessMm,
          code: mapTriple(
            reflectance,
            (value) => Math.round(25500 * encodeSrgb(clamp(value, 0, 1))) / 100,
          ),
        })),
    },
  });
}

function nameOf({ step, ground }: PlanPatch): string {
  return `${step} ${ground}`;
}

function samplePatch(
  photo: RgbaRaster,
  map: Perspective,
  plan: WedgePlan,
  patch: PlanPatch,
  { x, y, width, height }: PlanRect,
): SampledPatch {
  const toU = (mm: number): number => mm / plan.widthMm;
  const toV = (mm: number): number => mm / plan.heightMm;
  const from = projectPoint(map, toU(x), toV(y));
  const across = projectPoint(map, toU(x + width), toV(y));
  const down = projectPoint(map, toU(x), toV(y + height));
  // About one sample a photo pixel; more would only repeat pixels.
  const count = (to: { x: number; y: number }): number =>
    clamp(Math.round(Math.hypot(to.x - from.x, to.y - from.y)), 2, MOST_SAMPLES_A_SIDE);
  const columns = count(across);
  const rows = count(down);
  const channelOf = (): Float64Array => new Float64Array(columns * rows);
  const values = [channelOf(), channelOf(), channelOf()] as const;
  const brightness = new Float64Array(columns * rows);
  let clipped = 0;
  for (let row = 0; row < rows; row += 1)
    for (let column = 0; column < columns; column += 1) {
      const point = projectPoint(
        map,
        toU(x + (width * (column + 0.5)) / columns),
        toV(y + (height * (row + 0.5)) / rows),
      );
      const px = clamp(Math.floor(point.x), 0, photo.width - 1);
      const py = clamp(Math.floor(point.y), 0, photo.height - 1);
      const at = 4 * (py * photo.width + px);
      const i = row * columns + column;
      let sum = 0;
      let top = 0;
      for (let channel = 0; channel < 3; channel += 1) {
        const value = photo.data[at + channel] ?? 0;
        (values[channel] as Float64Array)[i] = value;
        sum += value;
        top = Math.max(top, value);
      }
      brightness[i] = sum / 3;
      if (top >= CLIPPED_CODE) clipped += 1;
    }
  const code: Triple = [trimmedMean(values[0]), trimmedMean(values[1]), trimmedMean(values[2])];
  brightness.sort();
  const middle = brightness[brightness.length >> 1] ?? 0;
  const glare = brightness.reduce((n, value) => n + (value > middle + GLARE_CODES ? 1 : 0), 0);
  return {
    patch,
    u: toU(x + width / 2),
    v: toV(y + height / 2),
    code,
    linear: mapTriple(code, (value) => decodeSrgb(value / 255)),
    glareShare: glare / brightness.length,
    clippedShare: clipped / brightness.length,
  };
}

/** Mean of what is left when the lowest and highest fifth of the values are taken away. */
export function trimmedMean(values: Float64Array): number {
  const sorted = values.slice().sort();
  const cut = Math.floor(sorted.length * TRIM_SHARE);
  const kept = sorted.subarray(cut, sorted.length - cut);
  return kept.reduce((sum, value) => sum + value, 0) / kept.length;
}

function bareOf(sampled: readonly SampledPatch[], ground: Ground): SampledPatch[] {
  return sampled.filter(({ patch }) => patch.step === 0 && patch.ground === ground);
}

function meanOf(samples: readonly SampledPatch[], of: (sample: SampledPatch) => number): number {
  return samples.reduce((sum, sample) => sum + of(sample), 0) / samples.length;
}

function judgeExposure(sampled: readonly SampledPatch[]): PhotoFault | undefined {
  const white = bareOf(sampled, 'white');
  const black = bareOf(sampled, 'black');
  const grey = ({ code }: SampledPatch): number => (code[0] + code[1] + code[2]) / 3;
  const level = ({ linear }: SampledPatch): number => (linear[0] + linear[1] + linear[2]) / 3;
  const whiteCode = meanOf(white, grey);
  if (whiteCode <= meanOf(black, grey)) return { code: 'grounds-swapped' };
  if (whiteCode < LEAST_WHITE_CODE) return { code: 'too-dark', detail: whiteCode.toFixed(0) };
  const clipped = white.find(({ clippedShare }) => clippedShare > MOST_CLIPPED_SHARE);
  if (clipped) return { code: 'overexposed' };
  const ratio = meanOf(white, level) / Math.max(1e-4, meanOf(black, level));
  if (ratio < LEAST_GROUND_RATIO) return { code: 'low-contrast', detail: ratio.toFixed(1) };
  return undefined;
}

/** How the photo's values follow from reflectance: value = gain(u, v) x (reflectance + veil). */
interface Light {
  readonly gainAt: (channel: number, u: number, v: number) => number;
  /** Stray light that lies over everything, as a reflectance. */
  readonly veil: number;
  readonly evenness: number;
}

/**
 * Finds light and stray light from the bare grounds, whose colours are known: the white ones give a gain that changes
 * bilinearly across the wedge (least squares), the black ones what is added everywhere. Each needs the other, so they are
 * worked out in turn; a few rounds settle.
 */
function fitLight(sampled: readonly SampledPatch[], white: Triple, black: Triple): Light {
  const whites = bareOf(sampled, 'white');
  const blacks = bareOf(sampled, 'black');
  const terms = ({ u, v }: { readonly u: number; readonly v: number }): number[] => [
    1,
    u,
    v,
    u * v,
  ];
  const design = new Matrix(whites.map(terms));
  let veil = 0;
  let gains: number[][] = [];
  const gainAt = (channel: number, u: number, v: number): number =>
    Math.max(
      1e-6,
      terms({ u, v }).reduce((sum, term, i) => sum + term * (gains[channel]?.[i] ?? 0), 0),
    );
  for (let round = 0; round < 6; round += 1) {
    gains = [0, 1, 2].map((channel) => {
      const values = whites.map(
        ({ linear }) => (linear[channel] ?? 0) / ((white[channel] ?? 0) + veil),
      );
      return solve(design, Matrix.columnVector(values), true).to1DArray();
    });
    const excess = blacks.map(
      ({ linear, u, v }) =>
        linear.reduce(
          (sum, value, channel) => sum + value / gainAt(channel, u, v) - (black[channel] ?? 0),
          0,
        ) / 3,
    );
    // No darker than the black itself can be explained by less stray light than none.
    veil = Math.max(
      trimmedMean(Float64Array.from(excess)),
      -0.5 * Math.max(0.002, Math.min(...black)),
    );
  }
  const corners = [0, 1].flatMap((u) => [0, 1].map((v) => gainAt(1, u, v)));
  return { gainAt, veil, evenness: Math.min(...corners) / Math.max(...corners) };
}
