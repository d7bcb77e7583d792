import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap } from '../base/raster.ts';
import { bandHeights } from './band-heights.ts';
import { bodyReach, inlayReach, wholeReach, type Inlaid } from './inlaid.ts';
import { cutAreas, raiseAreas } from './smooth-mesh.ts';
import { smoothOutlines, type SharedOutlines } from './smooth-outlines.ts';
import { buildTerraceMesh, type Mesh } from './terrace-mesh.ts';

/** A relief whose solids can be built: heights free of diagonal contacts. */
export interface ReliefShape {
  readonly heights: HeightMap;
  readonly sampleMm: number;
  /** How far smooth outlines may be simplified, mm; without it outlines follow the samples. */
  readonly smoothMm?: number | undefined;
  /** Outlines as they are, of a piece that is made of outlines: they count in place of those of the samples. */
  readonly outlines?: SharedOutlines | undefined;
  /** Parts in filaments of their own, flush with the underside. */
  readonly inlaid?: Inlaid | undefined;
}

/** Outlines that cut across samples: those that a relief is made of, or smooth ones; undefined where they follow the samples. */
export function outlinesOf({
  heights,
  sampleMm,
  smoothMm,
  outlines,
}: ReliefShape): SharedOutlines | undefined {
  if (outlines) return outlines;
  if (smoothMm === undefined) return undefined;
  return smoothOutlines(heights, smoothTolerance(smoothMm, sampleMm));
}

/** The share of a nozzle's width that smooth outlines may move by being simplified: less than a tenth. */
const SMOOTH_SHARE = 0.09;

/**
 * And of a sample: the middle of a sample lies at least sqrt(1/8) of its side from a cut corner, so each stays on its own
 * layer.
 */
const SAMPLE_SHARE = 0.3;

/** How far the outlines of a relief may be simplified, in samples. */
export function smoothTolerance(smoothMm: number, sampleMm: number): number {
  return Math.min(SAMPLE_SHARE, smoothMm / sampleMm);
}

/** How far outlines may move with a nozzle, mm. */
export function smoothMmOf(nozzleMm: number): number {
  return SMOOTH_SHARE * nozzleMm;
}

/** A part of a relief's layers, from above layer `below` up to layer `end`. */
export interface LayerSpan {
  readonly below: number;
  readonly end: number;
  /** Level of each of its layers over its own underside, mm; see `buildTerraceMesh`. */
  readonly levelMm: Float64Array;
}

/**
 * Solids of parts of a relief, one for each span. With outlines that cut across samples all are raised from the same areas, so that
 * they share their faces. Inlays are no part of them.
 */
export function spanMeshes(
  shape: ReliefShape,
  spans: readonly LayerSpan[],
  checkpoint: Checkpoint = noCheckpoint,
): Mesh[] {
  const part = (i: number): Checkpoint =>
    partOf(checkpoint, i / spans.length, (i + 1) / spans.length);
  const { heights, sampleMm, inlaid } = shape;
  const outlines = inlaid?.outlines ?? outlinesOf(shape);
  if (!outlines)
    return spans.map(({ below, end, levelMm }, i) =>
      buildTerraceMesh(bandHeights(heights, below, end), sampleMm, levelMm, part(i)),
    );
  const areas = cutAreas(outlines, heights);
  return spans.map(({ below, end, levelMm }, i) => {
    const reachOf = inlaid && bodyReach(inlaid, below, end);
    return raiseAreas(
      areas,
      (area) => {
        if (!reachOf) return [0, Math.min(area, end) - below];
        const [from, to] = reachOf(area);
        return [from - below, to - below];
      },
      sampleMm,
      levelMm,
      part(i),
    );
  });
}

/** The solid of a whole relief, inlays with it. */
export function reliefMesh(
  shape: ReliefShape,
  levelMm: Float64Array,
  checkpoint: Checkpoint = noCheckpoint,
): Mesh {
  const { heights, sampleMm, inlaid } = shape;
  const outlines = inlaid?.outlines ?? outlinesOf(shape);
  if (!outlines) return buildTerraceMesh(heights, sampleMm, levelMm, checkpoint);
  const areas = cutAreas(outlines, heights);
  const reachOf = inlaid ? wholeReach(inlaid) : (layers: number) => [0, layers] as const;
  return raiseAreas(areas, reachOf, sampleMm, levelMm, checkpoint);
}

/** The solids of the inlays of a piece, and last that of its body around and over them; none where it has no inlays. */
export function inlaidMeshes(
  { heights, sampleMm, inlaid }: ReliefShape,
  levelMm: Float64Array,
  checkpoint: Checkpoint = noCheckpoint,
): { readonly inlays: readonly Mesh[]; readonly body: Mesh } | undefined {
  if (!inlaid) return undefined;
  const areas = cutAreas(inlaid.outlines, heights);
  const parts = inlaid.filaments.length + 1;
  return {
    inlays: inlaid.filaments.map((_, i) =>
      raiseAreas(
        areas,
        inlayReach(inlaid, i + 1),
        sampleMm,
        levelMm,
        partOf(checkpoint, i / parts, (i + 1) / parts),
      ),
    ),
    body: raiseAreas(
      areas,
      bodyReach(inlaid, 0, levelMm.length - 1),
      sampleMm,
      levelMm,
      partOf(checkpoint, 1 - 1 / parts, 1),
    ),
  };
}
