import type { PrinterRun, LaidSpool } from './printer-run.ts';
import { firstAtLeast, type LaidLayer, type LaidPrint } from './laid-print.ts';

/** A stretch of a layer that one spool laid. */
export interface LaidStretch {
  /** Slots of the layer up to this one, not with it, counted from its first. */
  readonly toSlot: number;
  readonly spool: string | null;
}

/** Which spools laid a layer, in the order of time. */
export function stretchesOf(
  { layers, slotS }: LaidPrint,
  layerIndex: number,
  laid: readonly LaidSpool[],
): LaidStretch[] {
  const layer = layers[layerIndex];
  if (!layer) return [];
  const end = layers[layerIndex + 1]?.firstSlot ?? slotS.length;
  const stretches: LaidStretch[] = [];
  laid.forEach(({ spool }, n) => {
    // A line belongs to the spool that is on when it ends; what ends in the moment of a change was laid before it.
    const next = laid[n + 1];
    const to = next ? Math.min(end, firstAtLeast(slotS, next.fromS + 1e-9)) : end;
    const toSlot = to - layer.firstSlot;
    if (toSlot <= (stretches.at(-1)?.toSlot ?? 0)) return;
    stretches.push({ toSlot, spool });
  });
  return stretches;
}

/** The last value of `LaidLayer.order` that lies before a slot. */
export function orderBefore({ shift }: LaidLayer, toSlot: number): number {
  return toSlot <= 0 ? 0 : 1 + ((toSlot - 1) >> shift);
}

/** How a band came out. */
export interface BandScore {
  /** Filament that it is planned in; a band is a run of such layers. */
  readonly filament: string;
  readonly firstLayer: number;
  readonly lastLayer: number;
  readonly cells: number;
  readonly right: number;
}

/** How a print came out. */
export interface Score {
  /** Share of the laid cells whose filament is the planned one, 0..1. */
  readonly score: number;
  readonly bands: readonly BandScore[];
  /** First layer with a cell in another filament than planned, counted from 1; null where there is none. */
  readonly firstWrongLayer: number | null;
  /** Cells that were run over; a print that was ended early has fewer than the file. */
  readonly cells: number;
}

/**
 * Compares what was laid with what was planned, cell by cell and layer by layer. A cell that was run over without filament counts, and
 * is wrong.
 * @param planned filament of each layer of the file
 * @param untilS seconds of printing that were run; all by default
 */
export function scoreOf(
  print: LaidPrint,
  planned: readonly string[],
  laid: readonly LaidSpool[],
  untilS = Infinity,
): Score {
  const bands: { -readonly [Key in keyof BandScore]: BandScore[Key] }[] = [];
  let firstWrongLayer: number | null = null;
  const asPlanned = plannedLaid(print, planned);
  print.layers.forEach((_, index) => {
    const wanted = planned[index] ?? '';
    const { cells, right } = countLayer(print, index, asPlanned, laid, untilS);
    if (right < cells) firstWrongLayer ??= index + 1;
    let band = bands.at(-1);
    if (band?.filament !== wanted) {
      band = { filament: wanted, firstLayer: index + 1, lastLayer: index + 1, cells: 0, right: 0 };
      bands.push(band);
    }
    band.lastLayer = index + 1;
    band.cells += cells;
    band.right += right;
  });
  const cells = bands.reduce((sum, band) => sum + band.cells, 0);
  const right = bands.reduce((sum, band) => sum + band.right, 0);
  return { score: cells === 0 ? 1 : right / cells, bands, firstWrongLayer, cells };
}

/** Cells of a layer that were run over, and those of them in the filament that is planned. */
function countLayer(
  print: LaidPrint,
  index: number,
  planned: readonly LaidSpool[],
  laid: readonly LaidSpool[],
  untilS: number,
): { readonly cells: number; readonly right: number } {
  const layer = print.layers[index] as LaidLayer;
  const stretches = stretchesOf(print, index, laid);
  const all = stretches.at(-1)?.toSlot ?? 0;
  const run = Number.isFinite(untilS)
    ? Math.min(all, firstAtLeast(print.slotS, untilS + 1e-9) - layer.firstSlot)
    : all;
  if (run <= 0) return { cells: 0, right: 0 };
  const [only] = stretches;
  const wanted = stretchesOf(print, index, planned);
  if (only && run >= all && only.toSlot === all && wanted.length === 1)
    return { cells: layer.cells, right: only.spool === wanted[0]?.spool ? layer.cells : 0 };
  // How many cells each value of the order has, so that every stretch is one sum.
  const counts = new Uint32Array(orderBefore(layer, all) + 2);
  for (const value of layer.order) counts[value] = (counts[value] as number) + 1;
  let cells = 0;
  let right = 0;
  let from = 1;
  for (const { toSlot, isRight } of sharedStretches(stretches, wanted)) {
    const to = orderBefore(layer, Math.min(toSlot, run));
    let sum = 0;
    for (let value = from; value <= to; value += 1) sum += counts[value] as number;
    cells += sum;
    if (isRight) right += sum;
    from = Math.max(from, to + 1);
  }
  return { cells, right };
}

/** Stretches of a layer in which neither what was laid nor what was planned changes. */
function sharedStretches(
  laid: readonly LaidStretch[],
  planned: readonly LaidStretch[],
): { readonly toSlot: number; readonly isRight: boolean }[] {
  const ends = [...new Set([...laid, ...planned].map(({ toSlot }) => toSlot))].sort(
    (a, b) => a - b,
  );
  const at = (stretches: readonly LaidStretch[], slot: number): string | null | undefined =>
    stretches.find(({ toSlot }) => toSlot >= slot)?.spool;
  return ends.map((toSlot) => ({ toSlot, isRight: at(laid, toSlot) === at(planned, toSlot) }));
}

/** What laid a run, and how far it came. */
export function scoreOfRun(
  print: LaidPrint,
  planned: readonly string[],
  { laid, printS, state }: Pick<PrinterRun, 'laid' | 'printS' | 'state'>,
): Score {
  return scoreOf(
    print,
    planned,
    laid,
    state === 'done' && printS >= print.totalS ? Infinity : printS,
  );
}

/** The spools that lie where everything goes as planned. */
export function plannedLaid(
  { layers, slotS, stops }: Pick<LaidPrint, 'layers' | 'slotS' | 'stops'>,
  planned: readonly string[],
): LaidSpool[] {
  const laid: LaidSpool[] = [];
  const go = (fromS: number, spool: string): void => {
    if (laid.at(-1)?.spool !== spool) laid.push({ fromS, spool });
  };
  const within = stops.filter(({ wants }) => wants !== undefined);
  layers.forEach(({ firstSlot }, index) => {
    go(index === 0 || firstSlot === 0 ? 0 : (slotS[firstSlot - 1] as number), planned[index] ?? '');
    for (const { layer, atS, wants } of within) if (layer === index + 1) go(atS, wants ?? '');
  });
  return laid;
}
