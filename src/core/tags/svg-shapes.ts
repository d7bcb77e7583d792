import { fail, succeed, type Fault, type Result } from '../base/result.ts';
import type { Contour } from './rings.ts';
import { LONGEST_PATH } from './outline-kinds.ts';
import { countCrossings } from './crossings.ts';
import { MOST_CROSSINGS, readPath } from './svg-path.ts';

/** One colour of a drawing as an outline, in the drawing's own units, y down. */
export interface SvgShape {
  readonly path: string;
  readonly fill: 'nonzero' | 'evenodd';
  /** `#rrggbb`; null where the drawing does not say. */
  readonly colour: string | null;
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** A filled form of a drawing, as its reader hands it over. */
export interface DrawnForm {
  readonly path: string;
  readonly fill: 'nonzero' | 'evenodd';
  readonly colour: string | null;
  /** Of the form and all that it lies in, outermost first. */
  readonly transform: string;
}

export type SvgShapesFault = Fault<
  'no-shapes' | 'bad-path' | 'too-long' | 'too-many-colours' | 'tangled' | 'too-many-corners'
>;

/** Colours that a drawing may have: more are no flat art. */
export const MOST_SVG_COLOURS = 8;

/** Forms of a drawing joined by colour, in the order in which the colours come first. */
export function joinForms(forms: readonly DrawnForm[]): Result<SvgShape[], SvgShapesFault> {
  const groups = new Map<string, { form: DrawnForm; lines: Contour[] }>();
  for (const form of forms) {
    const read = readPath(form.path, form.transform === '' ? undefined : form.transform);
    if (!read.ok) {
      // What encloses nothing is not seen in the drawing either.
      if (read.fault.code === 'no-area' || read.fault.code === 'no-path') continue;
      return fail(read.fault.code, undefined, read.fault.detail);
    }
    const key = `${form.colour ?? ''} ${form.fill}`;
    const own = groups.get(key) ?? { form, lines: [] };
    groups.set(key, own);
    own.lines.push(...read.value.contours);
  }
  if (groups.size === 0) return fail('no-shapes');
  if (groups.size > MOST_SVG_COLOURS)
    return fail('too-many-colours', undefined, String(groups.size));
  const shapes: SvgShape[] = [];
  for (const { form, lines } of groups.values()) {
    // Forms of one colour become one path: they may cross each other, too.
    if (countCrossings(lines, MOST_CROSSINGS + 1) > MOST_CROSSINGS)
      return fail('tangled', undefined, String(MOST_CROSSINGS));
    const path = lines.map(pathOfLine).join('');
    if (path.length > LONGEST_PATH) return fail('too-long', undefined, String(path.length));
    const xs = lines.flatMap((line) => line.filter((_, n) => n % 2 === 0));
    const ys = lines.flatMap((line) => line.filter((_, n) => n % 2 === 1));
    const [left, top] = [least(xs), least(ys)];
    shapes.push({
      path,
      fill: form.fill,
      colour: form.colour,
      left,
      top,
      width: -least(xs.map((x) => -x)) - left,
      height: -least(ys.map((y) => -y)) - top,
    });
  }
  return succeed(shapes);
}

const least = (values: readonly number[]): number =>
  values.reduce((low, value) => Math.min(low, value), Infinity);

function pathOfLine(line: Contour): string {
  const parts: string[] = [];
  for (let n = 0; n < line.length; n += 2)
    parts.push(`${n === 0 ? 'M' : 'L'}${short(line[n] as number)} ${short(line[n + 1] as number)}`);
  return `${parts.join('')}Z`;
}

const short = (value: number): string => String(Number(value.toPrecision(7)));
