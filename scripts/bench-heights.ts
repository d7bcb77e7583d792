/**
 * How good heights are as a picture and as a relief: part of `npm run bench`. Every rule gets a stack that was searched for it.
 * Writes docs/bench/heights.md.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { sampleArtwork } from '../src/core/artwork/sample-artwork.ts';
import { brightnessHistogram, measureBrightness } from '../src/core/artwork/brightness.ts';
import { gatherColours, type ColourCells } from '../src/core/artwork/colour-cells.ts';
import type { BrightnessMap } from '../src/core/artwork/brightness.ts';
import type { RgbaRaster } from '../src/core/base/raster.ts';
import { firstRequest } from '../src/core/find/first-look.ts';
import { findStack } from '../src/core/find/find-stack.ts';
import type { FindRequest, FoundStack } from '../src/core/find/request.ts';
import { coloursOfRamp } from '../src/core/heights/closest.ts';
import { differenceOf } from '../src/core/heights/difference.ts';
import { heightsByRule, type HeightRule } from '../src/core/heights/height-rules.ts';
import { naturalness } from '../src/core/heights/natural.ts';
import { fitTone, placesOfTone } from '../src/core/heights/tone.ts';
import { rampOfStack } from '../src/core/stack/stack-ramp.ts';
import { decodePicture } from '../src/platform/node/decode-picture.ts';
import { FIRST_LEAN, firstStack } from '../src/state/new-project.ts';
import { LARGE, PICTURES, RACK_24, requestOf } from './find-bench/cases.ts';

const LEANS = [0, 6, 15, 30];
const SAMPLES = 250_000;
const LEAST = 3;
/** The work of the quick search. */
const SECONDS = 1;

interface Artwork {
  readonly samples: RgbaRaster;
  readonly brightness: BrightnessMap;
  readonly cells: ColourCells;
}

async function load(path: string): Promise<Artwork> {
  const decoded = await decodePicture(readFileSync(new URL(`../${path}`, import.meta.url)));
  if (!decoded.ok) throw new Error(`${path}: ${decoded.fault.code}`);
  const { value } = decoded;
  const factor = Math.min(1, Math.sqrt(SAMPLES / (value.width * value.height)));
  const samples = sampleArtwork(
    value,
    Math.round(value.width * factor),
    Math.round(value.height * factor),
  );
  return { samples, brightness: measureBrightness(samples), cells: gatherColours(samples) };
}

const table = Object.fromEntries(RACK_24.map((filament) => [filament.id, filament]));

/** Mean colour error, error of the rarest 5 %, and how natural the relief is. */
function judge(
  artwork: Artwork,
  { bands }: Pick<FoundStack, 'bands'>,
  rule: (colours: Float32Array) => HeightRule,
) {
  const { grid } = requestOf(artwork.cells, LARGE);
  const ramp = rampOfStack({ grid, bands }, table);
  const heights = heightsByRule(
    { brightness: artwork.brightness, cells: () => artwork.cells },
    rule(coloursOfRamp(ramp)),
    { layers: ramp.length, leastLayers: LEAST, sampleMm: 0.2 },
  );
  const difference = differenceOf(artwork.samples, heights, ramp);
  return {
    mean: difference?.mean ?? Number.NaN,
    rho: naturalness(artwork.brightness, heights) ?? Number.NaN,
  };
}

function search(artwork: Artwork, over: Partial<FindRequest>): FoundStack {
  const found = findStack(requestOf(artwork.cells, LARGE, { seconds: SECONDS, ...over }));
  const best = found.ok ? found.value.curve.at(-1) : undefined;
  if (!best) throw new Error('nothing found');
  return best;
}

const mean = (values: readonly number[]): number =>
  values.reduce((sum, one) => sum + one, 0) / values.length;
