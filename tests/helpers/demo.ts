import { readFileSync } from 'node:fs';
import { gatherColours } from '#core/artwork/colour-cells.ts';
import { measureBrightness } from '#core/artwork/brightness.ts';
import { sampleArtwork } from '#core/artwork/sample-artwork.ts';
import type { HeightMap, RgbaRaster } from '#core/base/raster.ts';
import { readRackCsv } from '#core/formats/rack/rack-csv.ts';
import { paintPrint } from '#core/heights/height-map.ts';
import { heightsByRule } from '#core/heights/height-rules.ts';
import { LEAST_LAYERS, type ToneRule } from '#core/heights/tone.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import { USUAL_GRID } from '#core/stack/layer-grid.ts';
import { totalLayers, type Band } from '#core/stack/stack.ts';
import { rampOfStack, type FilamentTable } from '#core/stack/stack-ramp.ts';
import { DEMO_PROJECTS } from '../../demo/projects.ts';
import { decodePicture } from '../../src/platform/node/decode-picture.ts';

const root = new URL('../../demo/', import.meta.url);

/** The demo rack by id. */
export function demoFilaments(): FilamentTable {
  const rack = readRackCsv(readFileSync(new URL('rack.csv', root), 'utf8'));
  if (!rack.ok) throw new Error(rack.fault.code);
  return Object.fromEntries(rack.value.map((filament) => [filament.id, filament]));
}

/** A demo project as the page should have it, worked out here with the core alone. */
export interface ExpectedDemo {
  readonly bands: readonly Band[];
  readonly rule: ToneRule;
  readonly samples: RgbaRaster;
  heights(bands: readonly Band[], rule?: ToneRule): HeightMap;
  print(bands: readonly Band[], rule?: ToneRule): RgbaRaster;
}

/** Works a demo project out at some resolution. */
export async function expectDemo(
  file: string,
  columns: number,
  rows: number,
  widthMm = 150,
): Promise<ExpectedDemo> {
  const demo = DEMO_PROJECTS.find((one) => one.file === file);
  if (!demo) throw new Error(`no demo ${file}`);
  const picture = await decodePicture(readFileSync(new URL(`art/${file}.png`, root)));
  if (!picture.ok) throw new Error(picture.fault.code);
  const samples = sampleArtwork(picture.value, columns, rows);
  const brightness = measureBrightness(samples);
  const own: ToneRule = { kind: 'tone', ...demo.rule };
  const filaments = demoFilaments();
  const heights = (bands: readonly Band[], tone = own): HeightMap =>
    partDiagonals(
      heightsByRule(
        { brightness, cells: () => gatherColours(samples) },
        // New pieces lose what a 0.4 mm nozzle cannot print, or grow it.
        { kind: 'tone', tone, calm: 0, smallestMm: 0.4, details: true },
        {
          layers: totalLayers(bands),
          leastLayers: LEAST_LAYERS,
          sampleMm: widthMm / columns,
        },
      ),
    ).heights;
  return {
    bands: demo.recipe.map(([filamentId, layers]) => ({ filamentId, layers })),
    rule: own,
    samples,
    heights,
    print: (bands, rule) =>
      paintPrint(heights(bands, rule), rampOfStack({ grid: USUAL_GRID, bands }, filaments)),
  };
}

/** Pixels of a raster at places given as shares of its width and height. */
export function pixelsAt(
  { width, height, data }: RgbaRaster,
  places: readonly (readonly [number, number])[],
): number[][] {
  return places.map(([x, y]) => {
    const at = (Math.floor(y * height) * width + Math.floor(x * width)) * 4;
    return [...data.slice(at, at + 4)];
  });
}

/** A spread of places over a picture. */
export const PLACES: readonly (readonly [number, number])[] = Array.from({ length: 64 }, (_, i) => [
  ((i % 8) + 0.53) / 8,
  (Math.floor(i / 8) + 0.47) / 8,
]);
