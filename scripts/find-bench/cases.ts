/** What the quality of finding a stack is measured on: pictures, racks and the two sizes of the job. */
import { readFileSync } from 'node:fs';
import { gatherColours, type ColourCells } from '../../src/core/artwork/colour-cells.ts';
import { sampleArtwork } from '../../src/core/artwork/sample-artwork.ts';
import type { FindRequest } from '../../src/core/find/request.ts';
import { readRackCsv } from '../../src/core/formats/rack/rack-csv.ts';
import { brightnessOf, type Filament } from '../../src/core/stack/filament.ts';
import { USUAL_GRID } from '../../src/core/stack/layer-grid.ts';
import { decodePicture } from '../../src/platform/node/decode-picture.ts';

const at = (path: string): URL => new URL(`../../${path}`, import.meta.url);

/** Demo art and free photos; see tests/fixtures/images/SOURCES.md for the sources of the photos. */
export const PICTURES = [
  'demo/art/dome-at-dusk.png',
  'demo/art/veil-nebula.png',
  'demo/art/crater-study.png',
  'demo/art/dome-badge.png',
  'demo/art/comet-cut-out.png',
  'tests/fixtures/images/s24_cat.webp',
  'tests/fixtures/images/s25_coffee.avif',
  'tests/fixtures/images/s21_fig_adobe_gamut.jpg',
  'tests/fixtures/images/s23_daffodil_lossless.webp',
] as const;

/** More free photos, on which no part of the search was tuned; see pictures/SOURCES.md. */
export const KEPT_PICTURES: readonly string[] = [
  'pagoda',
  'autumn-hills',
  'sunset',
  'watermelon',
  'earth-map',
  'dogs',
].map((name) => `scripts/find-bench/pictures/${name}.webp`);

/** For heights: ten photos, and five of the demo art. */
export const HEIGHT_PICTURES: readonly string[] = [...PICTURES, ...KEPT_PICTURES];

const SAMPLES = 250_000;

export async function cellsOf(path: string): Promise<ColourCells> {
  const decoded = await decodePicture(readFileSync(at(path)));
  if (!decoded.ok) throw new Error(`${path}: ${decoded.fault.code}`);
  const { value } = decoded;
  const factor = Math.min(1, Math.sqrt(SAMPLES / (value.width * value.height)));
  return gatherColours(
    sampleArtwork(value, Math.round(value.width * factor), Math.round(value.height * factor)),
  );
}

function demoRack(): readonly Filament[] {
  const rack = readRackCsv(readFileSync(at('demo/rack.csv'), 'utf8'));
  if (!rack.ok) throw new Error(rack.fault.code);
  return [...rack.value].sort((a, b) => brightnessOf(a) - brightnessOf(b));
}

/** 24 filaments from dark to light, and every second one of them. */
export const RACK_24 = demoRack()
  .filter((_, i) => i % 5 !== 4)
  .slice(0, 24);
export const RACK_12 = RACK_24.filter((_, i) => i % 2 === 0);

/** A size of the job. */
export interface Case {
  readonly name: string;
  readonly filaments: readonly Filament[];
  readonly mostSwaps: number;
  readonly mostLayers: number;
}

export const SMALL: Case = { name: 'small', filaments: RACK_12, mostSwaps: 3, mostLayers: 24 };
export const LARGE: Case = { name: 'large', filaments: RACK_24, mostSwaps: 5, mostLayers: 30 };

export function requestOf(
  cells: ColourCells,
  { filaments, mostSwaps, mostLayers }: Case,
  over: Partial<FindRequest> = {},
): FindRequest {
  return {
    cells,
    filaments,
    grid: USUAL_GRID,
    rule: 'closest',
    mostSwaps,
    mostLayers,
    leastLayers: 3,
    leastPerBand: 1,
    must: [],
    bottom: null,
    top: null,
    rare: 0,
    seconds: 1,
    seed: 1,
    ...over,
  };
}
