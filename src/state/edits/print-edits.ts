import { clamp } from '#core/base/numbers.ts';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { IRONING_LIMITS, type Ironing } from '#core/slicing/ironing-settings.ts';
import type { Printer } from '#core/printer/printer.ts';
import {
  MOST_BATCHES,
  MOST_COPIES,
  WIDEST_SPACING_MM,
  type OwnLayers,
  type Pieces,
} from '#core/schedule/pieces.ts';
import { GREATEST_LAYER_MM, LEAST_LAYER_MM } from '#core/stack/layer-grid.ts';
import { bedOpening } from '../printers.ts';
import { GREATEST_FIGURE, isMoment } from '../slices/print.ts';
import { alter, whole, type Edit } from './edit.ts';

/** Gives a project a printer: a copy of it, the line it prints, and its bed where the piece was to fit another one. */
export function choosePrinter(printer: Printer): Edit {
  return alter('printer', (draft) => {
    draft.print.printer = { ...printer, bed: { ...printer.bed }, pause: { ...printer.pause } };
    draft.print.lineMm = printer.lineMm;
    if (draft.piece.fit?.kind === 'bed') draft.piece.fit = bedOpening(printer);
  });
}

/** When the print starts, local time as `2026-11-25T18:30`; null leaves it open. What is no moment changes nothing. */
export function setStart(moment: string | null): Edit {
  return alter('start', ({ print: sheet }) => {
    if (moment === null || isMoment(moment)) sheet.startsAt = moment;
  });
}

/** How many copies, how far apart, and in which way they are printed. */
export function changePieces(part: Partial<Pieces>): Edit {
  return alter(`pieces ${Object.keys(part).join()}`, ({ print: { pieces } }) => {
    if (part.copies !== undefined) pieces.copies = whole(part.copies, 1, MOST_COPIES);
    if (part.spacingMm !== undefined)
      pieces.spacingMm = clamp(part.spacingMm, 0, WIDEST_SPACING_MM);
    if (part.way !== undefined) pieces.way = part.way;
  });
}

/**
 * Some of several pieces in layers of a height of their own; the entry at `index` is changed, or added behind the last one.
 * @param own null takes it away
 */
export function setOwnLayers(index: number, own: OwnLayers | null): Edit {
  return alter('layers of some pieces', ({ print: { pieces } }) => {
    if (own === null) {
      if (pieces.own[index]) pieces.own.splice(index, 1);
    } else if (index < MOST_BATCHES)
      pieces.own[whole(index, 0, pieces.own.length)] = {
        copies: whole(own.copies, 1, MOST_COPIES),
        layerMm: clamp(own.layerMm, LEAST_LAYER_MM, GREATEST_LAYER_MM),
      };
  });
}

/** What the slicing program says of the print; null where it was not asked. What is not above 0 changes nothing. */
export function setSliced(which: 'slicedMinutes' | 'slicedGrams', value: number | null): Edit {
  return alter(which, ({ print: sheet }) => {
    if (value === null) sheet[which] = null;
    else if (value > 0) sheet[which] = Math.min(GREATEST_FIGURE, value);
  });
}

/** How tops are smoothed in G-code of our own; null leaves them as they are. Values beyond their limits are brought into them. */
export function setIroning(ironing: Ironing | null): Edit {
  return alter('ironing', (draft) => {
    const kept = ({ bands, spacingMm, flow, speedMmS }: Ironing): Ironing => ({
      bands: [...new Set(bands.map((band) => whole(band, 0, MAX_LAYERS)))].slice(0, MAX_LAYERS),
      spacingMm: clamp(spacingMm, ...IRONING_LIMITS.spacingMm),
      flow: clamp(flow, ...IRONING_LIMITS.flow),
      speedMmS: clamp(speedMmS, ...IRONING_LIMITS.speedMmS),
    });
    draft.print.ironing = ironing && { ...kept(ironing), bands: [...kept(ironing).bands] };
  });
}

/** Strand put by in the splice plan, mm. */
export function setSpliceMargin(mm: number): Edit {
  return alter('splice margin', ({ print: sheet }) => {
    sheet.spliceMarginMm = clamp(mm, 0, GREATEST_FIGURE);
  });
}
