import { stampOfExport } from '#core/schedule/export-state.ts';
import { makeSwapSheet, type SwapSheet } from '#core/schedule/swap-sheet.ts';
import { ruleOf, samplesOf, stackOf, type ProjectDocument } from './project-document.ts';

/** The stamp that shape and sheet of a document carry. */
export function stampOfDocument(document: ProjectDocument): string {
  return stampOfExport({
    artworkDigest: document.artwork.digest,
    rule: ruleOf(document),
    leastLayers: document.leastLayers,
    samples: samplesOf(document),
    stack: stackOf(document),
    filaments: document.filaments,
  });
}

/**
 * The swap sheet of a document.
 * @param counts samples of the finished relief at each height
 */
export function sheetOfDocument(document: ProjectDocument, counts: Uint32Array): SwapSheet {
  const samples = samplesOf(document);
  return makeSwapSheet({
    title: document.name,
    stamp: stampOfDocument(document),
    stack: stackOf(document),
    filaments: document.filaments,
    counts,
    detailMm: samples.detailMm,
    widthMm: samples.widthMm,
    heightMm: samples.heightMm,
  });
}
