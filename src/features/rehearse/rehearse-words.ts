import type { LaidSpool } from '#core/rehearse/printer-run.ts';
import { bandLetter } from '#core/stack/stack.ts';
import type { Filament } from '#core/stack/filament.ts';
import type { RehearsedFacts, TimedLayer } from '../../workers/rehearse/jobs.ts';

/** A run of layers in one filament, on the time line. */
export interface TimedBand {
  readonly index: number;
  readonly letter: string;
  readonly filament: string;
  readonly name: string;
  readonly maker: string;
  readonly colour: string;
  readonly firstLayer: number;
  readonly layers: number;
  readonly beginS: number;
  readonly endS: number;
}

/** Bands in the order of the file; pieces printed one after the other have theirs anew. */
export function timedBands(
  layers: readonly TimedLayer[],
  filaments: Readonly<Record<string, Filament>>,
): TimedBand[] {
  const bands: { -readonly [Key in keyof TimedBand]: TimedBand[Key] }[] = [];
  layers.forEach(({ filament, part: index, beginS, endS }, n) => {
    const last = bands.at(-1);
    if (last?.filament === filament) {
      last.layers += 1;
      last.endS = endS;
      return;
    }
    const known = filaments[filament];
    bands.push({
      index,
      letter: bandLetter(index),
      filament,
      name: known?.name ?? filament,
      maker: known?.maker ?? '',
      colour: known?.colour ?? '#6e6e6e',
      firstLayer: n + 1,
      layers: 1,
      beginS,
      endS,
    });
  });
  return bands;
}

/** A time of the clock, `1 h 36 min 05 s`. */
export function formatClock(seconds: number): string {
  const whole = Math.floor(seconds);
  const hours = Math.floor(whole / 3600);
  const minutes = Math.floor(whole / 60) % 60;
  const rest = String(whole % 60).padStart(2, '0');
  return hours > 0
    ? `${hours} h ${String(minutes).padStart(2, '0')} min ${rest} s`
    : `${minutes} min ${rest} s`;
}

/** A short time, `21 min` or `42 s`. */
export function formatWait(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  if (whole < 100) return `${whole} s`;
  const minutes = Math.round(whole / 60);
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

/** The layer that is laid at a moment, counted from 1; 0 before the first. */
export function layerOfMoment({ layers }: RehearsedFacts, atS: number): number {
  let layer = 0;
  while (layer < layers.length && (layers[layer]?.beginS ?? Infinity) < atS - 1e-6) layer += 1;
  return layer;
}

/** What belongs on the printer at a moment, and what comes after it. */
export function wantedAt(
  planned: readonly LaidSpool[],
  atS: number,
): { readonly now: string | null; readonly next: LaidSpool | null } {
  const at = planned.findLastIndex(({ fromS }) => fromS <= atS + 1e-6);
  return { now: planned[at]?.spool ?? null, next: planned[at + 1] ?? null };
}
