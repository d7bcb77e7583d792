import { closeSync, openSync, writeFileSync } from 'node:fs';
import { slicedFile } from '../tests/helpers/gcode.ts';

/** Height of all layers, mm. */
export const LAYER_MM = 0.2;

/** Lines of a real layer again and again, in as many layers as a tall print has. */
export function writeLargeFile(path: string, bytes: number): void {
  const lines = slicedFile('a_layer_comment_abs').toString().split('\n');
  const from = lines.indexOf(';LAYER:1');
  const body = lines
    .slice(from, lines.indexOf(';LAYER:2'))
    .filter((line) => !line.includes('Z') && !line.startsWith(';LAYER'))
    .join('\n');
  const perLayer = 20;
  const file = openSync(path, 'w');
  writeFileSync(file, `${lines.slice(0, 13).join('\n')}\n`);
  let size = 0;
  for (let layer = 0; size < bytes; layer += 1) {
    const text = `;LAYER:${layer}\nG0 Z${(LAYER_MM * (layer + 1)).toFixed(2)} F600\n${`G92 E0\n${body}\n`.repeat(perLayer)}`;
    writeFileSync(file, text);
    size += text.length;
  }
  closeSync(file);
}
