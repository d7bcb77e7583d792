import { parseArgs } from 'node:util';
import { bandFilaments, pauseOfPlan, type PrintPlan } from '#core/gcode/print-plan.ts';
import { USUAL_PRINTER, type Printer } from '#core/printer/printer.ts';
import type { RunFaults } from '#core/rehearse/printer-run.ts';
import { openRehearsal, playFile } from '#core/rehearse/rehearsal.ts';
import { BadInput, numberOption, required } from '../platform/bad-input.ts';
import { describeGcodeFault } from '../platform/gcode-words.ts';
import { openFile, readPlan, readPrinter } from './input.ts';

/** Longest time and strand that a fault may name. */
const MOST = 1e7;

/** `rehearse FILE --sheet swaps.json`: runs a sliced file on the simulated printer and tells how the print comes out. */
export async function runRehearse(args: string[]): Promise<object> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      sheet: { type: 'string' },
      printer: { type: 'string' },
      fault: { type: 'string', multiple: true },
    },
  });
  const [path, ...more] = positionals;
  if (path === undefined || more.length > 0)
    throw new BadInput('rehearse takes one file: rehearse print.gcode --sheet swaps.json');
  const plan = await readPlan(required(values.sheet, 'sheet'));
  const printer = values.printer ? await readPrinter(values.printer) : printerOf(plan);
  const { faults, emptyAfterMm } = faultsOf(values.fault ?? [], plan);
  const source = await openFile(path);
  try {
    const opened = await openRehearsal(source, plan, printer);
    if (!opened.ok) throw new BadInput(`${path}: ${describeGcodeFault(opened.fault)}`);
    const { file } = opened.value;
    const { run, score } = playFile(file, faults, { emptyAfterMm });
    return {
      score: round(score.score),
      bands: score.bands.map(({ filament, firstLayer, lastLayer, cells, right }) => ({
        filament,
        firstLayer,
        lastLayer,
        score: round(cells === 0 ? 1 : right / cells),
        cells,
      })),
      firstWrongLayer: score.firstWrongLayer,
      seconds: round(file.print.totalS),
      clockSeconds: round(run.clockS),
      state: run.state,
      events: run.events.map(({ kind, clockS, printS, stop, spool }) => ({
        kind,
        clockS: round(clockS),
        printS: round(printS),
        ...(stop === undefined
          ? {}
          : {
              stop: stop + 1,
              command: run.job.stops[stop]?.command,
              layer: run.job.stops[stop]?.layer,
            }),
        ...(spool === undefined ? {} : { spool }),
      })),
    };
  } finally {
    await source.close();
  }
}

/** A printer where none is told: the usual one, which obeys what the sheet says. */
function printerOf(plan: PrintPlan): Printer {
  return {
    ...USUAL_PRINTER,
    pause: pauseOfPlan(plan),
    lineMm: plan.lineMm ?? USUAL_PRINTER.lineMm,
    filamentMm: plan.filamentMm ?? USUAL_PRINTER.filamentMm,
  };
}

function faultsOf(
  texts: readonly string[],
  plan: PrintPlan,
): { readonly faults: RunFaults; readonly emptyAfterMm: number | null } {
  let faults: RunFaults = {};
  let emptyAfterMm: number | null = null;
  for (const text of texts) {
    const [kind = '', rest = ''] = text.split(/:(.*)/s);
    switch (kind) {
      case 'ignore':
        faults = { ...faults, ignores: numberOption(rest, 'fault ignore', 0, 1, MOST) };
        break;
      case 'resume':
        faults = { ...faults, resumesAfterS: numberOption(rest, 'fault resume', 0, 0, MOST) };
        break;
      case 'power':
        faults = { ...faults, powerAtS: numberOption(rest, 'fault power', 0, 0, MOST) };
        break;
      case 'runout':
      case 'runout-told':
        emptyAfterMm = numberOption(rest, `fault ${kind}`, 0, 0, MOST);
        faults = { ...faults, sensor: kind === 'runout-told' };
        break;
      case 'spool': {
        const [stop = '', spool = ''] = rest.split(/=(.*)/s);
        if (!bandFilaments(plan).includes(spool))
          throw new BadInput(
            `--fault spool names "${spool}", which the sheet does not have. It has ${bandFilaments(plan).join(', ')}.`,
          );
        faults = {
          ...faults,
          wrongSpool: { stop: numberOption(stop, 'fault spool', 0, 1, MOST), spool },
        };
        break;
      }
      default:
        throw new BadInput(
          `--fault is "${text}". Give ignore:STOP, resume:SECONDS, spool:STOP=ID, runout:MM, runout-told:MM or power:SECONDS.`,
        );
    }
  }
  return { faults, emptyAfterMm };
}

function round(value: number): number {
  return Number(value.toFixed(5));
}
