import type { Json } from '../base/canonical-json.ts';
import { stampOf } from '../base/stamp.ts';
import type { ToneRule } from '../heights/tone.ts';
import type { Stack } from '../stack/stack.ts';
import type { FilamentTable } from '../stack/stack-ramp.ts';
import type { SampleGrid } from '../relief/sampling.ts';

/** All that decides shape and sheet. */
export interface ExportState {
  /** SHA-256 of the artwork's original bytes, hex. */
  readonly artworkDigest: string;
  readonly rule: ToneRule;
  readonly leastLayers: number;
  readonly samples: SampleGrid;
  readonly stack: Stack;
  readonly filaments: FilamentTable;
}

/**
 * The stamp of an exported state: equal exactly where shape and sheet are. Names, notes and filaments that the stack does
 * not use do not count.
 */
export function stampOfExport(state: ExportState): string {
  const { stack, filaments, rule, samples } = state;
  const used: Json = stack.bands.map(({ filamentId, layers }) => {
    const filament = filaments[filamentId];
    return {
      id: filamentId,
      layers,
      colour: filament?.colour,
      transmissionMm: filament?.transmissionMm,
      threshold: filament?.basis.kind === 'light-through' ? filament.basis.threshold : 0,
    };
  });
  return stampOf({
    artwork: state.artworkDigest,
    rule: { ...rule },
    leastLayers: state.leastLayers,
    samples: { ...samples },
    grid: { ...stack.grid },
    bands: used,
  });
}
