import { createStore, type StoreApi } from 'zustand/vanilla';
import { Cancelled } from '#core/base/checkpoint.ts';
import type { HeightMap } from '#core/base/raster.ts';
import type { Difference } from '#core/heights/difference.ts';
import type { ZoneFacts } from '#core/heights/zones.ts';
import type { FineParts } from '#core/relief/fine-parts.ts';
import type { Ramp } from '#core/optics/ramp.ts';
import type { ReliefRequest } from '#core/plan/relief-plan.ts';
import type { SampleGrid } from '#core/relief/sampling.ts';
import { rampOfFaces } from '#core/tags/face-ramp.ts';
import type { ElementFigures, TagProblem } from '#core/tags/check-tag.ts';
import { WorkerDied } from '../workers/client.ts';
import type { EditedArtwork } from '../workers/artwork/edit-jobs.ts';
import type { ArtworkWorker } from '../workers/start-worker.ts';
import type { OpenedArtwork, PrintedExtent } from '../workers/artwork/jobs.ts';
import type { DocumentStore } from './document-store.ts';
import { heightRequest, shownSamplesOf, stackOf } from './document-facts.ts';
import { setEditedBox } from './edits/artwork-edits.ts';
import { followEdits } from './live-edits.ts';
import type { ProjectDocument, TagSlice } from './project-document.ts';
import { faceOfDocument, plannedSeriesOf, plannedTagOf, withoutSeries } from './tag-plan.ts';
import { recipeOf } from './recipe.ts';

/** What follows from the document, kept up to date while the maker works. */
export interface LiveState {
  /** The picture as it was taken in. */
  readonly opened: OpenedArtwork;
  /** The picture with its edits; the last one that was worked out. */
  readonly edited: EditedArtwork;
  /** How far the edits are, 0..1, where they take a while; null when they are made. */
  readonly editing: number | null;
  readonly ramp: Ramp;
  /** Heights as shown; null until the first ones are there. */
  readonly heights: HeightMap | null;
  /** What these heights were asked with; null until the first ones are there. */
  readonly request: ReliefRequest | null;
  /** How natural the relief is; see `naturalness`. Null before the first heights, and where it means nothing. */
  readonly natural: number | null;
  /** Colour error of these heights, by a fast formula, until `difference` is there; null where it is, and where it is not known. */
  readonly roughError: number | null;
  /** The zones of the rule, where it has some; the last ones that were worked out. */
  readonly zones: readonly ZoneFacts[] | null;
  /** Shown samples at each height. */
  readonly counts: Uint32Array | null;
  /** How far what is printed reaches, in shown samples; null until the first heights are there. */
  readonly extent: PrintedExtent | null;
  /** Outlines of each layer, in sides of shown samples. */
  readonly edges: Uint32Array | null;
  /** The grid that `heights` has: the relief's own, or a coarser one where that has too many samples to show. */
  readonly shown: SampleGrid;
  /** How far the print is from the artwork; null before it is first worked out, and where nothing is printed. */
  readonly difference: Difference | null;
  /** Something of this is being worked out, or will be when the hand rests. */
  readonly pending: boolean;
  /** What is finer than a line; null before it is looked for. */
  readonly fine: FineParts | null;
  /** What is wrong with a tag, and how fine its elements are; null where there is none, and before it is checked. */
  readonly checked: CheckedTag | null;
  /** Of the document, what is looked at: all of it, or one piece of a series. */
  readonly lens: Lens;
}

/** What of a document is looked at. */
export type Lens = (document: ProjectDocument) => ProjectDocument;

const ALL_OF_IT: Lens = (document) => document;

/** A tag that was looked over. */
export interface CheckedTag {
  readonly of: TagSlice;
  readonly problems: readonly TagProblem[];
  /** By the ids of elements. */
  readonly figures: ReadonlyMap<string, ElementFigures>;
}

export type LiveStore = StoreApi<LiveState>;

/** The live print of one open document. */
export interface LivePrint {
  readonly store: LiveStore;
  /** Shows a document without its being the maker's choice (a filament tried out); null goes back to the real one. */
  preview(document: ProjectDocument | null): void;
  /** Looks at a part of the document alone; null goes back to all of it. */
  through(lens: Lens | null): void;
  stop(): void;
}

function rampOf(document: ProjectDocument): Ramp {
  return rampOfFaces(stackOf(document), document.stack.filaments, faceOfDocument(document));
}

/**
 * A request while something is dragged or tried out: heights that change with every move are calmed quickly, without islands, and
 * follow in full when the hand rests. Those that are there already stay.
 * @param rested what was asked for when the hand last rested
 */
