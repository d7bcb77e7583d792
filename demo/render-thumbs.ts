/**
 * Makes the thumbnails of the demo cards: the predicted print for projects, the picture itself for the others.
 * Run with `npm run demo:thumbs` after a change of art, rack or stacks; the results are committed.
 */
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { measureBrightness } from '../src/core/artwork/brightness.ts';
import { sampleArtwork } from '../src/core/artwork/sample-artwork.ts';
import { readRackCsv } from '../src/core/formats/rack/rack-csv.ts';
import { meanColourError } from '../src/core/heights/colour-error.ts';
import { paintPrint } from '../src/core/heights/height-map.ts';
import { LEAST_LAYERS, toneHeights } from '../src/core/heights/tone.ts';
import { USUAL_GRID } from '../src/core/stack/layer-grid.ts';
import { totalLayers } from '../src/core/stack/stack.ts';
import { rampOfStack } from '../src/core/stack/stack-ramp.ts';
import { decodePicture } from '../src/platform/node/decode-picture.ts';
import { rampOfFaces } from '../src/core/tags/face-ramp.ts';
import { outlineRelief } from '../src/core/tags/outline-piece.ts';
import { loadShippedFaces } from '../src/platform/node/load-faces.ts';
import { heightRequest, shownSamplesOf, stackOf } from '../src/state/document-facts.ts';
import { readyForTags } from '../src/state/ready-for-tags.ts';
import { projectOfTag, TAG_GRID } from '../src/state/new-tag.ts';
import { DEMO_PICTURES, DEMO_PROJECTS } from './projects.ts';
import { DEMO_TAGS } from './tags.ts';

const WIDTH = 560;
const here = (path: string): string => new URL(path, import.meta.url).pathname;

const rack = readRackCsv(readFileSync(here('./rack.csv'), 'utf8'));
if (!rack.ok) throw new Error(`demo rack: ${rack.fault.code} ${rack.fault.where ?? ''}`);
const filaments = Object.fromEntries(rack.value.map((filament) => [filament.id, filament]));

for (const { file, recipe, rule } of DEMO_PROJECTS) {
  const picture = await decodePicture(readFileSync(here(`./art/${file}.png`)));
  if (!picture.ok) throw new Error(`${file}: ${picture.fault.code}`);
  const { width, height } = picture.value;
  const samples = sampleArtwork(picture.value, WIDTH, Math.round((WIDTH * height) / width));
  const bands = recipe.map(([filamentId, layers]) => ({ filamentId, layers }));
  const ramp = rampOfStack({ grid: USUAL_GRID, bands }, filaments);
  const heights = toneHeights(
    measureBrightness(samples),
    { kind: 'tone', ...rule },
    totalLayers(bands),
    LEAST_LAYERS,
  );
  const print = paintPrint(heights, ramp);
  await sharp(print.data, { raw: { width: print.width, height: print.height, channels: 4 } })
    .webp({ quality: 90 })
    .toFile(here(`./thumbs/${file}.webp`));
  process.stdout.write(
    `${file}: mean colour error ${meanColourError(samples, heights, ramp, 0.2)?.toFixed(2) ?? 'none'}\n`,
  );
}
await readyForTags(loadShippedFaces);
for (const { name, file, tag } of DEMO_TAGS) {
  const document = projectOfTag(name, tag, TAG_GRID, rack.value);
  const { piece, face, ...samples } = heightRequest(document, shownSamplesOf(document));
  if (!piece) throw new Error(`${name} is no tag`);
  const ramp = rampOfFaces(stackOf(document), document.stack.filaments, face);
  const print = paintPrint(outlineRelief(face?.piece ?? piece, samples).heights, ramp);
  await sharp(print.data, { raw: { width: print.width, height: print.height, channels: 4 } })
    .resize({
      width: WIDTH,
      height: Math.round((WIDTH * 2) / 3),
      fit: 'contain',
      background: '#6e6e6e',
    })
    .flatten({ background: '#6e6e6e' })
    .webp({ quality: 90 })
    .toFile(here(`./thumbs/${file}.webp`));
}
for (const { file } of DEMO_PICTURES)
  await sharp(here(`./art/${file}.png`))
    .resize({ width: WIDTH })
    .webp({ quality: 90 })
    .toFile(here(`./thumbs/${file}.webp`));
