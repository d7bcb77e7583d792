import type { Fault } from '#core/base/result.ts';
import type { Finding, FindingCode } from '#core/gcode/finding.ts';
import type { PauseTrouble } from '#core/gcode/pause-check.ts';
import { filamentName, type PrintPlan } from '#core/gcode/print-plan.ts';
import type { GcodeFault } from '#core/gcode/read-gcode.ts';
import type { SwapsJsonFault } from '#core/formats/sheet/read-swaps-json.ts';

const FAULTS: Readonly<Record<GcodeFault['code'] | 'broken-block', string>> = {
  blank: 'All lines of the file are blank. Slice again and save the G-code anew.',
  'too-many-events':
    'The file has more than 50,000 pauses, tool changes and heats, which no print has. Was it made by a script that went wrong? Slice again.',
  empty: 'The file is empty. Slice again and save the G-code anew.',
  zip: 'This is a packed file. Take the G-code out of it, or let the slicing program save plain G-code.',
  picture: 'This is a picture, not G-code. The artwork is taken in on the shelf.',
  binary:
    'This is a binary file. Let the slicing program save G-code as text; some have a switch for binary G-code.',
  'no-lines':
    'The file has no line ends for more than 4 MB, so it is no G-code. Get it from the slicing program again.',
  'no-moves': 'There is no move in this file (no line like G1 X10). Is it the sliced file?',
  'nothing-laid':
    'The file moves the nozzle but lays no plastic: no line has X or Y and a growing E. Is it the sliced file?',
  'no-layers':
    'The height changes with nearly every line, so there are no layers to tell apart. Slice it in flat layers.',
  'broken-block':
    'The swaps that were woven into this file were changed by hand, so they cannot be taken out to the byte. Slice again.',
};

/** What is wrong with a sliced file, and what to do. */
export function describeGcodeFault({ code, detail }: Fault<keyof typeof FAULTS>): string {
  return code === 'broken-block' && detail ? `${FAULTS[code]} (at "${detail}")` : FAULTS[code];
}

/** What is wrong with a plan of swaps. */
export function describeSwapsFault({ code, where = '', detail = '' }: SwapsJsonFault): string {
  if (code === 'not-json') return 'it is no JSON. Choose the swaps.json that came with the relief.';
  if (code === 'not-rising')
    return `${where}: each swap must lie above the one before it. Download the swaps anew.`;
  return `it is no list of swaps: ${where === '' ? '' : `${where}: `}${detail}. Choose the swaps.json that came with the relief.`;
}

const mm = (value: Finding['found']): string =>
  typeof value === 'number' ? `${Number(value.toFixed(4))} mm` : (value ?? 'nothing');
const percent = (value: Finding['found']): string =>
  typeof value === 'number' ? `${(100 * value).toFixed(1)} %` : '';

interface Words {
  readonly title: string;
  /** What it is, and what to do about it. */
  readonly text: string;
}

type Speak = (finding: Finding, plan: PrintPlan) => Words;

/** Which filament would be on which side of a swap. */
function swapOf({ swap }: Finding, plan: PrintPlan): { from: string; to: string; number: string } {
  const own = plan.swaps.find((one) => one.swap === swap);
  return {
    from: own ? filamentName(plan, own.from) : 'the old filament',
    to: own ? filamentName(plan, own.to) : 'the new filament',
    number: String(swap ?? ''),
  };
}

