import { EMPTY_BOOK, runBookSchema } from '#core/rehearse/kept-run.ts';
import type { RunKeeper } from '../features/rehearse/run-keeper.ts';
import { projectKey } from '../platform/browser/storage.ts';
import type { Library } from '../state/library.ts';

/** Keeps the rehearsals of a project apart from its document: they are no decision, and undo leaves them alone. */
export function runKeeper(library: Library, projectId: string): RunKeeper {
  const key = projectKey(projectId, 'runs');
  return {
    load: async () => {
      const kept = runBookSchema.safeParse(await library.getSetting(key));
      return kept.success ? kept.data : EMPTY_BOOK;
    },
    save: (book) => {
      void library.putSetting(key, book);
    },
  };
}
