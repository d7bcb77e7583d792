import type { PrinterFault, PrinterNumber } from '#core/printer/printer.ts';

/** What the fields of a printer are called, with their units. */
export const FIELD_WORDS: Readonly<Record<PrinterNumber, { label: string; unit: string }>> = {
  heightMm: { label: 'Printing height', unit: 'mm' },
  nozzleMm: { label: 'Nozzle', unit: 'mm' },
  lineMm: { label: 'Line width', unit: 'mm' },
  firstLayerMm: { label: 'First layer', unit: 'mm' },
  layerMm: { label: 'Layer height', unit: 'mm' },
  firstLayerMmS: { label: 'First layer', unit: 'mm/s' },
  solidMmS: { label: 'Solid infill', unit: 'mm/s' },
  outlineMmS: { label: 'Outline', unit: 'mm/s' },
  travelMmS: { label: 'Travel', unit: 'mm/s' },
  accelerationMmS2: { label: 'Acceleration', unit: 'mm/s²' },
  cornerMmS: { label: 'Round a right angle', unit: 'mm/s' },
  retractMm: { label: 'Drawn back', unit: 'mm' },
  retractMmS: { label: 'Drawing back', unit: 'mm/s' },
  liftMm: { label: 'Lift on the way, 0 none', unit: 'mm' },
  nozzleC: { label: 'Nozzle', unit: '°C' },
  bedC: { label: 'Bed', unit: '°C' },
  fanPercent: { label: 'Fan from layer 2', unit: '%' },
  timeFactor: { label: 'Time factor', unit: 'x' },
  swapS: { label: 'One swap takes', unit: 's' },
  purgeToLightMm: { label: 'Purge, dark to light', unit: 'mm' },
  purgeToDarkMm: { label: 'Purge, light to dark', unit: 'mm' },
  filamentMm: { label: 'Filament diameter', unit: 'mm' },
};

/** What is wrong with a field, and what may stand there. */
export function describePrinterFault({ code, least, greatest, word }: PrinterFault): string {
  const tidy = (value = 0): string => String(Number(value.toFixed(3)));
  switch (code) {
    case 'out-of-range':
      return `A number from ${tidy(least)} to ${tidy(greatest)}`;
    case 'nozzle-wider-than-bed':
      return 'The nozzle is as wide as the bed: one of both is not right';
    case 'line-unlike-nozzle':
      return `This nozzle prints lines of ${tidy(least)} to ${tidy(greatest)} mm`;
    case 'layer-above-nozzle':
      return `Must be lower than the nozzle is wide (${tidy(greatest)} mm)`;
    case 'first-below-layer':
      return `Too thin under such layers: ${tidy(least)} mm or more`;
    case 'no-name':
      return 'A name of 1 to 80 signs, please';
    case 'no-pause-text':
      return 'The lines that make it pause, please';
    case 'long-text':
      return `At most ${tidy(greatest)} signs`;
    case 'unknown-word':
      return `${word ?? ''} is not a word that is replaced. See the list below.`;
  }
}
