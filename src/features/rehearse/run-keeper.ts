import type { RunBook } from '#core/rehearse/kept-run.ts';

/** Keeps the runs of a project, and the notes of its real print, for the next visit. */
export interface RunKeeper {
  readonly load: () => Promise<RunBook>;
  readonly save: (book: RunBook) => void;
}
