import { computeRamp, COVERED, type Ply, type Ramp } from '../optics/ramp.ts';
import { opticsOf, type Filament } from './filament.ts';
import { layerThicknessMm } from './layer-grid.ts';
import { bandEnds, type Stack } from './stack.ts';

/** Filaments by id. */
export type FilamentTable = Readonly<Record<string, Filament>>;

/**
 * The ramp of a stack.
 * @throws RangeError when a band names a filament that is not in the table; readers of files check that first
 */
export function rampOfStack(stack: Stack, filaments: FilamentTable, groundReflectance = 0): Ramp {
  const plies: Ply[] = [];
  stack.bands.forEach((band, bandIndex) => {
    const filament = filaments[band.filamentId];
    if (!filament) throw new RangeError(`no filament ${band.filamentId}`);
    const optics = opticsOf(filament);
    for (let i = 0; i < band.layers; i += 1)
      plies.push({
        optics,
        thicknessMm: layerThicknessMm(stack.grid, plies.length + 1),
        bandIndex,
        spreadMm: filament.spreadMm,
      });
  });
  return computeRamp(plies, groundReflectance);
}

/**
 * For each band, the number (counted from 1) of the first layer at which it has covered what lies under it, or undefined
 * where it never does. Layers of the band above that one change nothing to be seen.
 */
export function coverLayers(stack: Stack, ramp: Ramp): (number | undefined)[] {
  let start = 0;
  return bandEnds(stack.bands).map((end) => {
    let found: number | undefined;
    for (let layerNumber = start + 1; layerNumber <= end; layerNumber += 1) {
      if ((ramp[layerNumber - 1]?.cover ?? 0) >= COVERED) {
        found = layerNumber;
        break;
      }
    }
    start = end;
    return found;
  });
}
