import type { SavedState } from '../../state/autosave.ts';
import { createDocumentStore, type History } from '../../state/document-store.ts';
import type { Library } from '../../state/library.ts';
import { followDocument } from '../../state/live-print.ts';
import { heightRequest, longerPxOf, shownSamplesOf, stackOf } from '../../state/document-facts.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { OwnSlicer } from '../../state/own-slicer.ts';
import type { OpenProject } from '../../state/project-context.ts';
import { planningFilaments } from '../../state/rack-store.ts';
import { createVersionStore, type NamedVersion } from '../../state/versions.ts';
import { createViewStore } from '../../state/view-store.ts';
import type { JobOptions } from '../../workers/client.ts';
import type { ArtworkWorker } from '../../workers/start-worker.ts';
import type { OpenedArtwork, OpenInput } from '../../workers/artwork/jobs.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import { looksLikeSvg } from '../../platform/check-picture.ts';
import { startArtworkWorker, startExportWorker } from '../../workers/start-worker.ts';
import type { PackedProject, PackedVersion } from '../../state/project-file.ts';

/** Something the maker has to be told in words; nothing else has changed. */
export class Refusal extends Error {
  override readonly name = 'Refusal';
}

/** What is wrong with a file, in words: loaded with the first one that is. */
const faultWords = () => import('../../platform/fault-words.ts');

/** A picture in a worker of its own. */
export interface LoadedArtwork extends OpenInput {
  readonly worker: ArtworkWorker;
  readonly opened: OpenedArtwork;
}

/** What was taken in: the picture in its worker, and the project that was made of it. */
export interface TakenIn {
  readonly loaded: LoadedArtwork;
  readonly document: ProjectDocument;
  readonly versions?: readonly PackedVersion[] | undefined;
  /** A stack is to be looked for: nothing was chosen yet. */
  readonly isFresh?: boolean;
}

/**
 * Decodes a picture in a new worker.
 * @param drawnPx pixels that the longer side of a drawing should have; see `drawnSize`
 * @throws Refusal with the reason when it cannot be used; Cancelled when the signal was aborted
 */
export function loadArtwork(
  bytes: Uint8Array<ArrayBuffer>,
  options: JobOptions,
  drawnPx?: number,
): Promise<LoadedArtwork> {
  return inNewWorker((worker) => openIn(worker, bytes, options, drawnPx));
}

/**
 * Unpacks a `.strata` file and decodes its picture, in a new worker.
 * @throws Refusal with the reason when it cannot be used; Cancelled when the signal was aborted
 */
export function loadProjectFile(
  bytes: Uint8Array<ArrayBuffer>,
  options: JobOptions,
): Promise<{ readonly packed: PackedProject; readonly loaded: LoadedArtwork }> {
  return inNewWorker(async (worker) => {
    const unpacked = await worker.run('unpack', { bytes }, options);
    const { readUnpacked } = await import('../../state/project-file.ts');
    const packed = unpacked.ok ? readUnpacked(unpacked.value) : unpacked;
    if (!packed.ok) throw new Refusal((await faultWords()).describeProjectFault(packed.fault));
    const { artwork, document } = packed.value;
    const drawnPx = longerPxOf(document);
    return { packed: packed.value, loaded: await openIn(worker, artwork, options, drawnPx) };
  });
}

async function openIn(
  worker: ArtworkWorker,
  bytes: Uint8Array<ArrayBuffer>,
  options: JobOptions,
  drawnPx: number | undefined,
): Promise<LoadedArtwork> {
  let drawn: RgbaRaster | undefined;
  if (looksLikeSvg(bytes)) {
    const drawing = await (
      await import('../../platform/browser/draw-svg.ts')
    ).drawSvg(bytes, drawnPx);
    if (!drawing.ok) throw new Refusal((await faultWords()).describePictureFault(drawing.fault));
    drawn = drawing.value;
  }
  const input = { bytes, drawn };
  const result = await worker.run('open', input, options);
  if (!result.ok) throw new Refusal((await faultWords()).describePictureFault(result.fault));
  return { worker, opened: result.value, ...input };
}

/** Does something with a new worker, which stays only where that succeeds. */
async function inNewWorker<T>(action: (worker: ArtworkWorker) => Promise<T>): Promise<T> {
  const worker = startArtworkWorker();
  try {
    return await action(worker);
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
  /** The library has another state of it, or none. */
  readonly unsaved?: boolean;
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
  { id, document, history, versions = [], unsaved = false }: ProjectParts,
  { worker, opened, bytes, drawn }: LoadedArtwork,
  { rack, printers }: House,
  onTrouble: (error: Error) => void,
): OpenProject {
  const { file } = document.artwork;
  const { width, height, kind } = file;
  // Projects from before what is printed was measured learn it from their picture; so do those that say another size of it.
  const known =
    file.box !== undefined &&
    width === opened.width &&
    height === opened.height &&
    kind === opened.kind;
  const measured = known
    ? file
    : { ...file, kind: opened.kind, width: opened.width, height: opened.height, box: opened.box };
  const first = { ...document, artwork: { ...document.artwork, file: measured } };
  const documents = createDocumentStore(first, history, (reason) => {
    onTrouble(new Error(`this change cannot be made (${reason})`));
  });
  const exporter = startExportWorker({ bytes, drawn });
  return {
    id,
    opening: crypto.randomUUID(),
    documents,
    versions: createVersionStore(versions),
    live: followDocument(documents, opened, worker, onTrouble),
    views: createViewStore(),
    worker,
    exporter,
    slicer: new OwnSlicer(exporter),
    rack,
    printers,
    artworkBytes: bytes,
    unsaved,
    endings: [],
  };
}

/** Ends everything that an open project keeps running, once it is saved and its last thumbnail is made. */
export async function closeProject(project: OpenProject): Promise<void> {
  project.live.stop();
  project.slicer.cancel();
  project.exporter.close();
  await Promise.allSettled(project.endings);
  await project.worker.retire();
}

const THUMBNAIL_PX = 480;

/** A small PNG of a document's print, or null where none can be made any more. Made in the worker: it must not disturb a drag. */
export async function makeThumbnail(
  worker: ArtworkWorker,
  document: ProjectDocument,
): Promise<Blob | null> {
  try {
    const { png } = await worker.run('thumbnail', {
      request: heightRequest(document, shownSamplesOf(document)),
      stack: stackOf(document),
      filaments: document.stack.filaments,
      sidePx: THUMBNAIL_PX,
    });
    return new Blob([png], { type: 'image/png' });
  } catch {
    // The project was closed meanwhile; the thumbnail it had will do.
    return null;
  }
}

/** Saves a state of a project. Returns whether it had been deleted meanwhile, and so came back. */
export function saveProject(
  { id, artworkBytes }: OpenProject,
  library: Library,
  { document, versions, past, future }: SavedState,
): Promise<boolean> {
  return library.saveProject(id, {
    document,
    versions,
    history: { past, future },
    artwork: artworkBytes,
  });
}
