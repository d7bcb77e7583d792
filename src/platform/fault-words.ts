import type { FindFault } from '#core/find/request.ts';
import type { Fault } from '#core/base/result.ts';
import type { RackFault } from '#core/formats/rack/rack-csv.ts';
import {
  LONGEST_NOTE,
  LONGEST_TEXT,
  MOST_FILAMENTS,
  WEDGE_COLUMNS,
} from '#core/formats/rack/table-limits.ts';
import type { RackJsonFault } from '#core/formats/rack/rack-json.ts';
import type { WedgeCsvFault } from '#core/formats/rack/wedge-csv.ts';
import type { WedgeFitFault } from '#core/optics/fit-wedge.ts';
import type { PhotoDoubt, PhotoFault } from '#core/wedge/read-photo.ts';
import type { StackFault } from '#core/formats/project/stack-json.ts';
import { MOST_AREA_PX, type PictureFault } from './check-picture.ts';
import type { StrataFault } from '#core/formats/project/strata-file.ts';

type Words<Failure extends Fault> = {
  readonly [Code in Failure['code']]: (fault: Pick<Failure, 'where' | 'detail'>) => string;
};

const PICTURE: Words<PictureFault> = {
  empty: () => 'The file is empty (0 bytes). Save or copy it again and choose the new one.',
  'file-too-large': () =>
    'The file is larger than 200 MB. Save the picture as JPEG or PNG at a smaller size.',
  'not-a-picture': () =>
    'This is not a picture that can be read. Choose a PNG, JPEG, WebP, AVIF, GIF, BMP, TIFF or SVG file.',
  truncated: () =>
    'The file ends before the picture does: it was cut off while being saved or copied. Get it again.',
  'too-many-pixels': ({ detail = '' }) =>
    `The file says it is ${detail} pixels; at most ${MOST_AREA_PX / 1e6} megapixels can be taken in. Save it smaller.`,
  undecodable: () =>
    'The picture is damaged inside and cannot be decoded. Open and save it again in a picture program.',
  'svg-unsafe': ({ detail = '' }) =>
    `The drawing has ${detail}, which is not taken in. Save it as a plain SVG of shapes and paths, or as PNG.`,
  'svg-no-size': () =>
    'The drawing says neither width and height nor a viewBox, so its proportions are not known. Save it with a page size.',
};

/** The commonest slip in a number, named. */
function hint(detail: string): string {
  return /^\d+,\d+$/.test(detail) ? `: write ${detail.replace(',', '.')} with a decimal point` : '';
}

const RACK: Words<RackFault> = {
  'no-rows': () =>
    'it has no filaments. Put a header row first and one filament in each row below.',
  'missing-column': ({ detail = '' }) => `the header row has no column "${detail}". Add it.`,
  'bad-quotes': () => 'a quoted cell is never closed. Put a " at its end.',
  'too-many-rows': ({ detail = '' }) =>
    `it has ${detail} filaments; at most ${MOST_FILAMENTS} can be taken in. Divide the file.`,
  'text-too-long': ({ detail = '' }) =>
    `the cell "${detail}" is longer than ${detail === 'note' ? LONGEST_NOTE : LONGEST_TEXT} signs. Shorten it.`,
  'missing-value': ({ detail = '' }) => `the cell "${detail}" is empty. Fill it in.`,
  'duplicate-id': ({ detail = '' }) =>
    `the id "${detail}" stands in an earlier row too. Give each filament its own.`,
  'bad-colour': ({ detail = '' }) => `the colour "${detail}" is not of the form #rrggbb.`,
  'bad-transmission': ({ detail = '' }) =>
    `the transmission "${detail}" is not a thickness between 0.01 and 1000 mm${hint(detail)}.`,
  'bad-basis': ({ detail = '' }) =>
    `the basis "${detail}" is not known. Write hiding, or light-1% and the like.`,
  'bad-density': ({ detail = '' }) =>
    `the density "${detail}" is not a number of g/cm3 above 0 and up to 25${hint(detail)}.`,
  'bad-diameter': ({ detail = '' }) =>
    `the diameter "${detail}" is not a number of mm above 0 and up to 10${hint(detail)}.`,
  'bad-on-hand': ({ detail = '' }) => `on_hand is "${detail}". Write yes or no.`,
};

