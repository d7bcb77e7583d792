import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import { Kept } from '../base/kept.ts';
import type { RgbaRaster } from '../base/raster.ts';
import type { ArtworkEdit, BrushLine, PixelBox, Recipe, Selection } from './artwork-edit.ts';
import { isPixelEdit } from './artwork-edit.ts';
import { cutOutSubject, smallCopy } from './cutout/cut-out.ts';
import { applyFrame } from './apply-frame.ts';
import { denoise, sharpen } from './filters.ts';
import { paintLabels, reduceColours } from './flat/reduce-colours.ts';
import {
  frameAfter,
  frameOfEdits,
  inverseMap,
  isFrameEdit,
  mapPlace,
  wholeFrame,
  type Frame,
} from './frame.ts';
import { lchOfCodes } from './hue.ts';
import { applyRun, type PixelEdit } from './runs.ts';
import { selectMask, type Mask } from './selections.ts';

/** Pixels of the copy that edits are tried on while a hand moves. */
export const QUICK_PX = 400_000;

/** Room for results that later edits go on from, in pixels: one of the largest pictures. */
const ROOM_PX = 48_000_000;

/** A picture with edits made, and where it lies in the original. */
export interface EditedPicture {
  readonly raster: RgbaRaster;
  readonly frame: Frame;
}

/** Neighbouring edits that are worked out in one pass; all others stand alone. */
type Step = { readonly run: readonly PixelEdit[] } | { readonly edit: ArtworkEdit };

/** Cuts a list of edits into steps; what is off is left out. */
export function stepsOf(edits: readonly ArtworkEdit[]): Step[] {
  const steps: Step[] = [];
  for (const edit of edits) {
    if (!edit.on) continue;
    const last = steps.at(-1);
    if (!isPixelEdit(edit)) steps.push({ edit });
    else if (last && 'run' in last && last.run[0]?.mask === edit.mask)
      steps[steps.length - 1] = { run: [...last.run, edit] };
    else steps.push({ run: [edit] });
  }
  return steps;
}

/** Are the colours of a result those of a reduction, pixel for pixel? Then samples must not mix them. */
export function isReduced(edits: readonly ArtworkEdit[]): boolean {
  const last = edits
    .filter(({ on }) => on)
    .filter((edit) => !(isFrameEdit(edit) && (edit.kind !== 'turn' || edit.degrees % 90 === 0)))
    .at(-1);
  return last?.kind === 'colours';
}

/** A picture as it was taken in, or a smaller copy of it. */
interface Base {
  readonly picture: RgbaRaster;
  /** Its pixels for one of the original. */
  readonly scale: number;
  readonly name: string;
}

/**
 * Makes edits of a picture. Nothing changes the picture itself. What an edit of more than single pixels gives is kept under
 * all that comes before it, so a later edit that changes goes on from there.
 *
 * What it hands out is kept, so nobody may write into it.
 */
export class EditDesk {
  private readonly whole: Base;
  private small: Base | undefined;
  private readonly results = new Kept<EditedPicture>(
    ROOM_PX,
    ({ raster }) => raster.width * raster.height,
  );
  private readonly masks = new Kept<Mask>(ROOM_PX, ({ width, height }) => (width * height) / 4);

  /** @param picture upright, in sRGB with alpha */
  constructor(picture: RgbaRaster) {
    this.whole = { picture, scale: 1, name: 'whole' };
  }

  private base(quick: boolean): Base {
    if (!quick) return this.whole;
    if (!this.small) {
      const picture = smallCopy(this.whole.picture, QUICK_PX);
      const scale = picture.width / this.whole.picture.width;
      this.small = { picture, scale, name: 'small' };
    }
    return this.small;
  }

  /**
   * The edited picture.
   * @param quick on a smaller copy and by look-ups, for what is shown while a hand moves; never for files
   * @throws Cancelled from the checkpoint
   */
  edited(recipe: Recipe, quick: boolean, checkpoint: Checkpoint = noCheckpoint): EditedPicture {
    const base = this.base(quick);
    const steps = stepsOf(recipe.edits);
    const keys = this.keysOf(base, steps, recipe);
    const { width, height } = this.whole.picture;
    let present: EditedPicture = { raster: base.picture, frame: wholeFrame(width, height) };
    let from = 0;
    for (let n = steps.length; n > 0; n -= 1) {
      const key = keys[n - 1] as string;
      if (!this.results.has(key)) continue;
      present = this.results.get(key, () => present);
      from = n;
      break;
    }
    for (let n = from; n < steps.length; n += 1) {
      const step = steps[n] as Step;
      const part = partOf(checkpoint, n / steps.length, (n + 1) / steps.length);
      const before = present;
      // Runs are quick to do again; only the last one is worth its room.
      if ('run' in step && n + 1 < steps.length)
        present = this.doStep(base, before, step, recipe, quick, part);
      else
        present = this.results.get(keys[n] as string, () =>
          this.doStep(base, before, step, recipe, quick, part),
        );
    }
    return present;
  }

