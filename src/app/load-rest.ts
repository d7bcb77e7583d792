import { z } from 'zod';
import { wantToasts } from '../ui/toast.ts';

/** How long after the start, ms: by then a picture shows. */
const AFTER_MS = 3000;

/** And when all else is fetched, ms: long after the first picture, and when nobody waits for anything. */
const PARTS_AFTER_MS = 10_000;

/** How long the browser may put a part off while it is busy, ms. */
const LATEST_MS = 5000;

const partsSchema = z.array(z.string().regex(/^[\w.~-]+$/));

/** Loads what nothing shows at first, but what must be there when the server no longer is: to be told, and to save the work as a file. */
export function loadRest(): void {
  setTimeout(() => {
    wantToasts();
    // Where it cannot be had now it is asked for again when it is wanted.
    import('../state/project-file.ts').catch(() => undefined);
  }, AFTER_MS);
  setTimeout(() => {
    fetchParts().catch(() => undefined);
  }, PARTS_AFTER_MS);
}

/**
 * Fetches all scripts, styles and fonts of the app, one after the other while the browser is idle. They are not run: the browser
 * keeps them, and what is opened later finds them there, whether the server still answers or not.
 */
async function fetchParts(): Promise<void> {
  const parts = partsSchema.parse(await (await fetch('/parts.json')).json());
  for (const part of parts) {
    await new Promise<void>((resolve) => {
      requestIdleCallback(
        () => {
          resolve();
        },
        { timeout: LATEST_MS },
      );
    });
    const answer = await fetch(`/_astro/${part}`, { priority: 'low' });
    // Only what was read to its end is kept.
    await answer.arrayBuffer();
  }
}
