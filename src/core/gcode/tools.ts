import { pauseLines, type Pause } from '../printer/pause.ts';
import type { GcodeLayer, GcodeReport, PlacedEvent } from './report.ts';
import { OWN_MARK, type Block, type SwitchedOff } from './weave.ts';

/** How tool changes become swaps. */
export interface ToolsOptions {
  readonly pause: Pause;
  /** Change filament only in so many layers of a piece; above, the tool that lays most there does it all. Null: in all. */
  readonly onlyLayers: number | null;
  /** Whether lines that only prime the nozzle after a change are switched off: a purge by hand does that. */
  readonly dropPriming: boolean;
  /** What a tool's filament is called, and how much of it to purge, mm, where that is known. */
  readonly nameOf?: ((tool: number) => string) | undefined;
  readonly purgeMmOf?: ((from: number, to: number) => number) | undefined;
}

/** What is to be done to a file for several tools. */
export interface ToolsPlan {
  readonly blocks: readonly Block[];
  readonly off: readonly SwitchedOff[];
  readonly numbered: readonly PlacedEvent[];
  /** Lines that only prime the nozzle after a change; switched off where that is asked for and filament is relative. */
  readonly priming: number;
  /** Swaps in each layer that has some. */
  readonly perLayer: readonly { readonly layer: number; readonly swaps: number }[];
  readonly mostPerLayer: number;
  /** Layers whose filament changes between laid lines. */
  readonly inside: readonly number[];
}

/** More swaps in one layer than this nobody does without having said so. */
export const USUAL_SWAPS_A_LAYER = 2;

/**
 * Makes swaps of tool changes, for a printer with one nozzle: each line that changes the tool is switched off, and a swap stands in
 * its place; a tool that is chosen again changes nothing, and the one that the file begins with is loaded before. Lines that heat
 * or wait for a tool that is not there are switched off too; nothing is deleted.
 */
export function planToolsToPauses(
  report: GcodeReport,
  { pause, onlyLayers, dropPriming, nameOf, purgeMmOf }: ToolsOptions,
): ToolsPlan {
  const layerOf = new Map(report.layers.map((layer) => [layer.layer, layer]));
  const blocks: Block[] = [];
  const off: SwitchedOff[] = [];
  const numbered: PlacedEvent[] = [];
  const counts = new Map<number, number>();
  const inside = new Set<number>();
  const above = ({ layerOfObject }: GcodeLayer): boolean =>
    onlyLayers !== null && layerOfObject > onlyLayers;
  const body = mostUsed(report.layers.filter(above));
  const switchOff = (event: PlacedEvent): void => {
    if (event.numbered) numbered.push(event);
    else off.push(event);
  };
  let loaded = loadedAtFirst(report);
  const change = (to: number, layer: GcodeLayer, at: Place, within: boolean): void => {
    if (to === loaded) return;
    blocks.push(
      blockOf(layer, at, { number: blocks.length + 1, pause, from: loaded, to, nameOf, purgeMmOf }),
    );
    counts.set(layer.layer, (counts.get(layer.layer) ?? 0) + 1);
    if (within) inside.add(layer.layer);
    loaded = to;
  };
  /** Above the layers with changes one filament goes on, which may have to be put in once. */
  let settled = 0;
  const settle = (line: number): void => {
    for (let layer = report.layers[settled]; layer; layer = report.layers[settled]) {
      if (layer.place.line > line) return;
      settled += 1;
      if (above(layer) && body !== null) change(body, layer, layer.place, false);
    }
  };
  for (const event of report.events) {
    settle(event.line);
    const layer = layerOf.get(event.layer);
    const fixed = layer !== undefined && above(layer);
    if (event.kind === 'heat' && event.tool !== null) {
      // With one nozzle there is one temperature: that of the filament in it.
      const idle = event.tool !== event.inUse || (fixed && event.tool !== body);
      if (event.tool === 0 && !idle) continue;
      switchOff(event);
      if (!idle && !event.numbered && layer)
        blocks.push(heatBlock(event, layer, blocks.length + 1));
    }
    if (event.kind !== 'tool' || event.tool === null) continue;
    switchOff(event);
    // With absolute filament the next line would push all of it out at once.
    if (dropPriming && report.relative) off.push(...(event.run?.lines ?? []));
    if (layer && !fixed) change(event.tool, layer, event, event.inside);
  }
  settle(Infinity);
  const perLayer = [...counts].map(([layer, swaps]) => ({ layer, swaps }));
  return {
    blocks,
    off,
    numbered,
    priming: report.events.reduce((sum, { run }) => sum + (run?.lines.length ?? 0), 0),
    perLayer,
    mostPerLayer: perLayer.reduce((most, { swaps }) => Math.max(most, swaps), 0),
    inside: [...inside],
  };
}

/** The tool whose filament is in the nozzle before anything is laid. */
function loadedAtFirst({ events }: GcodeReport): number {
  const first = events.find(({ kind }) => kind === 'tool');
  if (!first) return 0;
  return first.layer === 1 && !first.inside ? (first.tool ?? 0) : first.inUse;
}

type Place = Pick<PlacedEvent, 'line' | 'offset'>;

/** The tool that lays most in some layers; null where they are none. */
function mostUsed(layers: readonly GcodeLayer[]): number | null {
  const strand = new Map<number, number>();
  for (const { byTool } of layers)
    for (const [tool, mm] of byTool) strand.set(tool, (strand.get(tool) ?? 0) + mm);
  return [...strand].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
}

function blockOf(
  layer: GcodeLayer,
  { line, offset }: Place,
  {
    number,
    pause,
    nameOf = (tool) => `tool ${tool}`,
    purgeMmOf = () => 0,
    ...tools
  }: Pick<ToolsOptions, 'pause' | 'nameOf' | 'purgeMmOf'> & {
    readonly number: number;
    readonly from: number;
    readonly to: number;
  },
): Block {
  const from = nameOf(tools.from);
  const to = nameOf(tools.to);
  const values = {
    swap: number,
    layer: layer.layerOfObject,
    stopMm: Math.round((layer.topMm - layer.heightMm) * 1e4) / 1e4,
    topMm: layer.topMm,
    from,
    to,
    purgeMm: purgeMmOf(tools.from, tools.to),
    stamp: '',
  };
  return {
    kind: 'tool',
    number,
    swap: 0,
    layer,
    line,
    offset,
    from,
    to,
    lines: [
      `${OWN_MARK}begin swap ${number}`,
      `; ${from} out, ${to} in`,
      ...pauseLines(pause, values),
      `${OWN_MARK}end swap ${number}`,
    ],
  };
}

/** A temperature of the tool in use, told to the one nozzle that there is. */
function heatBlock({ text, line, offset }: PlacedEvent, layer: GcodeLayer, number: number): Block {
  return {
    kind: 'heat',
    number,
    swap: 0,
    layer,
    line,
    offset,
    from: '',
    to: '',
    lines: [
      `${OWN_MARK}begin heat ${number}`,
      text
        .replace(/;.*$/, '')
        .replace(/\s*T\d+/i, '')
        .trimEnd(),
      `${OWN_MARK}end heat ${number}`,
    ],
  };
}
