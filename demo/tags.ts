import { USUAL_FLUSH, type Tag, type TagElement } from '../src/core/tags/tag.ts';

/** A tag of the demo world. */
export interface DemoTag {
  readonly name: string;
  /** Its thumbnail. */
  readonly file: string;
  readonly about: string;
  readonly tag: Tag;
}

const here = { xMm: 0, yMm: 0, turnDeg: 0, mirrored: false };
const plain = { name: '', group: null };
const raised = (filamentId: string, layers = 4) =>
  ({ filamentId, way: 'raised', side: 'front', layers, level: layers }) as const;
/** In a face that lies on the bed. */
const flush = (filamentId: string) => ({ ...raised(filamentId), way: 'flush' }) as const;
const oneSided = { flush: USUAL_FLUSH, back: 'plain' } as const;
const lettering = { face: 'hanken-bold', tracking: 0, lineSpacing: 1, arcMm: 0, fitMm: 0 };

/** A stroke of a drawing: a bar with round ends. */
const bar = (
  id: string,
  filamentId: string,
  xMm: number,
  yMm: number,
  widthMm: number,
  heightMm: number,
): TagElement => ({
  kind: 'shape',
  id,
  ...plain,
  ...here,
  xMm,
  yMm,
  ...raised(filamentId),
  outline: { kind: 'pill', widthMm, heightMm, cornerMm: 0 },
});

