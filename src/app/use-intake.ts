import { useCallback } from 'react';
import { DEMO_ASSETS } from '../../demo/assets.ts';
import type { DemoProject } from '../../demo/projects.ts';
import { MOST_PICTURE_BYTES } from '../platform/check-picture.ts';
import type { Library } from '../state/library.ts';
import { nameFromFile, newProject } from '../state/new-project.ts';
import type { ProjectDocument } from '../state/project-document.ts';
import { looksLikeProject, readProjectFile, type PackedVersion } from '../state/project-file.ts';
import { freshId } from './names.ts';
import { assembleProject, loadArtwork, readHouse } from './open-project.ts';
import { goTo, pathOf } from './route.ts';
import { tellTrouble } from './tell-trouble.ts';
import type { Opening } from './use-opening.ts';
import { describeProjectFault } from './words.ts';

/** Ways to a new project. */
export interface Intake {
  /** Takes a picture or a project file in. */
  readonly takeIn: (file: File) => Promise<void>;
  /** Begins with one of the demo pictures; with the demo's own stack and rule where `demo` is given. */
  readonly takeDemo: (name: string, file: string, demo: DemoProject | null) => Promise<void>;
}

/** Takes pictures and project files in: each becomes a project of its own, which is opened. */
export function useIntake(library: Library, { openWith, setTrouble }: Opening): Intake {
  /** Makes a project of a picture (and the document that came with it, if one did), keeps it and goes there. */
  const begin = useCallback(
    async (
      fileName: string,
      bytes: Uint8Array<ArrayBuffer>,
      given: ProjectDocument | DemoProject | null,
      packed: readonly PackedVersion[] = [],
    ) => {
      const opened = await openWith(fileName, async (options) => {
        const loaded = await loadArtwork(bytes, options);
        const house = await readHouse(library);
        const { kind, digest, width, height, histogram, box } = loaded.opened;
        const artwork = { fileName, kind, digest, width, height, box };
        const document =
          given && 'schema' in given
            ? given
            : newProject(
                { name: given?.name ?? nameFromFile(fileName), artwork, histogram },
                house.rack,
                given?.recipe,
                given ? { kind: 'tone', ...given.rule } : undefined,
              );
        const id = freshId();
        const now = Date.now();
        const versions = packed.map((version) => ({
          ...version,
          id: freshId(),
          thumbnail: null,
        }));
        await library.putArtwork(digest, bytes);
        await library.putProject(id, () => ({
          document,
          versions,
          createdAt: now,
          changedAt: now,
          thumbnail: null,
          deletedAt: null,
        }));
        return assembleProject({ id, document, versions }, loaded, house, tellTrouble);
      });
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
      if (looksLikeProject(bytes)) {
        const packed = readProjectFile(bytes);
        if (!packed.ok) setTrouble(`${file.name}: ${describeProjectFault(packed.fault)}`);
        else
          await begin(
            packed.value.document.artwork.fileName,
            packed.value.artwork,
            packed.value.document,
            packed.value.versions,
          );
        return;
      }
      await begin(file.name, bytes, null);
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
        await begin(`${name}.png`, new Uint8Array(await answer.arrayBuffer()), demo);
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
