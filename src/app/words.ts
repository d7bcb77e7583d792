import { bandLetter } from '#core/stack/stack.ts';
import type { AppNotice } from './use-notices.ts';

function percent(share: number): string {
  return `${Math.round(share * 100)} %`;
}

/** A notice in words: what it is and what to do. */
export function describeNotice(notice: AppNotice, nameOf: (bandIndex: number) => string): string {
  switch (notice.code) {
    case 'tag-problem':
      return notice.text;
    case 'nothing-printed':
      return 'The picture is fully transparent, so nothing is printed. Use another picture.';
    case 'no-room':
      return `The stack is no taller than the least height of ${notice.leastLayers} layers, so every spot is equal. Drag the top edge up.`;
    case 'few-heights':
      return `The picture uses only ${notice.heights} ${notice.heights === 1 ? 'height' : 'heights'}. Move the black and white points together, or make the stack taller.`;
    case 'finer-than-line':
      return `${percent(notice.share)} of the print is finer than one line and may come out as blobs. More calm, a larger smallest island or a larger piece helps; the Relief stop shows where.`;
    case 'prints-soft':
      return `The picture has ${notice.partPx} of the ${notice.wantedPx} px that its samples ask for, so it prints soft. Samples of ${notice.honestMm} mm would be honest; or ${notice.drawing ? 'draw it finer (Artwork stop)' : 'use a larger picture'}, or make a smaller piece.`;
    case 'squeezed':
      return `${percent(notice.share)} of the picture lies in ${notice.heights} neighbouring layers. Move the black and white points closer together, or take the matched curve.`;
    default: {
      const band = `Band ${bandLetter(notice.bandIndex)} (${nameOf(notice.bandIndex)})`;
      if (notice.code === 'unused-band')
        return `${band}: no part of the picture ends in it. Move its edges or remove it.`;
      if (notice.code === 'same-neighbours')
        return `${band} is the same filament as the band under it: there is nothing to swap. Join them or change one.`;
      if (notice.code === 'thin-base')
        return `${band} hides only ${percent(notice.cover)} of what lies under the print: it is seen through. Give it more layers, or begin with a filament of less transmission.`;
      if (notice.code === 'never-shows')
        return `${band} covers only ${percent(notice.cover)}: its own colour is never seen. Give it more layers, or remove it and save a swap.`;
      if (notice.code === 'dark-hides')
        return `${band} is dark over light and hides the bands under it, and ${percent(notice.share)} of the picture ends there. Move it under the lighter ones, or take layers from it.`;
      if (notice.code === 'unused-top')
        return `${band}: the picture never uses its ${notice.layers === 1 ? 'top layer, which is' : `top ${notice.layers} layers, which are`} not printed. Move its edge down, or the white point.`;
      return `${band} has ${notice.layers} ${notice.layers === 1 ? 'layer that changes' : 'layers that change'} nothing: it has covered before. Trim it.`;
    }
  }
}
