/**
 * Draws the simulated photo of a step wedge into demo/wedge, with what the wizard needs to read it. Run with
 * `npm run demo:wedge`; the results are committed.
 */
import { readFile, writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { readRackCsv } from '../src/core/formats/rack/rack-csv.ts';
import { firstWedgeSettings, planOfSettings } from '../src/state/wedge-project.ts';
import { drawWedgePhoto } from './draw/wedge-photo.ts';

const WIDTH = 1200;
const HEIGHT = 800;

const rack = readRackCsv(await readFile(new URL('./rack.csv', import.meta.url), 'utf8'));
if (!rack.ok) throw new Error(rack.fault.code);
const find = (id: string) => {
  const found = rack.value.find((filament) => filament.id === id);
  if (!found) throw new Error(`no ${id} in the rack`);
  return found;
};
const grounds = { black: find('soot'), white: find('chalk') };
const labelled = find('rust');
// The spool on the table is not quite what its label says: that is why it is measured.
const real = { ...labelled, transmissionMm: 2.1, colour: '#97461f' };
const settings = { ...firstWedgeSettings(labelled, grounds), expectedMm: 2, topMm: 1.04 };
const plan = planOfSettings(settings, grounds);
if (!plan.ok) throw new Error(plan.fault.code);
const { photo, corners } = drawWedgePhoto({
  plan: plan.value,
  ...grounds,
  tested: real,
  width: WIDTH,
  height: HEIGHT,
  tiltDegrees: 14,
  leanDegrees: 25,
  rollDegrees: -4,
  noiseCodes: 2,
  unevenness: 0.22,
  exposure: 0.86,
  veil: 0.008,
  seed: 7,
});
const pixels = Buffer.from(photo.data.buffer);
const { size } = await sharp(pixels, { raw: { width: WIDTH, height: HEIGHT, channels: 4 } })
  .removeAlpha()
  .jpeg({ quality: 88, chromaSubsampling: '4:4:4' })
  .toFile(new URL('./wedge/rust-wedge.jpg', import.meta.url).pathname);
await writeFile(
  new URL('./wedge/rust-wedge.json', import.meta.url),
  `${JSON.stringify(
    {
      filamentId: labelled.id,
      truth: { transmissionMm: real.transmissionMm, colour: real.colour },
      settings,
      corners: corners.map(({ x, y }) => [Math.round(x), Math.round(y)]),
    },
    null,
    2,
  )}\n`,
);
process.stdout.write(`rust-wedge.jpg ${WIDTH} x ${HEIGHT}, ${Math.round(size / 1000)} kB\n`);
