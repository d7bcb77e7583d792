import { mapTriple, type Triple } from '../colour/srgb.ts';
import { DIFFERENCE_STEPS, NO_DIFFERENCE } from './difference.ts';
import { packColour, type Palette } from './height-map.ts';

/** Shades of heights: dark is low, light is high, on a true-neutral scale; nothing where nothing is printed. */
export function heightShades(layers: number): Palette {
  const palette = new Uint32Array(256);
  for (let height = 1; height < 256; height += 1) {
    const share = layers > 1 ? Math.min(1, (height - 1) / (layers - 1)) : 1;
    const grey = Math.round(28 + share * 215);
    palette[height] = packColour([grey, grey, grey]);
  }
  return palette;
}

/** Colours of a difference map: what is right stays dark, what is wrong glows. CIEDE2000 and the colour there. */
export const DIFFERENCE_COLOURS: readonly (readonly [number, Triple])[] = [
  [0, [18, 22, 30]],
  [2, [38, 54, 84]],
  [5, [122, 62, 108]],
  [10, [214, 96, 52]],
  [20, [240, 190, 30]],
  [31, [255, 250, 214]],
];

/** The palette of a difference map. */
export function differencePalette(): Palette {
  const palette = new Uint32Array(256);
  for (let step = 0; step < NO_DIFFERENCE; step += 1)
    palette[step] = packColour(differenceColour(step / DIFFERENCE_STEPS));
  return palette;
}

/** Colour of one difference, CIEDE2000. */
export function differenceColour(difference: number): Triple {
  const next = DIFFERENCE_COLOURS.findIndex(([limit]) => limit >= difference);
  const after = DIFFERENCE_COLOURS[next];
  const before = DIFFERENCE_COLOURS[next - 1];
  if (!after) return DIFFERENCE_COLOURS.at(-1)?.[1] ?? [255, 255, 255];
  if (!before) return after[1];
  const share = (difference - before[0]) / (after[0] - before[0]);
  return mapTriple(before[1], (value, i) =>
    Math.round(value + share * ((after[1][i] ?? 0) - value)),
  );
}
