import { clamp } from '../base/numbers.ts';
import { labOfLinear } from '../colour/lab.ts';
import { bytesOfLinear, mapTriple, type Triple } from '../colour/srgb.ts';
import { mixOfWhites, weightsUnder, whiteOf, type LightKind } from '../optics/lights.ts';
import type { Ramp, RampStep } from '../optics/ramp.ts';
import { BIN_COUNT, linearOfSpectrum } from '../optics/spectral-bins.ts';
import { packColour, type Palette } from './height-map.ts';

/** A print that hangs before a lamp in a room. Both as shares of what shows white as full white. */
export interface LampLight {
  /** Brightness of the bare lamp, 0..2: above 1 it is brighter than the screen can show. */
  readonly lamp: number;
  /** Light of the room on the front, 0..1. */
  readonly room: number;
  /** Kinds of light, `d65` unless said otherwise. */
  readonly lampKind?: LightKind | undefined;
  readonly roomKind?: LightKind | undefined;
}

/** The usual look: a bright lamp in a dim room. */
export const USUAL_LIGHT: LampLight = { lamp: 1, room: 0.1 };

/**
 * Turns spectra into linear sRGB in lamp and room light. Light adds up: what comes through from the lamp, and what the front throws
 * back of the room's. The eye is taken as adapted to both together, each by its brightness: a warm lamp alone looks white, and warm
 * beside daylight.
 */
function viewerOf(light: LampLight): (behind: Float64Array, front: Float64Array) => Triple {
  const { lamp, room, lampKind = 'd65', roomKind = 'd65' } = light;
  const adapted = mixOfWhites([lampKind, lamp], [roomKind, room]);
  const lampWeights = weightsUnder(lampKind, adapted);
  const roomWeights = weightsUnder(roomKind, adapted);
  return (behind, front) => {
    const through = linearOfSpectrum(behind, 0, lampWeights);
    const seen = linearOfSpectrum(front, 0, roomWeights);
    return mapTriple(
      through,
      (share, channel) => lamp * share + room * clamp(seen[channel] ?? 0, 0, 1),
    );
  };
}

/** Colour of one height in lamp and room light, sRGB bytes. */
export function colourBeforeLamp(
  { behind, front }: Pick<RampStep, 'behind' | 'front'>,
  light: LampLight,
): Triple {
  return bytesOfLinear(viewerOf(light)(behind, front));
}

const ALL = new Float64Array(BIN_COUNT).fill(1);
const NOTHING = new Float64Array(BIN_COUNT);

/** Linear sRGB of all heights before a lamp, 0 first: there one sees the lamp itself. */
export function linearBeforeLamp(ramp: Ramp, light: LampLight): readonly Triple[] {
  const view = viewerOf(light);
  return [view(ALL, NOTHING), ...ramp.map(({ behind, front }) => view(behind, front))];
}

/** Colours of all heights before a lamp; where nothing is printed one sees the lamp itself. */
export function lampPalette(ramp: Ramp, light: LampLight): Palette {
  const steps = linearBeforeLamp(ramp, light).map((linear) => packColour(bytesOfLinear(linear)));
  return Uint32Array.from({ length: 256 }, (_, n) => steps[Math.min(n, steps.length - 1)] ?? 0);
}

/** The ramp as it is seen in a room of another light, by an eye that is adapted to it. What comes through stays as it is. */
export function rampInRoom(ramp: Ramp, room: LightKind): Ramp {
  if (room === 'd65') return ramp;
  const weights = weightsUnder(room, whiteOf(room));
  return ramp.map((step) => {
    const linear = linearOfSpectrum(step.front, 0, weights);
    return { ...step, colour: bytesOfLinear(linear), lab: labOfLinear(linear) };
  });
}
