import { wantToasts } from '../ui/toast.ts';

/** How long after the start, ms: by then a picture shows. */
const AFTER_MS = 3000;

/** Loads what nothing shows at first, but what must be there when the server no longer is: to be told, and to save the work as a file. */
export function loadRest(): void {
  setTimeout(() => {
    wantToasts();
    // Where it cannot be had now it is asked for again when it is wanted.
    import('../state/project-file.ts').catch(() => undefined);
  }, AFTER_MS);
}
