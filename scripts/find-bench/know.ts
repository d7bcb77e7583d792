/**
 * `npm run bench:find:known`: works out what the bench measures against (many minutes) and writes known.json beside this
 * file: the exhaustive optimum of the small job, and the best stack that any method has found for the large one.
 */
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import type { ColourCells } from '../../src/core/artwork/colour-cells.ts';
import { findStack } from '../../src/core/find/find-stack.ts';
import { cellsOf, HEIGHT_PICTURES, LARGE, PICTURES, requestOf, SMALL } from './cases.ts';
import { exhaust, type KnownStack } from './oracle.ts';

const SEEDS = 4;
const SECONDS = 20;

export interface Known {
  /** Of the pictures that small jobs are measured on. */
  readonly small?: KnownStack;
  readonly large: KnownStack;
}

export const KNOWN_FILE = new URL('./known.json', import.meta.url);

export function readKnown(): Record<string, Known> {
  return existsSync(KNOWN_FILE)
    ? (JSON.parse(readFileSync(KNOWN_FILE, 'utf8')) as Record<string, Known>)
    : {};
}

if (process.argv[1]?.endsWith('know.ts') === true) {
  const small = (path: string, cells: ColourCells): Pick<Known, 'small'> =>
    PICTURES.some((one) => one === path)
      ? { small: readKnown()[path]?.small ?? exhaust(requestOf(cells, SMALL)) }
      : {};
  for (const path of HEIGHT_PICTURES.filter((name) => name.includes(process.argv[2] ?? ''))) {
    const cells = await cellsOf(path);
    let large = readKnown()[path]?.large;
    for (let seed = 1; seed <= SEEDS; seed += 1) {
      const found = findStack(requestOf(cells, LARGE, { seed: 100 + seed, seconds: SECONDS }));
      const best = found.ok ? found.value.curve.at(-1) : undefined;
      if (best && (!large || best.meanDeltaE < large.meanDeltaE))
        large = { bands: best.bands, meanDeltaE: best.meanDeltaE };
    }
    if (!large) throw new Error('no stack');
    writeFileSync(
      KNOWN_FILE,
      `${JSON.stringify({ ...readKnown(), [path]: { ...small(path, cells), large } }, null, 1)}\n`,
    );
    process.stdout.write(
      `${path}: ${readKnown()[path]?.small?.meanDeltaE.toFixed(4) ?? '-'}, ${large.meanDeltaE.toFixed(4)}\n`,
    );
  }
}
