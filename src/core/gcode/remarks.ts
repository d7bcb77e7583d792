import { PAUSE_COMMANDS } from '../printer/pause.ts';
import { PARTS, type Part } from './records.ts';

/** M codes with which a printer stops, besides those that we write. Common practice, no source. */
const OTHER_PAUSES = [125, 226, 601];
/** M codes with which a printer stops. */
export const PAUSE_CODES: ReadonlySet<number> = new Set([
  ...PAUSE_COMMANDS.filter((command) => /^M\d+$/.test(command)).map((code) =>
    Number(code.slice(1)),
  ),
  ...OTHER_PAUSES,
]);
/** Named commands with which it does. */
export const PAUSE_NAMES = new RegExp(
  `^(?:${PAUSE_COMMANDS.filter((command) => !/^[MT]\d+$|^custom$/.test(command)).join('|')})\\b`,
  'i',
);
/** The named command with which a line makes a printer stop; null where it is none. */
export function pauseName(text: string): string | null {
  return PAUSE_NAMES.test(text) ? (/^@?\w+/.exec(text)?.[0] ?? null) : null;
}

/** M codes that set the temperature of a nozzle. */
export const HEAT_CODES: ReadonlySet<number> = new Set([104, 109]);

const MARK =
  /^(?:(?:before_|after_)?layer_change|change_layer|layer\s+change|layer\s*:?\s*#?\s*-?\d+)\b(?!\s*=)/i;
const PART_REMARK = /^(?:type|feature)\s*[:=]\s*(.*)$/i;
const SETTING = /^([A-Za-z][A-Za-z0-9_ ]{1,40}?)\s*[=:]\s*(.{1,80})$/;
const OWN = /^@strata\s/;

/** What a remark says, as far as it matters here. */
export type Remark =
  | { readonly kind: 'mark' }
  /** Lines of ours, and lines that we switched off. */
  | { readonly kind: 'own' | 'off'; readonly text: string }
  | { readonly kind: 'part'; readonly part: Part }
  | { readonly kind: 'setting'; readonly name: string; readonly value: string };

/** Reads a remark, its sign and lines drawn with dashes left out; null where it says nothing of that. */
export function readRemark(line: string): Remark | null {
  const text = line.replace(/^[;\s\-=*#]+/, '').trimEnd();
  if (MARK.test(text)) return { kind: 'mark' };
  if (OWN.test(text)) return { kind: text.startsWith('@strata off') ? 'off' : 'own', text };
  const part = PART_REMARK.exec(text)?.[1]?.toLowerCase();
  if (part !== undefined) {
    const named = PARTS.find((name) => name !== 'body' && part.includes(name));
    return { kind: 'part', part: named ?? (part.includes('prime') ? 'tower' : 'body') };
  }
  const [, name, value] = SETTING.exec(text) ?? [];
  return name && value
    ? { kind: 'setting', name: name.trim().toLowerCase(), value: value.trim() }
    : null;
}
