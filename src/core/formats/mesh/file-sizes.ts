import { countMesh, countOutlineCorners, type MeshCounts } from '../../relief/count-mesh.ts';
import { bandHeights } from '../../relief/band-heights.ts';
import { inlaidMeshes, reliefMesh, spanMeshes } from '../../relief/relief-mesh.ts';
import type { Mesh } from '../../relief/terrace-mesh.ts';
import { layerTopsMm } from '../../stack/layer-grid.ts';
import { bandEnds, totalLayers } from '../../stack/stack.ts';
import { bandSpans, type ReliefSource } from './band-solids.ts';
import type { ExportFormat } from './export-files.ts';
import { stlBytes } from './write-stl.ts';

/** How large a file will be. */
export interface FileSize {
  readonly bytes: number;
  /** 0 where it holds none. */
  readonly triangles: number;
  /** False where bytes are estimated: text and compressed files. */
  readonly exact: boolean;
}

/**
 * What text and pictures shrink to when they are compressed, measured on the demo projects and on noise; see the test. A
 * size that is told with "about" may be a third off.
 */
const OBJ_SHRINKS_TO = 0.22;
const MODEL_SHRINKS_TO = 0.13;
const HEIGHTS_BYTES_PER_CHANGE = 0.62;
const PRINT_BYTES_PER_CHANGE = 0.74;

/** Mean length of the coordinates 0, step, 2 step ... as files write them. */
function meanLength(count: number, stepMm: number): number {
  let signs = 0;
  for (let i = 0; i <= count; i += 1) signs += String(Math.round(i * stepMm * 1e5) / 1e5).length;
  return signs / (count + 1);
}

/** Mean length of a coordinate of a smooth outline, which has decimals of its own. */
const SMOOTH_LENGTH = 7.5;

/** Do outlines cut across samples? */
function isSmooth({ smoothMm, outlines }: ReliefSource): boolean {
  return smoothMm !== undefined || outlines !== undefined;
}

/** The solids of a file of outlines that cut across samples. */
function smoothMeshes(source: ReliefSource, format: ExportFormat, tops: Float64Array): Mesh[] {
  const { stack } = source;
  const parts = inlaidMeshes(source, tops);
  if (parts && format === 'inlays') return [...parts.inlays];
  if (parts && format === 'body') return [parts.body];
  if (parts && format === 'glb') return [parts.body, ...parts.inlays];
  if (isByBand(format))
    return [...spanMeshes(source, bandSpans(stack)), ...(parts ? parts.inlays : [])];
  return [reliefMesh(source, tops)];
}

const isByBand = (format: ExportFormat): boolean => format === '3mf' || format === 'obj';

/** The counts of the whole solid, or of those of all bands. Smooth solids are built, since only then they can be counted. */
function counts(source: ReliefSource, format: ExportFormat): MeshCounts {
  const { heights, stack } = source;
  const tops = layerTopsMm(stack.grid, totalLayers(stack.bands));
  const ends = bandEnds(stack.bands);
  if (isSmooth(source)) {
    const meshes = smoothMeshes(source, format, tops);
    return {
      corners: meshes.reduce((sum, { positions }) => sum + positions.length / 3, 0),
      triangles: meshes.reduce((sum, { triangles }) => sum + triangles.length / 3, 0),
      changes: countMesh(heights).changes,
    };
  }
  if (!isByBand(format)) return countMesh(heights);
  return ends
    .map((end, i) => countMesh(bandHeights(heights, ends[i - 1] ?? 0, end)))
    .reduce((sum, one) => ({
      corners: sum.corners + one.corners,
      triangles: sum.triangles + one.triangles,
      changes: sum.changes + one.changes,
    }));
}

/**
 * How large a relief's file will be, from what is counted in its heights; none of the file is made.
 * @param finer how many times finer the real relief is than these heights, where only coarser ones are at hand: what is
 * counted along outlines grows with it
 */
export function estimateFile(format: ExportFormat, source: ReliefSource, finer = 1): FileSize {
  const { heights, sampleMm, stack } = source;
  const counted = counts(source, format);
  const corners = finer * counted.corners;
  const triangles = Math.round(finer * counted.triangles);
  const changes = finer * counted.changes;
  const tops = layerTopsMm(stack.grid, totalLayers(stack.bands));
  const smooth = isSmooth(source);
  const x = smooth ? SMOOTH_LENGTH : meanLength(heights.width, sampleMm);
  const y = smooth ? SMOOTH_LENGTH : meanLength(heights.height, sampleMm);
  const z = [...tops].reduce((sum, mm) => sum + String(mm).length, 0) / tops.length;
  const number = String(Math.round(corners)).length;
  const about = (bytes: number, held = triangles): FileSize => ({
    bytes: Math.round(bytes),
    triangles: held,
    exact: false,
  });
  switch (format) {
    case 'stl':
    case 'inlays':
    case 'body':
      return { bytes: stlBytes(triangles), triangles, exact: finer === 1 };
    case 'stl-text':
      return about(triangles * (47.5 + 3 * (10 + x + y + z)));
    case 'obj':
      return about(OBJ_SHRINKS_TO * (corners * (5 + x + y + z) + triangles * (5 + 3 * number)));
    case '3mf':
      return about(MODEL_SHRINKS_TO * (corners * (24 + x + y + z) + triangles * (29 + 3 * number)));
    case 'glb':
      return about(12 * corners + 12 * triangles + 4000);
    case 'heights':
      return about(HEIGHTS_BYTES_PER_CHANGE * changes + 300, 0);
    case 'print':
      return about(PRINT_BYTES_PER_CHANGE * changes + 300, 0);
    case 'layers':
    case 'areas': {
      const each = countOutlineCorners(heights);
      const present = new Set(heights.data);
      let traced = 0;
      for (let level = 1; level < each.length; level += 1) {
        const own = each[level] as number;
        if (format === 'layers') traced += own;
        // An area is drawn as its own outline and the one of what is taller.
        else traced += own * ((present.has(level) ? 1 : 0) + (present.has(level - 1) ? 1 : 0));
      }
      return about(finer * traced * (2 + x + y) + 120 * totalLayers(stack.bands), 0);
    }
  }
}
