import { useMemo } from 'react';
import { toast } from 'sonner';
import { DEMO_ASSETS } from '../../demo/assets.ts';
import { DEMO_PICTURES, DEMO_PROJECTS, type DemoProject } from '../../demo/projects.ts';
import { NewProject } from '../features/shelf/NewProject.tsx';
import { Shelf, type DemoCard } from '../features/shelf/Shelf.tsx';
import type { Library, ShelvedProject } from '../state/library.ts';
import { copyName, freshId } from './names.ts';
import { goTo, pathOf } from './route.ts';
import type { Opening } from './use-opening.ts';

interface ShelfPlaceProps {
  readonly library: Library;
  /** What is being opened, and why it could not be. */
  readonly opening: Pick<Opening, 'busy' | 'trouble' | 'cancel'>;
  readonly onFile: (file: File) => void;
  readonly projects: readonly ShelvedProject[] | null;
  /** Something on the shelf was changed: it is to be read anew. */
  readonly onChanged: () => void;
  /** Begins a demo project, or a project of a demo picture. */
  readonly onDemo: (name: string, file: string, demo: DemoProject | null) => Promise<void>;
}

/** The shelf with what is kept in the library, and the demo world. */
export function ShelfPlace({
  library,
  opening: { busy, trouble, cancel },
  onFile,
  projects,
  onChanged,
  onDemo,
}: ShelfPlaceProps) {
  const update = (changed: ShelvedProject): void => {
    void library.putProject(changed.id, () => changed).then(onChanged);
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
      newProject={<NewProject busy={busy} trouble={trouble} onFile={onFile} onCancel={cancel} />}
      projects={projects}
      demos={demos}
      pictures={pictures}
      onOpen={({ id }) => {
        goTo(pathOf(id, 'stack'));
      }}
      onRename={(saved, name) => {
        update({ ...saved, document: { ...saved.document, name }, changedAt: Date.now() });
      }}
      onDuplicate={(saved) => {
        const now = Date.now();
        const name = copyName(saved.document.name);
        update({
          ...saved,
          id: freshId(),
          document: { ...saved.document, name },
          createdAt: now,
          changedAt: now,
        });
      }}
      onDelete={(saved) => {
        update({ ...saved, deletedAt: Date.now() });
        toast(`${saved.document.name} deleted`, {
          duration: 8000,
          action: {
            label: 'Undo',
            onClick: () => {
              update({ ...saved, deletedAt: null });
            },
          },
        });
      }}
    />
  );
}
