import type { Finding } from '#core/gcode/finding.ts';
import { filamentName, partFilaments, type PrintPlan } from '#core/gcode/print-plan.ts';
import type { GcodeReport, PlacedEvent } from '#core/gcode/report.ts';

/** A band of the plan as the desk shows it. */
export interface DeskBand {
  readonly index: number;
  readonly letter: string;
  readonly name: string;
  readonly colour: string;
}

/** What stands before a layer, or in it. */
export interface LayerNote {
  readonly text: string;
  readonly line: number | null;
  readonly wrong: boolean;
}

/** Notes of one layer that are shown; of more there is told how many. */
const MOST_NOTES = 8;

const NO_COLOUR = '#6e6e6e';

/** Bands of a plan, from the plate up, and the inlays of a face after them. */
export function deskBands(plan: PrintPlan): DeskBand[] {
  return partFilaments(plan).map((id, index) => ({
    index,
    letter: String.fromCharCode(65 + (index % 26)),
    name: filamentName(plan, id),
    colour: plan.colours?.[id] ?? NO_COLOUR,
  }));
}

/** What a thing is that lies on the bed by itself: an inlay that is laid first, the body over them, or one of several pieces. */
export function objectWords(object: number, plan: PrintPlan | null): string {
  const inlays = plan?.flush?.print === 'first' ? plan.flush.filaments.length : 0;
  return inlays === 0 ? `piece ${object}` : object <= inlays ? 'inlay' : 'body';
}

/** Notes of layers, by their number: pauses and tool changes as they stand, and what is wrong there. */
export function layerNotes(
  report: GcodeReport,
  findings: readonly Finding[],
): ReadonlyMap<number, readonly LayerNote[]> {
  const notes = new Map<number, LayerNote[]>();
  const more = new Map<number, number>();
  const add = (layer: number, note: LayerNote): void => {
    const own = notes.get(layer);
    if (!own) notes.set(layer, [note]);
    else if (own.length < MOST_NOTES || note.wrong) own.push(note);
    else more.set(layer, (more.get(layer) ?? 0) + 1);
  };
  for (const event of report.events) {
    const text = eventText(event);
    if (text !== null && event.layer > 0)
      add(event.layer, { text, line: event.line, wrong: false });
  }
  for (const finding of findings)
    if (finding.code === 'swap-missing' && finding.layer !== null)
      add(finding.layer, {
        text: `swap ${finding.swap ?? ''} is missing here`,
        line: finding.line,
        wrong: true,
      });
  for (const [layer, count] of more)
    notes
      .get(layer)
      ?.push({ text: `and ${count.toLocaleString('en')} more`, line: null, wrong: false });
  return notes;
}

function eventText({ kind, command, line, inside, tool, inUse }: PlacedEvent): string | null {
  const where = `${inside ? 'inside, ' : ''}line ${line.toLocaleString('en')}`;
  if (kind === 'pause') return `${command}, ${where}`;
  if (kind === 'tool' && tool !== inUse) return `${command}, ${where}`;
  return null;
}

/** A size of a file in words. */
export function bytesText(bytes: number): string {
  return bytes < 1e6 ? `${(bytes / 1e3).toFixed(1)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
}

/** Minutes and seconds of a layer. */
export function clockText(seconds: number): string {
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
}

/** A length of strand. */
export function strandText(mm: number): string {
  return mm < 1000 ? `${mm.toFixed(0)} mm` : `${(mm / 1000).toFixed(2)} m`;
}
