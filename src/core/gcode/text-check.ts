import { strToU8 } from 'fflate';
import { printLines, type PrintValues } from '../printer/print-texts.ts';
import { PRINTER_LIMITS, type Printer } from '../printer/printer.ts';
import { Machine, MOVE, STATE, type MachineListener } from './machine.ts';
import { LINE, LineScanner } from './scanner.ts';

/** What a printer's start or end text does otherwise than a print needs it, and the line that mends it. */
export interface TextTrouble {
  readonly field: 'startText' | 'endText';
  readonly what:
    | 'bad-line'
    | 'units'
    | 'coordinates'
    | 'filament-mode'
    | 'moved-zero'
    | 'strand'
    | 'not-homed'
    | 'nozzle-cold'
    | 'bed-cold'
    | 'nozzle-stays-hot'
    | 'bed-stays-hot'
    | 'nozzle-too-hot'
    | 'bed-too-hot'
    | 'stops'
    | 'below-bed'
    | 'drags';
  /** The line to put in; empty where one is to be taken out. */
  readonly mend: string;
  /** The line that is wrong, where it is one. */
  readonly text?: string;
}

/** Values with which a text is tried: what stands for them in a print is of the same kind. */
const TRIED: PrintValues = {
  '{bed}': 60,
  '{nozzle}': 210,
  '{filament}': 'filament',
  '{layers}': 20,
  '{first}': 0.2,
  '{height}': 2,
  '{left}': 10,
  '{front}': 10,
  '{width}': 80,
  '{depth}': 60,
  '{stamp}': 'ABC123',
};

/** M112 stops a printer at once; it prints nothing any more until it is started anew. Common practice, no source. */
const EMERGENCY_STOP = 112;

/** A place so far below zero is below the bed, mm: rounding is no depth. */
const BELOW_MM = 0.001;

/** What lines said, besides what they leave in the machine. */
interface Told {
  readonly bad: readonly string[];
  readonly homed: boolean;
  /** Last heat of nozzle and bed that was asked for; null where none was. */
  readonly nozzleC: number | null;
  readonly bedC: number | null;
  /** The line that asks for more heat than the printer has, and the one that stops the printer for good; null where none does. */
  readonly nozzleTooHot: string | null;
  readonly bedTooHot: string | null;
  readonly stops: string | null;
  /** The line that goes below the bed. */
  readonly belowBed: string | null;
  /** Whether something of the printer's own is called: what that does is not known. */
  readonly named: boolean;
  /** Lowest height that was gone to, mm. */
  readonly lowestMm: number;
}

function run(
  lines: readonly string[],
  limits: { readonly nozzleC: number; readonly bedC: number },
  begin: (state: Float64Array) => void,
): readonly [Told, Float64Array] {
  const bad: string[] = [];
  let [homed, named, lowestMm] = [false, false, Infinity];
  let nozzleC: number | null = null;
  let bedC: number | null = null;
  let nozzleTooHot: string | null = null;
  let bedTooHot: string | null = null;
  let stops: string | null = null;
  let belowBed: string | null = null;
  const listener: MachineListener = {
    before: () => undefined,
    move: (machine, scanner) => {
      const z = machine.move[MOVE.z1] as number;
      lowestMm = Math.min(lowestMm, z);
      if (z < -BELOW_MM) belowBed ??= scanner.text();
    },
    other: (_, scanner) => {
      if (scanner.fault || scanner.kind === LINE.bad) bad.push(scanner.text());
      if (scanner.kind === LINE.named) named = true;
      if (scanner.kind !== LINE.words) return;
      const { letter, command, values, mask } = scanner;
      if (letter === 71 && command === 28) homed = true;
      const heat = mask & (1 << 18) ? (values[18] as number) : 0;
      // The wait for a heat may name it as R, which cools as well.
      const waited = mask & (1 << 17) ? (values[17] as number) : 0;
      const asked = Math.max(heat, waited);
      if (letter === 77 && (command === 104 || command === 109)) {
        nozzleC = asked;
        if (asked > limits.nozzleC) nozzleTooHot ??= scanner.text();
      }
      if (letter === 77 && (command === 140 || command === 190)) {
        bedC = asked;
        if (asked > limits.bedC) bedTooHot ??= scanner.text();
      }
      if (letter === 77 && command === EMERGENCY_STOP) stops ??= scanner.text();
    },
  };
  const machine = new Machine(listener, { gSetsFilament: false, relativeFromStart: false });
  begin(machine.state);
  const scanner = new LineScanner(machine);
  scanner.feed(strToU8(`${lines.join('\n')}\n`));
  scanner.end();
  return [
    { bad, homed, nozzleC, bedC, nozzleTooHot, bedTooHot, stops, belowBed, named, lowestMm },
    machine.state,
  ];
}

