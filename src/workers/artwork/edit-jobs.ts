import type { RgbaRaster } from '#core/base/raster.ts';
import type { Triple } from '#core/colour/srgb.ts';
import type { EditSettings, PaletteColour, PixelBox, Recipe } from '#core/edit/artwork-edit.ts';
import type { HueStrip } from '#core/edit/hue.ts';
import type { Slant } from '#core/edit/straighten.ts';

/** A picture with its edits made, as far as the page needs it. */
export interface EditedArtwork {
  /** Sides at full size, in pixels. */
  readonly width: number;
  readonly height: number;
  /** The smallest rectangle that holds all that is printed, as shares of the picture's sides. */
  readonly box: {
    readonly left: number;
    readonly top: number;
    readonly width: number;
    readonly height: number;
  };
  /** Share of the picture that is cut away, 0..1. */
  readonly transparentShare: number;
  /** The picture at stage size. */
  readonly stage: RgbaRaster;
  /** How many stage pixels have each brightness step. */
  readonly histogram: Uint32Array;
}

/** A selection over the edited picture. */
export interface ShownSelection {
  /** Share of the original that is selected, 0..1. */
  readonly share: number;
  /** Outline as closed lines, x and y in turn, as shares of the edited picture's sides. */
  readonly lines: readonly (readonly number[])[];
}

/** What is asked of the picture as it is before an edit (or at the end of the list). */
export type Question =
  | { readonly of: 'hues' }
  | { readonly of: 'levels' }
  | { readonly of: 'slant' }
  | { readonly of: 'plain' }
  | { readonly of: 'box' }
  | { readonly of: 'trim' }
  | { readonly of: 'palette'; readonly settings: EditSettings['colours'] }
  /** Place as shares of the sides. */
  | { readonly of: 'colour'; readonly x: number; readonly y: number };

/** Answers; each has only what was asked for. */
export interface Answer {
  readonly hues?: { readonly before: HueStrip; readonly after: HueStrip };
  readonly levels?: EditSettings['tone']['curve'] | null;
  readonly slant?: Slant;
  readonly plain?: boolean;
  /** In pixels of the original. */
  readonly box?: PixelBox;
  /** Where something is printed, in the coordinates of a crop at this place; null where nothing is, or all. */
  readonly trim?: PixelBox | null;
  readonly palette?: {
    readonly colours: readonly PaletteColour[];
    readonly shares: readonly number[];
    readonly proposed: number;
  };
  readonly colour?: Triple;
}

// eslint-disable-next-line @typescript-eslint/consistent-type-definitions
export type EditJobs = {
  /** The picture with its edits; quickly on a smaller copy while a hand moves. */
  edited: {
    input: { readonly recipe: Recipe; readonly quick: boolean };
    output: EditedArtwork;
  };
  /** The edited picture as PNG with alpha, at full size. */
  editedPng: {
    input: { readonly recipe: Recipe };
    output: { readonly png: Uint8Array<ArrayBuffer> };
  };
  /** A selection as it lies over the edited picture. */
  selection: {
    input: { readonly recipe: Recipe; readonly id: string };
    output: ShownSelection;
  };
  /** How much an edit of hues takes of each pixel, 0..255, over the edited picture on its smaller copy. */
  touched: {
    input: { readonly recipe: Recipe; readonly id: string };
    output: {
      readonly width: number;
      readonly height: number;
      readonly data: Uint8Array<ArrayBuffer>;
    };
  };
  ask: {
    input: { readonly recipe: Recipe; readonly editId: string | null; readonly question: Question };
    output: Answer;
  };
  /** The picture before an edit, for tools that lie over it. */
  before: {
    input: { readonly recipe: Recipe; readonly editId: string };
    output: { readonly stage: RgbaRaster };
  };
};
