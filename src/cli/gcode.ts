import { parseArgs } from 'node:util';
import { auditGcode } from '#core/gcode/audit.ts';
import { pauseOfPlan, type PrintPlan } from '#core/gcode/print-plan.ts';
import { readGcode } from '#core/gcode/read-gcode.ts';
import type { GcodeReport } from '#core/gcode/report.ts';
import { changedSource, piecesOf, type ByteSource, type Change } from '#core/gcode/source.ts';
import { bandStrands } from '#core/gcode/strand.ts';
import { findOwnLines, type OwnLines } from '#core/gcode/take-out.ts';
import { planToolsToPauses, USUAL_SWAPS_A_LAYER } from '#core/gcode/tools.ts';
import { changesOf, planWeave, type Block } from '#core/gcode/weave.ts';
import {
  checkPauseText,
  isPauseCommand,
  PAUSE_COMMANDS,
  PLACEHOLDERS,
  type Pause,
} from '#core/printer/pause.ts';
import { BadInput, numberOption, required } from '../platform/bad-input.ts';
import {
  describeFinding,
  describeGcodeFault,
  describePauseTrouble,
} from '../platform/gcode-words.ts';
import { writePieces } from '../platform/node/file-source.ts';
import { Answer } from './answer.ts';
import { openFile, readPlan, readText, type OpenFile } from './input.ts';

const SUBVERBS = {
  inspect,
  check,
  swaps,
  'take-out': takeOut,
  'tools-to-pauses': toolsToPauses,
} as const;
const OPTIONS = {
  sheet: { type: 'string' },
  pause: { type: 'string' },
  'pause-text': { type: 'string' },
  'keep-pauses': { type: 'boolean' },
  acceleration: { type: 'string' },
  layers: { type: 'string' },
  confirm: { type: 'boolean' },
  'drop-priming': { type: 'boolean' },
  out: { type: 'string' },
} as const;

type Values = ReturnType<typeof parse>['values'];

interface Job {
  readonly path: string;
  readonly source: OpenFile;
  readonly values: Values;
}

function parse(args: string[]) {
  return parseArgs({ args, options: OPTIONS, allowPositionals: true });
}

/** `gcode inspect|check|swaps|take-out|tools-to-pauses FILE ...`: reads sliced files and puts swaps in and out, on streams. */
export async function runGcode([what = '', ...args]: string[]): Promise<object> {
  if (!Object.hasOwn(SUBVERBS, what))
    throw new BadInput(`gcode takes one of ${Object.keys(SUBVERBS).join(', ')}, and a file.`);
  const { values, positionals } = parse(args);
  const [path, ...more] = positionals;
  if (path === undefined || more.length > 0)
    throw new BadInput(`gcode ${what} takes one file: gcode ${what} print.gcode`);
  const source = await openFile(path);
  try {
    return await SUBVERBS[what as keyof typeof SUBVERBS]({ path, source, values });
  } finally {
    await source.close();
  }
}

const round = (value: number, digits = 5): number => Number(value.toFixed(digits));

async function inspect({ path, source, values }: Job): Promise<object> {
  const accelerationMmS2 =
    values.acceleration === undefined
      ? Infinity
      : numberOption(values.acceleration, 'acceleration', 1500, 1, 1e6);
  const report = await read(path, source, accelerationMmS2);
  const plan = values.sheet === undefined ? null : await planOf(values);
  return {
    layers: report.layers.map((layer) => ({
      layer: layer.layer,
      topMm: layer.topMm,
      heightMm: layer.heightMm,
      filamentMm: round(layer.filamentMm),
      seconds: round(layer.seconds),
      firstLine: layer.firstLine,
      lastLine: layer.lastLine,
      object: layer.object,
      tools: layer.tools,
    })),
    pauses: pausesOf(report),
    objects: report.objects,
    tools: report.tools,
    filamentMm: round(report.filamentMm),
    seconds: round(report.seconds),
    primingMm: round(report.primingMm),
    bytes: report.bytes,
    lines: report.lines,
    relative: report.relative,
    spiral: report.spiral,
    cutOff: report.cutOff,
    badLines: report.badCount,
    ...(plan
      ? {
          bands: bandStrands(report, plan).map(({ strandMm, markMm, seconds, markS, ...band }) => ({
            ...band,
            strandMm: round(strandMm),
            markMm: round(markMm),
            seconds: round(seconds),
            markS: round(markS),
          })),
        }
      : {}),
  };
}

function pausesOf({ pauses }: GcodeReport): object[] {
  return pauses.map(({ line, layer, command, inside }) => ({ line, layer, command, inside }));
}

async function check({ path, source, values }: Job): Promise<object> {
  const plan = await planOf(values);
  const report = await read(path, source);
  const findings = auditGcode(report, plan, await ownLines(path, source));
  return new Answer(
    {
      findings: findings.map((finding) => {
        const { title, text } = describeFinding(finding, plan);
        return { ...finding, says: `${title}. ${text}` };
      }),
    },
    findings.some(({ severity }) => severity === 'wrong') ? 1 : 0,
  );
}

