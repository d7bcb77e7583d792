import { bandFilaments, layerOfSwap, layersByObject, type PrintPlan } from './print-plan.ts';
import type { GcodeReport } from './report.ts';

/** Strand of one band as it is laid, in the order in which it is used. */
export interface BandStrand {
  readonly object: number;
  readonly filament: string;
  readonly firstLayer: number;
  readonly lastLayer: number;
  readonly strandMm: number;
  /** Seconds of printing. */
  readonly seconds: number;
  /** Strand and time from the beginning of the file to the end of the band: where it is joined or marked. */
  readonly markMm: number;
  readonly markS: number;
}

/**
 * Lengths of strand that each band takes in a sliced file, for joining filaments outside the printer or marking the strand. What is
 * pushed on before the first layer counts to the first band.
 */
export function bandStrands(report: GcodeReport, plan: PrintPlan): BandStrand[] {
  const filaments = bandFilaments(plan);
  const bands: BandStrand[] = [];
  let markMm = report.primingMm;
  let markS = report.primingS;
  layersByObject(report).forEach((layers, n) => {
    const starts = plan.swaps.flatMap((swap) => layerOfSwap(layers, swap)?.layer ?? []);
    const bounds = [layers[0]?.layer ?? 1, ...starts];
    bounds.forEach((firstLayer, i) => {
      const next = bounds[i + 1] ?? Infinity;
      const own = layers.filter(({ layer }) => layer >= firstLayer && layer < next);
      if (own.length === 0) return;
      const first = n === 0 && i === 0;
      const strandMm =
        own.reduce((sum, { filamentMm }) => sum + filamentMm, 0) + (first ? report.primingMm : 0);
      const seconds =
        own.reduce((sum, layer) => sum + layer.seconds, 0) + (first ? report.primingS : 0);
      markMm += strandMm - (first ? report.primingMm : 0);
      markS += seconds - (first ? report.primingS : 0);
      bands.push({
        object: n + 1,
        filament: filaments[i] ?? '',
        firstLayer,
        lastLayer: (own.at(-1) ?? { layer: firstLayer }).layer,
        strandMm,
        seconds,
        markMm,
        markS,
      });
    });
  });
  return bands;
}

/** Strand from the beginning of the file until all is laid up to a height, mm; of several pieces, those of all. */
export function strandUpTo({ layers, primingMm }: GcodeReport, heightMm: number): number {
  return layers
    .filter(({ topMm }) => topMm <= heightMm + 1e-6)
    .reduce((sum, { filamentMm }) => sum + filamentMm, primingMm);
}
