import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap } from '../base/raster.ts';
import { bandHeights } from '../relief/band-heights.ts';
import { buildTerraceMesh } from '../relief/terrace-mesh.ts';
import { layerTopsMm } from '../stack/layer-grid.ts';
import { bandEnds, bandLetter, totalLayers, type Stack } from '../stack/stack.ts';
import type { FilamentTable } from '../stack/stack-ramp.ts';
import { write3mf, type NamedSolid } from './write-3mf.ts';
import { writeStl } from './write-stl.ts';

/** A relief ready to be written: heights already free of diagonal contacts. */
export interface ReliefSource {
  readonly heights: HeightMap;
  readonly stack: Stack;
  readonly filaments: FilamentTable;
  readonly detailMm: number;
  readonly stamp: string;
  readonly title: string;
}

/** The whole relief as one binary STL whose header carries stamp and layer grid. */
export function reliefStl(
  source: ReliefSource,
  checkpoint: Checkpoint = noCheckpoint,
): { readonly bytes: Uint8Array<ArrayBuffer>; readonly triangles: number } {
  const { heights, stack, detailMm, stamp } = source;
  const tops = layerTopsMm(stack.grid, totalLayers(stack.bands));
  const mesh = buildTerraceMesh(heights, detailMm, tops, partOf(checkpoint, 0, 0.7));
  const { firstLayerMm, layerMm } = stack.grid;
  const bytes = writeStl(mesh, `Zesty Strata ${stamp} mm, layers ${firstLayerMm} then ${layerMm}`);
  checkpoint(1);
  return { bytes, triangles: mesh.triangles.length / 3 };
}

/** The relief as 3MF with one solid for each band. */
export function relief3mf(
  source: ReliefSource,
  checkpoint: Checkpoint = noCheckpoint,
): Uint8Array<ArrayBuffer> {
  const { heights, stack, filaments, detailMm } = source;
  const tops = layerTopsMm(stack.grid, totalLayers(stack.bands));
  const ends = bandEnds(stack.bands);
  const solids = stack.bands.map(({ filamentId }, i): NamedSolid => {
    const below = ends[i - 1] ?? 0;
    const end = ends[i] ?? below;
    const liftMm = tops[below] ?? 0;
    const levels = Float64Array.from(
      { length: end - below + 1 },
      (_, n) => (tops[below + n] ?? 0) - liftMm,
    );
    const filament = filaments[filamentId];
    return {
      name: `${bandLetter(i)} ${filament?.name ?? filamentId}`,
      colour: filament?.colour ?? '#808080',
      mesh: buildTerraceMesh(
        bandHeights(heights, below, end),
        detailMm,
        levels,
        partOf(checkpoint, (0.7 * i) / stack.bands.length, (0.7 * (i + 1)) / stack.bands.length),
      ),
      liftMm,
    };
  });
  const { firstLayerMm, layerMm } = stack.grid;
  return write3mf(solids, {
    Title: source.title,
    Application: 'Zesty Strata',
    Description: `Stamp ${source.stamp}; first layer ${firstLayerMm} mm, layers ${layerMm} mm`,
  });
}
