import { isPauseCommand, type Pause } from './pause.ts';
import { LONGEST_PRINT_TEXT, unknownWord } from './print-texts.ts';

/** The plate that is printed on. */
export type Bed =
  | { readonly shape: 'rectangle'; readonly widthMm: number; readonly depthMm: number }
  | { readonly shape: 'round'; readonly diameterMm: number };

/** A printer as its maker describes it. */
export interface Printer {
  readonly id: string;
  readonly name: string;
  readonly bed: Bed;
  /** How high it can print, mm. */
  readonly heightMm: number;
  readonly nozzleMm: number;
  /** Width of one printed line, mm. */
  readonly lineMm: number;
  /** Layer heights that it likes, mm. */
  readonly firstLayerMm: number;
  readonly layerMm: number;
  /** Speeds, mm/s. */
  readonly firstLayerMmS: number;
  readonly solidMmS: number;
  readonly outlineMmS: number;
  readonly travelMmS: number;
  /** How fast speeds change, mm/s2, and how fast it goes round a right angle, mm/s. */
  readonly accelerationMmS2: number;
  readonly cornerMmS: number;
  /** Strand that is drawn back on the way over a gap, mm, and how fast, mm/s. */
  readonly retractMm: number;
  readonly retractMmS: number;
  /** How far the nozzle lifts on ways without laying, mm; 0 where it does not. */
  readonly liftMm: number;
  /** Heat of nozzle and bed for filaments that say nothing of it, degrees Celsius. */
  readonly nozzleC: number;
  readonly bedC: number;
  /** Most that nozzle and bed may be heated to, degrees Celsius; those of {@link PRINTER_LIMITS} where it is not known. */
  readonly mostNozzleC?: number | undefined;
  readonly mostBedC?: number | undefined;
  /** From the second layer on; 0 is off. */
  readonly fanPercent: number;
  /** Whether a line beside the piece is laid before it, so that the nozzle is full. */
  readonly purgeLine: boolean;
  /** What the printer runs before and after the print, with words in braces; see `PRINT_WORDS`. */
  readonly startText: string;
  readonly endText: string;
  /** How much longer it prints than is worked out, as a real print told; 1 where none did. */
  readonly timeFactor: number;
  /** Whether a spool feeder changes the filament, or the maker does. */
  readonly feeder: boolean;
  /** Time of one swap, purging included, seconds. */
  readonly swapS: number;
  /** Filament that is purged when a darker filament follows a lighter one, and the other way round, mm of strand. */
  readonly purgeToDarkMm: number;
  readonly purgeToLightMm: number;
  /** Thickness of the strand, mm. */
  readonly filamentMm: number;
  readonly pause: Pause;
}

/** Fields of a printer that hold one number, with the least and the greatest that make sense. */
export const PRINTER_LIMITS = {
  heightMm: [10, 3000],
  nozzleMm: [0.1, 2],
  lineMm: [0.1, 5],
  firstLayerMm: [0.02, 1],
  layerMm: [0.02, 1],
  firstLayerMmS: [1, 1000],
  solidMmS: [1, 1000],
  outlineMmS: [1, 1000],
  travelMmS: [1, 2000],
  accelerationMmS2: [50, 100_000],
  cornerMmS: [0.1, 200],
  retractMm: [0, 15],
  retractMmS: [1, 200],
  liftMm: [0, 5],
  nozzleC: [150, 450],
  bedC: [0, 150],
  fanPercent: [0, 100],
  timeFactor: [0.2, 5],
  swapS: [5, 3600],
  purgeToDarkMm: [0, 5000],
  purgeToLightMm: [0, 5000],
  filamentMm: [1, 4],
} as const satisfies Partial<Record<keyof Printer, readonly [number, number]>>;
export type PrinterNumber = keyof typeof PRINTER_LIMITS;

/** Sides or diameter of a bed, mm. */
export const BED_LIMITS = [20, 3000] as const;

export const LONGEST_PRINTER_NAME = 80;

/** A thing that cannot be right in a printer's profile. */
export interface PrinterFault {
  readonly code:
    | 'out-of-range'
    | 'nozzle-wider-than-bed'
    | 'line-unlike-nozzle'
    | 'layer-above-nozzle'
    | 'first-below-layer'
    | 'no-name'
    | 'no-pause-text'
    | 'long-text'
    | 'unknown-word';
  readonly field:
    | PrinterNumber
    | 'name'
    | 'widthMm'
    | 'depthMm'
    | 'diameterMm'
    | 'pause'
    | 'startText'
    | 'endText';
  /** What may stand there, where that is a range. */
  readonly least?: number;
  readonly greatest?: number;
  /** The word in braces that is none. */
  readonly word?: string;
}

