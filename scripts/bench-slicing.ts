/**
 * How long G-code of our own takes, as ratios to writing the same relief as STL, and how well it covers: part of `npm run bench`.
 * Writes docs/bench/slicing.md.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { measureBrightness } from '../src/core/artwork/brightness.ts';
import { sampleArtwork } from '../src/core/artwork/sample-artwork.ts';
import { noCheckpoint } from '../src/core/base/checkpoint.ts';
import type { HeightMap } from '../src/core/base/raster.ts';
import { reliefStl } from '../src/core/formats/mesh/relief-files.ts';
import { withoutIslands } from '../src/core/heights/islands.ts';
import { PLAIN_TONE, toneHeights } from '../src/core/heights/tone.ts';
import { partDiagonals } from '../src/core/relief/part-diagonals.ts';
import { makeOwnGcode, sliceRelief } from '../src/core/slicing/own-gcode.ts';
import { decodePicture } from '../src/platform/node/decode-picture.ts';
import { laidQuality, ownPrint } from '../tests/helpers/own-gcode.ts';

const [WIDTH, HEIGHT, SAMPLE_MM, LAYERS] = [500, 400, 0.2, 24];
const ROUNDS = 5;
const FINE = 4;

async function heightsOf(name: string): Promise<HeightMap> {
  const path = new URL(`../demo/art/${name}.png`, import.meta.url).pathname;
  const picture = await decodePicture(readFileSync(path));
  if (!picture.ok) throw new Error(picture.fault.code);
  const samples = sampleArtwork(picture.value, WIDTH, HEIGHT);
  const heights = toneHeights(measureBrightness(samples), PLAIN_TONE, LAYERS, 3);
  return partDiagonals(withoutIslands(heights, 4)).heights;
}

const median = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[values.length >> 1] ?? Number.NaN;

async function timed(action: () => unknown): Promise<number> {
  const start = performance.now();
  await action();
  return performance.now() - start;
}

const rows: string[] = [];
for (const name of ['dome-at-dusk', 'veil-nebula', 'crater-study']) {
  const heights = await heightsOf(name);
  const print = ownPrint(heights, [6, 6, 6, 6], { sampleMm: SAMPLE_MM });
  const source = {
    heights,
    sampleMm: SAMPLE_MM,
    stack: print.stack,
    filaments: print.filaments,
    title: name,
    stamp: 'BENCH',
  };
  const times: Record<'stl' | 'slice' | 'whole', number[]> = { stl: [], slice: [], whole: [] };
  let text = '';
  for (let round = 0; round < ROUNDS; round += 1) {
    times.stl.push(await timed(() => reliefStl(source, noCheckpoint)));
    times.slice.push(await timed(() => sliceRelief(print, LAYERS, noCheckpoint)));
    times.whole.push(
      await timed(async () => {
        const made = await makeOwnGcode(print);
        if (!made.ok) throw new Error(made.fault.code);
        if (round === 0) text = Buffer.concat(made.value.pieces).toString('latin1');
      }),
    );
  }
  const { over, worst, beyond, plastic } = laidQuality(heights, text, {
    sampleMm: SAMPLE_MM,
    layers: LAYERS,
    fine: FINE,
  });
  const ratio = (way: 'slice' | 'whole'): string =>
    (median(times[way]) / median(times.stl)).toFixed(2);
  const percent = (share: number): string => `${(100 * share).toFixed(2)} %`;
  rows.push(
    `| ${name} | ${ratio('slice')} | ${ratio('whole')} | ${(median(times.slice) / 1000).toFixed(1)} | ${percent(over)} | ${percent(worst)} | ${percent(beyond)} | ${plastic.toFixed(4)} |`,
  );
}
const text = `# Bench of G-code of our own

Made by \`npm run bench\`. Demo pictures as ${WIDTH} x ${HEIGHT} samples of ${SAMPLE_MM} mm in ${LAYERS} layers, by brightness, islands levelled, not calmed;
medians of ${ROUNDS} runs. *slice* works out all lines; *whole* also writes, puts the swaps in, reads back three times and compares with the plan.
Ratios are to writing the same relief as STL. Seconds are of this machine (wanted: 3 for the lines). What is swept is found point by point from the
file, 16 points a sample (wanted: covered 98.5 %, worst layer 89 %, beyond 0.3 %, plastic 0.99 to 1.015).
Machine: ${cpus()[0]?.model ?? 'unknown'}, ${cpus().length} cores, Node ${process.versions.node}.

| picture | slice, times STL | whole, times STL | slice, s | covered | worst layer | beyond | plastic |
|---|---|---|---|---|---|---|---|
${rows.join('\n')}
`;
writeFileSync(new URL('../docs/bench/slicing.md', import.meta.url), text);
process.stdout.write(text);
