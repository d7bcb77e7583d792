import { writeFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { required } from '../platform/bad-input.ts';
import { runFindJob } from '../platform/node/find-job.ts';
import { readEdits } from './edits.ts';
import { readInput, readText, textOrFile } from './input.ts';

/** `find ...`: the best stack for a picture from the filaments on hand, written as stack JSON. */
export async function runFind(args: string[]): Promise<object> {
  const { values } = parseArgs({
    args,
    options: {
      image: { type: 'string' },
      rack: { type: 'string' },
      'max-swaps': { type: 'string' },
      'max-layers': { type: 'string' },
      'least-layers': { type: 'string' },
      'least-per-band': { type: 'string' },
      rule: { type: 'string' },
      zones: { type: 'string' },
      rare: { type: 'string' },
      lean: { type: 'string' },
      care: { type: 'string' },
      seconds: { type: 'string' },
      seed: { type: 'string' },
      must: { type: 'string', multiple: true },
      bottom: { type: 'string' },
      top: { type: 'string' },
      all: { type: 'boolean' },
      sturdy: { type: 'boolean' },
      importance: { type: 'string' },
      edits: { type: 'string' },
      out: { type: 'string' },
    },
  });
  const out = required(values.out, 'out');
  const rackName = required(values.rack, 'rack');
  const imageName = required(values.image, 'image');
  const rackCsv = await readText(rackName);
  const image = await readInput(imageName);
  const { importance: maskName, edits, zones: zonesName, ...rest } = values;
  const zones = await textOrFile(zonesName);
  const options = { ...rest, ...(zones === undefined ? {} : { zones }) };
  const mask =
    maskName === undefined ? undefined : { bytes: await readInput(maskName), name: maskName };
  const recipe = await readEdits(edits);
  const source = { image, imageName, rackCsv, rackName, mask, zonesName, recipe };
  const { answer, stack } = await runFindJob(source, options);
  await writeFile(out, `${JSON.stringify(stack, null, 2)}\n`);
  return answer;
}
