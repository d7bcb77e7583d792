import { strToU8 } from 'fflate';
import { pauseLines, type Pause } from '../printer/pause.ts';
import { checkPauseLines, type PauseTrouble } from './pause-check.ts';
import {
  beginsWithin,
  bottomFilament,
  filamentName,
  layerOfSwap,
  plannedObjects,
  type PlannedSwap,
  type PrintPlan,
} from './print-plan.ts';
import type { GcodeLayer, GcodeReport, PlacedEvent } from './report.ts';
import type { Change } from './source.ts';

/** What our own lines in a file begin with. They are remarks: no printer runs them. */
export const OWN_MARK = ';@strata ';
const OFF_MARK = `${OWN_MARK}off `;

/** Lines that go into a file in front of one of its lines. */
export interface Block {
  /** A swap of the plan, the change back to the first filament before a further piece, one for a tool, or its temperature. */
  readonly kind: 'swap' | 'back' | 'tool' | 'heat';
  /** Counted from 1 through the file. */
  readonly number: number;
  /** Swap of the plan; 0 for a change back. */
  readonly swap: number;
  readonly layer: GcodeLayer;
  readonly line: number;
  readonly offset: number;
  readonly from: string;
  readonly to: string;
  readonly lines: readonly string[];
}

/** A line that is made a remark. */
export interface SwitchedOff {
  readonly line: number;
  readonly offset: number;
  readonly text: string;
}

/** What is to be done to a file, before anything is written. */
export interface Weaving {
  readonly blocks: readonly Block[];
  readonly off: readonly SwitchedOff[];
  /** Pauses of the file that stand where the plan wants one: they are left, and nothing is put in there. */
  readonly kept: readonly PlacedEvent[];
  /** Swaps above all that is laid: they have no place. */
  readonly unplaced: readonly PlannedSwap[];
  /** Numbered lines that should be switched off: their checksums forbid it. */
  readonly numbered: readonly PlacedEvent[];
  /** What a text of the maker's own leaves as it should not. */
  readonly troubles: readonly PauseTrouble[];
}

export interface WeaveOptions {
  readonly pause: Pause;
  /** Whether pauses of the file that the plan does not want are switched off. */
  readonly switchOff: boolean;
  /** Swaps that are put into the same file by others: numbers go on after theirs. */
  readonly after?: number | undefined;
}

/**
 * Where the swaps of a plan go in a file. Each stands after the last laid line of the layer below, before the move up and the
 * travel, and never between drawing the strand back and pushing it on; pieces that are printed one after the other get all of
 * them, with a change back in between.
 * @param report of a file without lines of our own, see `takeOut`
 */
