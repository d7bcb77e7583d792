import { isPauseCommand, type Pause } from '../printer/pause.ts';
import { flushOrders, type FlushFace } from '../stack/flush.ts';
import { layerTopMm, type LayerGrid } from '../stack/layer-grid.ts';
import type { GcodeLayer, GcodeReport } from './report.ts';

/** A swap as a sheet plans it. */
export interface PlannedSwap {
  readonly swap: number;
  /** First layer in the new filament, counted from 1. */
  readonly layer: number;
  /** Tops of the last layer of the old filament and of the first one of the new, mm. */
  readonly stopAfterMm: number;
  readonly layerTopMm: number;
  readonly from: string;
  readonly to: string;
}

/** What a sliced file should be: what a swap sheet says for programs. What is not told is not checked. */
export interface PrintPlan {
  readonly stamp: string;
  readonly swaps: readonly PlannedSwap[];
  readonly layerGrid?: LayerGrid | undefined;
  readonly layers?: number | undefined;
  /** Of one piece, from left to right and from front to back, mm. */
  readonly widthMm?: number | undefined;
  readonly depthMm?: number | undefined;
  readonly lineMm?: number | undefined;
  /** Thickness of the strand, mm. */
  readonly filamentMm?: number | undefined;
  /** Of each layer of one piece, from layer 1. */
  readonly areasMm2?: readonly number[] | undefined;
  /** Middle of each layer, mm to the right and to the back of the middle of the piece. */
  readonly centresMm?: readonly (readonly [number, number])[] | undefined;
  /** Commands that the printer is known to obey; `custom` where it is a text of the maker's own. */
  readonly pauses?: readonly string[] | undefined;
  /** That text, see `Pause.text`. */
  readonly pauseText?: string | undefined;
  /** Pieces on the plate, and whether each is printed whole before the next. */
  readonly copies?: number | undefined;
  readonly oneByOne?: boolean | undefined;
  /** Strand to purge at each swap, mm. */
  readonly purgesMm?: readonly number[] | undefined;
  /** Names and colours (`#rrggbb`) of filaments, by id. */
  readonly filaments?: Readonly<Record<string, string>> | undefined;
  readonly colours?: Readonly<Record<string, string>> | undefined;
  /** A face on the bed with inlays of other filaments. Its changes of filament are none of `swaps`. */
  readonly flush?: PlannedFace | undefined;
}

/** A face on the bed with inlays. */
export interface PlannedFace extends FlushFace {
  /** Of the rest of the lowest layers. */
  readonly body: string;
  /** Of each inlay, and the strand to purge at each change. */
  readonly areasMm2: readonly number[];
  readonly purgesMm: readonly number[];
}

/** Diameter of a strand where none is told, mm. Common practice, no source. */
export const USUAL_STRAND_MM = 1.75;

/** How a filament is called in words. */
export function filamentName({ filaments }: PrintPlan, id: string): string {
  return filaments?.[id] ?? id;
}

/** Top of a layer by a plan's grid, mm; undefined where no grid is told. */
export function plannedTopMm({ layerGrid }: PrintPlan, layer: number): number | undefined {
  return layerGrid && layerTopMm(layerGrid, layer);
}

/** Most that a layer's top may lie above the height at which the printer stops, and still be the one below, mm. */
const SLACK_MM = 0.02;

/**
 * The layer of a piece in front of which a swap belongs: the first one that ends above the height at which the printer stops.
 * Heights are the safe way to say it: layers may be thicker below, or counted from 0.
 */
export function layerOfSwap(
  layers: readonly GcodeLayer[],
  { stopAfterMm }: Pick<PlannedSwap, 'stopAfterMm'>,
): GcodeLayer | undefined {
  return layers.find(
    ({ topMm, heightMm }) => topMm > stopAfterMm + Math.min(SLACK_MM, heightMm / 4),
  );
}

/** Layers of each piece, where they are printed one after the other; of all together otherwise. */
export function layersByObject({ layers }: Pick<GcodeReport, 'layers'>): GcodeLayer[][] {
  const objects: GcodeLayer[][] = [];
  for (const layer of layers) (objects[layer.object - 1] ??= []).push(layer);
  return objects;
}

