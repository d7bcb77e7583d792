import type { BytePieces } from '../../base/byte-pieces.ts';
import { noCheckpoint, partOf, type Checkpoint } from '../../base/checkpoint.ts';
import type { HeightMap, RgbaRaster } from '../../base/raster.ts';
import { paintSeen } from '../../heights/spread-print.ts';
import type { Ramp } from '../../optics/ramp.ts';
import { inlaidMeshes, reliefMesh } from '../../relief/relief-mesh.ts';
import { joinMeshes } from '../../relief/terrace-mesh.ts';
import { layerTopsMm } from '../../stack/layer-grid.ts';
import { totalLayers } from '../../stack/stack.ts';
import { faceEntry, rampOfFaces } from '../../tags/face-ramp.ts';
import { bandSolids, describeGrid, type ReliefSource } from './band-solids.ts';
import { bodyStl, inlayStls, relief3mf, reliefStl } from './relief-files.ts';
import { writeGlb } from './write-glb.ts';
import { writeObj } from './write-obj.ts';
import { areasSvg, layersSvg } from './write-svg.ts';
import { zipPieces } from './zip-pieces.ts';

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

/** And a piece with inlays, as prints of their own: what is laid first, and what goes around and over it. */
export const FACE_FORMATS = ['inlays', 'body'] as const;
export type ExportFormat = (typeof EXPORT_FORMATS)[number] | (typeof FACE_FORMATS)[number];

/** The formats that a relief can be written in. */
export function formatsOf(hasInlays: boolean): readonly ExportFormat[] {
  return hasInlays ? [...EXPORT_FORMATS, ...FACE_FORMATS] : EXPORT_FORMATS;
}

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
  const { looked } = source;
  const ramp = (): Ramp => rampOfFaces(source.stack, source.filaments, looked?.view);
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
      const parts = inlaidMeshes(source, tops, partOf(checkpoint, 0, 0.7));
      const mesh = parts
        ? joinMeshes([parts.body, ...parts.inlays])
        : reliefMesh(source, tops, partOf(checkpoint, 0, 0.7));
      let firstTriangle = (parts?.body.triangles.length ?? 0) / 3;
      const inlays = parts?.inlays.map((own, i) => {
        const at = firstTriangle;
        firstTriangle += own.triangles.length / 3;
        return {
          name: `inlay ${i + 1}`,
          colour: ramp()[faceEntry(stack.bands, i + 1) - 1]?.colour ?? ([128, 128, 128] as const),
          firstTriangle: at,
        };
      });
      return {
        suffix: 'relief.glb',
        type: 'model/gltf-binary',
        pieces: writeGlb(
          mesh,
          stack,
          filaments,
          ramp(),
          { ...source, inlays },
          partOf(checkpoint, 0.7, 1),
        ),
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
        pieces: [
          encoders.picture(paintSeen(looked?.heights ?? source.heights, ramp(), source.sampleMm)),
        ],
        triangles: 0,
      };
    case 'inlays':
      return inlaysFile(source, checkpoint);
    case 'body':
      return { suffix: 'body.stl', type: 'model/stl', ...bodyStl(source, checkpoint) };
    case 'layers':
      return text('layers.svg', 'image/svg+xml', layersSvg(source, checkpoint));
    case 'areas':
      return text('areas.svg', 'image/svg+xml', areasSvg(source, ramp(), checkpoint));
  }
}

/** Inlays as STL; those of several filaments each as one, in a zip. */
function inlaysFile(source: ReliefSource, checkpoint: Checkpoint): ExportFile {
  const files = inlayStls(source, checkpoint);
  const triangles = files.reduce((sum, one) => sum + one.triangles, 0);
  const [only] = files;
  if (only && files.length === 1)
    return { suffix: 'inlays.stl', type: 'model/stl', pieces: only.pieces, triangles };
  return {
    suffix: 'inlays.zip',
    type: 'application/zip',
    pieces: zipPieces(
      files.map(({ name, pieces }, i) => ({
        name: `inlay-${i + 1}-${name.replace(/[^A-Za-z0-9]+/g, '-').toLowerCase()}.stl`,
        write: (out) => {
          for (const piece of pieces) out.bytes(piece);
        },
      })),
    ),
    triangles,
  };
}
