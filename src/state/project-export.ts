import type { Json } from '#core/base/canonical-json.ts';
import type { ExportRequest } from '#core/plan/export-request.ts';
import type { OwnPrint } from '#core/slicing/own-gcode.ts';
import type { CountedInlays } from '#core/relief/count-inlays.ts';
import { stampOfExport } from '#core/schedule/export-state.ts';
import { batchesOf } from '#core/schedule/pieces.ts';
import {
  makeSwapSheet,
  type SheetSource,
  type SliceFigures,
  type SwapSheet,
} from '#core/schedule/swap-sheet.ts';
import type { Filament } from '#core/stack/filament.ts';
import type { PrintedExtent } from '../workers/artwork/jobs.ts';
import {
  extentMm,
  heightRequest,
  pieceSizeOf,
  ruleOf,
  samplesOf,
  smoothMmOfDocument,
  stackOf,
  paceOf,
} from './document-facts.ts';
import { editsDigestOf } from './recipe.ts';
import type { ProjectDocument } from './project-document.ts';
import { pieceOfTag } from './tag-plan.ts';

/** The stamp that shape and sheet of a document carry. */
export function stampOfDocument(document: ProjectDocument): string {
  return stampOfExport({
    artworkDigest: document.artwork.file.digest,
    edits: editsDigestOf(document),
    rule: ruleOf(document),
    leastLayers: document.heights.leastLayers,
    samples: samplesOf(document),
    shape: document.piece.shape,
    smoothMm: smoothMmOfDocument(document),
    stack: stackOf(document),
    filaments: document.stack.filaments,
    piece: pieceJson(document),
  });
}

/** A tag as plain data: form and layers of all its shapes. */
function pieceJson(document: ProjectDocument): Json | undefined {
  const piece = pieceOfTag(document);
  const shapes = piece?.shapes.map(({ way, layers, rings }) => ({
    way,
    layers,
    rings: rings.map((ring) => [...ring]),
  }));
  const { inlays } = piece ?? {};
  if (!shapes || !inlays) return shapes;
  const { filaments } = document.stack;
  return {
    shapes,
    print: inlays.print,
    inlayLayers: inlays.layers,
    inlays: inlays.filaments.map((id) => ({
      id,
      colour: filaments[id]?.colour ?? '',
      transmissionMm: filaments[id]?.transmissionMm ?? 0,
    })),
  };
}

/** What the worker needs to write files of a document. */
export function exportRequest(document: ProjectDocument): ExportRequest {
  return {
    request: heightRequest(document),
    stack: stackOf(document),
    filaments: document.stack.filaments,
    title: document.name,
    stamp: stampOfDocument(document),
    smoothMm: smoothMmOfDocument(document),
    crop: document.piece.trim && !document.tag,
  };
}

/** What of a document G-code of our own is made with, besides its relief. */
export function printingOf(
  document: ProjectDocument,
): Pick<OwnPrint, 'printer' | 'pieces' | 'ironing'> {
  const { pieces, ironing } = document.print;
  return { printer: paceOf(document), pieces, ironing };
}

/** The samples of the finished relief, counted; see `countHeights` and `countEdges`. */
export interface ReliefCounts {
  readonly counts: Uint32Array;
  readonly edges?: Uint32Array;
  /** How far what is printed reaches, in samples; without it the size follows from the document. */
  readonly extent?: PrintedExtent;
  /** See `middlesOf`. */
  readonly middles?: SheetSource['middles'];
  /** Of a face on the bed. */
  readonly inlays?: CountedInlays | null;
}

/**
 * The swap sheet of a document.
 * @param rack tells what is on hand and left today; without it the project's own copies do
 * @param slice what G-code of our own takes, where it was made
 */
export function sheetOfDocument(
  document: ProjectDocument,
  { counts, edges, extent, middles, inlays }: ReliefCounts,
  rack: readonly Filament[] = [],
  slice: SliceFigures | null = null,
): SwapSheet {
  const samples = samplesOf(document);
  const face = pieceOfTag(document)?.inlays;
  const { slicedMinutes, slicedGrams, pieces } = document.print;
  // Those in layers of their own have sheets of their own.
  const { copies } = batchesOf(pieces)[0] ?? pieces;
  return makeSwapSheet({
    title: document.name,
    stamp: stampOfDocument(document),
    stack: stackOf(document),
    filaments: Object.fromEntries(
      Object.entries(document.stack.filaments).map(([id, copy]) => {
        const own = rack.find((filament) => filament.id === id);
        return [id, own ? { ...copy, onHand: own.onHand, leftG: own.leftG } : copy];
      }),
    ),
    counts,
    ...(edges ? { edges } : {}),
    ...(extent ? { extent } : {}),
    ...(middles ? { middles } : {}),
    sampleMm: samples.sampleMm,
    ...(extent ? extentMm(extent, samples.sampleMm) : pieceSizeOf(document)),
    printer: paceOf(document),
    pieces: { ...pieces, copies, own: [] },
    slicedS: slicedMinutes === null ? null : 60 * slicedMinutes,
    slicedG: slicedGrams,
    slice,
    ironing: document.print.ironing,
    flush: face && inlays ? { ...face, counted: inlays } : null,
  });
}