const calming = { calm: 0, smallestMm: 0 };
const rows: string[] = [];
const sums = new Map<number, { x: number[]; rho: number[] }>();
const firsts: { share: number; ms: number; rho: number }[] = [];
for (const path of PICTURES) {
  const artwork = await load(path);
  const tone = fitTone(brightnessHistogram(artwork.brightness));
  const cellsOfRow: string[] = [];
  let closest = 0;
  for (const price of LEANS) {
    const lean = { price, places: placesOfTone(tone) };
    const stack = search(artwork, price > 0 ? { lean } : {});
    const told = judge(artwork, stack, (colours) => ({
      kind: 'closest',
      colours,
      ...(price > 0 ? { lean: { price, tone } } : {}),
      ...calming,
    }));
    if (price === 0) closest = told.mean;
    const sum = sums.get(price) ?? { x: [], rho: [] };
    sum.x.push(told.mean / closest);
    sum.rho.push(told.rho);
    sums.set(price, sum);
    cellsOfRow.push(`${told.mean.toFixed(2)} / ${told.rho.toFixed(2)}`);
  }
  const ladder = firstStack(RACK_24).map(([filamentId, layers]) => ({ filamentId, layers }));
  const grey = judge(artwork, { bands: ladder }, () => ({ kind: 'tone', tone, ...calming }));
  const began = performance.now();
  const first = findStack(
    firstRequest(
      artwork.cells,
      RACK_24,
      { grid: requestOf(artwork.cells, LARGE).grid, leastLayers: LEAST },
      { price: FIRST_LEAN, places: placesOfTone(tone) },
      undefined,
    ),
  );
  const ms = performance.now() - began;
  const bands = first.ok ? (first.value.curve.at(-1)?.bands ?? ladder) : ladder;
  const own = judge(artwork, { bands }, (colours) => ({
    kind: 'closest',
    colours,
    lean: { price: FIRST_LEAN, tone },
    ...calming,
  }));
  firsts.push({ share: own.mean / grey.mean, ms, rho: own.rho });
  rows.push(
    `| ${path.replace(/^.*\//, '')} | ${cellsOfRow.join(' | ')} | ${grey.mean.toFixed(2)} | ${own.mean.toFixed(2)} / ${own.rho.toFixed(2)}, ${ms.toFixed(0)} ms |`,
  );
  process.stdout.write(`${rows.at(-1) ?? ''}\n`);
}
const summary = LEANS.map((price) => {
  const { x = [], rho = [] } = sums.get(price) ?? {};
  return `| ${price} | ${mean(x).toFixed(3)} | ${Math.max(...x).toFixed(3)} | ${mean(rho).toFixed(2)} | ${price === 6 ? 'x 1.05, 0.5' : price === 15 ? 'x 1.12, 0.75' : ''} |`;
});
writeFileSync(
  new URL('../docs/bench/heights.md', import.meta.url),
  `# Bench of heights

Made by \`npm run bench\`. ${RACK_24.length} filaments, 5 swaps, 30 layers; a stack searched for each rule with the work of the quick search and
one seed. Colour error is the mean CIEDE2000, *natural* the rank correlation of height with brightness; neither calmed.
Machine: ${cpus()[0]?.model ?? 'unknown processor'}, ${cpus().length} cores, Node ${process.versions.node}.

| lean | error, times that of lean 0, mean | worst | natural, mean | limit |
|---|---|---|---|---|
${summary.join('\n')}

A first stack of four filaments has ${mean(firsts.map(({ share }) => share)).toFixed(2)} of the error of the grey ladder (limit 0.55), ${Math.max(...firsts.map(({ share }) => share)).toFixed(2)} at worst, is natural by
${mean(firsts.map(({ rho }) => rho)).toFixed(2)}, and is found in ${Math.max(...firsts.map(({ ms }) => ms)).toFixed(0)} ms at most (limit 500 ms).

| picture | lean ${LEANS.join(' | lean ')} | ladder | first stack |
|---|${LEANS.map(() => '---').join('|')}|---|---|
${rows.join('\n')}
`,
);