async function swaps({ path, source, values }: Job): Promise<object> {
  const out = outOf(values, path);
  const plan = await planOf(values);
  const pause = await pauseOf(values, plan);
  const own = await ownLines(path, source);
  const bare = changedSource(source, own.cuts);
  const report = await read(path, bare);
  const weaving = planWeave(report, plan, { pause, switchOff: values['keep-pauses'] !== true });
  const [trouble] = weaving.troubles;
  if (trouble)
    throw new BadInput(
      `${values['pause-text'] ?? ''}: ${weaving.troubles.map(describePauseTrouble).join(' ')}`,
    );
  const [numbered] = weaving.numbered;
  if (numbered)
    throw new BadInput(
      `${path}: line ${numbered.line} has a number, so its pause cannot be switched off without breaking its checksum. Slice without it, or add --keep-pauses.`,
    );
  const [lost] = weaving.unplaced;
  if (lost)
    throw new BadInput(
      `${path}: nothing is laid above ${lost.stopAfterMm} mm, where swap ${lost.swap} belongs. Is it the file of this sheet? gcode check tells.`,
    );
  await write(out, bare, changesOf(weaving, report.crlf));
  return {
    swaps: weaving.blocks.map(blockFacts),
    kept: weaving.kept.map(({ line, layer, command }) => ({ line, layer, command })),
    switchedOff: weaving.off.map(({ line, text }) => ({ line, text })),
    addedLines: weaving.blocks.reduce((sum, { lines }) => sum + lines.length, 0),
    takenOut: own.blocks,
  };
}

function blockFacts({ kind, number, layer, line, from, to }: Block): object {
  return { kind, number, layer: layer.layer, topMm: layer.topMm, line, from, to };
}

async function takeOut({ path, source, values }: Job): Promise<object> {
  const out = outOf(values, path);
  const own = await ownLines(path, source);
  await write(out, source, own.cuts);
  return { takenOut: own.blocks, switchedOn: own.off, bytes: changedSource(source, own.cuts).size };
}

async function toolsToPauses({ path, source, values }: Job): Promise<object> {
  const out = outOf(values, path);
  const pause = await pauseOf(values, null);
  const onlyLayers =
    values.layers === undefined ? null : numberOption(values.layers, 'layers', 2, 0, 10_000);
  const own = await ownLines(path, source);
  const bare = changedSource(source, own.cuts);
  const report = await read(path, bare);
  const dropPriming = values['drop-priming'] === true;
  if (dropPriming && !report.relative)
    throw new BadInput(
      `${path}: filament is absolute here, so lines that prime cannot be left out. Slice with relative filament (M83), or leave --drop-priming out.`,
    );
  const plan = planToolsToPauses(report, { pause, onlyLayers, dropPriming });
  const [numbered] = plan.numbered;
  if (numbered)
    throw new BadInput(
      `${path}: line ${numbered.line} has a number, so it cannot be switched off without breaking its checksum. Slice without line numbers.`,
    );
  const total = plan.perLayer.reduce((sum, { swaps: own }) => sum + own, 0);
  if (plan.mostPerLayer > USUAL_SWAPS_A_LAYER && values.confirm !== true)
    throw new BadInput(
      `${path}: this makes ${total} swaps, up to ${plan.mostPerLayer} in one layer. Keep the change to the first layers (--layers 2), or say that you mean it (--confirm).`,
    );
  await write(out, bare, changesOf(plan, report.crlf));
  return {
    swaps: plan.blocks.filter(({ kind }) => kind === 'tool').map(blockFacts),
    switchedOff: plan.off.map(({ line, text }) => ({ line, text })),
    mostPerLayer: plan.mostPerLayer,
    insideLayers: plan.inside,
  };
}

async function read(
  path: string,
  source: ByteSource,
  accelerationMmS2 = Infinity,
): Promise<GcodeReport> {
  const report = await readGcode(source, { accelerationMmS2 });
  if (!report.ok) throw new BadInput(`${path}: ${describeGcodeFault(report.fault)}`);
  return report.value;
}

async function ownLines(path: string, source: ByteSource): Promise<OwnLines> {
  const own = await findOwnLines(source);
  if (!own.ok) throw new BadInput(`${path}: ${describeGcodeFault(own.fault)}`);
  return own.value;
}

function planOf(values: Values): Promise<PrintPlan> {
  return readPlan(required(values.sheet, 'sheet'));
}

/** The way to pause that is asked for; without one, what the plan says the printer obeys. */
async function pauseOf(values: Values, plan: PrintPlan | null): Promise<Pause> {
  const path = values['pause-text'];
  if (path !== undefined) {
    const text = (await readText(path)).trimEnd();
    const checked = checkPauseText(text);
    if (!checked.ok)
      throw new BadInput(
        `${path}: ${checked.fault.detail ?? ''} is not known. There are ${Object.keys(PLACEHOLDERS).join(', ')}.`,
      );
    return { command: 'custom', text };
  }
  if (values.pause === undefined && plan) return pauseOfPlan(plan);
  const command = values.pause ?? 'M600';
  if (!isPauseCommand(command) || command === 'custom')
    throw new BadInput(
      `--pause is "${command}". Give one of ${PAUSE_COMMANDS.filter((one) => one !== 'custom').join(', ')}, or your own lines with --pause-text FILE.`,
    );
  return { command, text: '' };
}

function outOf(values: Values, path: string): string {
  const out = required(values.out, 'out');
  if (out === path) throw new BadInput(`--out is the file itself. Give another name.`);
  return out;
}

async function write(out: string, source: ByteSource, changes: readonly Change[]): Promise<void> {
  try {
    await writePieces(out, source, piecesOf(source.size, changes));
  } catch (error) {
    throw new BadInput(
      `${out} cannot be written (${(error as NodeJS.ErrnoException).code ?? 'unknown error'}).`,
    );
  }
}
