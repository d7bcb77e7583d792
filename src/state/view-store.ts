import type { ElementSide } from '#core/tags/tag.ts';
import { USUAL_LIGHT, type LampLight } from '#core/heights/lamp.ts';
import type { Difference } from '#core/heights/difference.ts';
import type { Mark } from '#core/artwork/importance.ts';
import { createStore, type StoreApi } from 'zustand/vanilla';

/** The stops of a project on its way: a picture goes by the first two, a tag by the next two, and both by the others. */
export const STOPS = ['artwork', 'stack', 'tag', 'series', 'relief', 'sheet', 'rehearse'] as const;
export type Stop = (typeof STOPS)[number];

/** Ways to look at the stage. */
export const STAGE_VIEWS = [
  'print',
  'artwork',
  'wipe',
  'difference',
  'heights',
  'lamp',
  'solid',
  'side',
] as const;
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

/**
 * What lies on one side of the wipe line: the artwork, the print as it is shown, the print of the document while something
 * else is tried out, or a named version's print by its id.
 */
export type WipeSide = 'artwork' | 'print' | 'present' | { readonly versionId: string };

/** How the solid is looked at. */
export interface SolidLook {
  /** How many times taller than it is the relief is drawn; 1..{@link GREATEST_STRETCH}. */
  readonly stretch: number;
  readonly wireframe: boolean;
  /** Counts up each time the camera is to go back to where it began. */
  readonly resets: number;
}

/** A brush over the picture: what it says, and its radius as a share of the picture's width. */
export interface Brush {
  /** That something matters more or less; or that it belongs to a zone, by id. */
  readonly says: { readonly mark: Mark } | { readonly zone: string };
  readonly radius: number;
}

/** Radius of a fresh brush, as a share of the picture's width. */
export const FIRST_RADIUS = 0.05;

/** What the pointer does on the stage while the artwork is edited; places go into the selection or the edit in hand. */
export const PICTURE_TOOLS = [
  'similar',
  'box',
  'lasso',
  'brush',
  'crop',
  'subject',
  'keep',
  'drop',
  'hair',
  'add',
  'take',
  'grey',
] as const;
export type PictureTool = (typeof PICTURE_TOOLS)[number];

/** What is seen where a cut-out took the picture away: that itself, faintly; squares; or the surround. */
export const GROUNDS = ['dropped', 'squares', 'plain'] as const;
export type Ground = (typeof GROUNDS)[number];

/** How the artwork is being edited. */
export interface PictureDesk {
  /** Id of the edit whose settings are open. */
  readonly openEdit: string | null;
  readonly tool: PictureTool | null;
  /** Id of the selection in hand. */
  readonly selection: string | null;
  /** The next step of the selection adds to it, or takes away from it. */
  readonly way: 'add' | 'take';
  /** Of a selection by similarity, 0..1; and whether it keeps to what touches the place. */
  readonly tolerance: number;
  readonly connected: boolean;
  /** Radius of brushes, as a share of the original's width. */
  readonly brush: number;
  /** What is seen where a cut-out took the picture away. */
  readonly ground: Ground;
  /** What an edit does not touch is veiled. */
  readonly showTouched: boolean;
}

/** How a tag is being built. */
export interface TagDesk {
  /** Ids of the elements in hand; `PLATE` is the outline itself. */
  readonly selected: readonly string[];
  /** Elements keep to middles and edges of others while they are dragged. */
  readonly snap: boolean;
  /** The side that is worked on, where a tag has two. */
  readonly side: ElementSide;
}

/** Stands for the outline among the elements. */
export const PLATE = 'plate';

export const GREATEST_STRETCH = 10;

/** How the maker looks at things; not part of the document and without history. */
export interface ViewState {
  readonly view: StageView;
  readonly surround: Surround;
  /** Place of the wipe line, share of the picture's width. */
  readonly wipe: number;
  /** Place of the line along which the side view cuts, share of the picture's height. */
  readonly sideAt: number;
  /** What lies left and right of the wipe line. */
  readonly sides: readonly [WipeSide, WipeSide];
  /** The key or button is held that shows the artwork in place of whatever is shown. */
  readonly artworkHeld: boolean;
  /** The key is held that shows the artwork without its edits. */
  readonly originalHeld: boolean;
  /** The artwork is shown in greys of its brightness. */
  readonly greys: boolean;
  readonly desk: PictureDesk;
  readonly tagDesk: TagDesk;
  readonly solid: SolidLook;
  /** What the view shows is not on the screen yet: the solid is loaded and drawn apart from the other pictures. */
  readonly drawing: boolean;
  /** A first stack is being looked for. */
  readonly looking: boolean;
  /** Device pixels per millimetre of this screen, as measured with a card; null while unknown. */
  readonly screenPixelsPerMm: number | null;
  /** The dialog that measures the screen is open. */
  readonly measuringScreen: boolean;
  /** What is finer than one printed line is marked over the picture. */
  readonly showFine: boolean;
  /** From where the difference is seen, mm; 0 is side by side. */
  readonly seenFromMm: number;
  /** The difference as it is seen from there, once it is worked out. */
  readonly seenDifference: Difference | null;
  /** Of pieces printed one by one in layers of several heights, those at hand; see `useBatch`. */
  readonly batch: number;
  /** Zones are marked over the picture. */
  readonly zonesMarked: boolean;
  /** The brush in hand; null while the pointer moves the picture. */
  readonly brush: Brush | null;
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
    sideAt: 0.5,
    sides: ['artwork', 'print'],
    artworkHeld: false,
    originalHeld: false,
    greys: false,
    desk: {
      openEdit: null,
      tool: null,
      selection: null,
      way: 'add',
      tolerance: 0.25,
      connected: true,
      brush: 0.02,
      ground: 'dropped',
      showTouched: false,
    },
    tagDesk: { selected: [], snap: true, side: 'front' },
    screenPixelsPerMm: null,
    measuringScreen: false,
    seenFromMm: 0,
    seenDifference: null,
    batch: 0,
    zonesMarked: false,
    brush: null,
    showFine: false,
    drawing: false,
    looking: false,
    solid: { stretch: 3, wireframe: false, resets: 0 },
    light: USUAL_LIGHT,
    zoom: null,
    panX: 0,
    panY: 0,
    pointer: null,
    pins: [],
  }));
}

/** Changes how the artwork is being edited. */
export function setDesk(views: ViewStore, part: Partial<PictureDesk>): void {
  views.setState(({ desk }) => ({ desk: { ...desk, ...part } }));
}

/** Takes elements of a tag in hand. */
export function selectElements(views: ViewStore, selected: readonly string[]): void {
  views.setState(({ tagDesk }) => ({ tagDesk: { ...tagDesk, selected } }));
}

/** Shows the print as large as it will be; asks for the screen to be measured first where that was never done. */
export function showTrueSize(views: ViewStore): void {
  const { screenPixelsPerMm } = views.getState();
  if (screenPixelsPerMm === null) views.setState({ measuringScreen: true });
  // Zooming the page changes what a CSS pixel is, but not the screen.
  else views.setState({ zoom: screenPixelsPerMm / window.devicePixelRatio });
}