const SPEAK: Readonly<Record<FindingCode, Speak>> = {
  'cut-off': ({ line }) => ({
    title: 'The file ends in the middle of the print',
    text: `Line ${line ?? ''} is the last one, and it still lays plastic: the file was not copied whole. Save or copy it again.`,
  }),
  'first-layer': ({ expected, found }) => ({
    title: `The first layer is ${mm(found)}, not ${mm(expected)}`,
    text: 'Every height above it is off by the difference. Set the first-layer height in the slicing program and slice again.',
  }),
  'layer-height': ({ expected, found }) => ({
    title: `Layers are ${mm(found)} high, not ${mm(expected)}`,
    text: 'Colours and swaps depend on it. Set the layer height in the slicing program and slice again.',
  }),
  'layer-uneven': ({ expected, found, layer, more = 0 }) => ({
    title: 'Layers are not all of one height',
    text: `Layer ${layer ?? ''} is ${mm(found)} instead of ${mm(expected)}${more > 0 ? `, and ${more} more are off` : ''}. Switch variable layer heights off and slice again.`,
  }),
  'layer-count': ({ expected, found }) => ({
    title: `${found ?? 0} layers, not ${expected ?? 0}`,
    text: 'Heights or size differ from the plan, or the top layer is too thin to be kept. Look at the other findings first.',
  }),
  'total-height': ({ expected, found }) => ({
    title: `It ends at ${mm(found)}, not at ${mm(expected)}`,
    text: 'The relief is taller or lower than planned. Slice it with the planned heights and without scaling Z.',
  }),
  'z-scaled': ({ found }) => ({
    title: `Scaled to ${percent(found)} in height`,
    text: 'All heights are off by one factor, so every swap is too. Set the size of Z back to 100 %: scale in X and Y only.',
  }),
  spiral: () => ({
    title: 'The nozzle rises all the time',
    text: 'A spiral has one wall and no full layers. Switch spiral printing off in the slicing program.',
  }),
  'swap-missing': (finding, plan) => {
    const { from, to, number } = swapOf(finding, plan);
    return {
      title: `Swap ${number} is missing`,
      text: `From ${mm(finding.expected)} on the printer would go on with ${from} in place of ${to}. Weave the swaps in, or add the pause before layer ${finding.layer ?? ''}.`,
    };
  },
  'swap-early': (finding, plan) => {
    const { from, to, number } = swapOf(finding, plan);
    return {
      title: `Swap ${number} comes too early`,
      text: `It stops at ${mm(finding.found)}; the sheet says ${mm(finding.expected)}. The top of ${from} would turn ${to}.`,
    };
  },
  'swap-late': (finding, plan) => {
    const { from, to, number } = swapOf(finding, plan);
    return {
      title: `Swap ${number} comes too late`,
      text: `It stops at ${mm(finding.found)}; the sheet says ${mm(finding.expected)}. The first of ${to} would still be ${from}.`,
    };
  },
  'swap-extra': ({ found, layer }) => ({
    title: `A pause that no swap needs, before layer ${layer ?? ''}`,
    text: `The printer stops at ${mm(found)}, where the sheet has no swap. Take it out, or weave the swaps in: it is switched off then.`,
  }),
  'swap-doubled': ({ layer }) => ({
    title: `Two pauses before layer ${layer ?? ''}`,
    text: 'The printer would stop twice for one swap. Take one of them out.',
  }),
  'swap-inside': (finding) => ({
    title: `Swap ${finding.swap ?? ''} stands inside layer ${finding.layer ?? ''}`,
    text: 'Plastic of that layer is laid before and after it, so the layer gets both colours. Move it to the layer’s beginning.',
  }),
  'pause-kind': ({ expected, found, more = 0 }) => ({
    title: `The printer may not obey ${found ?? ''}`,
    text: `It is known to stop at ${expected === '' ? 'another command' : (expected ?? '')}${more > 0 ? `; ${more + 1} pauses are of the other kind` : ''}. Print the pause tile to be sure, or weave the swaps in.`,
  }),
  'face-missing': ({ expected, found, layer }) => ({
    title: `Layer ${layer ?? ''} of the flush face changes filament ${found ?? 0} times`,
    text: `It takes ${expected ?? ''} within each of its layers. Slice it as several filaments, and make swaps of the tool changes.`,
  }),
  'one-by-one': ({ object }) => ({
    title: `Piece ${object ?? ''} begins with the last filament of the one before`,
    text: 'Pieces are printed one after the other, and nothing changes to the filament that it begins with. Weave the swaps in, or print all pieces together.',
  }),
  'other-stamp': ({ expected, found }) => ({
    title: `The swaps in the file are those of ${found ?? ''}`,
    text: `The sheet is ${expected ?? ''}: the project changed since. Slice the present relief, or weave the swaps in anew.`,
  }),
  brim: () => ({
    title: 'A brim around the first layer',
    text: 'A relief needs none; it leaves an edge to cut. Switch it off in the slicing program.',
  }),
  skirt: () => ({
    title: 'A skirt around the piece',
    text: 'It does no harm, but takes filament and room on the bed.',
  }),
  supports: ({ layer }) => ({
    title: `Supports from layer ${layer ?? ''}`,
    text: 'A relief lies flat and needs none; they would leave marks. Switch them off.',
  }),
  tower: ({ layer }) => ({
    title: `Something is printed beside the piece from layer ${layer ?? ''}`,
    text: 'A tower for priming is not needed with one nozzle: the purge is done by hand. Switch it off.',
  }),
  'not-solid': ({ found }) => ({
    title: `Only ${percent(found)} of the plastic that full layers take`,
    text: 'Light goes through gaps, and colours come out wrong. Set infill to 100 % with straight lines, and flow to 1.',
  }),
  size: ({ expected, found }) => ({
    title: `${found ?? ''} mm, not ${expected ?? ''} mm`,
    text: 'The piece was scaled in the slicing program. Set it back to 100 %, or size it in the project and export anew.',
  }),
  turned: ({ found }) => ({
    title: `Turned by ${found ?? ''}`,
    text: 'The piece lies turned on the plate. That changes nothing in the print.',
  }),
  mirrored: ({ found }) => ({
    title: `Mirrored, ${found ?? ''}`,
    text: 'The picture would come out the wrong way round. Take the mirroring out in the slicing program.',
  }),
  'other-picture': () => ({
    title: 'This is another relief',
    text: 'Its layers lie elsewhere than those of the project. Slice the relief that the sheet belongs to.',
  }),
  'bad-lines': ({ line, found, more = 0 }) => ({
    title: more > 0 ? `${more + 1} lines make no sense` : 'A line makes no sense',
    text: `Line ${line ?? ''}: ${found ?? ''}. A printer may stop there or skip it; the file may be damaged.`,
  }),
};