const RACK_JSON: Words<RackJsonFault> = {
  'not-json': ({ detail = '' }) => `it is not JSON (${detail}).`,
  'not-a-rack': () =>
    'it has no list of filaments. Export a rack as JSON to see what one looks like.',
  'too-many-rows': RACK['too-many-rows'],
  'bad-filament': ({ detail = '' }) => `${detail}.`,
  'duplicate-id': RACK['duplicate-id'],
};

const WEDGE_CSV: Words<WedgeCsvFault> = {
  'no-rows': () => 'it has no readings. Put a header row first and one patch in each row below.',
  'missing-column': ({ detail = '' }) =>
    `the header row has no column "${detail}". It needs ${WEDGE_COLUMNS.join(', ')}.`,
  'bad-ground': ({ detail = '' }) => `the ground is "${detail}". Write black or white.`,
  'bad-thickness': ({ detail = '' }) =>
    `the thickness "${detail}" is not a number of mm from 0 to 100${hint(detail)}.`,
  'bad-code': ({ detail = '' }) =>
    `the colour code "${detail}" is not a number from 0 to 255${hint(detail)}.`,
  'no-bare-ground': ({ detail = '' }) =>
    `no row has ${detail} with thickness 0. Add the colour of the bare ${detail} ground.`,
};

const WEDGE_FIT: Words<WedgeFitFault> = {
  'too-few-patches': ({ detail = '' }) =>
    `there are ${detail} different thicknesses; at least 3 are needed.`,
  'bad-reading': ({ where = '' }) =>
    `${where} holds something that is not a colour or a thickness.`,
  'nothing-shines-through': () =>
    'black and white look alike even under the thinnest step: the filament hides everything at once. Use thinner layers, or give a value by eye.',
  'no-filament-fits': ({ detail = '' }) =>
    `the patches do not look like steps of one filament (colour error ${detail} on average). Check the corners, the steps and the filament.`,
};

const PHOTO: Words<PhotoFault> = {
  'bad-corners': () =>
    'The four corners do not make a rectangle seen from above. Put each on its own corner of the print: the number 1 lies top left.',
  outside: ({ where = '' }) =>
    `Corner ${where} lies outside the photo. The whole print must be in it.`,
  'too-small': ({ detail = '' }) =>
    `The print is too small in the photo (${detail} pixels to a mm, 2.5 are needed). Go nearer or take a sharper photo.`,
  'too-tilted': ({ detail = '' }) =>
    `The photo was taken too far aslant (${detail} degrees, at most 35). Hold the camera straight above the print.`,
  'too-dark': ({ detail = '' }) =>
    `The photo is too dark: the bare white has code ${detail} of 255, 96 are needed. Use more light or a longer exposure.`,
  overexposed: () =>
    'The bare white is overexposed, so its colour is lost. Use less light or a shorter exposure.',
  'grounds-swapped': () =>
    'What should be bare white is darker than what should be bare black. Turn the corners so that the number 1 lies top left.',
  'low-contrast': ({ detail = '' }) =>
    `Black and white are too much alike (${detail} to 1, 4 to 1 are needed): there is haze or stray light in the photo. Shade the lens and take it again.`,
  glare: ({ where = '' }) =>
    `Light is mirrored in ${patchWords(where)}. Move the lamp or the camera so that no shine lies on the print.`,
  'uneven-light': ({ detail = '' }) =>
    `The light is too uneven: one side gets only ${detail} % of the other. Use a window or two lamps.`,
  'bad-ground': ({ where = '' }) => `The colour of the ${where} ground is not of the form #rrggbb.`,
};

/** A patch as read-photo names it, in words. */
function patchWords(name: string): string {
  const [step = '', ground = ''] = name.split(' ');
  return step === '0' ? `the bare ${ground} ground` : `step ${step} over ${ground}`;
}

const STACK: Words<StackFault> = {
  'not-json': ({ detail = '' }) => `it is not JSON (${detail}).`,
  'not-a-stack': ({ where = '', detail = '' }) =>
    `"${where || 'the whole'}" is not as a stack file has it (${detail}). It needs layerGrid and at least one band.`,
  'unknown-filament': ({ where = '', detail = '' }) =>
    `"${where}" names the filament "${detail}", which is not in the rack. Add it there or change the band.`,
  'too-many-layers': ({ detail = '' }) =>
    `the bands have ${detail} layers; at most 250 are possible.`,
};

