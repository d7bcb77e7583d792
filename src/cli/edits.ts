import { dirname, resolve } from 'node:path';
import { digestBytes } from '#core/base/stamp.ts';
import { NO_EDITS, type GreyPicture, type Recipe } from '#core/edit/artwork-edit.ts';
import { lumaOf } from '#core/colour/luma.ts';
import { maskFilesOf, readEditsJson } from '#core/formats/project/edits-json.ts';
import { BadInput } from '../platform/bad-input.ts';
import { describePictureFault } from '../platform/fault-words.ts';
import { decodePicture } from '../platform/node/decode-picture.ts';
import { readInput, readText } from './input.ts';

/** A mask picture as greys; what is cut away in it is not selected. */
async function readGreys(path: string): Promise<GreyPicture> {
  const bytes = await readInput(path);
  const picture = await decodePicture(bytes);
  if (!picture.ok) throw new BadInput(`${path}: ${describePictureFault(picture.fault)}`);
  const { width, height, data } = picture.value;
  const greys = Uint8Array.from({ length: width * height }, (_, i) =>
    Math.round((lumaOf(data, 4 * i) * (data[4 * i + 3] as number)) / 255),
  );
  return { name: digestBytes(bytes), width, height, data: greys };
}

/**
 * Reads a list of edits from a file, with the mask pictures it names (beside it).
 * @throws BadInput with what is wrong, and where
 */
export async function readEdits(path: string | undefined): Promise<Recipe> {
  if (path === undefined) return NO_EDITS;
  const text = await readText(path);
  const pictures = new Map<string, GreyPicture>();
  for (const file of maskFilesOf(text))
    pictures.set(file, await readGreys(resolve(dirname(path), file)));
  const read = readEditsJson(text, pictures);
  if (!read.ok) {
    const { code, where, detail } = read.fault;
    throw new BadInput(
      code === 'not-json'
        ? `${path} is no JSON${detail ? ` (${detail})` : ''}. Write {"edits": [...], "masks": {...}}.`
        : `${path}: ${where ?? 'edits'}: ${detail ?? 'not understood'}.`,
    );
  }
  const named = [...pictures.values()].map(({ name }) => name);
  return { key: digestBytes(Buffer.from(JSON.stringify([text, named]))), ...read.value };
}
