import { ruleColoursOf } from './zone.ts';

/** Chroma below which a colour has no hue worth naming, in Oklab. */
const GREY_CHROMA = 0.035;

/** Words for hues, each up to an angle of OKLCh in degrees; red goes on where the circle closes. Common practice, no source. */
const HUES: readonly (readonly [upTo: number, word: string])[] = [
  [8, 'rose'],
  [45, 'red'],
  [75, 'orange'],
  [112, 'yellow'],
  [165, 'green'],
  [230, 'blue-green'],
  [285, 'blue'],
  [330, 'violet'],
  [360, 'rose'],
];

/** Lightness of Oklab up to which a colour is called dark, and from which light. */
const DARK = 0.42;
const LIGHT = 0.75;

/** Words for the mean of some colours, such as "dark blue"; to call a part of a picture something to begin with. */
export function nameOfColour(colours: readonly string[]): string {
  if (colours.length === 0) return 'painted';
  const positions = ruleColoursOf(colours);
  const mean = [0, 0, 0];
  positions.forEach((value, i) => {
    mean[i % 3] = (mean[i % 3] ?? 0) + value / colours.length;
  });
  const [l, a, b] = [(mean[0] ?? 0) / 100, (mean[1] ?? 0) / 200, (mean[2] ?? 0) / 200];
  if (Math.hypot(a, b) < GREY_CHROMA) {
    if (l < 0.3) return 'black';
    if (l > 0.9) return 'white';
    return l < DARK ? 'dark grey' : l > LIGHT ? 'light grey' : 'grey';
  }
  const angle = ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360;
  const word = HUES.find(([upTo]) => angle < upTo)?.[1] ?? 'rose';
  return l < DARK ? `dark ${word}` : l > LIGHT ? `light ${word}` : word;
}
