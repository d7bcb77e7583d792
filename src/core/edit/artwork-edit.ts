import type { Triple } from '../colour/srgb.ts';

/** A line that a brush went along: x and y in turn, and the brush's radius, in pixels of the upright original. */
export interface BrushLine {
  readonly radius: number;
  readonly points: readonly number[];
}

/** A stroke on the result of a cut-out. */
export interface TouchLine extends BrushLine {
  /** True: what lies under it is kept. */
  readonly adds: boolean;
}

/** A rectangle in pixels. */
export interface PixelBox {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** One colour of a reduced picture: what is looked for, and what it becomes, both `#rrggbb`. */
export interface PaletteColour {
  readonly seed: string;
  readonly colour: string;
}

export const CUTOUT_EDGES = ['soft', 'crisp', 'hair'] as const;
export const CUTOUT_WAYS = ['plain', 'cut'] as const;

/** Settings of each kind of edit. Lengths are pixels of the upright original, angles degrees. */
export interface EditSettings {
  /** A part of the picture. After a turn or a mirroring, places count from the turned picture's corner. */
  readonly crop: PixelBox;
  /** Clockwise. Besides quarter turns, the greatest part of the picture's proportions without an empty corner stays. */
  readonly turn: { readonly degrees: number };
  readonly mirror: { readonly across: 'width' | 'height' };
  /** Brightness and contrast -1..1; curve over sRGB codes 0..1, ascending in x; two or more points, or none. */
  readonly tone: {
    readonly brightness: number;
    readonly contrast: number;
    readonly curve: readonly (readonly [x: number, y: number])[];
  };
  /** -1..1: blue to yellow, green to magenta. */
  readonly white: { readonly warmth: number; readonly tint: number };
  /** Nothing to set. */
  readonly grey: object;
  /** See `hueWeight`. Chroma is a factor, lightness -1..1. */
  readonly hue: {
    readonly centre: number;
    readonly half: number;
    readonly soft: number;
    readonly leastChroma: readonly [number, number];
    readonly turn: number;
    readonly chroma: number;
    readonly lightness: number;
  };
  /** One tone family: hue in degrees, chroma in Oklab (0..0.4), an offset of lightness -1..1. */
  readonly recolour: {
    readonly hue: number;
    readonly chroma: number;
    readonly lightness: number;
  };
  readonly denoise: { readonly strength: number };
  /** Amount 0..2. */
  readonly sharpen: { readonly amount: number; readonly radius: number };
  readonly cutout: {
    readonly way: (typeof CUTOUT_WAYS)[number];
    /** Where the subject is; null lets it be guessed. */
    readonly box: PixelBox | null;
    readonly keep: readonly BrushLine[];
    readonly drop: readonly BrushLine[];
    readonly edge: (typeof CUTOUT_EDGES)[number];
    /** Where fine hair is looked for. */
    readonly hair: readonly BrushLine[];
    /** What was painted on the result. */
    readonly touch: readonly TouchLine[];
    /** Small islands and holes stay. */
    readonly smallParts: boolean;
    readonly cleanColours: boolean;
  };
  readonly colours: {
    /** How many; null lets it be proposed. */
    readonly count: number | null;
    /** One more: thin dark lines. */
    readonly thin: boolean;
    /** Colours that the maker has settled; null lets them be found. */
    readonly palette: readonly PaletteColour[] | null;
  };
}

export type EditKind = keyof EditSettings;

/** Kinds in the order in which they are offered. */
export const EDIT_KINDS = [
  'crop',
  'turn',
  'mirror',
  'tone',
  'white',
  'grey',
  'hue',
  'recolour',
  'denoise',
  'sharpen',
  'cutout',
  'colours',
] as const satisfies readonly EditKind[];

/** One change of the artwork that can be switched off or changed later. */
export type ArtworkEdit<Kind extends EditKind = EditKind> = Kind extends EditKind
  ? {
      readonly id: string;
      readonly kind: Kind;
      readonly on: boolean;
      /** Id of the selection that it is limited to; null for the whole picture. */
      readonly mask: string | null;
    } & EditSettings[Kind]
  : never;

/** Edits that change each pixel by itself, and so can be limited to a selection; the others take the picture as a whole. */
export const PIXEL_KINDS = ['tone', 'white', 'grey', 'hue', 'recolour'] as const;
export type PixelKind = (typeof PIXEL_KINDS)[number];

/** Is this an edit of single pixels? */
export function isPixelEdit(edit: ArtworkEdit): edit is ArtworkEdit<PixelKind> {
  return (PIXEL_KINDS as readonly EditKind[]).includes(edit.kind);
}

/** Kinds that a selection can limit; a cut-out keeps just what is selected. */
export function takesMask(kind: EditKind): boolean {
  return (
    (PIXEL_KINDS as readonly EditKind[]).includes(kind) ||
    kind === 'denoise' ||
    kind === 'sharpen' ||
    kind === 'cutout'
  );
}

/** Settings that a new edit of each kind begins with: they change nothing, or what nearly everybody wants. */
export const FIRST_SETTINGS: EditSettings = {
  crop: { left: 0, top: 0, width: 1, height: 1 },
  turn: { degrees: 90 },
  mirror: { across: 'width' },
  tone: { brightness: 0, contrast: 0, curve: [] },
  white: { warmth: 0, tint: 0 },
  grey: {},
  hue: {
    centre: 30,
    half: 20,
    soft: 15,
    leastChroma: [0.02, 0.06],
    turn: 0,
    chroma: 1,
    lightness: 0,
  },
  recolour: { hue: 30, chroma: 0.12, lightness: 0 },
  denoise: { strength: 0.4 },
  sharpen: { amount: 0.6, radius: 1.5 },
  cutout: {
    way: 'cut',
    box: null,
    keep: [],
    drop: [],
    edge: 'soft',
    hair: [],
    touch: [],
    smallParts: false,
    // It helps where the edge is found well, and harms where it is not: the maker sees which.
    cleanColours: false,
  },
  colours: { count: null, thin: false, palette: null },
};

/** How one step of a selection joins what was selected before it. */
export const STEP_WAYS = ['add', 'take', 'within'] as const;
export type StepWay = (typeof STEP_WAYS)[number];

/** One step of a selection. Lengths are pixels of the upright original. */
export type SelectionStep = { readonly way: StepWay } & (
  | {
      readonly from: 'similar';
      readonly x: number;
      readonly y: number;
      /** 0..1 */
      readonly tolerance: number;
      /** Only what touches the place. */
      readonly connected: boolean;
    }
  | ({ readonly from: 'box' } & PixelBox)
  | { readonly from: 'polygon'; readonly points: readonly number[] }
  | ({ readonly from: 'brush' } & BrushLine)
  /** Another selection. */
  | { readonly from: 'mask'; readonly mask: string }
  /** A grey picture of the same proportions; white is selected. */
  | { readonly from: 'picture'; readonly picture: GreyPicture }
);

/** Greys of a picture, and a name that is different for different ones. */
export interface GreyPicture {
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

/** A selection: steps from nothing, then grown, then feathered, then turned inside out. */
export interface Selection {
  readonly id: string;
  readonly name: string;
  readonly steps: readonly SelectionStep[];
  /** Pixels of the original, negative shrinks. */
  readonly grow: number;
  readonly feather: number;
  readonly invert: boolean;
}

/** All that makes edited artwork of a picture. */
export interface Recipe {
  /** The same for the same edits and selections. */
  readonly key: string;
  readonly edits: readonly ArtworkEdit[];
  readonly selections: readonly Selection[];
}

/** A recipe that changes nothing. */
export const NO_EDITS: Recipe = { key: '', edits: [], selections: [] };

/** Three codes 0..1 that an edit changes in place. */
export type Codes = Float64Array;

/** Changes one colour. */
export type ColourMap = (codes: Codes) => void;

/** Bytes 0..255 as a triple. */
export function triple(data: ArrayLike<number>, at: number): Triple {
  return [data[at] as number, data[at + 1] as number, data[at + 2] as number];
}
