import { z } from 'zod';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { MOST_COPIES } from '#core/schedule/pieces.ts';
import type { WatchKeeper } from '../features/sheet/watch-keeper.ts';
import { projectKey } from '../platform/browser/storage.ts';
import type { Library } from '../state/library.ts';

/** Stops of one print at most: of the most copies, one after the other, with a swap in every layer. */
const MOST_STOPS = MOST_COPIES * MAX_LAYERS;

const watchSchema = z.object({
  stamp: z.string().max(100),
  startedMs: z.number().nullable(),
  resumedMs: z.array(z.number()).max(MOST_STOPS),
});

/** Keeps how far the print of a project has come, apart from its document: it is no decision, and undo leaves it alone. */
export function watchKeeper(library: Library, projectId: string): WatchKeeper {
  const key = projectKey(projectId, 'watch');
  return {
    load: async () => {
      const kept = watchSchema.safeParse(await library.getSetting(key));
      return kept.success ? kept.data : null;
    },
    save: (watch) => {
      void library.putSetting(key, watch);
    },
  };
}
