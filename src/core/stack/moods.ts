import { linearOfBytes, parseHex } from '../colour/srgb.ts';
import { oklabOfLinear } from '../colour/oklab.ts';
import type { Filament } from './filament.ts';

/** Moods to begin a stack from, in the order in which they are offered. */
export const MOODS = ['greys', 'warm', 'sea', 'woods', 'night', 'blossom'] as const;
export type Mood = (typeof MOODS)[number];

/** A swatch in OKLCh (B. Ottosson, "A perceptual color space for image processing", 2020): L and C 0..1, hue in degrees. */
interface Swatch {
  readonly lightness: number;
  readonly chroma: number;
  readonly hue: number;
}

function swatchOf({ colour }: Filament): Swatch {
  const [l, a, b] = oklabOfLinear(linearOfBytes(parseHex(colour) ?? [0, 0, 0]));
  return {
    lightness: l,
    chroma: Math.hypot(a, b),
    hue: ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360,
  };
}

/** Colours without a hue worth naming. */
const GREY_CHROMA = 0.035;

/** A colour that a mood lives on. */
interface Note {
  readonly text: string;
  readonly fits: (swatch: Swatch) => boolean;
}

function hues(from: number, to: number, least = 0, most = 1): Note['fits'] {
  return ({ hue, chroma, lightness }) =>
    chroma >= GREY_CHROMA &&
    lightness >= least &&
    lightness <= most &&
    (from <= to ? hue >= from && hue <= to : hue >= from || hue <= to);
}

/** What each mood is made of, by hue and lightness. Common practice, no source. */
const NOTES: Readonly<Record<Mood, readonly Note[]>> = {
  greys: [
    {
      text: 'a middle grey',
      fits: ({ chroma, lightness }) => chroma < GREY_CHROMA && lightness > 0.35 && lightness < 0.85,
    },
  ],
  warm: [
    { text: 'a red or brown', fits: hues(10, 45) },
    { text: 'an orange', fits: hues(45, 75) },
    { text: 'a yellow', fits: hues(75, 112, 0.6) },
  ],
  sea: [
    { text: 'a blue', fits: hues(230, 280) },
    { text: 'a blue-green', fits: hues(170, 230) },
  ],
  woods: [
    { text: 'a green', fits: hues(112, 165) },
    { text: 'a brown', fits: hues(35, 80, 0, 0.6) },
  ],
  night: [
    { text: 'a dark blue', fits: hues(240, 290, 0, 0.5) },
    { text: 'a violet', fits: hues(285, 340, 0, 0.65) },
    { text: 'a warm light', fits: hues(60, 112, 0.7) },
  ],
  blossom: [
    { text: 'a pink or rose', fits: hues(335, 25, 0.45) },
    { text: 'a light green', fits: hues(112, 165, 0.55) },
  ],
};

/** What a rack has for a mood. */
export interface MoodChoice {
  /** Filaments that the mood may use, with the darkest and the lightest of all. */
  readonly filaments: readonly Filament[];
  /** What it would want and nobody has. */
  readonly missing: readonly string[];
}

/** The filaments of a rack that make a mood; only what is on hand counts. */
export function chooseForMood(mood: Mood, rack: readonly Filament[]): MoodChoice {
  const known = rack
    .filter(({ onHand }) => onHand)
    .map((filament) => ({ filament, swatch: swatchOf(filament) }));
  const byLight = [...known].sort((a, b) => a.swatch.lightness - b.swatch.lightness);
  const ends = new Set([byLight[0], byLight.at(-1)]);
  const notes = NOTES[mood];
  const fits = known.filter(
    (one) =>
      ends.has(one) ||
      notes.some((note) => note.fits(one.swatch)) ||
      (mood === 'greys' && one.swatch.chroma < GREY_CHROMA),
  );
  return {
    filaments: fits.map(({ filament }) => filament),
    missing: notes
      .filter((note) => !known.some(({ swatch }) => note.fits(swatch)))
      .map(({ text }) => text),
  };
}
