import { bandLetter } from '#core/stack/stack.ts';
import type { Notice } from '#core/heights/notices.ts';
import type { ProjectFileFault } from '../state/project-file.ts';

/** A fault of a project file in words. */
export function describeProjectFault({ code, detail = '' }: ProjectFileFault): string {
  switch (code) {
    case 'damaged-project':
      return `The project in this file cannot be read (${detail}). Use another copy of it.`;
    case 'artwork-missing':
      return 'The project file lacks its picture, or holds another one. Use another copy of it.';
    default:
      return 'This is not a project of Zesty Strata. Choose a .strata file or a picture.';
  }
}

/** A notice in words: what it is and what to do. */
export function describeNotice(notice: Notice, nameOf: (bandIndex: number) => string): string {
  switch (notice.code) {
    case 'nothing-printed':
      return 'The picture is fully transparent, so nothing is printed. Use another picture.';
    case 'no-room':
      return `The stack is no taller than the least height of ${notice.leastLayers} layers, so every spot is equal. Drag the top edge up.`;
    case 'few-heights':
      return `The picture uses only ${notice.heights} ${notice.heights === 1 ? 'height' : 'heights'}. Move the black and white points together, or make the stack taller.`;
    default: {
      const band = `Band ${bandLetter(notice.bandIndex)} (${nameOf(notice.bandIndex)})`;
      if (notice.code === 'unused-band')
        return `${band}: no part of the picture ends in it. Move its edges or remove it.`;
      if (notice.code === 'same-neighbours')
        return `${band} is the same filament as the band under it: there is nothing to swap. Join them or change one.`;
      return `${band} has ${notice.layers} ${notice.layers === 1 ? 'layer that changes' : 'layers that change'} nothing: it has covered before. Trim it.`;
    }
  }
}