/** A finding in words: what it is, and what to do about it. */
export function describeFinding(finding: Finding, plan: PrintPlan): Words {
  const { title, text } = SPEAK[finding.code](finding, plan);
  const piece = finding.object !== undefined && finding.code !== 'one-by-one';
  return { title: piece ? `Piece ${finding.object ?? ''}: ${title}` : title, text };
}

const TROUBLES: Readonly<Record<PauseTrouble['what'], string>> = {
  'does-not-stop': 'No line of it makes the printer stop.',
  place: 'The nozzle stands elsewhere afterwards.',
  units: 'Units are others afterwards.',
  coordinates: 'Moves are meant otherwise afterwards (absolute or relative).',
  'filament-mode': 'Filament is meant otherwise afterwards (absolute or relative).',
  'filament-place': 'The filament counter stands elsewhere afterwards.',
  strand: 'The strand is drawn back, or pushed on, afterwards.',
  speed: 'The speed is another one afterwards.',
  tool: 'Another tool is chosen afterwards.',
  'bad-line': 'A line makes no sense:',
};

/** What a text of the maker's own leaves otherwise than it found it, with the lines that mend it. */
export function describePauseTrouble({ what, mend, text }: PauseTrouble): string {
  const said = `${TROUBLES[what]}${text === undefined ? '' : ` ${text}`}`;
  return mend === '' ? said : `${said} Add at its end: ${mend.replaceAll('\n', ', then ')}`;
}
