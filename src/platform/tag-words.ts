import type { TagJsonFault } from '#core/formats/project/tag-json.ts';
import type { NamesFault } from '#core/formats/sheet/names-csv.ts';
import type { FontFault } from '#core/tags/font.ts';
import { MOST_CORNERS, type PathFault } from '#core/tags/svg-path.ts';
import type { SvgShapesFault } from '#core/tags/svg-shapes.ts';
import type { PictureFault } from './check-picture.ts';
import { describePictureFault } from './fault-words.ts';

/** Says what is wrong with a file of a tag. */
export function describeTagJsonFault({ code, where = '', detail = '' }: TagJsonFault): string {
  switch (code) {
    case 'not-json':
      return `it is not JSON (${detail}).`;
    case 'not-a-tag':
      return `${where === '' ? 'the file' : where}: ${detail}.`;
    case 'unknown-filament':
      return `${where} names the filament "${detail}", which is not in the rack.`;
    case 'bad-path':
      return `${where} is no SVG path with an area ("${detail}").`;
    case 'too-many-layers':
      return `${where} comes to ${detail}. Take thicker layers, or a lower level.`;
    default:
      return `${where}: ${describePathFault({ code, detail, where: String(MOST_CORNERS) })}`;
  }
}

/** Says what is wrong with a list of names. */
export function describeNamesFault({ code, where = '', detail = '' }: NamesFault): string {
  switch (code) {
    case 'no-names':
      return 'it has no names. Put what the columns are into the first row, and a piece into each row below.';
    case 'too-many-names':
      return `it has ${detail} rows; at most 500 can be taken in. Divide the list.`;
    case 'bad-quotes':
      return `a quoted cell is never closed (row ${where}). Put a " at its end.`;
  }
}

/** Says what is wrong with a font file. */
export function describeFontFault({ code, detail = '' }: FontFault): string {
  switch (code) {
    case 'too-large':
      return 'The font is larger than 10 MB. Take one with fewer languages.';
    case 'packed':
      return 'This is a WOFF2 file, which cannot be read here. Take the font as TTF, OTF or WOFF.';
    case 'empty-letters':
      return 'The letters of this font have no outlines: they are empty, or pictures. Take a font of outlines.';
    case 'too-much':
      return `The font unpacks to more than ${detail}. Take one with fewer languages.`;
    case 'no-letters':
      return 'The font has neither capitals nor figures, so no height can be told by it. Take a font of letters.';
    case 'not-a-font':
      return `This is no font that can be read (${detail}). Choose a TTF, OTF or WOFF file.`;
  }
}

/** Says what is wrong with an outline. */
export function describePathFault({ code, where = '', detail = '' }: PathFault): string {
  switch (code) {
    case 'too-long':
      return `The outline is too long (${detail}). Simplify it.`;
    case 'no-path':
      return 'There is no outline in it. Convert lettering and lines to paths first.';
    case 'bad-path':
      return `The outline cannot be read${detail === '' ? '' : ` (${detail})`}.`;
    case 'no-area':
      return 'The outline encloses nothing. Draw a closed form.';
    case 'tangled':
      return `Its lines cross each other more than ${detail} times. Join the shapes to one outline (union) in your drawing program.`;
    case 'too-many-corners':
      return `The outline has ${detail} corners, and can have ${where}. Simplify it.`;
  }
}

/** Says why a picture gives no outlines. */
export function describePictureShapesFault(fault: PictureFault | SvgShapesFault): string {
  switch (fault.code) {
    case 'no-shapes':
      return 'There is nothing in it but one colour. Take a picture of flat areas, or one that is cut out.';
    case 'too-long':
    case 'too-many-colours':
    case 'bad-path':
    case 'tangled':
    case 'too-many-corners':
      return 'Its areas are too ragged to be outlines. Reduce it to a few colours at the Artwork stop first.';
    default:
      return describePictureFault(fault);
  }
}
