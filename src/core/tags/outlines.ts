import { succeed, type Result } from '../base/result.ts';
import type { Outline } from './outline-kinds.ts';
import { DRAWN_OUTLINES, plainContour } from './plain-outlines.ts';
import type { Contour } from './rings.ts';
import { pathContours, type PathFault } from './svg-path.ts';

/** The line of an outline around the origin, mm, y up. */
export function outlineContours(outline: Outline): Result<readonly Contour[], PathFault> {
  const { kind, widthMm: w, heightMm: h, cornerMm, path } = outline;
  const drawn = kind === 'path' ? (path ?? '') : DRAWN_OUTLINES[kind];
  if (drawn !== undefined) return pathContours(drawn, w, h);
  return succeed([plainContour(kind, w, h, cornerMm)]);
}
