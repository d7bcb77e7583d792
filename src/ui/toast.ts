import type { ExternalToast, toast as show } from 'sonner';
import { createStore } from 'zustand/vanilla';

type Show = typeof show;

/** Whether a place for what is told is wanted on the page; see `Toasts.tsx`. */
export const toastPlace = createStore<{ readonly wanted: boolean }>(() => ({ wanted: false }));

/** The place is on the page. */
export let markPlaced: (show: Show) => void = () => undefined;

const placed = new Promise<Show>((resolve) => {
  markPlaced = resolve;
});

/** Puts the place on the page: what shows messages has no part in what is loaded before a picture shows. */
export function wantToasts(): void {
  toastPlace.setState({ wanted: true });
}

const by =
  (way: (show: Show) => (text: string, options?: ExternalToast) => unknown) =>
  (text: string, options?: ExternalToast): void => {
    wantToasts();
    void placed.then((shown) => way(shown)(text, options));
  };

/** Tells the maker something in passing, with one thing to do about it at most. */
export const toast = Object.assign(
  by((shown) => shown),
  {
    error: by((shown) => shown.error),
    success: by((shown) => shown.success),
    warning: by((shown) => shown.warning),
  },
);
