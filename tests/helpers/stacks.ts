import type { Filament } from '#core/stack/filament.ts';
import { USUAL_GRID } from '#core/stack/layer-grid.ts';
import type { Stack } from '#core/stack/stack.ts';

function filament(id: string, colour: string, transmissionMm: number): Filament {
  return {
    id,
    maker: 'Brightloom',
    name: id,
    material: 'PLA',
    colour,
    transmissionMm,
    basis: { kind: 'hiding' },
    found: 'label',
    densityGCm3: 1.24,
    diameterMm: 1.75,
    onHand: true,
    note: '',
  };
}

const IDS = ['soot', 'rust', 'ivory', 'sky'] as const;

/** A small rack for tests: a black, a rust, an ivory and a blue. */
export const FILAMENTS: Readonly<Record<string, Filament>> = {
  soot: filament('soot', '#15161a', 0.5),
  rust: filament('rust', '#a8451f', 2),
  ivory: filament('ivory', '#f0e8d6', 6),
  sky: filament('sky', '#2f6fb4', 2.4),
};

/** A stack of these filaments, in that order from the plate up, with so many layers each. */
export function stackOf(...layers: number[]): Stack {
  return {
    grid: USUAL_GRID,
    bands: layers.map((count, i) => ({ filamentId: IDS[i % IDS.length] ?? 'soot', layers: count })),
  };
}