  /** The picture before one edit: what its tools are shown over. */
  before(
    recipe: Recipe,
    editId: string,
    quick: boolean,
    checkpoint: Checkpoint = noCheckpoint,
  ): EditedPicture {
    const at = recipe.edits.findIndex(({ id }) => id === editId);
    const edits = recipe.edits.slice(0, Math.max(0, at));
    return this.edited({ ...recipe, edits }, quick, checkpoint);
  }

  /** See {@link isReduced}. */
  isReduced({ edits }: Recipe): boolean {
    return isReduced(edits);
  }

  /** Size of the original. */
  get size(): { readonly width: number; readonly height: number } {
    return this.whole.picture;
  }

  /** The frame that edits leave, with the smaller copy's pixels for it; the pixels themselves are not worked out. */
  framed({ edits }: Recipe): {
    readonly raster: { readonly width: number; readonly height: number };
    readonly frame: Frame;
  } {
    const { scale } = this.base(true);
    const frame = frameOfEdits(this.size.width, this.size.height, edits);
    const side = (px: number): number => Math.max(1, Math.round(px * scale));
    return { raster: { width: side(frame.width), height: side(frame.height) }, frame };
  }

  /** A selection on the original, or on its smaller copy. */
  mask(selection: Selection, others: readonly Selection[], quick: boolean): Mask {
    return this.maskOn(this.base(quick), selection, others);
  }

  /**
   * How much of each sample of the edited picture a selection has, 0..255: the nearest place of the smaller copy.
   * @param size of the samples
   */
  maskOver(
    selection: Selection,
    others: readonly Selection[],
    recipe: Recipe | undefined,
    size: { readonly width: number; readonly height: number },
  ): Uint8Array {
    const frame = frameOfEdits(this.size.width, this.size.height, recipe?.edits ?? []);
    return throughFrame(this.mask(selection, others, true), size, frame, this.size);
  }

  private maskOn(base: Base, selection: Selection, others: readonly Selection[]): Mask {
    const key = JSON.stringify([base.name, selectionKey(selection, others)]);
    return this.masks.get(key, () => selectMask(base.picture, base.scale, selection, others));
  }

  private keysOf(base: Base, steps: readonly Step[], { selections }: Recipe): string[] {
    let key = base.name;
    return steps.map((step) => {
      const edits = 'run' in step ? step.run : [step.edit];
      const masks = edits.map(({ mask }) => {
        const own = selections.find(({ id }) => id === mask);
        return own ? selectionKey(own, selections) : null;
      });
      key += JSON.stringify([edits.map(({ id: _id, ...rest }) => rest), masks]);
      return key;
    });
  }

  private doStep(
    base: Base,
    { raster, frame }: EditedPicture,
    step: Step,
    { selections }: Recipe,
    quick: boolean,
    checkpoint: Checkpoint,
  ): EditedPicture {
    const maskId = 'run' in step ? (step.run[0]?.mask ?? null) : step.edit.mask;
    const selection = maskId === null ? undefined : selections.find(({ id }) => id === maskId);
    const mask = selection
      ? throughFrame(this.maskOn(base, selection, selections), raster, frame, this.whole.picture)
      : undefined;
    const scale = raster.width / frame.width;
    if ('run' in step) {
      const data = new Uint8ClampedArray(raster.data);
      const copy = { width: raster.width, height: raster.height, data };
      const median = step.run.some(({ kind }) => kind === 'recolour')
        ? this.medianChroma(selection, selections)
        : 0;
      applyRun(copy, step.run, mask, quick, median, checkpoint);
      return { raster: copy, frame };
    }
    const { edit } = step;
    if (isFrameEdit(edit))
      return { raster: applyFrame(raster, edit, frame), frame: frameAfter(frame, edit) };
    switch (edit.kind) {
      case 'denoise':
        return { raster: denoise(raster, edit.strength, scale, mask, checkpoint), frame };
      case 'sharpen':
        return {
          raster: sharpen(raster, edit.amount, edit.radius, scale, mask, checkpoint),
          frame,
        };
      case 'cutout':
        return {
          raster: cutOutSubject(raster, inPixels(edit, frame, scale), mask, checkpoint),
          frame,
        };
      case 'colours':
        return { raster: paintLabels(raster, reduceColours(raster, edit, checkpoint)), frame };
      default:
        return { raster, frame };
    }
  }

