import type { FieldErrors } from 'react-hook-form';
import { checkPrintTexts } from '#core/gcode/text-check.ts';
import { checkPauseText, type PauseCommand } from '#core/printer/pause.ts';
import {
  checkPrinter,
  PRINTER_LIMITS,
  type Printer,
  type PrinterNumber,
} from '#core/printer/printer.ts';
import { describeTextTrouble } from '../../platform/slicing-words.ts';
import { describePrinterFault } from './printer-words.ts';

/** Heat at most, that may be left open, and the heat that it is the most of. */
const MOST_HEAT = { mostNozzleC: 'nozzleC', mostBedC: 'bedC' } as const;
export type MostHeat = keyof typeof MOST_HEAT;
const MOST_HEATS = Object.keys(MOST_HEAT) as MostHeat[];

/** What stands in the form, as it is typed. */
export type FormValues = Record<
  PrinterNumber | MostHeat | 'name' | 'widthMm' | 'depthMm' | 'diameterMm',
  string
> & {
  shape: 'rectangle' | 'round';
  feeder: boolean;
  command: PauseCommand;
  text: string;
  purgeLine: boolean;
  startText: string;
  endText: string;
};

const NUMBERS = Object.keys(PRINTER_LIMITS) as PrinterNumber[];

/** A number as typed, with a comma or a point; nothing typed is no number. */
function numberOf(text: string): number {
  return text.trim() === '' ? Number.NaN : Number(text.replace(',', '.'));
}

/** What stands in the form for a printer. */
export function valuesOf(printer: Printer): FormValues {
  const { bed, pause } = printer;
  const numbers = Object.fromEntries(NUMBERS.map((field) => [field, String(printer[field])]));
  return {
    ...(numbers as Record<PrinterNumber, string>),
    mostNozzleC: String(printer.mostNozzleC ?? ''),
    mostBedC: String(printer.mostBedC ?? ''),
    name: printer.name,
    shape: bed.shape,
    widthMm: bed.shape === 'rectangle' ? String(bed.widthMm) : '220',
    depthMm: bed.shape === 'rectangle' ? String(bed.depthMm) : '220',
    diameterMm: bed.shape === 'round' ? String(bed.diameterMm) : '200',
    feeder: printer.feeder,
    command: pause.command,
    text: pause.text,
    purgeLine: printer.purgeLine,
    startText: printer.startText,
    endText: printer.endText,
  };
}

/** The printer that the form describes; what is no number is none. */
export function printerOf(id: string, values: FormValues): Printer {
  const numbers = Object.fromEntries(NUMBERS.map((field) => [field, numberOf(values[field])]));
  return {
    ...(numbers as Record<PrinterNumber, number>),
    id,
    name: values.name.trim(),
    bed:
      values.shape === 'round'
        ? { shape: 'round', diameterMm: numberOf(values.diameterMm) }
        : {
            shape: 'rectangle',
            widthMm: numberOf(values.widthMm),
            depthMm: numberOf(values.depthMm),
          },
    ...Object.fromEntries(
      MOST_HEATS.flatMap((field) =>
        values[field].trim() === '' ? [] : [[field, numberOf(values[field])]],
      ),
    ),
    feeder: values.feeder,
    pause: { command: values.command, text: values.command === 'custom' ? values.text : '' },
    purgeLine: values.purgeLine,
    startText: values.startText,
    endText: values.endText,
  };
}

/** All that is wrong with what was typed, at its field. */
export function troublesOf(values: FormValues): FieldErrors<FormValues> {
  const errors: FieldErrors<FormValues> = {};
  const printer = printerOf('new', values);
  for (const fault of checkPrinter(printer)) {
    const field = fault.field === 'pause' ? 'text' : fault.field;
    errors[field] ??= { type: fault.code, message: describePrinterFault(fault) };
  }
  for (const field of MOST_HEATS) {
    const [, greatest] = PRINTER_LIMITS[MOST_HEAT[field]];
    const least = printer[MOST_HEAT[field]];
    const most = printer[field];
    if (most !== undefined && !(most >= least && most <= greatest))
      errors[field] ??= {
        type: 'out-of-range',
        message: `A number from ${least} (what is usual) to ${greatest}, or nothing`,
      };
  }
  for (const trouble of checkPrintTexts(printer))
    errors[trouble.field] ??= { type: trouble.what, message: describeTextTrouble(trouble) };
  if (values.command === 'custom') {
    const checked = checkPauseText(values.text);
    if (!checked.ok)
      errors.text ??= {
        type: checked.fault.code,
        message: `${checked.fault.detail ?? ''} is not a word that is replaced. See the list below.`,
      };
  }
  return errors;
}
