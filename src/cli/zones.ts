import { writeFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { encode } from 'fast-png';
import { frameOfEdits } from '#core/edit/frame.ts';
import { ReliefPlan } from '#core/plan/relief-plan.ts';
import { planSamples } from '#core/relief/sampling.ts';
import { labelSamples, meanColours, zoneCounts } from '#core/zones/labels.ts';
import { proposeZones } from '#core/zones/propose.ts';
import { LEAST_ZONES, MOST_ZONES, USUAL_ZONES } from '#core/zones/zone.ts';
import { BadInput, numberOption, required } from '../platform/bad-input.ts';
import { describePictureFault } from '../platform/fault-words.ts';
import { decodePicture } from '../platform/node/decode-picture.ts';
import { readEdits } from './edits.ts';
import { readInput } from './input.ts';
import { checkSamples, sampleOptions } from './samples.ts';

/** `zones ...`: parts a picture by its colours; a PNG of the zone of each sample, colour and share of each. */
export async function runZones(args: string[]): Promise<object> {
  const { values } = parseArgs({
    args,
    options: {
      image: { type: 'string' },
      count: { type: 'string' },
      'width-mm': { type: 'string' },
      'sample-mm': { type: 'string' },
      edits: { type: 'string' },
      out: { type: 'string' },
    },
  });
  const out = required(values.out, 'out');
  const path = required(values.image, 'image');
  const count = Math.round(
    numberOption(values.count, 'count', USUAL_ZONES, LEAST_ZONES, MOST_ZONES),
  );
  const { widthMm, sampleMm } = sampleOptions(values);
  const decoded = await decodePicture(await readInput(path));
  if (!decoded.ok) throw new BadInput(`${path}: ${describePictureFault(decoded.fault)}`);
  const recipe = await readEdits(values.edits);
  const { width, height } = frameOfEdits(decoded.value.width, decoded.value.height, recipe.edits);
  const samples = planSamples(widthMm, (widthMm * height) / width, sampleMm);
  checkSamples(samples);
  const plan = new ReliefPlan(decoded.value);
  await plan.prepare({ recipe });
  const cells = plan.artwork({ ...samples, recipe }).cells();
  const zones = proposeZones(cells, count);
  const labels = labelSamples(cells, zones);
  const counts = zoneCounts(labels, zones.length);
  const means = meanColours(cells, labels, zones.length);
  const printed = counts.reduce((sum, one) => sum + one, 0);
  await writeFile(
    out,
    encode({ width: cells.width, height: cells.height, data: labels, channels: 1, depth: 8 }),
  );
  return {
    width: cells.width,
    height: cells.height,
    zones: zones.map(({ colours }, zone) => ({
      zone: zone + 1,
      colour: means[zone] ?? null,
      colours,
      share: Number(((counts[zone] ?? 0) / Math.max(1, printed)).toFixed(4)),
    })),
  };
}
