import type { Filament, Finding } from '#core/stack/filament.ts';

/** How a transmission became known, in words. */
export const FINDING_WORDS: Readonly<Record<Finding, string>> = {
  label: 'Label',
  eye: 'By eye',
  photo: 'By photo',
  typed: 'Typed in',
};

/** Bases that can be chosen from a list. */
export const USUAL_BASES: readonly string[] = [
  'hiding',
  'light-1%',
  'light-5%',
  'light-10%',
  'light-50%',
];

/** The basis of its text form, in words; the text itself where it is none. */
export function basisOption(text: string): string {
  if (text === 'hiding') return 'Hiding: what is under it is gone';
  return `Light through: ${text.replace('light-', '').replace('%', ' %')} still comes through`;
}

/** A transmission as the table shows it, with its uncertainty where it was measured. */
export function transmissionText({
  transmissionMm,
  uncertainty,
}: Pick<Filament, 'transmissionMm' | 'uncertainty'>): string {
  const value = formatTransmission(transmissionMm);
  return uncertainty === undefined
    ? value
    : `${value} ±${Math.max(1, Math.round(uncertainty * 100))} %`;
}

/** Millimetres with as many decimals as mean something. */
export function formatTransmission(mm: number): string {
  return String(Number(mm < 10 ? mm.toFixed(2) : mm.toFixed(1)));
}
