import { readFile } from 'node:fs/promises';
import { readRackCsv } from '#core/formats/rack/rack-csv.ts';
import { readStackJson } from '#core/formats/project/stack-json.ts';
import { readSwapsJson } from '#core/formats/sheet/read-swaps-json.ts';
import type { PrintPlan } from '#core/gcode/print-plan.ts';
import type { ByteSource } from '#core/gcode/source.ts';
import type { Stack } from '#core/stack/stack.ts';
import type { FilamentTable } from '#core/stack/stack-ramp.ts';
import { readPrinterJson } from '#core/formats/rack/printer-json.ts';
import type { Printer } from '#core/printer/printer.ts';
import { decodeText, describeTextFault } from '../platform/decode-text.ts';
import { BadInput } from '../platform/bad-input.ts';
import {
  describeProjectFault,
  describeRackFault,
  describeStackFault,
} from '../platform/fault-words.ts';
import { describeSwapsFault } from '../platform/gcode-words.ts';
import { openSource } from '../platform/node/file-source.ts';
import { describePrinterJsonFault } from '../platform/slicing-words.ts';
import { readProjectFile, type PackedProject } from '../state/project-file.ts';

/** Reads a file, or says why it cannot be read. */
export async function readInput(path: string): Promise<Uint8Array> {
  try {
    return await readFile(path);
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code ?? 'unknown error';
    throw new BadInput(`${path} cannot be read (${code}). Check the path.`);
  }
}

/** The text of a file that an option names; a number stays what it is. */
export async function textOrFile(option: string | undefined): Promise<string | undefined> {
  return option === undefined || /^-?[\d.]+$/.test(option) ? option : readText(option);
}

/** Reads a text file, whatever the usual encoding. */
export async function readText(path: string): Promise<string> {
  const decoded = decodeText(await readInput(path));
  if (!decoded.ok) throw new BadInput(`${path}: ${describeTextFault(decoded.fault)}`);
  return decoded.value.text;
}

/** Reads a rack and a stack that uses it. */
export async function readStackAndRack(
  rackPath: string,
  stackPath: string,
): Promise<{ readonly stack: Stack; readonly filaments: FilamentTable }> {
  const rack = readRackCsv(await readText(rackPath));
  if (!rack.ok) throw new BadInput(`${rackPath}: ${describeRackFault(rack.fault)}`);
  const filaments = Object.fromEntries(rack.value.map((filament) => [filament.id, filament]));
  const stack = readStackJson(await readText(stackPath), filaments);
  if (!stack.ok) throw new BadInput(`${stackPath}: ${describeStackFault(stack.fault)}`);
  return { stack: stack.value, filaments };
}

/** Reads one printer: a file of printers that holds just one, or the printer itself. */
export async function readPrinter(path: string): Promise<Printer> {
  const text = await readText(path);
  const bare = /^\s*\{/.test(text) && !/"printers"\s*:/.test(text);
  const read = readPrinterJson(bare ? `[${text}]` : text);
  if (!read.ok) throw new BadInput(`${path}: ${describePrinterJsonFault(read.fault)}`);
  const [printer, ...more] = read.value;
  if (!printer || more.length > 0)
    throw new BadInput(`${path} holds ${read.value.length} printers. Give a file with one.`);
  return printer;
}

/** Reads a project file of any schema so far. */
export async function readProject(path: string): Promise<PackedProject> {
  const read = readProjectFile(await readInput(path));
  if (!read.ok) throw new BadInput(`${path}: ${describeProjectFault(read.fault)}`);
  return read.value;
}

/** A sliced file that is read in parts. */
export type OpenFile = ByteSource & { readonly close: () => Promise<void> };

/** Opens a file, or says why it cannot be read. */
export async function openFile(path: string): Promise<OpenFile> {
  try {
    return await openSource(path);
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code ?? 'unknown error';
    throw new BadInput(`${path} cannot be read (${code}). Check the path.`);
  }
}

/** Reads the swaps of a sheet. */
export async function readPlan(path: string): Promise<PrintPlan> {
  const plan = readSwapsJson(await readText(path));
  if (!plan.ok) throw new BadInput(`${path}: ${describeSwapsFault(plan.fault)}`);
  return plan.value;
}
