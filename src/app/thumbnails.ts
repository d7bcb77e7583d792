import type { Library } from '../state/library.ts';
import type { OpenProject } from '../state/project-context.ts';
import { makeThumbnail } from './session/open-project.ts';

/** Rest after the last change before a thumbnail is made, ms: it is for the shelf, and must never hold a save up. */
const REST_MS = 1500;

/** Keeps the shelf's picture of an open project up to date, beside its saves. */
export function followThumbnails(
  { id, documents, live, worker }: OpenProject,
  library: Library,
): { readonly stop: () => Promise<void> } {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let due = false;
  const make = async (): Promise<void> => {
    due = false;
    const png = await makeThumbnail(worker, documents.getState().document);
    // One that cannot be stored now is made again after the next change.
    if (png) await library.changeProject(id, (stored) => ({ ...stored, thumbnail: png }));
  };
  const later = (): void => {
    due = true;
    clearTimeout(timer);
    timer = setTimeout(() => {
      if (documents.getState().gestureFrom) later();
      else void make().catch(() => undefined);
    }, REST_MS);
  };
  const unfollow = [
    documents.subscribe((now, before) => {
      if (now.document !== before.document) later();
    }),
    // The first heights make the first thumbnail.
    live.store.subscribe((now, before) => {
      if (now.heights && !before.heights) later();
    }),
  ];
  return {
    stop: async () => {
      for (const end of unfollow) end();
      clearTimeout(timer);
      if (due) await make().catch(() => undefined);
    },
  };
}
