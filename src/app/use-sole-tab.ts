import { useEffect, useRef, useState } from 'react';

/** Time that a tab takes to write its last change once it is closed, ms. */
const LAST_WRITE_MS = 400;

/** Who may write a project: not known yet, this tab, or another one that has it open. */
export type TabRole = 'asking' | 'own' | 'other';

/** Locks that this page has let go of, until the browser knows it: what is opened again here must not find itself elsewhere. */
const leaving = new Map<string, Promise<unknown>>();

/**
 * Sees to it that only one tab writes a project: the first to open it holds a lock until it is closed. Where the browser
 * has no locks, every tab counts as the only one.
 * @param onFree called when the other tab has let go after this one had to wait
 */
export function useSoleTab(projectId: string, onFree: () => void): TabRole {
  const [role, setRole] = useState<TabRole>('asking');
  // A new callback is no reason to let go.
  const latest = useRef(onFree);
  latest.current = onFree;
  useEffect(() => {
    // Undefined outside of secure contexts, whatever the types say.
    const locks = navigator.locks as LockManager | undefined;
    if (!locks) {
      setRole('own');
      return;
    }
    const name = `zesty-strata project ${projectId}`;
    const leave = new AbortController();
    const untilLeft = (): Promise<void> =>
      new Promise((resolve) => {
        leave.signal.addEventListener('abort', () => {
          resolve();
        });
      });
    setRole('asking');
    const holding = (leaving.get(name) ?? Promise.resolve())
      .then(() =>
        locks.request(name, { ifAvailable: true }, async (lock) => {
          if (leave.signal.aborted) return true;
          setRole(lock ? 'own' : 'other');
          if (lock) await untilLeft();
          return lock !== null;
        }),
      )
      .then(async (held) => {
        if (held || leave.signal.aborted) return;
        await locks.request(name, { signal: leave.signal }, async () => {
          // The other tab may be writing its last change while it goes. This one is not the owner of the project
          // before it has opened what was left: a save of what it shows would put the old state over the new one.
          const wait = setTimeout(() => {
            latest.current();
          }, LAST_WRITE_MS);
          await untilLeft();
          clearTimeout(wait);
        });
      })
      .catch((error: unknown) => {
        if (!(error instanceof DOMException && error.name === 'AbortError')) throw error;
      });
    return () => {
      leaving.set(name, holding);
      // Kept only until it is true: opened again later, it is asked for as in any other page.
      void holding.finally(() => {
        if (leaving.get(name) === holding) leaving.delete(name);
      });
      leave.abort();
    };
  }, [projectId]);
  return role;
}
