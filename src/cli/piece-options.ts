import { MAX_LAYERS } from '#core/base/raster.ts';
import { PLATE_OUTLINES, type PieceShape } from '#core/relief/shape.ts';
import { GREATEST_LAYER_MM, LEAST_LAYER_MM, type LayerGrid } from '#core/stack/layer-grid.ts';
import { BadInput, numberOption } from '../platform/bad-input.ts';

/** Options for what is done to the outline of a piece; see `parseArgs`. */
export const PIECE_OPTIONS = {
  'border-mm': { type: 'string' },
  'border-layers': { type: 'string' },
  plate: { type: 'string' },
  'plate-margin-mm': { type: 'string' },
  'plate-layers': { type: 'string' },
  'corner-mm': { type: 'string' },
  holes: { type: 'string', multiple: true },
  base: { type: 'string' },
} as const;

type PieceValues = {
  readonly [Name in keyof typeof PIECE_OPTIONS]?: Name extends 'holes'
    ? readonly string[] | undefined
    : string | undefined;
};

const MOST_MM = 200;
/** Margin that the app begins a plate with. */
const USUAL_MARGIN_MM = 3;

/**
 * Border, plate, corners and holes that were asked for.
 * @param layers of the stack, and at least `leastLayers` of the plate
 * @throws BadInput naming the option
 */
export function shapeOf(values: PieceValues, layers: number, leastLayers: number): PieceShape {
  const number = (name: keyof PieceValues, usual: number, least: number, most: number): number =>
    numberOption(values[name] as string | undefined, name, usual, least, most);
  const { plate } = values;
  const outline = PLATE_OUTLINES.find((known) => known === plate);
  if (plate !== undefined && !outline)
    throw new BadInput(`--plate is "${plate}". Give one of ${PLATE_OUTLINES.join(', ')}.`);
  for (const [name, needs] of [
    ['border-layers', 'border-mm'],
    ['plate-margin-mm', 'plate'],
    ['plate-layers', 'plate'],
  ] as const)
    if (values[name] !== undefined && values[needs] === undefined)
      throw new BadInput(`--${name} says nothing without --${needs}. Add that, or leave it out.`);
  return {
    border:
      values['border-mm'] === undefined
        ? null
        : {
            widthMm: number('border-mm', 0, 0.1, MOST_MM),
            layers: wholeLayers(number('border-layers', layers, 1, layers), 'border-layers'),
          },
    plate: outline
      ? {
          outline,
          marginMm: number('plate-margin-mm', USUAL_MARGIN_MM, 0, MOST_MM),
          layers: wholeLayers(number('plate-layers', leastLayers, 1, layers), 'plate-layers'),
        }
      : null,
    cornerMm: number('corner-mm', 0, 0, MOST_MM),
    holes: (values.holes ?? []).flatMap((list) => list.split(';').map(holeOf)),
  };
}

function wholeLayers(layers: number, name: string): number {
  if (!Number.isInteger(layers))
    throw new BadInput(`--${name} is ${layers}. Give a whole number of layers.`);
  return layers;
}

/** `10,12.5,4`: a hole of 4 mm with its middle 10 mm from the left and 12.5 mm from the top of the piece. */
function holeOf(text: string): PieceShape['holes'][number] {
  const [xMm = Number.NaN, yMm = Number.NaN, diameterMm = Number.NaN, ...more] = text
    .split(',')
    .map((part) => (part.trim() === '' ? Number.NaN : Number(part)));
  const sound =
    more.length === 0 && xMm >= 0 && yMm >= 0 && diameterMm > 0 && diameterMm <= MOST_MM;
  if (!sound || ![xMm, yMm, diameterMm].every(Number.isFinite))
    throw new BadInput(
      `--holes has "${text}". Give X,Y,DIAMETER in mm from the upper left corner, several with ; between them.`,
    );
  return { xMm, yMm, diameterMm };
}

/**
 * A stack's grid with a thicker base: `3x0.24` makes the three lowest layers the base and prints those above the first one,
 * which keeps its own height, 0.24 mm thick.
 * @throws BadInput where the text says no such thing
 */
export function gridWithBase(grid: LayerGrid, base: string | undefined): LayerGrid {
  if (base === undefined) return grid;
  const [, layers, mm] = /^(\d+)x(\d+(?:\.\d+)?)$/.exec(base) ?? [];
  const baseLayers = Number(layers);
  const baseLayerMm = Number(mm);
  const sound =
    baseLayers >= 1 &&
    baseLayers <= MAX_LAYERS &&
    baseLayerMm >= LEAST_LAYER_MM &&
    baseLayerMm <= GREATEST_LAYER_MM;
  if (!sound)
    throw new BadInput(
      `--base is "${base}". Give LAYERSxMM, such as 3x0.24, with layers of ${LEAST_LAYER_MM} to ${GREATEST_LAYER_MM} mm.`,
    );
  return { ...grid, baseLayerMm, baseLayers };
}
