import { piecesOf, type Change } from '#core/gcode/source.ts';
import { blobOf } from '../../platform/browser/blob-source.ts';
import { downloadFile } from '../../platform/browser/files.ts';

/** Hands a file to the maker with changes; it is composed of pieces of the one that is open. */
export function saveChanged(
  file: File,
  cuts: readonly Change[],
  changes: readonly Change[],
  suffix: string,
): void {
  const bare = cuts.length > 0 ? blobOf(file, piecesOf(file.size, cuts)) : file;
  const made = blobOf(bare, piecesOf(bare.size, changes));
  const [, stem = file.name, ending = '.gcode'] = /^(.*?)(\.[A-Za-z0-9]+)?$/.exec(file.name) ?? [];
  const plain = stem.replace(/-(?:swaps|plain|one-nozzle)$/, '');
  downloadFile(`${plain}-${suffix}${ending}`, made, 'text/plain');
}
