import { useCallback, useRef, useState } from 'react';
import { cellsOfFlat } from '#core/heights/flat.ts';
import type { FindCells } from '#core/find/clusters.ts';
import { meanSpreadMm, type Filament } from '#core/stack/filament.ts';
import { heightRequest, shownRequestOf, shownSamplesOf } from '../../state/document-facts.ts';
import { importanceOf } from '../../state/importance.ts';
import { setZoneMembers } from '../../state/edits/zone-edits.ts';
import {
  NOTHING_FOUND,
  runSearch,
  type FindProgress,
  type Refitted,
} from '../../state/find-session.ts';
import { fittedMembers } from '../../state/fit-zones.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { withSuggestion } from '../../state/suggestion.ts';
import { useProject } from '../../state/project-context.ts';
import { selectionOf } from '../../state/recipe.ts';
import type { SearchRequest, SuggestedStack } from '../../workers/find/jobs.ts';
import { toast } from '../../ui/toast.ts';

/** The seed of the first search; the same request always gives the same answer. */
const SEED = 1;

/** What is looked for; the picture and the layers are the project's own. */
export interface Wanted extends Omit<SearchRequest, 'cells' | 'grid' | 'seed' | 'zoneColours'> {
  /** Colours may move between zones where that serves the stack. */
  readonly fit: boolean;
  /** Filaments that are not at hand: which of them would help is told in the end. */
  readonly extra: readonly Filament[];
}

interface Search {
  readonly progress: FindProgress;
  /** When the last search began, ms by `performance.now`. */
  readonly began: { readonly current: number };
  /** Shows a stack on the stage without its being chosen; null goes back. */
  readonly show: (stack: SuggestedStack | null) => void;
  /** Begins a search, from nothing or from the present stack, in the place of the one that runs. */
  readonly begin: (improve?: boolean) => Promise<void>;
  /** Ends the search with what it has. */
  readonly halt: () => void;
  /** Ends the search and forgets it. */
  readonly end: () => void;
}

/**
 * Searches for the open project, one after the other.
 * @param wanted what is looked for at that moment
 */
export function useSearch(wanted: (improve: boolean) => Wanted): Search {
  const { rack, live, documents, worker } = useProject();
  const [progress, setProgress] = useState<FindProgress>(NOTHING_FOUND);
  const stop = useRef<(() => void) | null>(null);
  const began = useRef(0);
  const show = useCallback(
    (stack: SuggestedStack | null): void => {
      live.preview(stack ? withSuggestion(documents.getState().document, stack, rack) : null);
    },
    [live, documents, rack],
  );

  const begin = async (improve = false): Promise<void> => {
    stop.current?.();
    const start = new AbortController();
    stop.current = () => {
      start.abort();
    };
    // At once, so that what the last search found is not taken for what this one will.
    setProgress({ ...NOTHING_FOUND, running: true });
    began.current = performance.now();
    const failed = (error: Error): void => {
      toast.error(`The search stopped: ${error.message}. Nothing was changed.`);
    };
    try {
      const cells = await coloursOf(documents.getState().document, wanted(improve), worker);
      // Closed, or begun again, while the colours were on their way: nothing may start after that.
      if (start.signal.aborted) return;
      const { extra, fit, ...request } = wanted(improve);
      const { document } = documents.getState();
      const { grid } = document.stack;
      stop.current = runSearch(
        {
          ...request,
          cells: request.flat ? cellsOfFlat(cells, request.flat) : cells,
          grid,
          seed: SEED,
        },
        extra,
        (next) => {
          setProgress(next);
          if (next.best) show(next.best);
        },
        failed,
        fit && request.zones
          ? (best, signal) =>
              fittedTo(withSuggestion(document, best, rack), request, worker, signal)
          : undefined,
      );
    } catch (error) {
      if (start.signal.aborted) return;
      setProgress(NOTHING_FOUND);
      failed(error instanceof Error ? error : new Error(String(error)));
    }
  };
  const halt = (): void => {
    stop.current?.();
    stop.current = null;
    setProgress((before) => ({ ...before, running: false }));
  };
  const end = (): void => {
    stop.current?.();
    live.preview(null);
  };
  return { progress, began, show, begin, halt, end };
}

type Worker = ReturnType<typeof useProject>['worker'];

/** The colours that a search looks at, apart for each zone where heights follow these. */
function coloursOf(
  document: ProjectDocument,
  { rule, filaments }: Pick<Wanted, 'rule' | 'filaments'>,
  worker: Worker,
  signal?: AbortSignal,
): Promise<FindCells> {
  return worker.run(
    'colours',
    {
      samples: shownRequestOf(document),
      importance: importanceOf(document),
      selections: document.artwork.selections.map(selectionOf),
      spread: {
        spreadMm: meanSpreadMm(filaments),
        sampleMm: shownSamplesOf(document).sampleMm,
      },
      ...(rule === 'zones' ? { zoned: heightRequest(document, shownSamplesOf(document)) } : {}),
    },
    signal ? { signal } : {},
  );
}

/** Fits the zones of a document to its stack: what a search for zones goes on with. */
async function fittedTo(
  document: ProjectDocument,
  wanted: Pick<Wanted, 'rule' | 'zones' | 'filaments'>,
  worker: Worker,
  signal: AbortSignal,
): Promise<Refitted> {
  const { zones } = wanted;
  const zoneColours = await fittedMembers(document, zones?.anyOrder === true, worker, signal);
  const fitted = setZoneMembers(zoneColours)(document);
  return {
    zoneColours,
    cells: await coloursOf(fitted, wanted, worker, signal),
    zones: zones && {
      ...zones,
      zones: fitted.heights.zones.list.flatMap(({ id }) =>
        zones.zones.filter((own) => own.id === id),
      ),
    },
  };
}
