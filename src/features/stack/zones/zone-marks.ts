/** How zones are told apart without colour, lowest first: a numeral, a dash, and a hatch over the picture. */
export interface ZoneMark {
  readonly numeral: string;
  /** Of an SVG line; empty for an unbroken one. */
  readonly dash: string;
  /** Is this pixel of the screen inked? */
  readonly inked: (x: number, y: number) => boolean;
}

/** Pixels from one line of a hatch to the next. */
const STEP = 9;

/** One mark for each zone that there may be. */
export const ZONE_MARKS: readonly ZoneMark[] = [
  { numeral: 'I', dash: '1.5 3.5', inked: (x, y) => x % STEP === 0 && y % STEP === 0 },
  { numeral: 'II', dash: '6 3', inked: (_, y) => y % STEP === 0 },
  { numeral: 'III', dash: '', inked: (x, y) => (x + y) % STEP === 0 },
  { numeral: 'IV', dash: '10 3 2 3', inked: (x) => x % STEP === 0 },
  { numeral: 'V', dash: '3 3', inked: (x, y) => (x - y + 9000) % STEP === 0 },
  {
    numeral: 'VI',
    dash: '14 4',
    inked: (x, y) => (x + y) % (2 * STEP) === 0 || (x - y + 9000) % (2 * STEP) === 0,
  },
];

/** The mark of a zone by its place in the order, 0 lowest. */
export function markOf(place: number): ZoneMark {
  return ZONE_MARKS[place % ZONE_MARKS.length] as ZoneMark;
}

/** Where a zone stands among its neighbours, in a word. */
export function standingOf(place: number, count: number): string {
  if (place === 0) return 'behind';
  return place === count - 1 ? 'in front' : 'middle';
}
