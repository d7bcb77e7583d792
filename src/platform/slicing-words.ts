import type { PrinterJsonFault } from '#core/formats/rack/printer-json.ts';
import type { TextTrouble } from '#core/gcode/text-check.ts';
import type { OwnGcodeFault } from '#core/slicing/own-gcode.ts';
import { describePauseTrouble } from './gcode-words.ts';

const TEXTS: Readonly<Record<TextTrouble['what'], string>> = {
  'bad-line': 'A line makes no sense:',
  units: 'Lengths are meant in inches afterwards.',
  coordinates: 'Places are meant relative afterwards.',
  'filament-mode': 'Filament is meant absolute afterwards.',
  'moved-zero': 'Zero lies elsewhere afterwards (G92).',
  strand: 'The strand is drawn back afterwards.',
  'not-homed': 'The printer is not homed.',
  'nozzle-cold': 'The nozzle is not heated.',
  'bed-cold': 'The bed is not heated.',
  'nozzle-stays-hot': 'The nozzle stays hot.',
  'bed-stays-hot': 'The bed stays hot.',
  'nozzle-too-hot': 'The nozzle is heated beyond what the printer allows:',
  'bed-too-hot': 'The bed is heated beyond what the printer allows:',
  stops: 'This line stops the printer for good:',
  'below-bed': 'A move goes below the bed:',
  drags: 'A move goes down, and would drag the nozzle over the piece. Take it out.',
};

/** What a start or end text does otherwise than a print needs it, with the line that mends it. */
export function describeTextTrouble({ what, mend, text }: TextTrouble): string {
  const said = `${TEXTS[what]}${text === undefined ? '' : ` ${text}`}`;
  return mend === '' ? said : `${said} Add at its end: ${mend}`;
}

const TEXT_NAMES: Readonly<Record<TextTrouble['field'], string>> = {
  startText: 'Start text',
  endText: 'End text',
};

/** Why no G-code of our own can be made, and what to do. */
export function describeOwnGcodeFault(fault: OwnGcodeFault): string {
  switch (fault.code) {
    case 'off-bed':
      return `The pieces do not lie on the bed: there is room for ${fault.detail ?? '0'}. Print fewer, nearer together, or make the piece smaller.`;
    case 'too-high':
      return 'The piece is higher than the printer prints. Take fewer or thinner layers.';
    case 'layers-above-nozzle':
      return 'A layer is as high as the nozzle is wide. Take thinner layers, or another nozzle.';
    case 'nothing-printed':
      return 'There is nothing to print: every sample is cut away.';
    case 'lost-layer':
      return `Layer ${fault.detail ?? ''} has no part that a line fits into. Make the piece larger, or take the layer out of the stack.`;
    case 'unreadable':
      return `What was made could not be read back (${fault.detail ?? ''}). Please report this.`;
    case 'bad-texts':
      return `The printer’s texts do not suit a print. ${textsInWords(fault.troubles)}`;
    case 'bad-pause':
      return `The printer’s lines for a pause leave it otherwise than they found it. ${fault.troubles
        .map(describePauseTrouble)
        .join(' ')}`;
  }
}

/** Why a file of printers was not taken in. */
export function describePrinterJsonFault(fault: PrinterJsonFault): string {
  const { where = '', detail = '' } = fault;
  switch (fault.code) {
    case 'not-json':
      return `This is not JSON (${detail}). Choose a file that was exported here.`;
    case 'not-printers':
      return 'There is no list of printers in this file. Choose a file that was exported here.';
    case 'too-many':
      return `${detail} printers are too many for one file: at most 200.`;
    case 'bad-printer':
      return `${where} is not right (${detail}). Mend it in the file; nothing was taken in.`;
    case 'bad-texts':
      return `${where}: ${textsInWords(fault.troubles)} Mend it in the file; nothing was taken in.`;
  }
}

function textsInWords(troubles: readonly TextTrouble[]): string {
  return troubles
    .map((trouble) => `${TEXT_NAMES[trouble.field]}: ${describeTextTrouble(trouble)}`)
    .join(' ');
}