function draft(
  request: ReliefRequest,
  moving: boolean,
  quickEdits: boolean,
  rested: ReliefRequest,
): ReliefRequest {
  if (!moving) return request;
  const { rule } = request;
  const same = JSON.stringify(rested.rule) === JSON.stringify(rule);
  return {
    ...request,
    ...(quickEdits ? { quickEdits } : {}),
    ...(same ? {} : { rule: { ...rule, quick: true } }),
  };
}

const pieces = new WeakMap<object, number>();
let piecesSeen = 0;

/** A request as a text to compare by. Outlines are as many numbers as letters have corners: the same ones are one object. */
function keyOf({ piece, face, ...request }: ReliefRequest): string {
  if (!piece) return JSON.stringify(request);
  const known = pieces.get(piece) ?? (piecesSeen += 1);
  pieces.set(piece, known);
  return `${known} ${face !== undefined} ${JSON.stringify(request)}`;
}

/** Has another worker taken the place of one that died? */
function isReplaced(error: unknown): boolean {
  return error instanceof WorkerDied && !error.final;
}

/** Names of a series that are looked over: the longest, which are shrunk most and reach farthest. */
const MOST_CHECKED = 120;

/** Looks a tag over: the piece, or each of its series, so that what is asked meanwhile comes between. */
async function checkTag(
  worker: ArtworkWorker,
  document: ProjectDocument,
  tag: TagSlice,
  abort: AbortController,
): Promise<Pick<LiveState, 'checked'>> {
  const single = plannedTagOf(document);
  if (!single) return { checked: null };
  const { lineMm } = document.print;
  const { layerMm } = document.stack.grid;
  const series = plannedSeriesOf(document)?.pieces;
  const rows = tag.series?.rows ?? [];
  const lengthOf = (row: number): number => rows[row]?.join('').length ?? 0;
  const others = [...(series ?? []).keys()].slice(1).sort((a, b) => lengthOf(b) - lengthOf(a));
  const worst = new Map<string, TagProblem>();
  let figures: readonly (ElementFigures | null)[] = [];
  // The first is the one that figures are told of.
  for (const row of [0, ...others].slice(0, MOST_CHECKED)) {
    const input = { tag, planned: series?.[row] ?? single, lineMm, layerMm };
    const found = await worker.run('checkTag', input, abort);
    if (row === 0) figures = found.figures;
    for (const problem of found.problems) {
      const key = `${problem.code} ${problem.element} ${problem.other ?? ''}`;
      const before = worst.get(key);
      if (!before || problem.mm < before.mm) worst.set(key, series ? { ...problem, row } : problem);
    }
  }
  const known = figures.flatMap((one, i): (readonly [string, ElementFigures])[] => {
    const id = tag.elements[i]?.id;
    return one && id !== undefined ? [[id, one]] : [];
  });
  return { checked: { of: tag, problems: [...worst.values()], figures: new Map(known) } };
}

/** Pause after the last change before the colour error is worked out: it is read at rest, not while dragging. */
const ERROR_DELAY_MS = 180;

/**
 * Follows a document: a change of the stack only changes the ramp, at once and here; heights come from the worker, and
 * only when the rule, the size or the number of layers changed. While one answer is under way, newer wishes wait, and
 * only the newest of them is sent.
 */