  /** The median chroma of what is selected, in the original, on its smaller copy. */
  private medianChroma(selection: Selection | undefined, others: readonly Selection[]): number {
    const base = this.base(true);
    const mask = selection && this.maskOn(base, selection, others);
    const { data } = base.picture;
    const chromas: number[] = [];
    const codes = new Float64Array(3);
    const step = Math.max(1, Math.floor(data.length / 4 / 50_000));
    for (let i = 0; i < data.length / 4; i += step) {
      if ((data[4 * i + 3] as number) < 128 || (mask && (mask.data[i] as number) < 128)) continue;
      for (let c = 0; c < 3; c += 1) codes[c] = (data[4 * i + c] as number) / 255;
      chromas.push(lchOfCodes(codes)[1]);
    }
    chromas.sort((a, b) => a - b);
    return chromas[chromas.length >> 1] ?? 0;
  }
}

/** All that a selection depends on. */
function selectionKey(selection: Selection, others: readonly Selection[]): string {
  const { steps, grow, feather, invert } = selection;
  const named = steps.flatMap((step) => {
    if (step.from !== 'mask') return [];
    const other = others.find(({ id }) => id === step.mask && id !== selection.id);
    return other
      ? [
          selectionKey(
            other,
            others.filter((one) => one !== selection),
          ),
        ]
      : [];
  });
  const plain = steps.map((step) =>
    step.from === 'picture' ? { ...step, picture: step.picture.name } : step,
  );
  return JSON.stringify([plain, grow, feather, invert, named]);
}

/** A mask of the original on the pixels of an edited picture: the nearest. */
export function throughFrame(
  mask: Mask,
  raster: { readonly width: number; readonly height: number },
  frame: Frame,
  original: { readonly width: number; readonly height: number },
): Uint8Array {
  const [a, b, c, d, e, f] = frame.toOriginal;
  const same =
    a === 1 &&
    b === 0 &&
    c === 0 &&
    d === 0 &&
    e === 1 &&
    f === 0 &&
    mask.width === raster.width &&
    mask.height === raster.height;
  if (same) return mask.data;
  const out = new Uint8Array(raster.width * raster.height);
  const [sx, sy] = [frame.width / raster.width, frame.height / raster.height];
  const [mx, my] = [mask.width / original.width, mask.height / original.height];
  for (let y = 0; y < raster.height; y += 1)
    for (let x = 0; x < raster.width; x += 1) {
      const px = (x + 0.5) * sx;
      const py = (y + 0.5) * sy;
      const ox = Math.floor((a * px + b * py + c) * mx);
      const oy = Math.floor((d * px + e * py + f) * my);
      if (ox < 0 || oy < 0 || ox >= mask.width || oy >= mask.height) continue;
      out[y * raster.width + x] = mask.data[oy * mask.width + ox] as number;
    }
  return out;
}

/** The places of a cut-out in pixels of the picture that it is made of. */
function inPixels(edit: ArtworkEdit<'cutout'>, frame: Frame, scale: number): ArtworkEdit<'cutout'> {
  const back = inverseMap(frame.toOriginal);
  const line = <Line extends BrushLine>(one: Line): Line => {
    const points: number[] = [];
    for (let i = 0; i + 1 < one.points.length; i += 2) {
      const [x, y] = mapPlace(back, one.points[i] as number, one.points[i + 1] as number);
      points.push(x * scale, y * scale);
    }
    return { ...one, radius: one.radius * scale, points };
  };
  return {
    ...edit,
    box: edit.box && boxThrough(edit.box, back, scale),
    keep: edit.keep.map(line),
    drop: edit.drop.map(line),
    hair: edit.hair.map(line),
    touch: edit.touch.map(line),
  };
}

function boxThrough(
  { left, top, width, height }: PixelBox,
  back: Frame['toOriginal'],
  scale: number,
): PixelBox {
  const corners = [
    [left, top],
    [left + width, top],
    [left, top + height],
    [left + width, top + height],
  ].map(([x = 0, y = 0]) => mapPlace(back, x, y));
  const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
  const [x0, y0] = [Math.min(...xs), Math.min(...ys)];
  return {
    left: x0 * scale,
    top: y0 * scale,
    width: (Math.max(...xs) - x0) * scale,
    height: (Math.max(...ys) - y0) * scale,
  };
}
