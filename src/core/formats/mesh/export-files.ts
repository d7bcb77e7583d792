import type { BytePieces } from '../../base/byte-pieces.ts';
import { noCheckpoint, partOf, type Checkpoint } from '../../base/checkpoint.ts';
import type { HeightMap, RgbaRaster } from '../../base/raster.ts';
import { paintPrint } from '../../heights/height-map.ts';
import type { Ramp } from '../../optics/ramp.ts';
import { reliefMesh } from '../../relief/relief-mesh.ts';
import { layerTopsMm } from '../../stack/layer-grid.ts';
import { totalLayers } from '../../stack/stack.ts';
import { rampOfStack } from '../../stack/stack-ramp.ts';
import { bandSolids, describeGrid, type ReliefSource } from './band-solids.ts';
import { relief3mf, reliefStl } from './relief-files.ts';
import { writeGlb } from './write-glb.ts';
import { writeObj } from './write-obj.ts';
import { areasSvg, layersSvg } from './write-svg.ts';

/** What a relief can be written as. */
export const EXPORT_FORMATS = [
  'stl',
  '3mf',
  'stl-text',
  'obj',
  'glb',
  'heights',
  'print',
  'layers',
  'areas',
] as const;
export type ExportFormat = (typeof EXPORT_FORMATS)[number];

/** How pictures are written: the core has no encoder of its own. */
export interface PictureEncoders {
  /** 16-bit grey: the number of layers, 0 where nothing is printed. */
  readonly heights: (heights: HeightMap) => Uint8Array<ArrayBuffer>;
  readonly picture: (picture: RgbaRaster) => Uint8Array<ArrayBuffer>;
}

/** A finished file. */
export interface ExportFile {
  /** Its name after the stem that all files of one export share. */
  readonly suffix: string;
  readonly type: string;
  readonly pieces: BytePieces;
  /** 0 where it holds none. */
  readonly triangles: number;
}

/** Writes a relief in one format. */
export function exportFile(
  format: ExportFormat,
  source: ReliefSource,
  encoders: PictureEncoders,
  checkpoint: Checkpoint = noCheckpoint,
): ExportFile {
  const text = (suffix: string, type: string, pieces: BytePieces): ExportFile => ({
    suffix,
    type,
    pieces,
    triangles: 0,
  });
  const ramp = (): Ramp => rampOfStack(source.stack, source.filaments);
  switch (format) {
    case 'stl':
      return { suffix: 'relief.stl', type: 'model/stl', ...reliefStl(source, checkpoint) };
    case 'stl-text':
      return {
        suffix: 'relief-text.stl',
        type: 'model/stl',
        ...reliefStl(source, checkpoint, 'text'),
      };
    case '3mf':
      return { suffix: 'relief.3mf', type: 'model/3mf', ...relief3mf(source, checkpoint) };
    case 'obj': {
      const solids = bandSolids(source, partOf(checkpoint, 0, 0.3));
      const note = `Zesty Strata ${source.stamp}, ${describeGrid(source.stack)} mm`;
      return {
        suffix: 'relief-obj.zip',
        type: 'application/zip',
        pieces: writeObj(solids, 'relief', note, partOf(checkpoint, 0.3, 1)),
        triangles: solids.reduce((sum, { mesh }) => sum + mesh.triangles.length / 3, 0),
      };
    }
    case 'glb': {
      const { stack, filaments } = source;
      const tops = layerTopsMm(stack.grid, totalLayers(stack.bands));
      const mesh = reliefMesh(source, tops, partOf(checkpoint, 0, 0.7));
      return {
        suffix: 'relief.glb',
        type: 'model/gltf-binary',
        pieces: writeGlb(mesh, stack, filaments, ramp(), source, partOf(checkpoint, 0.7, 1)),
        triangles: mesh.triangles.length / 3,
      };
    }
    case 'heights':
      return {
        suffix: 'heights.png',
        type: 'image/png',
        pieces: [encoders.heights(source.heights)],
        triangles: 0,
      };
    case 'print':
      return {
        suffix: 'print.png',
        type: 'image/png',
        pieces: [encoders.picture(paintPrint(source.heights, ramp()))],
        triangles: 0,
      };
    case 'layers':
      return text('layers.svg', 'image/svg+xml', layersSvg(source, checkpoint));
    case 'areas':
      return text('areas.svg', 'image/svg+xml', areasSvg(source, ramp(), checkpoint));
  }
}