export function followDocument(
  documents: DocumentStore,
  opened: OpenedArtwork,
  worker: ArtworkWorker,
  onTrouble: (error: Error) => void,
): LivePrint {
  const first = documents.getState().document;
  const store = createStore<LiveState>(() => ({
    opened,
    edited: opened,
    editing: null,
    ramp: rampOf(first),
    heights: null,
    request: null,
    natural: null,
    roughError: null,
    zones: null,
    counts: null,
    extent: null,
    edges: null,
    shown: shownSamplesOf(first),
    difference: null,
    fine: null,
    checked: null,
    lens: ALL_OF_IT,
    pending: true,
  }));
  let previewed: ProjectDocument | null = null;
  let wanted = heightRequest(first, shownSamplesOf(first));
  let rested = wanted;
  let sent = '';
  let busy = false;
  let stopped = false;
  let errorTimer: ReturnType<typeof setTimeout> | undefined;
  let errorAbort: AbortController | undefined;
  /** The colour error is being worked out, or will be. */
  let measuring = false;
  let heightsAbort: { readonly abort: AbortController; readonly recipe: string } | undefined;

  function report(error: unknown): void {
    if (stopped || error instanceof Cancelled) return;
    onTrouble(error instanceof Error ? error : new Error(String(error)));
  }
  const current = (): ProjectDocument =>
    store.getState().lens(previewed ?? documents.getState().document);

  const picture = followEdits(
    worker,
    report,
    ({ shown, quick }) => {
      store.setState({ edited: shown ?? opened, editing: null });
      // What is printed of it decides the size of a trimmed piece; it follows by itself, so it is no step.
      if (!quick && !previewed)
        documents.getState().complete(setEditedBox(shown ? shown.box : null));
      rest();
    },
    (editing) => {
      store.setState({ editing });
    },
  );

  /** All that follows from the document is there (or cannot be had). */
  const rest = (): void => {
    if (
      !busy &&
      !measuring &&
      !picture.isBusy() &&
      keyOf(wanted) === sent &&
      store.getState().pending
    )
      store.setState({ pending: false });
  };

  const measureLater = (): void => {
    measuring = true;
    clearTimeout(errorTimer);
    errorAbort?.abort();
    errorTimer = setTimeout(() => {
      const lens = store.getState().lens;
      // A tag is looked over as a whole, but where one piece of it is worked on alone without its series.
      const whole = previewed ?? documents.getState().document;
      const document = whole.tag ? (lens === ALL_OF_IT ? whole : withoutSeries(whole)) : current();
      const abort = new AbortController();
      errorAbort = abort;
      const request = wanted;
      // A tag has no picture that it could differ from; what of it cannot be printed is told in place of that.
      const looked = document.tag
        ? checkTag(worker, document, document.tag, abort)
        : worker
            .run(
              'difference',
              { request, stack: stackOf(document), filaments: document.stack.filaments },
              abort,
            )
            .then(({ difference }) => ({ difference, roughError: null }));
      looked
        .then(async (found) => {
          if (abort.signal.aborted) return;
          store.setState(found);
          const {
            print: { lineMm },
          } = document;
          store.setState({ fine: await worker.run('fineParts', { request, lineMm }, abort) });
          if (errorAbort !== abort) return;
          measuring = false;
          rest();
        })
        .catch((error: unknown) => {
          report(error);
          if (errorAbort !== abort || error instanceof Cancelled) return;
          if (isReplaced(error)) {
            measureLater();
            return;
          }
          measuring = false;
          rest();
        });
    }, ERROR_DELAY_MS);
  };

  const pump = (): void => {
    const key = keyOf(wanted);
    if (busy || key === sent || stopped) return;
    busy = true;
    sent = key;
    const grid = shownSamplesOf(current());
    const request = wanted;
    const abort = new AbortController();
    // Quick ones are waited for, so that a hand that moves on and on sees the print follow.
    heightsAbort = request.quickEdits ? undefined : { abort, recipe: request.recipe?.key ?? '' };
    worker
      .run('heights', request, abort)
      .then(({ heights, counts, edges, extent, natural, roughError, zones }) => {
        const { shown } = store.getState();
        const same = JSON.stringify(shown) === JSON.stringify(grid);
        if (!stopped)
          store.setState({
            heights,
            request,
            natural,
            roughError,
            zones,
            counts,
            edges,
            extent,
            shown: same ? shown : grid,
          });
        measureLater();
      })
      .catch((error: unknown) => {
        report(error);
        // Another worker is there: it is asked what this one was.
        if (isReplaced(error)) sent = '';
      })
      .finally(() => {
        busy = false;
        pump();
        // Heights that failed are not asked for again by themselves; nothing follows from them.
        if (store.getState().heights === null) rest();
      });
  };

  const refresh = (): void => {
    const document = current();
    store.setState({ ramp: rampOf(document), pending: true });
    const moving = documents.getState().gestureFrom !== null || previewed !== null;
    const recipe = recipeOf(document);
    // Edits that are not the hand's own are there exactly already.
    const quick = moving && recipe.key !== '' && !picture.isExact(recipe);
    picture.want(recipe, quick);
    const whole = heightRequest(document, shownSamplesOf(document));
    if (!moving) rested = whole;
    wanted = draft(whole, moving, quick, rested);
    // Edits of a large picture take longer than a change of mind.
    if (busy && heightsAbort && heightsAbort.recipe !== recipe.key) heightsAbort.abort.abort();
    measureLater();
    pump();
  };

  const unsubscribe = documents.subscribe((state, before) => {
    const ended = state.gestureFrom === null && before.gestureFrom !== null;
    if (state.document !== before.document || ended) refresh();
  });
  picture.want(recipeOf(first), false);
  pump();

  return {
    store,
    preview: (document) => {
      previewed = document;
      refresh();
    },
    through: (lens) => {
      store.setState({ lens: lens ?? ALL_OF_IT });
      // Only a tag is another thing as a whole than in part.
      if (documents.getState().document.tag) refresh();
    },
    stop: () => {
      stopped = true;
      picture.stop();
      unsubscribe();
      clearTimeout(errorTimer);
      errorAbort?.abort();
    },
  };
}