export function planWeave(
  report: GcodeReport,
  plan: PrintPlan,
  { pause, switchOff, after = 0 }: WeaveOptions,
): Weaving {
  const blocks: Block[] = [];
  const kept: PlacedEvent[] = [];
  const placed = new Set<PlannedSwap>();
  const troubles: PauseTrouble[] = [];
  const pauses = report.pauses.filter(({ layer }) => layer > 0);
  const objects = plannedObjects(report, plan);
  let loaded = (objects[0] && bottomFilament(objects[0], plan)) ?? '';
  const purgeOf = ({ swap, to }: Pick<PlannedSwap, 'swap' | 'to'>): number => {
    const own = plan.purgesMm?.[plan.swaps.findIndex((one) => one.swap === swap)];
    // From one inlay to the next, and from the last to the rest.
    const filaments = plan.flush?.filaments ?? [];
    const next = filaments.indexOf(to);
    return own ?? plan.flush?.purgesMm[(next < 0 ? filaments.length : next) - 1] ?? 0;
  };
  const put = (
    kind: Block['kind'],
    planned: Omit<PlannedSwap, 'from'> & { readonly from: string },
    layer: GcodeLayer,
  ): void => {
    const there = pauses.find((one) => one.layer === layer.layer && !one.inside);
    if (there?.command.toUpperCase() === pause.command.toUpperCase()) {
      kept.push(there);
      return;
    }
    const number = after + blocks.length + 1;
    const lines = pauseLines(pause, {
      swap: number,
      layer: layer.layerOfObject,
      stopMm: planned.stopAfterMm,
      topMm: layer.topMm,
      from: filamentName(plan, planned.from),
      to: filamentName(plan, planned.to),
      purgeMm: purgeOf(planned),
      stamp: plan.stamp,
    });
    if (pause.command === 'custom' && troubles.length === 0)
      troubles.push(...checkPauseLines(lines, layer.place.state));
    const { line, offset } = layer.place;
    const { from, to } = planned;
    blocks.push({
      kind,
      number,
      swap: kind === 'swap' ? planned.swap : 0,
      layer,
      line,
      offset,
      from,
      to,
      lines: blockLines(number, plan, { ...planned, lines }),
    });
  };
  for (const { layers, inlay } of objects) {
    const first = layers[0];
    const bottom = bottomFilament({ inlay }, plan);
    // What begins with an inlay of its own layer has a tool of its own in the file, which becomes the swap.
    const byTool = beginsWithin(plan) > 0;
    if (first && bottom !== undefined && loaded !== bottom && !byTool)
      put(
        'back',
        { swap: 0, layer: 1, stopAfterMm: 0, layerTopMm: first.topMm, from: loaded, to: bottom },
        first,
      );
    loaded = (byTool ? plan.flush?.body : bottom) ?? '';
    if (inlay > 0) continue;
    for (const swap of plan.swaps) {
      const layer = layerOfSwap(layers, swap);
      if (!layer) continue;
      placed.add(swap);
      put('swap', swap, layer);
      loaded = swap.to;
    }
  }
  const wrong = switchOff ? pauses.filter((one) => !kept.includes(one)) : [];
  return {
    blocks,
    off: wrong.filter(({ numbered }) => !numbered),
    kept,
    unplaced: plan.swaps.filter((swap) => !placed.has(swap)),
    numbered: wrong.filter(({ numbered }) => numbered),
    troubles,
  };
}

/** The lines of a block: what they are stands in front, so that they can be found and taken out. */
function blockLines(
  number: number,
  { stamp, filaments }: PrintPlan,
  {
    from,
    to,
    stopAfterMm,
    lines,
  }: {
    readonly from: string;
    readonly to: string;
    readonly stopAfterMm: number;
    readonly lines: readonly string[];
  },
): string[] {
  const name = (id: string): string => inRemark(filaments?.[id] ?? id);
  return [
    `${OWN_MARK}begin swap ${number}${stamp === '' ? '' : ` stamp ${inRemark(stamp)}`}`,
    `; ${stopAfterMm > 0 ? `${stopAfterMm} mm finished: ` : ''}${name(from)} out, ${name(to)} in`,
    ...lines,
    `${OWN_MARK}end swap ${number}`,
  ];
}

/** A name that cannot end its remark, nor be taken for a line of ours. */
function inRemark(name: string): string {
  return name.replace(/[^\p{L}\p{N} .,:+()-]/gu, ' ').trim();
}

/** The bytes of lines in a file's own line end. */
export function lineBytes(lines: readonly string[], crlf: boolean): Uint8Array {
  const end = crlf ? '\r\n' : '\n';
  return strToU8(lines.map((line) => `${line}${end}`).join(''));
}

/** Blocks and switched off lines as changes of the bytes. Every change is bytes put in at the start of a line. */
export function changesOf(
  { blocks, off }: Pick<Weaving, 'blocks' | 'off'>,
  crlf: boolean,
): Change[] {
  const mark = strToU8(OFF_MARK);
  return [
    ...blocks.map(({ offset, lines }) => ({ at: offset, put: lineBytes(lines, crlf) })),
    ...off.map(({ offset }) => ({ at: offset, put: mark })),
  ].sort((one, other) => one.at - other.at);
}
