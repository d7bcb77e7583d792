import { canonicalJson, type Json } from '#core/base/canonical-json.ts';
import { printerSchema } from '#core/formats/rack/printer-schema.ts';
import { GREATEST_SIDE_MM } from '#core/relief/sampling.ts';
import { SHIPPED_PRINTERS, type Printer } from '#core/printer/printer.ts';
import type { PieceSlice } from './project-document.ts';
import { freeId } from './rack-store.ts';

/** Reads printers out of storage; those that cannot be read are left out. Undefined when none were ever stored. */
export function readStoredPrinters(data: unknown): readonly Printer[] | undefined {
  if (!Array.isArray(data)) return undefined;
  return data.flatMap((entry: unknown) => {
    const parsed = printerSchema.safeParse(entry);
    return parsed.success ? [parsed.data] : [];
  });
}

/** Printers under ids that none of the others has, those of a file put behind what is there. */
export function addPrinters(
  present: readonly Printer[],
  added: readonly Printer[],
): readonly Printer[] {
  const taken = new Set(present.map(({ id }) => id));
  return [
    ...present,
    ...added.map((printer) => {
      const id = freeId(printer.id, taken);
      taken.add(id);
      return { ...printer, id };
    }),
  ];
}

/** The shipped printers that were deleted. */
export function missingShipped(present: readonly Printer[]): readonly Printer[] {
  return SHIPPED_PRINTERS.filter(({ id }) => present.every((printer) => printer.id !== id));
}

/** A printer's bed as what a piece has to fit on. */
export function bedOpening({
  bed,
  heightMm,
}: Pick<Printer, 'bed' | 'heightMm'>): NonNullable<PieceSlice['fit']> {
  // Nothing flat is as thick as a printer is high, but a low printer has its say.
  const depthMm = Math.min(1000, heightMm);
  if (bed.shape === 'round') {
    const side = Math.min(GREATEST_SIDE_MM, bed.diameterMm);
    return { kind: 'bed', widthMm: side, heightMm: side, depthMm, round: true };
  }
  return {
    kind: 'bed',
    // Beds beyond the largest piece are as good as one of its size.
    widthMm: Math.min(GREATEST_SIDE_MM, bed.widthMm),
    heightMm: Math.min(GREATEST_SIDE_MM, bed.depthMm),
    depthMm,
  };
}

/** Do two profiles say the same? One that was read again tells it in another order. */
export function isSameProfile(one: Printer, other: Printer): boolean {
  const told = (printer: Printer): string => canonicalJson(printer as unknown as Json);
  return told(one) === told(other);
}
