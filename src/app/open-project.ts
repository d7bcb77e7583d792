import { paintPrint } from '#core/heights/height-map.ts';
import type { Filament } from '#core/stack/filament.ts';
import { createDocumentStore } from '../state/document-store.ts';
import type { Library } from '../state/library.ts';
import { followDocument } from '../state/live-print.ts';
import type { ProjectDocument } from '../state/project-document.ts';
import type { OpenProject } from '../state/project-context.ts';
import { createViewStore } from '../state/view-store.ts';
import type { JobOptions, WorkerClient } from '../workers/client.ts';
import type { OpenedArtwork } from '../workers/protocol.ts';
import { startArtworkWorker } from '../workers/start-worker.ts';
import { describePictureFault } from '../platform/fault-words.ts';

/** Something the maker has to be told in words; nothing else has changed. */
export class Refusal extends Error {
  override readonly name = 'Refusal';
}

/** A picture in a worker of its own. */
export interface LoadedArtwork {
  readonly worker: WorkerClient;
  readonly opened: OpenedArtwork;
  readonly bytes: Uint8Array<ArrayBuffer>;
}

/**
 * Decodes a picture in a new worker.
 * @throws Refusal with the reason when it cannot be used; Cancelled when the signal was aborted
 */
export async function loadArtwork(
  bytes: Uint8Array<ArrayBuffer>,
  options: JobOptions,
): Promise<LoadedArtwork> {
  const worker = startArtworkWorker();
  try {
    const result = await worker.run('open', { bytes }, options);
    if (!result.ok) throw new Refusal(describePictureFault(result.fault));
    return { worker, opened: result.value, bytes };
  } catch (error) {
    worker.close();
    throw error;
  }
}

/** Puts the parts of an open project together. */
export function assembleProject(
  id: string,
  document: ProjectDocument,
  { worker, opened, bytes }: LoadedArtwork,
  rack: readonly Filament[],
  onTrouble: (error: Error) => void,
): OpenProject {
  const documents = createDocumentStore(document);
  return {
    id,
    documents,
    live: followDocument(documents, opened, worker, onTrouble),
    views: createViewStore(),
    worker,
    rack,
    artworkBytes: bytes,
  };
}

/** Ends everything that an open project keeps running. */
export function closeProject(project: OpenProject): void {
  project.live.stop();
  project.worker.close();
}

const THUMBNAIL_PX = 480;

/** A small PNG of the print as it is now, or null before there is one. */
async function makeThumbnail({ live }: OpenProject): Promise<Blob | null> {
  const { heights, ramp } = live.store.getState();
  if (!heights) return null;
  const print = paintPrint(heights, ramp);
  const full = new OffscreenCanvas(print.width, print.height);
  full
    .getContext('2d')
    ?.putImageData(
      new ImageData(new Uint8ClampedArray(print.data), print.width, print.height),
      0,
      0,
    );
  const factor = Math.min(1, THUMBNAIL_PX / Math.max(print.width, print.height));
  const small = new OffscreenCanvas(
    Math.max(1, Math.round(print.width * factor)),
    Math.max(1, Math.round(print.height * factor)),
  );
  const context = small.getContext('2d');
  if (!context) return null;
  context.imageSmoothingQuality = 'high';
  context.drawImage(full, 0, 0, small.width, small.height);
  return small.convertToBlob({ type: 'image/png' });
}

/** Saves a project as it is now. */
export async function saveProject(project: OpenProject, library: Library): Promise<void> {
  const { document } = project.documents.getState();
  await library.putProject(project.id, async (before) => ({
    document,
    createdAt: before?.createdAt ?? Date.now(),
    changedAt: Date.now(),
    thumbnail: (await makeThumbnail(project)) ?? before?.thumbnail ?? null,
    deletedAt: null,
  }));
}