function say<Failure extends Fault>(words: Words<Failure>, fault: Failure): string {
  return words[fault.code as Failure['code']](fault);
}

/** A fault of a picture file in words: what is wrong and what to do. */
export function describePictureFault(fault: PictureFault): string {
  return say(PICTURE, fault);
}

/** A fault of a rack file in words, to follow the file's name. */
export function describeRackFault(fault: RackFault): string {
  return fault.where ? `${fault.where}: ${say(RACK, fault)}` : say(RACK, fault);
}

/** A fault of a rack kept as JSON in words, to follow the file's name. */
export function describeRackJsonFault(fault: RackJsonFault): string {
  return fault.where ? `${fault.where}: ${say(RACK_JSON, fault)}` : say(RACK_JSON, fault);
}

/** A fault of a file of wedge readings in words, to follow the file's name. */
export function describeWedgeCsvFault(fault: WedgeCsvFault): string {
  return fault.where ? `${fault.where}: ${say(WEDGE_CSV, fault)}` : say(WEDGE_CSV, fault);
}

/** Why readings do not tell a transmission, in words. */
export function describeWedgeFitFault(fault: WedgeFitFault): string {
  return say(WEDGE_FIT, fault);
}

/** Why a photo of a wedge cannot be read, in words. */
export function describePhotoFault(fault: PhotoFault): string {
  return say(PHOTO, fault);
}

/** What is not good about a photo that can be read all the same, in words. */
export function describePhotoDoubt({ code, detail }: PhotoDoubt): string {
  switch (code) {
    case 'tilted':
      return `It was taken ${detail} degrees aslant; straight above is better.`;
    case 'uneven-light':
      return `The darker side gets ${detail} % of the light of the other.`;
    default:
      return `There is a little shine in ${patchWords(detail)}; it was left out.`;
  }
}

/** A fault of a stack file in words, to follow the file's name. */
export function describeStackFault(fault: StackFault): string {
  return say(STACK, fault);
}

/** Why no stack can be looked for, and what to do. */
export function describeFindFault({ code, where = '' }: FindFault): string {
  switch (code) {
    case 'nothing-printed':
      return 'The picture is fully transparent, so there is nothing to find a stack for. Use another picture.';
    case 'no-filaments':
      return 'No filament may be used. Mark some as on hand in the rack, or allow those that are not.';
    case 'unknown-filament':
      return `The filament ${where} is wanted but not among those that may be used. Allow it, or do not ask for it.`;
    case 'too-many-pins':
      return `${where} filaments must be in the stack, which is more than the swaps allow. Allow more swaps, or ask for fewer.`;
    case 'no-stack':
      return 'No stack keeps to all that is wanted. Allow more swaps or layers, or ask for fewer filaments.';
    case 'same-ends':
      return `${where} cannot be the lowest and the highest filament with so few swaps. Allow more swaps, or free one end.`;
    default:
      return `The bands that must be there need ${where} layers. Allow more layers, or fewer for each band.`;
  }
}

/** A fault of a project file in words. */
export function describeProjectFault({ code, where }: StrataFault): string {
  switch (code) {
    case 'damaged-project':
      return where === undefined
        ? 'The project in this file cannot be read: it is damaged. Use another copy of it.'
        : `The project in this file cannot be read: ${where} is not what it should be. Use another copy of it.`;
    case 'project-too-large':
      return `This file would unpack to more than a project can hold (${where ?? 'the picture'}). It is damaged, or not a project of Zesty Strata.`;
    case 'project-too-many-parts':
      return 'This file has more parts than a project has. Choose a .strata file that was downloaded here.';
    case 'newer-project':
      return 'This project was made with a later version of Zesty Strata. Open it there, or update this one.';
    case 'artwork-missing':
      return 'The project file lacks its picture, or holds another one. Use another copy of it.';
    default:
      return 'This is not a project of Zesty Strata. Choose a .strata file or a picture.';
  }
}
