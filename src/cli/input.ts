import { readFile } from 'node:fs/promises';
import { readRackCsv } from '#core/formats/rack-csv.ts';
import { readStackJson } from '#core/formats/stack-json.ts';
import type { Stack } from '#core/stack/stack.ts';
import type { FilamentTable } from '#core/stack/stack-ramp.ts';
import { decodeText, describeTextFault } from '../platform/decode-text.ts';
import { describeRackFault, describeStackFault } from '../platform/fault-words.ts';

/** Input that cannot be used: the message says what, where and what to do. Ends the program with status 2. */
export class BadInput extends Error {
  override readonly name = 'BadInput';
}

/** The value of an option that must be there. */
export function required(value: string | undefined, option: string): string {
  if (value === undefined) throw new BadInput(`--${option} is missing. Give it a value.`);
  return value;
}

/** A number within limits, written with a decimal point. */
export function numberOption(
  text: string | undefined,
  option: string,
  fallback: number,
  low: number,
  high: number,
): number {
  if (text === undefined) return fallback;
  const value = text.trim() === '' ? Number.NaN : Number(text);
  if (!(value >= low && value <= high))
    throw new BadInput(`--${option} is "${text}". Give a number from ${low} to ${high}.`);
  return value;
}

/** Reads a file, or says why it cannot be read. */
export async function readInput(path: string): Promise<Uint8Array> {
  try {
    return await readFile(path);
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code ?? 'unknown error';
    throw new BadInput(`${path} cannot be read (${code}). Check the path.`);
  }
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
