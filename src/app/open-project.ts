import { createDocumentStore, type History } from '../state/document-store.ts';
import type { Library } from '../state/library.ts';
import { followDocument } from '../state/live-print.ts';
import { stackOf } from '../state/document-facts.ts';
import type { ProjectDocument } from '../state/project-document.ts';
import type { OpenProject } from '../state/project-context.ts';
import { planningFilaments } from '../state/rack-store.ts';
import { createVersionStore, type NamedVersion } from '../state/versions.ts';
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

/** What a project was left with, besides its picture. */
export interface ProjectParts {
  readonly id: string;
  readonly document: ProjectDocument;
  readonly history?: History;
  readonly versions?: readonly NamedVersion[];
}

/** What the maker has, apart from projects. */
export type House = Pick<OpenProject, 'rack' | 'printers'>;

/** Reads the maker's filaments, as they are planned with, and printers. */
export async function readHouse(library: Library): Promise<House> {
  const [rack, printers] = await Promise.all([library.getRack(), library.getPrinters()]);
  return { rack: planningFilaments(rack), printers };
}

/** Puts the parts of an open project together. */
export function assembleProject(
  { id, document, history, versions = [] }: ProjectParts,
  { worker, opened, bytes }: LoadedArtwork,
  { rack, printers }: House,
  onTrouble: (error: Error) => void,
): OpenProject {
  // Projects from before what is printed was measured learn it from their picture.
  const artwork = document.artwork.box
    ? document.artwork
    : { ...document.artwork, box: opened.box };
  const documents = createDocumentStore({ ...document, artwork }, history);
  return {
    id,
    opening: crypto.randomUUID(),
    documents,
    versions: createVersionStore(versions),
    live: followDocument(documents, opened, worker, onTrouble),
    views: createViewStore(),
    worker,
    rack,
    printers,
    artworkBytes: bytes,
  };
}

/** Ends everything that an open project keeps running, once its last thumbnail is made. */
export async function closeProject(project: OpenProject): Promise<void> {
  project.live.stop();
  await project.worker.retire();
}

const THUMBNAIL_PX = 480;

/** A small PNG of a document's print, or null before there is one. Made in the worker: it must not disturb a drag. */
export async function makeThumbnail(
  worker: WorkerClient,
  document: ProjectDocument,
): Promise<Blob | null> {
  try {
    const { png } = await worker.run('thumbnail', {
      stack: stackOf(document),
      filaments: document.filaments,
      sidePx: THUMBNAIL_PX,
    });
    return png && new Blob([png], { type: 'image/png' });
  } catch {
    // The project was closed meanwhile; the thumbnail it had will do.
    return null;
  }
}

/** Saves a project as it is now: the document at once, its thumbnail when that is made. */
export async function saveProject(project: OpenProject, library: Library): Promise<void> {
  const state = project.documents.getState();
  const { document } = state;
  const { versions } = project.versions.getState();
  const thumbnail = makeThumbnail(project.worker, document);
  await library.putProject(project.id, (before) => ({
    document,
    versions,
    createdAt: before?.createdAt ?? Date.now(),
    changedAt: Date.now(),
    thumbnail: before?.thumbnail ?? null,
    deletedAt: null,
  }));
  await library.putHistory(project.id, state);
  const png = await thumbnail;
  if (png)
    await library.putProject(project.id, (before) => before && { ...before, thumbnail: png });
}