/** The way to pause that a plan names first; M600 where it names none. */
export function pauseOfPlan({ pauses, pauseText = '' }: PrintPlan): Pause {
  const command = pauses?.find(isPauseCommand) ?? 'M600';
  return { command, text: command === 'custom' ? pauseText : '' };
}

/** The filaments of a plan's bands, from the plate up. */
export function bandFilaments({ swaps, flush }: PrintPlan): string[] {
  const first = swaps[0];
  if (first) return [first.from, ...swaps.map(({ to }) => to)];
  return flush ? [flush.body] : [];
}

/** The filaments of all parts of a plan: its bands from the plate up, and the inlays of a face after them. */
export function partFilaments(plan: PrintPlan): string[] {
  return [...bandFilaments(plan), ...(plan.flush?.filaments ?? [])];
}

/** An object of a file: a piece, or an inlay that is printed before it. */
export interface PlannedObject {
  readonly layers: readonly GcodeLayer[];
  /** The inlay by its number from 1; 0 where it is the piece. */
  readonly inlay: number;
}

/**
 * The objects of a file with what each is by a plan. Inlays that are printed first are told from pieces by their few layers: a file may
 * hold both, or either.
 */
export function plannedObjects(
  report: Pick<GcodeReport, 'layers'>,
  { flush }: Pick<PrintPlan, 'flush'>,
): PlannedObject[] {
  let inlay = 0;
  return layersByObject(report).map((layers) => {
    const isInlay = flush?.print === 'first' && layers.length <= flush.layers;
    inlay = isInlay ? inlay + 1 : 0;
    return { layers, inlay };
  });
}

/** The filament that an object begins with; undefined where nothing tells it. */
export function bottomFilament(
  { inlay }: Pick<PlannedObject, 'inlay'>,
  plan: PrintPlan,
): string | undefined {
  const { flush } = plan;
  const part = inlay > 0 ? inlay : beginsWithin(plan);
  return part > 0 ? flush?.filaments[part - 1] : bandFilaments(plan)[0];
}

/** The part that a piece begins with whose filaments are changed within its layers: an inlay by its number, or 0. */
export function beginsWithin({ flush }: Pick<PrintPlan, 'flush'>): number {
  return flush?.print === 'within' ? (flushOrders(flush)[0]?.[0] ?? 0) : 0;
}

/** A file without the inlays that are printed before its pieces: what of it is a piece as any other. */
export function withoutInlays(report: GcodeReport, plan: PrintPlan): GcodeReport {
  const objects = plannedObjects(report, plan);
  const pieces = objects.filter(({ inlay }) => inlay === 0);
  if (pieces.length === objects.length) return report;
  const layers = pieces.flatMap(({ layers: own }, n) =>
    own.map((layer) => ({ ...layer, object: n + 1 })),
  );
  const kept = new Set(layers.map(({ layer }) => layer));
  return {
    ...report,
    layers,
    objects: pieces.length,
    pauses: report.pauses.filter(({ layer }) => kept.has(layer)),
    events: report.events.filter(({ layer }) => kept.has(layer)),
  };
}

/**
 * The band that each layer of a file belongs to, by its height; element 0 is that of layer 1. Inlays that are printed first come after
 * all bands, see {@link partFilaments}.
 */
export function bandOfLayers(report: GcodeReport, plan: PrintPlan): number[] {
  const bands = report.layers.map(() => 0);
  const inlaysFrom = bandFilaments(plan).length;
  for (const { layers, inlay } of plannedObjects(report, plan)) {
    if (inlay > 0) for (const { layer } of layers) bands[layer - 1] = inlaysFrom + inlay - 1;
    else
      plan.swaps.forEach((swap, n) => {
        const first = layerOfSwap(layers, swap);
        if (!first) return;
        for (const { layer } of layers) if (layer >= first.layer) bands[layer - 1] = n + 1;
      });
  }
  return bands;
}
