import { writeFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { EditDesk } from '#core/edit/edit-desk.ts';
import { BadInput, required } from '../platform/bad-input.ts';
import { encodeRgbaPng } from '../platform/encode-pictures.ts';
import { describePictureFault } from '../platform/fault-words.ts';
import { decodePicture } from '../platform/node/decode-picture.ts';
import { readEdits } from './edits.ts';
import { readInput } from './input.ts';

/** Counts of different colours stop here: a photograph has as many as it has pixels. */
const MOST_COLOURS = 1 << 24;

/** `edit ...`: a list of edits made of a picture at full size, written as PNG with alpha. */
export async function runEdit(args: string[]): Promise<object> {
  const { values } = parseArgs({
    args,
    options: {
      image: { type: 'string' },
      edits: { type: 'string' },
      out: { type: 'string' },
    },
  });
  const imagePath = required(values.image, 'image');
  const out = required(values.out, 'out');
  const recipe = await readEdits(required(values.edits, 'edits'));
  const picture = await decodePicture(await readInput(imagePath));
  if (!picture.ok) throw new BadInput(`${imagePath}: ${describePictureFault(picture.fault)}`);
  const { raster } = new EditDesk(picture.value).edited(recipe, false);
  await writeFile(out, encodeRgbaPng(raster));
  const seen = new Uint8Array(MOST_COLOURS / 8);
  let colours = 0;
  let away = 0;
  const { data } = raster;
  for (let at = 0; at < data.length; at += 4) {
    away += 255 - (data[at + 3] as number);
    if (data[at + 3] === 0) continue;
    const code =
      ((data[at] as number) << 16) | ((data[at + 1] as number) << 8) | (data[at + 2] as number);
    const bit = 1 << (code & 7);
    if (((seen[code >> 3] as number) & bit) !== 0) continue;
    seen[code >> 3] = (seen[code >> 3] as number) | bit;
    colours += 1;
  }
  const pixels = raster.width * raster.height;
  return {
    width: raster.width,
    height: raster.height,
    cutAwayShare: Number((away / (255 * pixels)).toFixed(6)),
    colours,
  };
}
