import svgpath from 'svgpath';
import { fail, succeed, type Fault, type Result } from '../base/result.ts';
import { simplifyClosed } from '../relief/simplify-line.ts';
import { countCrossings } from './crossings.ts';
import { addCubic, addQuadratic, FLAT_MM } from './curves.ts';
import { LONGEST_PATH } from './outline-kinds.ts';
import type { Contour } from './rings.ts';

/** Most pieces of a path that is read. */
const MOST_SEGMENTS = 60_000;

/**
 * How often the lines of a path may cross: each crossing is a corner of the piece, and what crosses more often is no outline but a
 * scribble that nobody could print.
 */
export const MOST_CROSSINGS = 4000;

/** Corners that a path may have once it is simplified. */
export const MOST_CORNERS = 20_000;

/** Paths of more corners than this are simplified. */
const SIMPLIFIED_FROM = 2000;

/** How far a corner that is left out may lie from the line, mm: a fortieth of what a nozzle draws. */
const SIMPLIFY_MM = 0.01;

export type PathFault = Fault<
  'too-long' | 'no-path' | 'bad-path' | 'no-area' | 'tangled' | 'too-many-corners'
>;

/** Closed lines of a path in the units of its own, y down as SVG has it. */
export interface PathLines {
  readonly contours: readonly Contour[];
  readonly width: number;
  readonly height: number;
}

/**
 * Reads SVG path data (SVG 1.1, chapter 8.3: all commands, relative ones, arcs, numbers without separators). Open lines are closed,
 * as they are for filling; lines and points without area are dropped.
 * @param transform as of an SVG element, where it has one
 * @param toleranceOf how far curves may be off, in units of the path, for a path of a width and height; a fine thousandth without it
 */
export function readPath(
  data: string,
  transform?: string,
  toleranceOf: (width: number, height: number) => number = (width, height) =>
    Math.max(width, height) / 4000,
): Result<PathLines, PathFault> {
  if (data.trim() === '') return fail('no-path');
  if (data.length > LONGEST_PATH) return fail('too-long', undefined, String(data.length));
  let path;
  try {
    path = svgpath(data);
    const trouble = (path as unknown as { readonly err?: string }).err;
    if (trouble) return fail('bad-path', undefined, trouble.replace(/^SvgPath: /, ''));
    if (transform) path = path.transform(transform);
    path = path.abs().unshort().unarc();
  } catch (error) {
    return fail('bad-path', undefined, error instanceof Error ? error.message : String(error));
  }
  // Twice: how fine curves have to be follows from how large the path is.
  const coarse = flatten(path, Infinity);
  if (!coarse) return fail('bad-path');
  if (coarse.segments > MOST_SEGMENTS) return fail('too-long', undefined, String(coarse.segments));
  const rough = extentOf(coarse.controls);
  if (!rough || !(rough.width > 0 && rough.height > 0)) return fail('no-area');
  const fine = flatten(path, toleranceOf(rough.width, rough.height));
  const extent = fine && extentOf(fine.contours);
  if (!fine || !extent || fine.contours.length === 0) return fail('no-area');
  if (countCrossings(fine.contours, MOST_CROSSINGS + 1) > MOST_CROSSINGS)
    return fail('tangled', undefined, String(MOST_CROSSINGS));
  return succeed({ contours: fine.contours, width: extent.width, height: extent.height });
}

interface Flattened {
  readonly contours: readonly Contour[];
  /** Control points too: they enclose all curves. */
  readonly controls: readonly Contour[];
  readonly segments: number;
}

function flatten(path: ReturnType<typeof svgpath>, tolerance: number): Flattened | undefined {
  const contours: number[][] = [];
  const controls: number[][] = [];
  let line: number[] = [];
  let [startX, startY] = [0, 0];
  let segments = 0;
  const trouble = { found: false };
  const end = (): void => {
    if (line.length >= 6) contours.push(line);
    line = [];
  };
  path.iterate((segment, _index, x, y) => {
    segments += 1;
    const [command, ...numbers] = segment as unknown as [string, ...number[]];
    if (numbers.some((value) => !Number.isFinite(value))) trouble.found = true;
    if (trouble.found || segments > MOST_SEGMENTS) return;
    // Lines along one axis name one number, and the other one stays.
    if (command === 'H') controls.push([numbers[0] as number, y]);
    else if (command === 'V') controls.push([x, numbers[0] as number]);
    else controls.push(numbers);
    if (command === 'M') {
      end();
      [startX, startY] = numbers as [number, number];
      line = [startX, startY];
      return;
    }
    if (command === 'Z' || command === 'z') {
      end();
      line = [startX, startY];
      return;
    }
    if (line.length === 0) line = [x, y];
    if (command === 'H') line.push(numbers[0] as number, y);
    else if (command === 'V') line.push(x, numbers[0] as number);
    else if (command === 'C')
      addCubic(
        line,
        [x, y, ...(numbers as [number, number, number, number, number, number])],
        tolerance,
      );
    else if (command === 'Q')
      addQuadratic(line, [x, y, ...(numbers as [number, number, number, number])], tolerance);
    else line.push(numbers[0] as number, numbers[1] as number);
  });
  end();
  return trouble.found ? undefined : { contours, controls, segments };
}

function extentOf(
  lines: readonly Contour[],
): { readonly width: number; readonly height: number } | undefined {
  let [left, right, low, high] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const line of lines)
    for (let n = 0; n + 1 < line.length; n += 2) {
      left = Math.min(left, line[n] as number);
      right = Math.max(right, line[n] as number);
      low = Math.min(low, line[n + 1] as number);
      high = Math.max(high, line[n + 1] as number);
    }
  return left > right ? undefined : { width: right - left, height: high - low };
}

/**
 * A path scaled to a width, with its middle at the origin and y up, in mm.
 * @param heightMm where width and height are not linked
 */
export function pathContours(
  data: string,
  widthMm: number,
  heightMm?: number,
  transform?: string,
): Result<readonly Contour[], PathFault> {
  const read = readPath(
    data,
    transform,
    (width, height) =>
      FLAT_MM * Math.min(width / widthMm, heightMm === undefined ? Infinity : height / heightMm),
  );
  if (!read.ok) return read;
  const { contours, width, height } = read.value;
  if (!(width > 0 && height > 0)) return fail('no-area');
  let [left, top] = [Infinity, Infinity];
  for (const line of contours)
    for (let n = 0; n < line.length; n += 2) {
      left = Math.min(left, line[n] as number);
      top = Math.min(top, line[n + 1] as number);
    }
  const across = widthMm / width;
  const up = heightMm === undefined ? across : heightMm / height;
  const placed: readonly Contour[] = contours.map((line) =>
    line.map((at, n) =>
      n % 2 === 0 ? (at - left - width / 2) * across : (top + height / 2 - at) * up,
    ),
  );
  const simple = cornersOf(placed) > SIMPLIFIED_FROM ? placed.map(simplified) : placed;
  const corners = cornersOf(simple);
  return corners > MOST_CORNERS
    ? fail('too-many-corners', String(MOST_CORNERS), String(corners))
    : succeed(simple);
}

const cornersOf = (lines: readonly Contour[]): number =>
  lines.reduce((sum, line) => sum + line.length / 2, 0);

const simplified = (line: Contour): Contour => [
  ...simplifyClosed(Float64Array.from(line), SIMPLIFY_MM),
];
