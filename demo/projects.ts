import type { StackRecipe } from '../src/state/new-project.ts';
import { FIRST_SETTINGS } from '../src/core/edit/artwork-edit.ts';
import type { KeptEdit } from '../src/state/project-document.ts';
import type { ToneRule } from '../src/core/heights/tone.ts';

/** A project of the demo world: a picture, a stack that suits it, and how heights follow. */
export interface DemoProject {
  readonly name: string;
  readonly file: string;
  readonly about: string;
  readonly recipe: StackRecipe;
  readonly rule: Omit<ToneRule, 'kind'>;
  /** How wide the piece is, mm, where it is not as wide as a new one. */
  readonly widthMm?: number;
}

/** Projects with a stack that was chosen for the picture. */
export const DEMO_PROJECTS: readonly DemoProject[] = [
  {
    name: 'Dome at dusk',
    file: 'dome-at-dusk',
    about: 'A long sky blend from night blue to straw',
    recipe: [
      ['soot', 3],
      ['midnight', 5],
      ['damson', 4],
      ['orchid', 6],
      ['coral', 6],
      ['straw', 6],
    ],
    rule: { blackPoint: 3, whitePoint: 83, midpoint: 44, reversed: false },
  },
  {
    name: 'Veil nebula',
    file: 'veil-nebula',
    about: 'Glowing gas and stars out of deep blue',
    recipe: [
      ['soot', 3],
      ['midnight', 3],
      ['beet', 5],
      ['lagoon-thin', 5],
      ['chalk', 7],
    ],
    rule: { blackPoint: 4, whitePoint: 70, midpoint: 40, reversed: false },
  },
  {
    name: 'Crater study',
    file: 'crater-study',
    about: 'Greyscale under a low sun',
    recipe: [
      ['soot', 6],
      ['slate', 5],
      ['fog', 6],
      ['chalk', 6],
    ],
    rule: { blackPoint: 9, whitePoint: 89, midpoint: 47, reversed: false },
  },
  {
    name: 'Test strip',
    file: 'test-strip',
    about: 'Four bands in about 20 minutes: try a printer’s profile',
    recipe: [
      ['soot', 3],
      ['slate', 4],
      ['fog', 5],
      ['chalk', 4],
    ],
    rule: { blackPoint: 0, whitePoint: 100, midpoint: 50, reversed: false },
    widthMm: 60,
  },
];

/** Pictures of the demo world to begin with, without a stack of their own. */
export const DEMO_PICTURES: readonly { readonly name: string; readonly file: string }[] = [
  { name: 'Dome badge', file: 'dome-badge' },
  { name: 'Comet cut-out', file: 'comet-cut-out' },
  { name: 'Comet in the sky', file: 'comet-in-the-sky' },
  { name: 'Locker 7', file: 'locker-7' },
];

/** A named version of a demo picture, with edits of its artwork. */
export interface DemoVersion {
  readonly name: string;
  readonly edits: readonly KeptEdit[];
}

const each = { on: true, mask: null };

/** A cut-out without strokes. */
const FIRST_CUTOUT = { ...FIRST_SETTINGS.cutout, keep: [], drop: [], hair: [], touch: [] };

/** What the maker may look at in *Versions* of a demo picture, by its file: what edits do for it. */
export const DEMO_VERSIONS: Readonly<Record<string, DemoVersion>> = {
  'dome-at-dusk': {
    name: 'Lamplight out of the reds',
    edits: [
      {
        ...each,
        id: 'lamplight',
        kind: 'hue',
        centre: 74,
        half: 16,
        soft: 14,
        leastChroma: [0.08, 0.12],
        turn: 26,
        chroma: 1.05,
        lightness: 0.12,
      },
    ],
  },
  'comet-in-the-sky': {
    name: 'Sky cut away',
    edits: [{ ...each, id: 'sky', kind: 'cutout', ...FIRST_CUTOUT, way: 'plain' }],
  },
  'dome-badge': {
    name: 'Fringes cleaned',
    edits: [{ ...each, id: 'fringes', kind: 'colours', ...FIRST_SETTINGS.colours, palette: null }],
  },
};
