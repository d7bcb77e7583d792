import { clamp } from '#core/base/numbers.ts';
import { PRINTER_LIMITS, type Printer } from '#core/printer/printer.ts';
import type { Measured } from '#core/rehearse/kept-run.ts';
import type { DocumentStore } from '../state/document-store.ts';
import { choosePrinter } from '../state/edits/print-edits.ts';
import type { Library } from '../state/library.ts';
import { toast } from '../ui/toast.ts';

/** Takes what a real print told over into the printer of a project, and into the profile that it was copied from. */
export async function takeMeasured(
  library: Library,
  documents: DocumentStore,
  { swapS, timeFactor }: Measured,
): Promise<void> {
  const told = (printer: Printer): Printer => ({
    ...printer,
    ...(swapS === null ? {} : { swapS: clamp(Math.round(swapS), ...PRINTER_LIMITS.swapS) }),
    ...(timeFactor === null
      ? {}
      : { timeFactor: clamp(Number(timeFactor.toFixed(3)), ...PRINTER_LIMITS.timeFactor) }),
  });
  const { document, change } = documents.getState();
  const { printer } = document.print;
  const next = told(printer);
  // The line that the piece is planned with stays the project's own.
  change(choosePrinter({ ...next, lineMm: document.print.lineMm }));
  const printers = await library.getPrinters();
  if (printers.some(({ id }) => id === printer.id))
    await library.putPrinters(printers.map((one) => (one.id === printer.id ? told(one) : one)));
  toast.success(
    `${printer.name}: ${[
      ...(swapS === null ? [] : [`a swap takes ${next.swapS} s`]),
      ...(timeFactor === null ? [] : [`printing takes ${next.timeFactor} times as long`]),
    ].join(', ')}. The sheet counts with it.`,
  );
}
