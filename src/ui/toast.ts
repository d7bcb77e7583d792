import type { ExternalToast, toast as show } from 'sonner';
import { createStore } from 'zustand/vanilla';
import { withoutRawParts } from './missing-part.ts';

type Show = typeof show;

/** The place for what is told in passing; see `Toasts.tsx`. */
export const toastPlace = createStore<{
  /** It is to be on the page. */
  readonly wanted: boolean;
  /** It could not be loaded: the server is gone. */
  readonly missing: boolean;
  /** What was told and has not found its place yet, oldest first. */
  readonly waiting: readonly string[];
}>(() => ({ wanted: false, missing: false, waiting: [] }));

let place: (show: Show) => void = () => undefined;

const placed = new Promise<Show>((resolve) => {
  place = resolve;
});

/** The place is on the page. */
export function markPlaced(show: Show): void {
  toastPlace.setState({ missing: false, waiting: [] });
  place(show);
}

/** Puts the place on the page: what shows messages has no part in what is loaded before a picture shows. */
export function wantToasts(): void {
  toastPlace.setState({ wanted: true });
}

let shown: Show | undefined;
void placed.then((show) => {
  shown = show;
});

const by =
  (way: (show: Show) => (text: string, options?: ExternalToast) => unknown) =>
  (said: string, options?: ExternalToast): void => {
    const text = withoutRawParts(said);
    wantToasts();
    if (!shown) toastPlace.setState(({ waiting }) => ({ waiting: [...waiting, text] }));
    void placed.then((show) => way(show)(text, options));
  };

/** Tells the maker something in passing, with one thing to do about it at most. */
export const toast = Object.assign(
  by((show) => show),
  {
    error: by((show) => show.error),
    success: by((show) => show.success),
    warning: by((show) => show.warning),
  },
);
