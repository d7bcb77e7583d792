import { restoreTotal, totalLayers } from '#core/stack/stack.ts';
import type { ProjectDocument } from '../../state/project-document.ts';

type Band = ProjectDocument['bands'][number];

/**
 * Puts changed bands into a document. Where the height of the stack is held, the bands beside `index` make up for what
 * was added or taken. Filaments that no band uses any more go.
 * @param index the band that was changed, or a place between bands as half a number
 */
export function putBands(draft: ProjectDocument, bands: readonly Band[], index: number): void {
  const before = totalLayers(draft.bands);
  draft.bands = [...(draft.holdTotal ? restoreTotal(bands, before, index) : bands)];
  const used = new Set(draft.bands.map(({ filamentId }) => filamentId));
  for (const id of Object.keys(draft.filaments))
    if (!used.has(id)) Reflect.deleteProperty(draft.filaments, id);
}
