/** What can be wrong with a sliced file. */
export const FINDING_CODES = [
  'cut-off',
  'first-layer',
  'layer-height',
  'layer-uneven',
  'layer-count',
  'total-height',
  'z-scaled',
  'spiral',
  'swap-missing',
  'swap-early',
  'swap-late',
  'swap-extra',
  'swap-doubled',
  'swap-inside',
  'face-missing',
  'pause-kind',
  'one-by-one',
  'other-stamp',
  'brim',
  'skirt',
  'supports',
  'tower',
  'not-solid',
  'size',
  'turned',
  'mirrored',
  'other-picture',
  'bad-lines',
] as const;
export type FindingCode = (typeof FINDING_CODES)[number];

/** Something in a file that is not as planned. */
export interface Finding {
  readonly code: FindingCode;
  /** `wrong` spoils the print; `look` may be meant. */
  readonly severity: 'wrong' | 'look';
  /** What was planned, and what is there: numbers in mm, layers counted from 1, or words. */
  readonly expected: number | string | null;
  readonly found: number | string | null;
  /** Line of the file, counted from 1; null where it is about the whole. */
  readonly line: number | null;
  readonly layer: number | null;
  /** Swap of the plan, and piece, where it is about one. */
  readonly swap?: number;
  readonly object?: number;
  /** How many more lines or layers are alike. */
  readonly more?: number;
  /** What it follows from: mended, this goes too. */
  readonly follows?: FindingCode;
}

/** What a finding may leave out. */
export function finding(
  code: FindingCode,
  severity: Finding['severity'],
  rest: Partial<Omit<Finding, 'code' | 'severity'>> = {},
): Finding {
  return { code, severity, expected: null, found: null, line: null, layer: null, ...rest };
}

/** The middle one of some numbers; 1 of none. */
export function median(numbers: readonly number[]): number {
  const sorted = [...numbers].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length === 0
    ? 1
    : sorted.length % 2 === 1
      ? (sorted[half] as number)
      : ((sorted[half - 1] as number) + (sorted[half] as number)) / 2;
}

export function round(value: number, digits: number): number {
  return Number(value.toFixed(digits));
}