/**
 * Runs a printer's start and end text and names what does not suit a print: modes, zero, strand, home, heat. A text that calls a
 * command of the printer's own may home and heat by that; modes are asked for all the same.
 */
export function checkPrintTexts(
  printer: Pick<Printer, 'startText' | 'endText' | 'bedC' | 'mostNozzleC' | 'mostBedC'>,
): TextTrouble[] {
  const troubles: TextTrouble[] = [];
  const limits = {
    nozzleC: printer.mostNozzleC ?? PRINTER_LIMITS.nozzleC[1],
    bedC: printer.mostBedC ?? PRINTER_LIMITS.bedC[1],
  };
  const tell = (
    field: TextTrouble['field'],
    what: TextTrouble['what'],
    mend: string,
    text?: string,
  ): void => {
    troubles.push({ field, what, mend, ...(text === undefined ? {} : { text }) });
  };
  const tellHarm = (field: TextTrouble['field'], told: Told): void => {
    for (const text of told.bad) tell(field, 'bad-line', '', text);
    const harms = [
      ['nozzle-too-hot', told.nozzleTooHot],
      ['bed-too-hot', told.bedTooHot],
      ['stops', told.stops],
      ['below-bed', told.belowBed],
    ] as const;
    for (const [what, text] of harms) if (text !== null) tell(field, what, '', text);
  };
  const [start, state] = run(printLines(printer.startText, TRIED), limits, () => undefined);
  tellHarm('startText', start);
  if (state[STATE.unit] !== 1) tell('startText', 'units', 'G21');
  if (state[STATE.absolute] !== 1) tell('startText', 'coordinates', 'G90');
  if (state[STATE.absoluteE] !== 0) tell('startText', 'filament-mode', 'M83');
  if ([STATE.originX, STATE.originY, STATE.originZ].some((at) => state[at] !== 0))
    tell('startText', 'moved-zero', 'G92.1');
  const owed = state[STATE.owed] as number;
  if (owed > 0.0005) tell('startText', 'strand', `G1 E${Number(owed.toFixed(4))} F1800`);
  if (!start.homed && !start.named) tell('startText', 'not-homed', 'G28');
  if (!start.nozzleC && !start.named) tell('startText', 'nozzle-cold', 'M109 S{nozzle}');
  if (printer.bedC > 0 && !start.bedC && !start.named) tell('startText', 'bed-cold', 'M190 S{bed}');

  const topMm = TRIED['{height}'] as number;
  const [end] = run(printLines(printer.endText, TRIED), limits, (at) => {
    at[STATE.absoluteE] = 0;
    at[STATE.z] = topMm;
  });
  tellHarm('endText', end);
  if (end.nozzleC !== 0 && !end.named) tell('endText', 'nozzle-stays-hot', 'M104 S0');
  if (printer.bedC > 0 && end.bedC !== 0 && !end.named) tell('endText', 'bed-stays-hot', 'M140 S0');
  // Homing lowers nothing that we could see; a move that does would drag the nozzle over the piece.
  if (end.lowestMm < topMm - 1e-6) tell('endText', 'drags', '');
  return troubles;
}
