import { looksLikeProject } from '#core/formats/project/strata-parts.ts';
import { MOST_PICTURE_BYTES } from '../../platform/check-picture.ts';
import { nameFromFile, newProject, type IncomingArtwork } from '../../state/new-project.ts';
import { renameProject } from '../../state/edits/project-edits.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import type { OpenedArtwork } from '../../workers/artwork/jobs.ts';
import { loadArtwork, loadProjectFile, Refusal, type LoadedArtwork } from './open-project.ts';
import type { ProjectSession } from './project-session.ts';
import { toast } from '../../ui/toast.ts';

/** A picture as a new project is told of it. */
export function incoming(
  fileName: string,
  { kind, digest, width, height, histogram, box }: OpenedArtwork,
): Pick<IncomingArtwork, 'artwork' | 'histogram'> {
  return { artwork: { fileName, kind, digest, width, height, box }, histogram };
}

/** A picture of which nothing would be printed begins no project. */
function refuseEmpty(loaded: LoadedArtwork): LoadedArtwork {
  if (loaded.opened.transparentShare < 1) return loaded;
  loaded.worker.close();
  throw new Refusal(
    'The picture is fully transparent, so nothing of it would be printed. Choose one with something on it.',
  );
}

/** A project file whose picture has another size than it says is opened with the real one, and that is said. */
function tellOtherSize(
  { artwork: { file } }: ProjectDocument,
  { width, height }: OpenedArtwork,
): void {
  if (file.width !== width || file.height !== height)
    toast(
      `The file says that its picture is ${file.width} x ${file.height} pixels. It is ${width} x ${height}, and is sized by that.`,
      { duration: 10_000 },
    );
}

/** The bytes of a file that was given; undefined where it cannot be taken, which is said. */
async function bytesOf(
  session: ProjectSession,
  file: File,
): Promise<Uint8Array<ArrayBuffer> | undefined> {
  session.setTrouble(null);
  if (file.size > MOST_PICTURE_BYTES) {
    session.setTrouble(
      `${file.name}: The file is larger than 200 MB. Save the picture as JPEG or PNG at a smaller size.`,
    );
    return undefined;
  }
  try {
    return new Uint8Array(await file.arrayBuffer());
  } catch {
    session.setTrouble(
      `${file.name}: The file cannot be read any more. Was it moved? Choose it again.`,
    );
    return undefined;
  }
}

/** Takes a picture or a project file in. */
export async function takeFile(session: ProjectSession, file: File): Promise<void> {
  const bytes = await bytesOf(session, file);
  if (!bytes) return;
  await session.takeIn(file.name, async (options, { rack }) => {
    if (looksLikeProject(bytes)) {
      const { packed, loaded } = await loadProjectFile(bytes, options);
      tellOtherSize(packed.document, loaded.opened);
      return { loaded, document: packed.document, versions: packed.versions };
    }
    const loaded = refuseEmpty(await loadArtwork(bytes, options));
    if (rack.length === 0)
      toast(
        'Your rack is empty, so this begins with a plain black and a plain white. Put your filaments into the rack.',
        { duration: 10_000 },
      );
    const picture = { name: nameFromFile(file.name), ...incoming(file.name, loaded.opened) };
    return { loaded, document: newProject(picture, rack), isFresh: true };
  });
}

/**
 * Begins the open project anew on another picture, with its edits and everything else as it is. The project as it was stays on
 * the shelf, under a name that says so: nothing is lost.
 */
export async function replacePicture(session: ProjectSession, file: File): Promise<void> {
  const { project } = session.store.getState();
  if (!project) return;
  const { document, change } = project.documents.getState();
  const bytes = await bytesOf(session, file);
  if (!bytes) return;
  await session.takeIn(file.name, async (options) => {
    const loaded = refuseEmpty(await loadArtwork(bytes, options));
    const { artwork } = incoming(file.name, loaded.opened);
    const { withPicture } = await import('../../state/replace-picture.ts');
    const replaced = withPicture(document, artwork);
    change(renameProject(`${document.name}, earlier picture`));
    toast('The project with its earlier picture stays on the shelf.', { duration: 8000 });
    return { loaded, document: replaced };
  });
}
