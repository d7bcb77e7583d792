import { useCallback } from 'react';
import { toast } from 'sonner';
import { DEMO_ASSETS } from '../../demo/assets.ts';
import type { DemoProject } from '../../demo/projects.ts';
import { looksLikeProject } from '#core/formats/project/strata-file.ts';
import { MOST_PICTURE_BYTES } from '../platform/check-picture.ts';
import { demoFilaments } from '../../demo/filaments.ts';
import type { Library } from '../state/library.ts';
import { nameFromFile, newProject, type IncomingArtwork } from '../state/new-project.ts';
import type { ProjectDocument } from '../state/project-document.ts';
import type { PackedVersion } from '../state/project-file.ts';
import type { JobOptions } from '../workers/client.ts';
import type { OpenedArtwork } from '../workers/artwork/jobs.ts';
import { freshId } from './names.ts';
import {
  assembleProject,
  loadArtwork,
  loadProjectFile,
  readHouse,
  Refusal,
  type House,
  type LoadedArtwork,
} from './open-project.ts';
import { goTo, pathOf } from './route.ts';
import { tellTrouble } from './tell-trouble.ts';
import type { Opening } from './use-opening.ts';

/** Ways to a new project. */
export interface Intake {
  /** Takes a picture or a project file in. */
  readonly takeIn: (file: File) => Promise<void>;
  /** Begins with one of the demo pictures; with the demo's own stack and rule where `demo` is given. */
  readonly takeDemo: (name: string, file: string, demo: DemoProject | null) => Promise<void>;
}

/** What was taken in: the picture in its worker, and how the project is made of it. */
interface TakenIn {
  readonly loaded: LoadedArtwork;
  readonly document: (opened: OpenedArtwork, house: House) => ProjectDocument;
  readonly versions?: readonly PackedVersion[] | undefined;
}

/** A picture as a new project is told of it. */
function incoming(
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
  { artwork: { file: artwork } }: ProjectDocument,
  { width, height }: OpenedArtwork,
): void {
  if (artwork.width !== width || artwork.height !== height)
    toast(
      `The file says that its picture is ${artwork.width} x ${artwork.height} pixels. It is ${width} x ${height}, and is sized by that.`,
      { duration: 10_000 },
    );
}

/** Takes pictures and project files in: each becomes a project of its own, which is opened. */
export function useIntake(library: Library, { openWith, setTrouble }: Opening): Intake {
  /** Opens what is taken in, keeps it as a project of its own and goes there. */
  const begin = useCallback(
    async (name: string, make: (options: JobOptions) => Promise<TakenIn>) => {
      const opened = await openWith(
        { name, refused: (reason) => `${name}: ${reason}` },
        async (options) => {
          const house = await readHouse(library);
          const { loaded, document: given, versions: packed = [] } = await make(options);
          try {
            const document = given(loaded.opened, house);
            const id = freshId();
            const versions = packed.map((one) => ({ ...one, id: freshId(), thumbnail: null }));
            const project = assembleProject({ id, document, versions }, loaded, house, tellTrouble);
            await library.saveProject(id, {
              document: project.documents.getState().document,
              versions,
              artwork: loaded.bytes,
            });
            return project;
          } catch (error) {
            loaded.worker.close();
            throw error;
          }
        },
      );
      if (opened) goTo(pathOf(opened.id, 'stack'));
    },
    [library, openWith],
  );

  const takeIn = useCallback(
    async (file: File) => {
      setTrouble(null);
      if (file.size > MOST_PICTURE_BYTES) {
        setTrouble(
          `${file.name}: The file is larger than 200 MB. Save the picture as JPEG or PNG at a smaller size.`,
        );
        return;
      }
      let bytes: Uint8Array<ArrayBuffer>;
      try {
        bytes = new Uint8Array(await file.arrayBuffer());
      } catch {
        setTrouble(
          `${file.name}: The file cannot be read any more. Was it moved? Choose it again.`,
        );
        return;
      }
      await begin(file.name, async (options) => {
        if (looksLikeProject(bytes)) {
          const { packed, loaded } = await loadProjectFile(bytes, options);
          tellOtherSize(packed.document, loaded.opened);
          return { loaded, document: () => packed.document, versions: packed.versions };
        }
        return {
          loaded: refuseEmpty(await loadArtwork(bytes, options)),
          document: (opened, house) => {
            if (house.rack.length === 0)
              toast(
                'Your rack is empty, so this begins with a plain black and a plain white. Put your filaments into the rack.',
                { duration: 10_000 },
              );
            return newProject(
              { name: nameFromFile(file.name), ...incoming(file.name, opened) },
              house.rack,
            );
          },
        };
      });
    },
    [begin, setTrouble],
  );

  const takeDemo = useCallback(
    async (name: string, file: string, demo: DemoProject | null) => {
      const url = DEMO_ASSETS[file]?.url;
      if (!url) return;
      try {
        const answer = await fetch(url);
        if (!answer.ok) throw new Error(`status ${answer.status}`);
        const bytes = new Uint8Array(await answer.arrayBuffer());
        await begin(name, async (options) => ({
          loaded: await loadArtwork(bytes, options),
          document: (opened, house) =>
            demo
              ? newProject(
                  { name: demo.name, ...incoming(`${name}.png`, opened) },
                  house.rack,
                  demo.recipe,
                  { kind: 'tone', ...demo.rule },
                  // A demo comes with its own filaments, whatever the maker's rack holds.
                  demoFilaments(),
                )
              : newProject({ name, ...incoming(`${name}.png`, opened) }, house.rack),
        }));
      } catch (error) {
        setTrouble(
          `${name}: the picture could not be loaded (${error instanceof Error ? error.message : String(error)}). Is the app still running?`,
        );
      }
    },
    [begin, setTrouble],
  );

  return { takeIn, takeDemo };
}
