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
import { withoutIslands } from '../src/core/heights/calm.ts';
import { PLAIN_TONE, toneHeights } from '../src/core/heights/tone.ts';
import { USUAL_PRINTER } from '../src/core/printer/printer.ts';
import { partDiagonals } from '../src/core/relief/part-diagonals.ts';
import { makeOwnGcode, sliceRelief } from '../src/core/slicing/own-gcode.ts';
import { decodePicture } from '../src/platform/node/decode-picture.ts';
import { covered, ownPrint, plainMoves, widthOf } from '../tests/helpers/own-gcode.ts';

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

/** Shares of the samples' area that lines go over, of the worst layer, of what lies beyond; and plastic over volume. */
function quality(heights: HeightMap, text: string): readonly [number, number, number, number] {
  const moves = plainMoves(text).filter(
    ({ strand, layer, from, to }) =>
      strand > 0 && layer > 0 && Math.hypot(to[0] - from[0], to[1] - from[1]) > 0,
  );
  const step = SAMPLE_MM / FINE;
  const grid = {
    left: 110 - (WIDTH * SAMPLE_MM) / 2,
    front: 110 - (HEIGHT * SAMPLE_MM) / 2,
    stepMm: step,
    columns: WIDTH * FINE,
    rows: HEIGHT * FINE,
  };
  let [points, over, beyond, worst, plastic, volume] = [0, 0, 0, 1, 0, 0];
  for (let layer = 1; layer <= LAYERS; layer += 1) {
    const heightMm = layer === 1 ? 0.16 : 0.08;
    const own = moves.filter((move) => move.layer === layer);
    const swept = covered(own, grid, (move) => widthOf(move, heightMm, USUAL_PRINTER));
    let [wanted, hit] = [0, 0];
    for (let j = 0; j < grid.rows; j += 1)
      for (let i = 0; i < grid.columns; i += 1) {
        const sample = (HEIGHT - 1 - Math.floor(j / FINE)) * WIDTH + Math.floor(i / FINE);
        const laid = swept[j * grid.columns + i] === 1;
        if ((heights.data[sample] ?? 0) >= layer) {
          wanted += 1;
          if (laid) hit += 1;
        } else if (laid) beyond += 1;
      }
    if (wanted === 0) continue;
    points += wanted;
    over += hit;
    worst = Math.min(worst, hit / wanted);
    plastic += own.reduce((sum, { strand }) => sum + strand, 0) * (Math.PI / 4) * 1.75 ** 2;
    volume += wanted * step ** 2 * heightMm;
  }
  return [over / points, worst, beyond / points, plastic / volume];
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
  const [cover, worst, beyond, plastic] = quality(heights, text);
  const ratio = (way: 'slice' | 'whole'): string =>
    (median(times[way]) / median(times.stl)).toFixed(2);
  const percent = (share: number): string => `${(100 * share).toFixed(2)} %`;
  rows.push(
    `| ${name} | ${ratio('slice')} | ${ratio('whole')} | ${(median(times.slice) / 1000).toFixed(1)} | ${percent(cover)} | ${percent(worst)} | ${percent(beyond)} | ${plastic.toFixed(4)} |`,
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
