/**
 * `npm run bench`: how long the heavy parts take, as ratios to a plain loop that copies the same pixels, measured in the
 * same run. Writes docs/bench/core.md.
 */
import { mkdirSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { gatherColours } from '../src/core/artwork/colour-cells.ts';
import { measureBrightness } from '../src/core/artwork/brightness.ts';
import { sampleArtwork } from '../src/core/artwork/sample-artwork.ts';
import type { HeightMap } from '../src/core/base/raster.ts';
import { bytesIn } from '../src/core/base/byte-pieces.ts';
import { writeStl } from '../src/core/formats/mesh/write-stl.ts';
import { withoutIslands } from '../src/core/heights/islands.ts';
import {
  closestHeights,
  coloursOfRamp,
  heightsOfCells,
  nearestLayersExactly,
} from '../src/core/heights/closest.ts';
import { differenceOf } from '../src/core/heights/difference.ts';
import { bandTops, flatOfPicture, heightsOfFlat } from '../src/core/heights/flat.ts';
import { heightsByRule } from '../src/core/heights/height-rules.ts';
import { paletteOf, recolour } from '../src/core/heights/height-map.ts';
import { PLAIN_TONE, toneHeights } from '../src/core/heights/tone.ts';
import { partDiagonals } from '../src/core/relief/part-diagonals.ts';
import { reliefMesh, smoothMmOf } from '../src/core/relief/relief-mesh.ts';
import { buildTerraceMesh, type Mesh } from '../src/core/relief/terrace-mesh.ts';
import { layerTopsMm, USUAL_GRID } from '../src/core/stack/layer-grid.ts';
import { bandEnds } from '../src/core/stack/stack.ts';
import { rampOfStack } from '../src/core/stack/stack-ramp.ts';
import { readFileSync } from 'node:fs';
import { decodePicture } from '../src/platform/node/decode-picture.ts';
import { FILAMENTS, stackOf } from '../tests/helpers/stacks.ts';

/** Median time of `rounds` runs after a few to warm up, ms. */
function time(rounds: number, work: () => unknown): number {
  for (let i = 0; i < Math.min(5, rounds); i += 1) work();
  const times = Array.from({ length: rounds }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  }).sort((a, b) => a - b);
  return times[Math.floor(rounds / 2)] ?? 0;
}

function copy(from: Uint32Array, to: Uint32Array): void {
  for (let i = 0; i < from.length; i += 1) to[i] = from[i] as number;
}

const picture = await decodePicture(
  readFileSync(new URL('../demo/art/dome-at-dusk.png', import.meta.url)),
);
if (!picture.ok) throw new Error(picture.fault.code);
const stack = stackOf(6, 6, 6, 6);
const LAYERS = 24;
const rows: string[] = [];
const row = (...cells: (string | number)[]): void => {
  rows.push(`| ${cells.join(' | ')} |`);
};

const megapixel = sampleArtwork(picture.value, 1224, 816);
const brightness = measureBrightness(megapixel);
const heights = toneHeights(brightness, PLAIN_TONE, LAYERS);
const source = new Uint32Array(megapixel.data.buffer);
const target = new Uint32Array(source.length);
const copyMs = time(41, () => copy(source, target));
const recolourMs = time(41, () => {
  recolour(heights.data, paletteOf(rampOfStack(stack, FILAMENTS)), target);
});
const cells = gatherColours(megapixel);
const closestMs = time(21, () => {
  const ramp = rampOfStack(stack, FILAMENTS);
  const blend = closestHeights(cells, coloursOfRamp(ramp), 3);
  recolour(blend.data, paletteOf(ramp), target);
});
const blendColours = coloursOfRamp(rampOfStack(stack, FILAMENTS));
const exactMs = time(5, () => heightsOfCells(cells, nearestLayersExactly(cells, blendColours, 3)));
const artwork = { brightness, cells: () => cells };
const limits = { layers: LAYERS, leastLayers: 3, sampleMm: 0.2 };
const calmMs = time(5, () =>
  heightsByRule(
    artwork,
    { kind: 'closest', colours: blendColours, quick: true, calm: 0.5, smallestMm: 0 },
    limits,
  ),
);
const islandMs = time(5, () => withoutIslands(heights, 4));
const differenceMs = time(3, () =>
  differenceOf(megapixel, heights, rampOfStack(stack, FILAMENTS), 0.2),
);
const toneMs = time(21, () => toneHeights(brightness, PLAIN_TONE, LAYERS));
const partMs = time(11, () => partDiagonals(heights));
rows.push('| what | ratio to the copy | limit |', '|---|---|---|');
row('plain loop copy of 1 MP', '1', '');
row(
  'recolour 1 MP after a change of the stack, ramp included',
  (recolourMs / copyMs).toFixed(2),
  '1.5',
);
row('tone heights of 1 MP after a change of the rule', (toneMs / copyMs).toFixed(2), '');
row(
  'closest blend of 1 MP after a change of the stack, quick, recoloured, ramp included',
  (closestMs / copyMs).toFixed(2),
  '3',
);
row('closest blend of 1 MP by CIEDE2000, for heights that stay', (exactMs / copyMs).toFixed(1), '');
row(
  `calm at 50 % of 1 MP (${(calmMs / 1000).toFixed(2)} s here)`,
  (calmMs / copyMs).toFixed(0),
  '0.6 s',
);
row('islands of 1 MP', (islandMs / copyMs).toFixed(0), '');
row('difference map of 1 MP', (differenceMs / copyMs).toFixed(0), '');
row('parting diagonal contacts of 1 MP', (partMs / copyMs).toFixed(2), '');

