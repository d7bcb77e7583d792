import { useMemo } from 'react';
import type { Outline } from '#core/tags/outline-kinds.ts';
import { DEMO_ASSETS, TAG_THUMBS } from '../../demo/assets.ts';
import { DEMO_PICTURES, DEMO_PROJECTS, type DemoProject } from '../../demo/projects.ts';
import { DEMO_TAGS, type DemoTag } from '../../demo/tags.ts';
import { NewProject } from '../features/shelf/NewProject.tsx';
import { NewTag } from '../features/shelf/NewTag.tsx';
import { Shelf, type DemoCard } from '../features/shelf/Shelf.tsx';
import {
  isUnreadable,
  type Library,
  type ShelfEntry,
  type UnreadableProject,
} from '../state/library.ts';
import { downloadFile, fileStem } from '../platform/browser/files.ts';
import { artworkOfRaw } from '#core/formats/project/strata-parts.ts';
import { copyName, freshId } from './names.ts';
import { goTo, pathOf } from './route.ts';
import type { SessionState } from './session/project-session.ts';
import { toast } from '../ui/toast.ts';

interface ShelfPlaceProps {
  readonly library: Library;
  /** What is being opened, and why it could not be. */
  readonly opening: Pick<SessionState, 'busy' | 'trouble'>;
  readonly onCancel: () => void;
  readonly onFile: (file: File) => void;
  readonly projects: readonly ShelfEntry[] | null;
  /** Something on the shelf was changed: it is to be read anew. */
  readonly onChanged: () => void;
  /** Begins a demo project, or a project of a demo picture. */
  readonly onDemo: (name: string, file: string, demo: DemoProject | null) => Promise<void>;
  /** Begins a tag of a form, or one of the demo tags. */
  readonly onTag: (outline: Outline) => Promise<void>;
  readonly onDemoTag: (demo: DemoTag) => Promise<void>;
}

/** Hands a project that cannot be read to the maker as it is stored: another version may read it. */
async function downloadUnreadable(
  { document, versions, name, data = [] }: Omit<UnreadableProject, 'unreadable'>,
  library: Library,
): Promise<void> {
  const { digest, kind } = artworkOfRaw(document);
  const artwork = digest === undefined ? undefined : await library.getBytes(digest);
  const beside = new Map<string, Uint8Array>();
  for (const one of data) {
    const bytes = await library.getBytes(one);
    if (bytes) beside.set(one, bytes);
  }
  const { packStrata } = await import('#core/formats/project/strata-file.ts');
  downloadFile(
    `${fileStem(name)}.strata`,
    packStrata(document, versions, artwork, kind, beside),
    'application/zip',
  );
}

/** The shelf with what is kept in the library, and the demo world. */
export function ShelfPlace({
  library,
  opening: { busy, trouble },
  onCancel,
  onFile,
  projects,
  onChanged,
  onDemo,
  onTag,
  onDemoTag,
}: ShelfPlaceProps) {
  /** Each change is made of what is stored at that moment: another tab may have saved since the shelf was read. */
  const after = (change: Promise<void>): void => {
    void change.then(onChanged);
  };
  const demos = useMemo<DemoCard[]>(
    () =>
      DEMO_PROJECTS.map((demo) => ({
        name: demo.name,
        about: demo.about,
        thumb: DEMO_ASSETS[demo.file]?.thumb ?? '',
        onOpen: () => {
          void onDemo(demo.name, demo.file, demo);
        },
      })),
    [onDemo],
  );
  const tags = useMemo<DemoCard[]>(
    () =>
      DEMO_TAGS.map((demo) => ({
        name: demo.name,
        about: demo.about,
        thumb: TAG_THUMBS[demo.file] ?? '',
        onOpen: () => {
          void onDemoTag(demo);
        },
      })),
    [onDemoTag],
  );
  const pictures = useMemo<DemoCard[]>(
    () =>
      DEMO_PICTURES.map(({ name, file }) => ({
        name,
        about: 'A picture without a stack yet',
        thumb: DEMO_ASSETS[file]?.thumb ?? '',
        onOpen: () => {
          void onDemo(name, file, null);
        },
      })),
    [onDemo],
  );
  return (
    <Shelf
      newProject={
        <>
          <NewProject busy={busy} trouble={trouble} onFile={onFile} onCancel={onCancel} />
          <NewTag
            disabled={busy !== null}
            onTag={(outline) => {
              void onTag(outline);
            }}
          />
        </>
      }
      projects={projects}
      demos={[...demos, ...tags]}
      pictures={pictures}
      onOpen={({ id, document }) => {
        goTo(pathOf(id, document.tag ? 'tag' : 'stack'));
      }}
      onRename={(saved, name) => {
        after(library.renameProject(saved.id, name));
      }}
      onDuplicate={(saved) => {
        after(library.duplicateProject(saved.id, freshId(), copyName(saved.document.name)));
      }}
      onDownload={(unreadable) => {
        void downloadUnreadable(unreadable, library);
      }}
      onDelete={(saved) => {
        after(library.deleteProject(saved.id, true));
        toast(`${isUnreadable(saved) ? saved.name : saved.document.name} deleted`, {
          duration: 8000,
          action: {
            label: 'Undo',
            onClick: () => {
              after(library.deleteProject(saved.id, false));
            },
          },
        });
      }}
    />
  );
}
