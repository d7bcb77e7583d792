import type { RgbaRaster } from '#core/base/raster.ts';
import type { LightKind } from '#core/optics/lights.ts';
import { coarsenSamples } from '#core/relief/sampling.ts';
import type { ArtworkWorker } from '../workers/start-worker.ts';
import { heightRequest, samplesOf, stackOf } from './document-facts.ts';
import type { ProjectDocument } from './project-document.ts';

/** The predicted print of some state of a project, how many samples have each height, and their side. */
export interface PrintOf {
  readonly print: RgbaRaster;
  readonly counts: Uint32Array;
  readonly sampleMm: number;
}

/**
 * Works the print of a document out apart from what the stage shows, with at most so many samples.
 * @param room light that it is seen in
 * @throws Cancelled when the signal was aborted, or the project was closed meanwhile
 */
export async function printOf(
  worker: ArtworkWorker,
  document: ProjectDocument,
  mostSamples: number,
  signal: AbortSignal,
  room: LightKind = 'd65',
): Promise<PrintOf> {
  const grid = coarsenSamples(samplesOf(document), mostSamples);
  const { print, counts } = await worker.run(
    'print',
    {
      request: heightRequest(document, grid),
      stack: stackOf(document),
      filaments: document.stack.filaments,
      room,
    },
    { signal },
  );
  return { print, counts, sampleMm: grid.sampleMm };
}
