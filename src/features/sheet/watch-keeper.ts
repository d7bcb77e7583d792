import type { Watch } from '#core/schedule/watch.ts';

/** Keeps how far a print has come, for the next visit. */
export interface WatchKeeper {
  readonly load: () => Promise<Watch | null>;
  readonly save: (watch: Watch) => void;
}
