import { fail, succeed, type Fault, type Result } from '../../base/result.ts';
import { checkPrintTexts, type TextTrouble } from '../../gcode/text-check.ts';
import type { Printer } from '../../printer/printer.ts';
import { firstIssue, readJsonList } from './json-list.ts';
import { printerSchema } from './printer-schema.ts';

export type PrinterJsonFault =
  | Fault<'not-json' | 'not-printers' | 'too-many' | 'bad-printer'>
  | (Fault<'bad-texts'> & { readonly troubles: readonly TextTrouble[] });

/** Printers in one file at most. */
const MOST_PRINTERS = 200;

const FILE_VERSION = 1;

/** Reads printers kept as JSON: `{"printers": [...]}` or the bare list. One that is wrong, or whose texts do not suit a print, refuses the file, and is named. */
export function readPrinterJson(text: string): Result<Printer[], PrinterJsonFault> {
  const list = readJsonList(text, 'printers', MOST_PRINTERS, {
    notOne: 'not-printers',
    tooMany: 'too-many',
  });
  if (!list.ok) return list;
  const printers: Printer[] = [];
  for (const [i, entry] of list.value.entries()) {
    const parsed = printerSchema.safeParse(entry);
    if (!parsed.success) return fail('bad-printer', `printer ${i + 1}`, firstIssue(parsed.error));
    const troubles = checkPrintTexts(parsed.data);
    if (troubles.length > 0)
      return { ok: false, fault: { code: 'bad-texts', where: `printer ${i + 1}`, troubles } };
    printers.push(parsed.data);
  }
  return succeed(printers);
}

export function writePrinterJson(printers: readonly Printer[]): string {
  return `${JSON.stringify({ version: FILE_VERSION, printers }, null, 2)}\n`;
}
