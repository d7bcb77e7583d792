import { noCheckpoint, partOf, type Checkpoint } from '../../base/checkpoint.ts';
import type { HeightMap } from '../../base/raster.ts';
import {
  inlaidMeshes,
  spanMeshes,
  type LayerSpan,
  type ReliefShape,
} from '../../relief/relief-mesh.ts';
import type { Mesh } from '../../relief/terrace-mesh.ts';
import { layerTopsMm } from '../../stack/layer-grid.ts';
import { bandEnds, bandLetter, totalLayers, type Stack } from '../../stack/stack.ts';
import type { FilamentTable } from '../../stack/stack-ramp.ts';
import type { FaceView } from '../../tags/face-ramp.ts';

/** A relief ready to be written: heights already free of diagonal contacts. */
export interface ReliefSource extends ReliefShape {
  readonly stack: Stack;
  readonly filaments: FilamentTable;
  readonly stamp: string;
  readonly title: string;
  /** How it is looked at, where a face of it lies on the bed. */
  readonly looked?: { readonly view: FaceView; readonly heights: HeightMap } | undefined;
}

/** One solid of a file. */
export interface NamedSolid {
  readonly name: string;
  /** `#rrggbb` */
  readonly colour: string;
  readonly mesh: Mesh;
  /** Height of the solid's underside above the plate, mm. */
  readonly liftMm: number;
}

/** The part of the layers that each band takes, with its levels over its own underside. */
export function bandSpans(stack: Stack): LayerSpan[] {
  const tops = layerTopsMm(stack.grid, totalLayers(stack.bands));
  const ends = bandEnds(stack.bands);
  return ends.map((end, i) => {
    const below = ends[i - 1] ?? 0;
    return {
      below,
      end,
      levelMm: Float64Array.from(
        { length: end - below + 1 },
        (_, n) => (tops[below + n] ?? 0) - (tops[below] ?? 0),
      ),
    };
  });
}

/**
 * The relief as one solid for each band, named with letter and filament; bands that nothing reaches have no triangles. Inlays come
 * after them.
 */
export function bandSolids(
  source: ReliefSource,
  checkpoint: Checkpoint = noCheckpoint,
): NamedSolid[] {
  const { stack, filaments } = source;
  const tops = layerTopsMm(stack.grid, totalLayers(stack.bands));
  const spans = bandSpans(stack);
  const meshes = spanMeshes(source, spans, partOf(checkpoint, 0, source.inlaid ? 0.6 : 1));
  const inlays = inlaySolids(source, partOf(checkpoint, 0.6, 1));
  const bands = stack.bands.flatMap(({ filamentId }, i) => {
    const filament = filaments[filamentId];
    const mesh = meshes[i];
    return mesh
      ? [
          {
            name: `${bandLetter(i)} ${filament?.name ?? filamentId}`,
            colour: filament?.colour ?? '#808080',
            mesh,
            liftMm: tops[spans[i]?.below ?? 0] ?? 0,
          },
        ]
      : [];
  });
  return [...bands, ...inlays];
}

/** The inlays of a face on the bed as solids. */
export function inlaySolids(
  source: ReliefSource,
  checkpoint: Checkpoint = noCheckpoint,
): NamedSolid[] {
  const { stack, filaments, inlaid } = source;
  const tops = layerTopsMm(stack.grid, totalLayers(stack.bands));
  return (inlaidMeshes(source, tops, checkpoint)?.inlays ?? []).map((mesh, i) => {
    const id = inlaid?.filaments[i] ?? '';
    const filament = filaments[id];
    return {
      name: `${bandLetter(stack.bands.length + i)} ${filament?.name ?? id}`,
      colour: filament?.colour ?? '#808080',
      mesh,
      liftMm: 0,
    };
  });
}

/** What files say of the layers: what every swap height is counted from. */
export function describeGrid({ grid }: Stack): string {
  const base =
    grid.baseLayerMm !== undefined && (grid.baseLayers ?? 0) > 1
      ? `, ${grid.baseLayerMm} up to layer ${grid.baseLayers}`
      : '';
  return `layers ${grid.firstLayerMm}${base} then ${grid.layerMm}`;
}