/** A line can be this many nozzle widths thin or wide; beyond, it tears or swells. Common practice, no source. */
const LEAST_LINE = 0.8;
const GREATEST_LINE = 2.5;

/** Finds everything that is wrong with a profile; empty when it can be used. */
export function checkPrinter(printer: Printer): PrinterFault[] {
  const faults: PrinterFault[] = [];
  const within = (
    field: PrinterFault['field'],
    value: number,
    [least, greatest]: readonly [number, number],
  ): boolean => {
    // Written so that a value that is no number is out of range too.
    if (value >= least && value <= greatest) return true;
    faults.push({ code: 'out-of-range', field, least, greatest });
    return false;
  };
  const name = printer.name.trim();
  if (name === '' || name.length > LONGEST_PRINTER_NAME)
    faults.push({ code: 'no-name', field: 'name' });
  const { bed } = printer;
  if (printer.nozzleMm >= leastSideOf(bed))
    faults.push({ code: 'nozzle-wider-than-bed', field: 'nozzleMm' });
  if (bed.shape === 'round') within('diameterMm', bed.diameterMm, BED_LIMITS);
  else {
    within('widthMm', bed.widthMm, BED_LIMITS);
    within('depthMm', bed.depthMm, BED_LIMITS);
  }
  const sound = new Set<PrinterNumber>();
  for (const [field, limits] of Object.entries(PRINTER_LIMITS) as [
    PrinterNumber,
    readonly [number, number],
  ][])
    if (within(field, printer[field], limits)) sound.add(field);
  // How fields suit each other says something only where each is sound by itself.
  const { nozzleMm, lineMm, layerMm, firstLayerMm } = printer;
  if (sound.has('nozzleMm')) {
    const least = LEAST_LINE * nozzleMm;
    const greatest = GREATEST_LINE * nozzleMm;
    if (sound.has('lineMm') && (lineMm < least - 1e-9 || lineMm > greatest + 1e-9))
      faults.push({ code: 'line-unlike-nozzle', field: 'lineMm', least, greatest });
    for (const field of ['firstLayerMm', 'layerMm'] as const)
      if (sound.has(field) && printer[field] >= nozzleMm)
        faults.push({ code: 'layer-above-nozzle', field, greatest: nozzleMm });
  }
  if (sound.has('layerMm') && sound.has('firstLayerMm') && firstLayerMm < layerMm / 2)
    faults.push({ code: 'first-below-layer', field: 'firstLayerMm', least: layerMm / 2 });
  const { command, text } = printer.pause;
  if (!isPauseCommand(command) || (command === 'custom' && text.trim() === ''))
    faults.push({ code: 'no-pause-text', field: 'pause' });
  for (const field of ['startText', 'endText'] as const) {
    const word = unknownWord(printer[field]);
    if (printer[field].length > LONGEST_PRINT_TEXT)
      faults.push({ code: 'long-text', field, greatest: LONGEST_PRINT_TEXT });
    else if (word !== undefined) faults.push({ code: 'unknown-word', field, word });
  }
  return faults;
}

/** The shorter side of a bed, or its diameter, mm. */
function leastSideOf(bed: Bed): number {
  return bed.shape === 'round' ? bed.diameterMm : Math.min(bed.widthMm, bed.depthMm);
}

/** Width and depth of the rectangle around a bed, mm. */
export function bedBox(bed: Bed): { readonly widthMm: number; readonly depthMm: number } {
  return bed.shape === 'round' ? { widthMm: bed.diameterMm, depthMm: bed.diameterMm } : bed;
}

/** Whether a rectangle in the middle of a bed lies on it. */
export function liesOnBed(bed: Bed, widthMm: number, depthMm: number): boolean {
  const slack = 1e-6;
  return bed.shape === 'round'
    ? Math.hypot(widthMm, depthMm) <= bed.diameterMm + slack
    : widthMm <= bed.widthMm + slack && depthMm <= bed.depthMm + slack;
}

/** What of a piece a printer does not suit; see {@link unsuitedTo}. */
export type Unsuited = 'off-bed' | 'too-high' | 'layers-above-nozzle' | 'other-layers';

/**
 * Where a piece and a printer do not suit each other: it lies on the bed neither way round, is too high, has layers as high as
 * the nozzle is wide, or just other layers than the printer likes.
 */
