import type { EditKind } from '#core/edit/artwork-edit.ts';
import type { Frame } from '#core/edit/frame.ts';

/** What a new edit begins with, where that follows from the picture as it is; the rest has its first settings. */
export function firstSettings(kind: EditKind, { width, height, corner }: Frame): object {
  if (kind !== 'crop') return {};
  return { left: corner[0], top: corner[1], width, height };
}