const tops = layerTopsMm(USUAL_GRID, LAYERS);
rows.push(
  '',
  '| relief | ratio to the copy of 1 MP | here | triangles | STL |',
  '|---|---|---|---|---|',
);
/** Smooth skies, fine clouds with stars, and a photo with fur (see tests/fixtures/images/SOURCES.md). */
const RELIEFS = [
  'demo/art/dome-at-dusk.png',
  'demo/art/veil-nebula.png',
  'tests/fixtures/images/s24_cat.webp',
];
for (const path of RELIEFS) {
  const decoded = await decodePicture(readFileSync(new URL(`../${path}`, import.meta.url)));
  if (!decoded.ok) throw new Error(decoded.fault.code);
  for (const side of [250, 750, 1500]) {
    const samples = sampleArtwork(decoded.value, side, side);
    const map: HeightMap = partDiagonals(
      toneHeights(measureBrightness(samples), PLAIN_TONE, LAYERS),
    ).heights;
    const meshMs = time(5, () => buildTerraceMesh(map, 0.2, tops));
    const mesh = buildTerraceMesh(map, 0.2, tops);
    const bytes = bytesIn(writeStl(mesh, 'bench'));
    row(
      `${path.split('/').at(-1) ?? path}, ${side} x ${side}`,
      (meshMs / copyMs).toFixed(0),
      `${(meshMs / 1000).toFixed(2)} s`,
      mesh.triangles.length / 3,
      `${(bytes / 1e6).toFixed(1)} MB`,
    );
  }
}

// Flat art reduced to four areas: the one in samples beside the smooth one, tolerance as with a 0.4 mm nozzle.
const badge = await decodePicture(
  readFileSync(new URL('../demo/art/dome-badge.png', import.meta.url)),
);
if (!badge.ok) throw new Error(badge.fault.code);
for (const side of [250, 750]) {
  const cells = gatherColours(sampleArtwork(badge.value, side, side));
  const ramp = rampOfStack(stack, FILAMENTS);
  const colours = flatOfPicture(cells, 4, bandTops(bandEnds(stack.bands), ramp));
  const flat = partDiagonals(
    heightsOfCells(cells, heightsOfFlat(cells, colours, LAYERS, 3)),
  ).heights;
  for (const smoothMm of [undefined, smoothMmOf(0.4)]) {
    const make = (): Mesh => reliefMesh({ heights: flat, sampleMm: 0.2, smoothMm }, tops);
    const meshMs = time(5, make);
    const mesh = make();
    row(
      `dome-badge.png, four flat areas, ${side} x ${side}, ${smoothMm === undefined ? 'along samples' : 'smooth'}`,
      (meshMs / copyMs).toFixed(0),
      `${(meshMs / 1000).toFixed(2)} s`,
      mesh.triangles.length / 3,
      `${(bytesIn(writeStl(mesh, 'bench')) / 1e6).toFixed(1)} MB`,
    );
  }
}

const report = `# Bench of the core

Made by \`npm run bench\`. Times are ratios to a plain loop copy of one megapixel, measured in the same run.
Machine: ${cpus()[0]?.model ?? 'unknown processor'}, ${cpus().length} cores, Node ${process.versions.node}.

${rows.join('\n')}
`;
mkdirSync(new URL('../docs/bench', import.meta.url), { recursive: true });
writeFileSync(new URL('../docs/bench/core.md', import.meta.url), report);
process.stdout.write(report);
