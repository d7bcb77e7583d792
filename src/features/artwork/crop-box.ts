import { create } from 'zustand';
import type { PixelBox } from '#core/edit/artwork-edit.ts';
import type { Frame } from '#core/edit/frame.ts';

/** Proportions that a crop can be held to, width to height. */
export const PROPORTIONS = [
  'free',
  'picture',
  '1 : 1',
  '3 : 2',
  '2 : 3',
  '4 : 3',
  '3 : 4',
  '7 : 5',
  '5 : 7',
] as const;
export type Proportion = (typeof PROPORTIONS)[number];

interface ProportionState {
  readonly proportion: Proportion;
  readonly setProportion: (proportion: Proportion) => void;
}

/** The proportions that the present crop is held to: a habit of the hand, not part of the document. */
export const useProportion = create<ProportionState>((set) => ({
  proportion: 'free',
  setProportion: (proportion) => {
    set({ proportion });
  },
}));

/** Width over height; null where it is free. */
export function ratioOf(
  proportion: Proportion,
  { width, height }: Pick<Frame, 'width' | 'height'>,
): number | null {
  if (proportion === 'free') return null;
  if (proportion === 'picture') return width / height;
  const [across = 1, up = 1] = proportion.split(' : ').map(Number);
  return across / up;
}

/** The greatest box of some proportions within a box, about its middle; whole pixels. */
export function proportionedBox(
  { left, top, width, height }: PixelBox,
  ratio: number | null,
): PixelBox {
  if (ratio === null) return { left, top, width, height };
  const w = Math.max(1, Math.round(Math.min(width, height * ratio)));
  const h = Math.max(1, Math.round(Math.min(height, width / ratio)));
  return {
    left: Math.round(left + (width - w) / 2),
    top: Math.round(top + (height - h) / 2),
    width: w,
    height: h,
  };
}

/** Which sides of a crop a handle moves: -1 the first, 1 the second, 0 none. */
export interface CropHandle {
  readonly x: -1 | 0 | 1;
  readonly y: -1 | 0 | 1;
}

/** The side of a box that a number stands for. */
export function sideOf(way: number): -1 | 0 | 1 {
  return way > 0 ? 1 : way < 0 ? -1 : 0;
}

/**
 * From ways on the stage to ways of the picture that a box is given in, by whole quarters of a turn (and mirrored where the picture
 * is): what *right* and *down* are there. A picture that was straightened counts as upright.
 * @param wayBack a way on the stage, pixels, as it is in the box's picture
 */
export function quarterTurnOf(
  wayBack: (dx: number, dy: number) => readonly [number, number],
): (x: number, y: number) => readonly [number, number] {
  const [rx, ry] = wayBack(1, 0);
  const [dx, dy] = wayBack(0, 1);
  const right = Math.abs(rx) >= Math.abs(ry) ? [Math.sign(rx), 0] : [0, Math.sign(ry)];
  const hand = rx * dy - ry * dx > 0 ? 1 : -1;
  const [ax = 0, ay = 0] = right;
  // Down is a quarter from right, whichever of both is nearer: two ways are never one.
  return (x, y) => [ax * x - hand * ay * y, ay * x + hand * ax * y];
}

/**
 * A crop after one of its handles moved, within the picture.
 * @param by pixels
 * @param ratio width over height that it is held to; null where it is free
 */
export function draggedBox(
  box: PixelBox,
  { x, y }: CropHandle,
  by: readonly [number, number],
  ratio: number | null,
  { width, height, corner }: Pick<Frame, 'width' | 'height' | 'corner'>,
): PixelBox {
  const [x0, y0] = corner;
  const [x1, y1] = [x0 + width, y0 + height];
  if (x === 0 && y === 0)
    return {
      ...box,
      left: Math.round(Math.min(x1 - box.width, Math.max(x0, box.left + by[0]))),
      top: Math.round(Math.min(y1 - box.height, Math.max(y0, box.top + by[1]))),
    };
  let { left, top } = box;
  let [right, bottom] = [box.left + box.width, box.top + box.height];
  if (x < 0) left = Math.min(right - 1, Math.max(x0, left + by[0]));
  if (x > 0) right = Math.max(left + 1, Math.min(x1, right + by[0]));
  if (y < 0) top = Math.min(bottom - 1, Math.max(y0, top + by[1]));
  if (y > 0) bottom = Math.max(top + 1, Math.min(y1, bottom + by[1]));
  if (ratio !== null) {
    // The side that the hand does not hold follows, as far as there is room.
    const room = y < 0 ? bottom - y0 : y1 - top;
    let h = y === 0 || x !== 0 ? (right - left) / ratio : bottom - top;
    h = Math.min(h, room);
    let w = h * ratio;
    const across = x < 0 ? right - x0 : x1 - left;
    if (w > across) {
      w = across;
      h = w / ratio;
    }
    if (x < 0) left = right - w;
    else right = left + w;
    if (y < 0) top = bottom - h;
    else bottom = top + h;
  }
  left = Math.round(left);
  top = Math.round(top);
  return {
    left,
    top,
    width: Math.max(1, Math.round(right) - left),
    height: Math.max(1, Math.round(bottom) - top),
  };
}
