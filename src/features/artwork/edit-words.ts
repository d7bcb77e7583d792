import type { EditKind } from '#core/edit/artwork-edit.ts';
import type { KeptEdit } from '../../state/project-document.ts';

/** What each kind of edit is called. */
export const EDIT_NAMES: Readonly<Record<EditKind, string>> = {
  crop: 'Crop',
  turn: 'Turn',
  mirror: 'Mirror',
  tone: 'Light and contrast',
  white: 'White balance',
  grey: 'Greyscale',
  hue: 'Range of hues',
  recolour: 'One tone family',
  denoise: 'Denoise',
  sharpen: 'Sharpen',
  cutout: 'Cut-out',
  colours: 'Flat colours',
};

const signed = (value: number, digits = 0): string =>
  `${value > 0 ? '+' : ''}${value.toFixed(digits)}`;

/** What an edit does, in a few signs. */
export function summaryOf(edit: KeptEdit): string {
  switch (edit.kind) {
    case 'crop':
      return `${Math.round(edit.width)} x ${Math.round(edit.height)} px`;
    case 'turn':
      return `${signed(edit.degrees, edit.degrees % 1 === 0 ? 0 : 2)}°`;
    case 'mirror':
      return edit.across === 'width' ? 'left to right' : 'top to bottom';
    case 'tone':
      return [
        edit.brightness === 0 ? '' : `${signed(100 * edit.brightness)} light`,
        edit.contrast === 0 ? '' : `${signed(100 * edit.contrast)} contrast`,
        edit.curve.length > 0 ? 'curve' : '',
      ]
        .filter(Boolean)
        .join(', ');
    case 'white':
      return `${signed(100 * edit.warmth)} warm, ${signed(100 * edit.tint)} tint`;
    case 'grey':
      return '';
    case 'hue': {
      const at = ((Math.round(edit.centre) % 360) + 360) % 360;
      const to = (((Math.round(edit.centre + edit.turn) % 360) + 360) % 360).toString();
      return edit.turn === 0 ? `${at}°` : `${at}° → ${to}°`;
    }
    case 'recolour':
      return `to ${Math.round(edit.hue)}°`;
    case 'denoise':
      return edit.strength.toFixed(2);
    case 'sharpen':
      return edit.amount.toFixed(2);
    case 'cutout':
      return edit.mask === null ? (edit.way === 'plain' ? 'plain background' : 'by colours') : '';
    case 'colours':
      return edit.palette
        ? `${edit.palette.length} colours`
        : edit.count === null
          ? 'as many as there are'
          : `${edit.count} colours`;
  }
}
