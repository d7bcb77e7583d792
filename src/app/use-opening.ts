import { useCallback, useRef, useState } from 'react';
import { Cancelled } from '#core/base/checkpoint.ts';
import type { OpenProject } from '../state/project-context.ts';
import type { JobOptions } from '../workers/client.ts';
import { closeProject, Refusal } from './open-project.ts';

/** What is being opened, and how far that is. */
export interface Busy {
  readonly name: string;
  readonly fraction: number;
}

/** What is to be opened. */
export interface Opened {
  /** As it stands in a sentence: the name of a file, or `the project`. */
  readonly name: string;
  /** Says a reason why it cannot be opened. */
  readonly refused: (reason: string) => string;
}

/** The project that is open, and the way to another one. */
export interface Opening {
  readonly project: OpenProject | null;
  readonly setProject: (project: OpenProject | null) => void;
  /** The open project as it is now, for what ends later. */
  readonly latest: { readonly current: OpenProject | null };
  readonly busy: Busy | null;
  /** Why the last one could not be opened, in words. */
  readonly trouble: string | null;
  readonly setTrouble: (trouble: string | null) => void;
  /**
   * Runs something that ends in an open project; says why when it does not. What was being opened before is given up: only
   * the last wish counts, in whichever order they end.
   */
  readonly openWith: (
    what: Opened,
    work: (options: JobOptions) => Promise<OpenProject>,
  ) => Promise<OpenProject | null>;
  /** Gives up what is being opened. */
  readonly cancel: () => void;
}

/** Holds the open project. */
export function useOpening(): Opening {
  const [project, setProject] = useState<OpenProject | null>(null);
  const [busy, setBusy] = useState<Busy | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const abort = useRef<AbortController | null>(null);
  const latest = useRef(project);
  latest.current = project;
  const openWith = useCallback(
    async ({ name, refused }: Opened, work: (options: JobOptions) => Promise<OpenProject>) => {
      const controller = new AbortController();
      abort.current?.abort();
      abort.current = controller;
      const isWanted = (): boolean => abort.current === controller && !controller.signal.aborted;
      setBusy({ name, fraction: 0 });
      setTrouble(null);
      try {
        const opened = await work({
          signal: controller.signal,
          onProgress: (fraction) => {
            if (isWanted()) setBusy({ name, fraction });
          },
        });
        if (!isWanted()) {
          void closeProject(opened);
          return null;
        }
        setProject(opened);
        return opened;
      } catch (error) {
        if (!isWanted()) return null;
        if (error instanceof Refusal) setTrouble(refused(error.message));
        else if (!(error instanceof Cancelled))
          setTrouble(
            `${name} could not be opened (${error instanceof Error ? error.message : String(error)}). Nothing was changed.`,
          );
        return null;
      } finally {
        if (abort.current === controller) {
          abort.current = null;
          setBusy(null);
        }
      }
    },
    [],
  );

  const cancel = useCallback(() => {
    abort.current?.abort();
    abort.current = null;
    setBusy(null);
  }, []);
  return { project, setProject, latest, busy, trouble, setTrouble, openWith, cancel };
}