/** Tags that come with the app. */
export const DEMO_TAGS: readonly DemoTag[] = [
  {
    name: 'Locker 7 tag',
    file: 'locker-7-tag',
    about: 'Raised lettering in three filaments, two swaps',
    tag: {
      outline: { kind: 'rounded', widthMm: 64, heightMm: 36, cornerMm: 6 },
      plate: { filamentId: 'midnight', layers: 10, chamferLayers: 0 },
      levels: 'found',
      fonts: [],
      ...oneSided,
      series: null,
      elements: [
        { kind: 'hole', id: 'hole', ...plain, ...here, xMm: -25, diameterMm: 5, lengthMm: 5 },
        {
          kind: 'rim',
          id: 'rim',
          ...plain,
          ...raised('chalk'),
          insetMm: 1.6,
          widthMm: 1,
        },
        bar('line-1', 'tangerine', -7, -7, 26, 1.4),
        bar('line-2', 'tangerine', -11, -10, 18, 0.8),
        {
          kind: 'text',
          id: 'locker',
          ...plain,
          ...here,
          ...lettering,
          xMm: -3,
          yMm: 2,
          ...raised('chalk'),
          text: 'LOCKER',
          heightMm: 6.5,
        },
        {
          kind: 'text',
          id: 'seven',
          ...plain,
          ...here,
          ...lettering,
          xMm: 22.5,
          yMm: 1,
          ...raised('tangerine'),
          text: '7',
          heightMm: 14,
        },
      ],
    },
  },
  {
    name: 'Dome key tag',
    file: 'dome-key-tag',
    about: 'A disc with a loop, lettering on an arc and a star',
    tag: {
      outline: { kind: 'disc', widthMm: 42, heightMm: 42, cornerMm: 0 },
      plate: { filamentId: 'damson', layers: 10, chamferLayers: 2 },
      levels: 'found',
      fonts: [],
      ...oneSided,
      series: null,
      elements: [
        { kind: 'loop', id: 'loop', ...plain, ...here, yMm: 22, diameterMm: 4.5, rimMm: 2.2 },
        {
          kind: 'text',
          id: 'place',
          ...plain,
          ...here,
          ...lettering,
          yMm: 12.5,
          ...raised('straw'),
          text: 'HOLLOW HILL',
          heightMm: 3.8,
          tracking: 60,
          arcMm: 13.5,
        },
        {
          kind: 'shape',
          id: 'dome',
          ...plain,
          ...here,
          yMm: -1,
          ...raised('straw'),
          outline: {
            kind: 'path',
            widthMm: 20,
            heightMm: 13,
            cornerMm: 0,
            // A dome with its slit, on a drum.
            path: 'M10 60A40 40 0 0 1 45 21V60ZM57 20A40 40 0 0 1 90 60H57ZM10 66H90V84H10Z',
          },
        },
        {
          kind: 'text',
          id: 'number',
          ...plain,
          ...here,
          ...lettering,
          yMm: -13.5,
          ...raised('straw'),
          text: 'KEY 12',
          heightMm: 4.2,
        },
      ],
    },
  },
  {
    name: 'Eyepiece box lid',
    file: 'eyepiece-box-lid',
    about: 'A lid with flush lettering: its face is printed on the bed',
    tag: {
      outline: { kind: 'rounded', widthMm: 84, heightMm: 48, cornerMm: 5 },
      plate: { filamentId: 'midnight', layers: 10, chamferLayers: 2 },
      levels: 'found',
      fonts: [],
      ...oneSided,
      series: null,
      elements: [
        { kind: 'rim', id: 'rim', ...plain, ...flush('chalk'), insetMm: 2, widthMm: 0.9 },
        {
          kind: 'shape',
          id: 'eyepiece',
          ...plain,
          name: 'Eyepiece',
          ...here,
          xMm: -27,
          yMm: 0,
          ...flush('straw'),
          outline: {
            kind: 'path',
            widthMm: 20,
            heightMm: 20,
            cornerMm: 0,
            fill: 'evenodd',
            // An eyepiece from above: its rim, and the lens in it.
            path: 'M50 2A48 48 0 1 1 49.9 2ZM50 14A36 36 0 1 1 49.9 14ZM50 26A24 24 0 1 1 49.9 26Z',
          },
        },
        {
          kind: 'text',
          id: 'what',
          ...plain,
          ...here,
          ...lettering,
          xMm: 10,
          yMm: 6,
          ...flush('chalk'),
          text: 'EYEPIECES',
          heightMm: 7,
          tracking: 40,
        },
        {
          kind: 'text',
          id: 'sizes',
          ...plain,
          ...here,
          ...lettering,
          xMm: 10,
          yMm: -9,
          ...flush('straw'),
          text: '9 - 15 - 25 mm',
          heightMm: 5,
          tracking: 30,
        },
      ],
    },
  },
  {
    name: 'Observatory name tags',
    file: 'name-tags',
    about: 'A series: twelve names on one plate, one swap',
    tag: {
      outline: { kind: 'pill', widthMm: 68, heightMm: 24, cornerMm: 0 },
      plate: { filamentId: 'ledger', layers: 8, chamferLayers: 0 },
      levels: 'found',
      fonts: [],
      ...oneSided,
      series: {
        columns: ['name', 'role'],
        rows: [
          ['Mirela Tarn', 'Dome'],
          ['Oskar Feld', 'Dome'],
          ['June Ashby', 'Gate'],
          ['Teo Marrow', 'Workshop'],
          ['Ines Calder', 'Gift table'],
          ['Bram Holloway-Finch', 'Archive'],
          ['Sunniva Rook', 'Night watch'],
          ['Paolo Vane', 'Workshop'],
          ['Edda Quill', 'Library'],
          ['Jonas Thackeray-Moss', 'Telescope'],
          ['Liv Arden', 'Dome'],
          ['Caspar Lune', 'Gate'],
        ],
        spacingMm: 4,
        plate: 0,
      },
      elements: [
        {
          kind: 'hole',
          id: 'slot',
          ...plain,
          ...here,
          xMm: -28,
          turnDeg: 90,
          diameterMm: 4,
          lengthMm: 10,
        },
        { kind: 'rim', id: 'rim', ...plain, ...raised('chalk', 3), insetMm: 0.8, widthMm: 0.9 },
        {
          kind: 'text',
          id: 'name',
          ...plain,
          ...here,
          ...lettering,
          xMm: 3,
          yMm: 2.6,
          ...raised('chalk', 3),
          text: '{name}',
          heightMm: 5.2,
          fitMm: 50,
        },
        {
          kind: 'text',
          id: 'role',
          ...plain,
          ...here,
          ...lettering,
          xMm: 3,
          yMm: -5.4,
          ...raised('chalk', 3),
          text: '{role}',
          heightMm: 3.2,
          tracking: 40,
          fitMm: 44,
        },
      ],
    },
  },
];
