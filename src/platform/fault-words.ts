import type { Fault } from '#core/base/result.ts';
import type { RackFault } from '#core/formats/rack-csv.ts';
import type { StackFault } from '#core/formats/stack-json.ts';
import { MOST_AREA_PX, type PictureFault } from './check-picture.ts';

type Words<Failure extends Fault> = {
  readonly [Code in Failure['code']]: (fault: Failure) => string;
};

const PICTURE: Words<PictureFault> = {
  empty: () => 'The file is empty (0 bytes). Save or copy it again and choose the new one.',
  'file-too-large': () =>
    'The file is larger than 200 MB. Save the picture as JPEG or PNG at a smaller size.',
  'not-a-picture': () =>
    'This is not a picture that can be read. Choose a PNG, JPEG, WebP, AVIF, GIF or BMP file.',
  truncated: () =>
    'The file ends before the picture does: it was cut off while being saved or copied. Get it again.',
  'too-many-pixels': ({ detail = '' }) =>
    `The file says it is ${detail} pixels; at most ${MOST_AREA_PX / 1e6} megapixels can be taken in. Save it smaller.`,
  undecodable: () =>
    'The picture is damaged inside and cannot be decoded. Open and save it again in a picture program.',
};

const RACK: Words<RackFault> = {
  'no-rows': () =>
    'it has no filaments. Put a header row first and one filament in each row below.',
  'missing-column': ({ detail = '' }) => `the header row has no column "${detail}". Add it.`,
  'bad-quotes': () => 'a quoted cell is never closed. Put a " at its end.',
  'missing-value': ({ detail = '' }) => `the cell "${detail}" is empty. Fill it in.`,
  'duplicate-id': ({ detail = '' }) =>
    `the id "${detail}" stands in an earlier row too. Give each filament its own.`,
  'bad-colour': ({ detail = '' }) => `the colour "${detail}" is not of the form #rrggbb.`,
  'bad-transmission': ({ detail = '' }) =>
    `the transmission "${detail}" is not a thickness between 0.01 and 1000 mm. Use a decimal point.`,
  'bad-basis': ({ detail = '' }) =>
    `the basis "${detail}" is not known. Write hiding, or light-1% and the like.`,
  'bad-density': ({ detail = '' }) => `the density "${detail}" is not a number of g/cm3 up to 25.`,
  'bad-diameter': ({ detail = '' }) => `the diameter "${detail}" is not a number of mm up to 10.`,
  'bad-on-hand': ({ detail = '' }) => `on_hand is "${detail}". Write yes or no.`,
};

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

/** A fault of a stack file in words, to follow the file's name. */
export function describeStackFault(fault: StackFault): string {
  return say(STACK, fault);
}
