import { USUAL_LIGHT, type LampLight } from '#core/heights/lamp.ts';
import { createStore, type StoreApi } from 'zustand/vanilla';

/** The five stops of a project. */
export const STOPS = ['artwork', 'stack', 'relief', 'sheet', 'rehearse'] as const;
export type Stop = (typeof STOPS)[number];

/** Ways to look at the stage. */
export const STAGE_VIEWS = ['print', 'artwork', 'wipe', 'difference', 'heights', 'lamp'] as const;
export type StageView = (typeof STAGE_VIEWS)[number];

/** Neutral greys around the picture: colour beside colour misleads the eye. */
export const SURROUNDS = ['dark', 'middle', 'light'] as const;
export type Surround = (typeof SURROUNDS)[number];

/** A spot of the picture, as shares of its width and height, 0..1. */
export interface Spot {
  readonly x: number;
  readonly y: number;
}

export const MOST_PINS = 8;

/** How the maker looks at things; not part of the document and without history. */
export interface ViewState {
  readonly view: StageView;
  readonly surround: Surround;
  /** Place of the wipe line, share of the picture's width. */
  readonly wipe: number;
  /** Lamp and room of the lamp view. */
  readonly light: LampLight;
  /** Screen pixels per millimetre of the relief, or null: as large as fits. */
  readonly zoom: number | null;
  /** Where the middle of the picture lies, in screen pixels from the middle of the stage. */
  readonly panX: number;
  readonly panY: number;
  readonly pointer: Spot | null;
  /** Spots that were pinned to be compared while things change; at most {@link MOST_PINS}. */
  readonly pins: readonly Spot[];
}

export type ViewStore = StoreApi<ViewState>;

/** A fresh view: the print, fitted. */
export function createViewStore(): ViewStore {
  return createStore<ViewState>(() => ({
    view: 'print',
    surround: 'middle',
    wipe: 0.5,
    light: USUAL_LIGHT,
    zoom: null,
    panX: 0,
    panY: 0,
    pointer: null,
    pins: [],
  }));
}
