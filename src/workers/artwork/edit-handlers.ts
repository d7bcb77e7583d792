import { printedBox } from '#core/artwork/sample-artwork.ts';
import { partOf, type Checkpoint } from '#core/base/checkpoint.ts';
import { clamp } from '#core/base/numbers.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import { byteOfLinear, LINEAR_OF_BYTE, type Triple } from '#core/colour/srgb.ts';
import type { Recipe } from '#core/edit/artwork-edit.ts';
import { fitsPlain, proposeBox } from '#core/edit/cutout/cut-out.ts';
import { throughFrame, type EditDesk, type EditedPicture } from '#core/edit/edit-desk.ts';
import { reduceColours } from '#core/edit/flat/reduce-colours.ts';
import { mapPlace } from '#core/edit/frame.ts';
import { hueStrip, hueWeight, lchOfCodes, softNeeded } from '#core/edit/hue.ts';
import { automaticLevels } from '#core/edit/light.ts';
import { traceOutline } from '#core/edit/outline.ts';
import { selectedShare } from '#core/edit/selections.ts';
import { measureSlant } from '#core/edit/straighten.ts';
import { encodeRgbaPng } from '../../platform/encode-pictures.ts';
import { handOver, type Handlers } from '../serve.ts';
import type { Answer, EditJobs, Question } from './edit-jobs.ts';
import { shownPicture } from './shown-picture.ts';

/** The jobs on edits of one artwork. */
export function editHandlers(desk: EditDesk): Handlers<EditJobs> {
  return {
    edited: ({ recipe, quick }, checkpoint) => {
      const { raster, frame } = desk.edited(recipe, quick, partOf(checkpoint, 0, 0.8));
      const shown = shownPicture(raster, frame, partOf(checkpoint, 0.8, 1));
      return handOver(shown, [shown.stage.data.buffer as ArrayBuffer]);
    },

    editedPng: ({ recipe }, checkpoint) => {
      const png = encodeRgbaPng(desk.edited(recipe, false, partOf(checkpoint, 0, 0.7)).raster);
      return handOver({ png }, [png.buffer]);
    },

    selection: ({ recipe, id }) => {
      const own = recipe.selections.find((one) => one.id === id);
      if (!own) return { share: 0, lines: [] };
      const mask = desk.mask(own, recipe.selections, true);
      const { raster, frame } = desk.framed(recipe);
      const over = throughFrame(mask, raster, frame, desk.size);
      const { width, height } = raster;
      const lines = traceOutline((x, y) => (over[y * width + x] as number) >= 128, width, height);
      return {
        share: selectedShare(mask),
        lines: lines.map((line) => line.map((one, i) => one / (i % 2 === 0 ? width : height))),
      };
    },

    touched: ({ recipe, id }, checkpoint) => {
      const edit = recipe.edits.find((one) => one.id === id);
      const { raster, frame } = desk.before(recipe, id, true, checkpoint);
      const { width, height } = raster;
      const data = new Uint8Array(width * height);
      if (edit?.kind === 'hue') {
        const range = { ...edit, soft: Math.max(edit.soft, softNeeded(edit.turn)) };
        const codes = new Float64Array(3);
        for (let i = 0; i < data.length; i += 1) {
          for (let c = 0; c < 3; c += 1) codes[c] = (raster.data[4 * i + c] as number) / 255;
          data[i] = Math.round(255 * hueWeight(range, lchOfCodes(codes)));
        }
      } else data.fill(255);
      const selection = recipe.selections.find((one) => one.id === edit?.mask);
      if (selection) {
        const mask = desk.mask(selection, recipe.selections, true);
        const over = throughFrame(mask, raster, frame, desk.size);
        for (let i = 0; i < data.length; i += 1)
          data[i] = Math.round(((data[i] as number) * (over[i] as number)) / 255);
      }
      return handOver({ width, height, data }, [data.buffer]);
    },

    ask: ({ recipe, editId, question }, checkpoint) => {
      const exact = question.of === 'palette';
      const before =
        editId === null
          ? desk.edited(recipe, !exact, partOf(checkpoint, 0, 0.5))
          : desk.before(recipe, editId, !exact, partOf(checkpoint, 0, 0.5));
      return answer(desk, recipe, before, question, partOf(checkpoint, 0.5, 1));
    },

    before: ({ recipe, editId }, checkpoint) => {
      const { raster, frame } = desk.before(recipe, editId, true, checkpoint);
      return { stage: shownPicture(raster, frame, checkpoint).stage };
    },
  };
}

function answer(
  desk: EditDesk,
  recipe: Recipe,
  { raster, frame }: EditedPicture,
  question: Question,
  checkpoint: Checkpoint,
): Answer {
  const { width, height, data } = raster;
  const area = width * height;
  switch (question.of) {
    case 'hues': {
      const after = desk.edited(recipe, true).raster;
      return {
        hues: {
          before: hueStrip(data, area),
          after: hueStrip(after.data, after.width * after.height),
        },
      };
    }
    case 'levels':
      return { levels: automaticLevels(data, area) ?? null };
    case 'slant':
      return { slant: measureSlant(raster) };
    case 'plain':
      return { plain: fitsPlain(raster).plain };
    case 'box': {
      const { left, top, width: w, height: h } = proposeBox(raster);
      const scale = frame.width / width;
      const places = [
        mapPlace(frame.toOriginal, left * scale, top * scale),
        mapPlace(frame.toOriginal, (left + w) * scale, (top + h) * scale),
      ];
      const [xs, ys] = [places.map(([x]) => x), places.map(([, y]) => y)];
      const [x, y] = [Math.min(...xs), Math.min(...ys)];
      return { box: { left: x, top: y, width: Math.max(...xs) - x, height: Math.max(...ys) - y } };
    }
    case 'trim': {
      const box = printedBox(raster);
      if (!box || (box.width === width && box.height === height)) return { trim: null };
      const [sx, sy] = [frame.width / width, frame.height / height];
      const left = Math.floor(frame.corner[0] + box.left * sx);
      const top = Math.floor(frame.corner[1] + box.top * sy);
      return {
        trim: {
          left,
          top,
          width: Math.ceil(frame.corner[0] + (box.left + box.width) * sx) - left,
          height: Math.ceil(frame.corner[1] + (box.top + box.height) * sy) - top,
        },
      };
    }
    case 'palette': {
      const reduced = reduceColours(raster, question.settings, checkpoint);
      const all = reduced.counts.reduce((sum, one) => sum + one, 0);
      return {
        palette: {
          colours: reduced.palette,
          shares: reduced.counts.map((one) => one / Math.max(1, all)),
          proposed: reduced.proposed,
        },
      };
    }
    case 'colour':
      return { colour: meanAt(raster, question.x, question.y) };
  }
}

/** The mean of 3 x 3 pixels in linear light. */
function meanAt({ width, height, data }: RgbaRaster, x: number, y: number): Triple {
  const sums = [0, 0, 0];
  const [px, py] = [Math.floor(x * width), Math.floor(y * height)];
  for (let dy = -1; dy <= 1; dy += 1)
    for (let dx = -1; dx <= 1; dx += 1) {
      const at = 4 * (clamp(py + dy, 0, height - 1) * width + clamp(px + dx, 0, width - 1));
      for (let c = 0; c < 3; c += 1)
        sums[c] = (sums[c] as number) + (LINEAR_OF_BYTE[data[at + c] as number] as number) / 9;
    }
  const [r = 0, g = 0, b = 0] = sums.map(byteOfLinear);
  return [r, g, b];
}
