import { bytesOfLinear, linearOfBytes, mapTriple, type Triple } from '../colour/srgb.ts';
import type { Ramp, RampStep } from '../optics/ramp.ts';
import { packColour, type Palette } from './height-map.ts';

/** A print that hangs before a lamp in a room. Both as shares of what shows white as full white. */
export interface LampLight {
  /** Brightness of the bare lamp, 0..2: above 1 it is brighter than the screen can show. */
  readonly lamp: number;
  /** Light of the room on the front, 0..1. */
  readonly room: number;
}

/** The usual look: a bright lamp in a dim room. */
export const USUAL_LIGHT: LampLight = { lamp: 1, room: 0.1 };

/**
 * Colour of one height in lamp and room light, sRGB bytes. Light adds up: what comes through from the lamp, and what the
 * front throws back of the room's.
 */
export function colourBeforeLamp({ through, colour }: RampStep, light: LampLight): Triple {
  const front = linearOfBytes(colour);
  return bytesOfLinear(
    mapTriple(through, (share, channel) => light.lamp * share + light.room * (front[channel] ?? 0)),
  );
}

/** Colours of all heights before a lamp; where nothing is printed one sees the lamp itself. */
export function lampPalette(ramp: Ramp, light: LampLight): Palette {
  const palette = new Uint32Array(256);
  palette[0] = packColour(bytesOfLinear([light.lamp, light.lamp, light.lamp]));
  const steps = ramp.map((step) => packColour(colourBeforeLamp(step, light)));
  for (let layers = 1; layers < 256; layers += 1)
    palette[layers] = steps[Math.min(layers, steps.length) - 1] ?? 0;
  return palette;
}