export function unsuitedTo(
  printer: Printer,
  piece: {
    readonly widthMm: number;
    readonly depthMm: number;
    readonly thicknessMm: number;
    readonly firstLayerMm: number;
    readonly layerMm: number;
    /** The highest layer, that of a thicker base included. */
    readonly highestLayerMm: number;
  },
): Unsuited[] {
  const { widthMm, depthMm } = piece;
  const lies = liesOnBed(printer.bed, widthMm, depthMm) || liesOnBed(printer.bed, depthMm, widthMm);
  const same =
    Math.abs(piece.firstLayerMm - printer.firstLayerMm) < 1e-6 &&
    Math.abs(piece.layerMm - printer.layerMm) < 1e-6;
  const above = piece.highestLayerMm >= printer.nozzleMm;
  return [
    ...(lies ? [] : ['off-bed' as const]),
    ...(piece.thicknessMm > printer.heightMm ? ['too-high' as const] : []),
    ...(above ? ['layers-above-nozzle' as const] : []),
    ...(same || above ? [] : ['other-layers' as const]),
  ];
}

/** A bed in words, `220 x 220 mm` or `200 mm round`. */
export function describeBed(bed: Bed): string {
  return bed.shape === 'round'
    ? `${bed.diameterMm} mm round`
    : `${bed.widthMm} x ${bed.depthMm} mm`;
}

/** What a printer runs before a print: heat, home, and the modes in which our lines are meant. Common practice, no source. */
const USUAL_START = [
  'G21 ; millimetres',
  'G90 ; places are absolute',
  'M83 ; filament is relative',
  'M140 S{bed}',
  'M104 S{nozzle}',
  'M190 S{bed}',
  'M109 S{nozzle}',
  'G28 ; home',
].join('\n');

/** And after it: heat, fan and motors off. Common practice, no source. */
const USUAL_END = ['M104 S0', 'M140 S0', 'M107', 'M84 ; motors off'].join('\n');

/** What most printers with a 0.4 mm nozzle have in common. All values: common practice, no source. */
const USUAL = {
  nozzleMm: 0.4,
  lineMm: 0.42,
  firstLayerMm: 0.16,
  layerMm: 0.08,
  firstLayerMmS: 30,
  solidMmS: 80,
  outlineMmS: 60,
  travelMmS: 150,
  accelerationMmS2: 1500,
  cornerMmS: 8,
  retractMm: 1,
  retractMmS: 30,
  liftMm: 0,
  nozzleC: 210,
  bedC: 60,
  fanPercent: 100,
  purgeLine: true,
  startText: USUAL_START,
  endText: USUAL_END,
  timeFactor: 1,
  feeder: false,
  swapS: 180,
  purgeToDarkMm: 60,
  purgeToLightMm: 150,
  filamentMm: 1.75,
  pause: { command: 'M600', text: '' },
} as const;

/** What a spool feeder changes. Common practice, no source. */
const WITH_FEEDER = {
  feeder: true,
  swapS: 90,
  purgeToDarkMm: 120,
  purgeToLightMm: 250,
  pause: { command: 'T1', text: '' },
} as const;

const square = (sideMm: number): Bed => ({ shape: 'rectangle', widthMm: sideMm, depthMm: sideMm });

/** Generic printers to begin with. Sizes are common practice, no source. */
export const SHIPPED_PRINTERS: readonly Printer[] = [
  { ...USUAL, id: 'medium-hand', name: 'Medium bed, by hand', bed: square(220), heightMm: 250 },
  {
    ...USUAL,
    ...WITH_FEEDER,
    id: 'medium-feeder',
    name: 'Medium bed, with feeder',
    bed: square(220),
    heightMm: 250,
  },
  {
    ...USUAL,
    id: 'small-hand',
    name: 'Small bed, by hand',
    bed: square(120),
    heightMm: 120,
    solidMmS: 60,
    outlineMmS: 40,
    travelMmS: 120,
    swapS: 240,
  },
  {
    ...USUAL,
    id: 'large-hand',
    name: 'Large bed, by hand',
    bed: square(300),
    heightMm: 350,
    pause: { command: 'PAUSE', text: '' },
  },
  {
    ...USUAL,
    ...WITH_FEEDER,
    id: 'large-feeder',
    name: 'Large bed, with feeder',
    bed: square(300),
    heightMm: 350,
  },
  {
    ...USUAL,
    id: 'round-hand',
    name: 'Round bed, by hand',
    bed: { shape: 'round', diameterMm: 200 },
    heightMm: 300,
    pause: { command: 'M25', text: '' },
  },
];

/** The printer that a project has until another is chosen. */
export const USUAL_PRINTER: Printer = SHIPPED_PRINTERS[0] as Printer;
