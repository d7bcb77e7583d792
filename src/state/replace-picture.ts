import type { PixelBox } from '#core/edit/artwork-edit.ts';
import { joinMaps } from '#core/edit/frame.ts';
import type { KeptMark } from './importance.ts';
import type { ArtworkSlice, KeptEdit, ProjectDocument } from './project-document.ts';
import { keepPoints, pointsOf } from './strokes.ts';

/**
 * A document on another picture: everything else stays; places of edits and selections go along with the picture's size.
 */
export function withPicture(
  document: ProjectDocument,
  file: ArtworkSlice['file'],
): ProjectDocument {
  const { artwork } = document;
  const [sx, sy] = [file.width / artwork.file.width, file.height / artwork.file.height];
  const line = <Line extends { readonly radius: number; readonly points: string }>(
    one: Line,
  ): Line => ({
    ...one,
    radius: one.radius * sx,
    points: scaled(one.points, sx, sy),
  });
  const box = <Box extends { left: number; top: number; width: number; height: number }>(
    one: Box,
  ): Box => ({
    ...one,
    left: one.left * sx,
    top: one.top * sy,
    width: one.width * sx,
    height: one.height * sy,
  });
  const edits = artwork.edits.map((edit): KeptEdit => {
    if (edit.kind === 'crop') return { ...edit, ...wholeBox(box(edit)) };
    if (edit.kind !== 'cutout') return edit;
    return {
      ...edit,
      box: edit.box && box(edit.box),
      keep: edit.keep.map(line),
      drop: edit.drop.map(line),
      hair: edit.hair.map(line),
      touch: edit.touch.map(line),
    };
  });
  const selections = artwork.selections.map((selection) => ({
    ...selection,
    grow: selection.grow * sx,
    feather: selection.feather * sx,
    steps: selection.steps.map((step) => {
      switch (step.from) {
        case 'similar':
          return { ...step, x: step.x * sx, y: step.y * sy };
        case 'box':
          return box(step);
        case 'polygon':
          return { ...step, points: scaled(step.points, sx, sy) };
        case 'brush':
          return line(step);
        case 'mask':
          return step;
      }
    }),
  }));
  const importance = artwork.masks.importance.map((mark): KeptMark => {
    if ('selection' in mark) return mark;
    const { width, height, toOriginal } = mark.over;
    const onto = joinMaps([sx, 0, 0, 0, sy, 0], joinMaps(toOriginal, [1 / sx, 0, 0, 0, 1 / sy, 0]));
    return { ...mark, over: { width: width * sx, height: height * sy, toOriginal: [...onto] } };
  });
  const zones = artwork.masks.zones.map((one) => ('selection' in one ? one : line(one)));
  return {
    ...document,
    artwork: { file, edits, selections, editedBox: null, masks: { importance, zones } },
  };
}

/** The same picture on other pixels, as a drawing has that is drawn finer. */
export function onPicture(
  document: ProjectDocument,
  { width, height, box }: Pick<ArtworkSlice['file'], 'width' | 'height' | 'box'>,
): ProjectDocument {
  return withPicture(document, { ...document.artwork.file, width, height, box });
}

/** A box on whole pixels, as crops are given. */
function wholeBox({ left, top, width, height }: PixelBox): PixelBox {
  const [x, y] = [Math.round(left), Math.round(top)];
  return {
    left: x,
    top: y,
    width: Math.max(1, Math.round(left + width) - x),
    height: Math.max(1, Math.round(top + height) - y),
  };
}

function scaled(digest: string, sx: number, sy: number): string {
  const points = pointsOf(digest);
  return points ? keepPoints(points.map((one, i) => one * (i % 2 === 0 ? sx : sy))) : digest;
}
