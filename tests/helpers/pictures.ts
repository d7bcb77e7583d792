import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/** What two independent decoders found in a picture. */
export interface ExpectedPicture {
  readonly width: number;
  readonly height: number;
  readonly opaqueShare: number;
  readonly meanRgb: readonly number[];
  /** x, y, red, green, blue, alpha; means of a small neighbourhood. */
  readonly probes: readonly (readonly number[])[];
}

/** Path of a picture among the fixtures. */
export function fixture(name: string): string {
  return fileURLToPath(new URL(`../fixtures/images/${name}`, import.meta.url));
}

export const EXPECTED_PICTURES = JSON.parse(
  readFileSync(fixture('expected.json'), 'utf8'),
) as Readonly<Record<string, ExpectedPicture>>;
