import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Toaster, toast } from 'sonner';
import { Cancelled } from '#core/base/checkpoint.ts';
import { DEMO_ASSETS } from '../../demo/assets.ts';
import { DEMO_PICTURES, DEMO_PROJECTS, type DemoProject } from '../../demo/projects.ts';
import { NewProject } from '../features/shelf/NewProject.tsx';
import { Shelf, type DemoCard } from '../features/shelf/Shelf.tsx';
import { MOST_PICTURE_BYTES } from '../platform/check-picture.ts';
import { Library, type ShelvedProject } from '../state/library.ts';
import { nameFromFile, newProject } from '../state/new-project.ts';
import type { ProjectDocument } from '../state/project-document.ts';
import { looksLikeProject, readProjectFile } from '../state/project-file.ts';
import { planningFilaments } from '../state/rack-store.ts';
import type { OpenProject } from '../state/project-context.ts';
import { Button } from '../ui/Button.tsx';
import styles from './App.module.css';
import { Brand } from './Brand.tsx';
import { Places } from './Places.tsx';
import { useRack } from './use-rack.ts';
import { assembleProject, closeProject, loadArtwork, Refusal } from './open-project.ts';
import { goTo, pathOf, routeOf, usePath } from './route.ts';
import { describeProjectFault } from './words.ts';
import { Workbench } from './Workbench.tsx';

/** Tables, forms and measuring are loaded when the rack is entered: the workbench does not need them. */
const RackPlace = lazy(async () => ({ default: (await import('./RackPlace.tsx')).RackPlace }));

interface Busy {
  readonly name: string;
  readonly fraction: number;
}

/** One library for the whole visit: what it holds in memory must survive every change of screen. */
const library = new Library();

function freshId(): string {
  return crypto.randomUUID().slice(0, 13);
}

function Waiting() {
  return (
    <main className={styles.waiting}>
      <p role="status">Opening the rack</p>
    </main>
  );
}

/** The whole app: shelf and workbench, and the way from one to the other. */
export function App() {
  const route = routeOf(usePath());
  const rack = useRack(library);
  const [projects, setProjects] = useState<readonly ShelvedProject[] | null>(null);
  const [project, setProject] = useState<OpenProject | null>(null);
  const [busy, setBusy] = useState<Busy | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [memoryOnly, setMemoryOnly] = useState(false);
  const abort = useRef<AbortController | null>(null);

  useEffect(() => {
    library.onTrouble = () => {
      setMemoryOnly(true);
    };
    void library.isDurable().then((durable) => {
      if (!durable) setMemoryOnly(true);
    });
  }, []);

  // A file dropped beside its place would make the browser leave the app for it.
  useEffect(() => {
    const stay = (event: DragEvent): void => {
      event.preventDefault();
    };
    window.addEventListener('dragover', stay);
    window.addEventListener('drop', stay);
    return () => {
      window.removeEventListener('dragover', stay);
      window.removeEventListener('drop', stay);
    };
  }, []);

  const refreshShelf = useCallback(async () => {
    setProjects(await library.listProjects());
  }, []);

  /** Runs something that ends in an open project; says why when it does not. */
  const openWith = useCallback(
    async (
      name: string,
      work: (options: {
        signal: AbortSignal;
        onProgress: (fraction: number) => void;
      }) => Promise<OpenProject>,
    ) => {
      const controller = new AbortController();
      abort.current = controller;
      setBusy({ name, fraction: 0 });
      setTrouble(null);
      try {
        const opened = await work({
          signal: controller.signal,
          onProgress: (fraction) => {
            setBusy({ name, fraction });
          },
        });
        setProject(opened);
        return opened;
      } catch (error) {
        if (error instanceof Refusal) setTrouble(`${name}: ${error.message}`);
        else if (!(error instanceof Cancelled))
          setTrouble(
            `${name} could not be opened (${error instanceof Error ? error.message : String(error)}). Nothing was changed.`,
          );
        return null;
      } finally {
        setBusy(null);
      }
    },
    [],
  );

  const tellTrouble = useCallback((error: Error) => {
    toast.error(
      `Something went wrong while computing: ${error.message}. Your work is kept; reload the page.`,
    );
  }, []);

  /** Makes a project of a picture (and the document that came with it, if one did), keeps it and goes there. */
  const begin = useCallback(
    async (
      fileName: string,
      bytes: Uint8Array<ArrayBuffer>,
      given: ProjectDocument | DemoProject | null,
    ) => {
      const opened = await openWith(fileName, async (options) => {
        const loaded = await loadArtwork(bytes, options);
        const rack = await library.getRack().then(planningFilaments);
        const { kind, digest, width, height, histogram } = loaded.opened;
        const artwork = { fileName, kind, digest, width, height };
        const document =
          given && 'schema' in given
            ? given
            : newProject(
                { name: given?.name ?? nameFromFile(fileName), artwork, histogram },
                rack,
                given?.recipe,
                given ? { kind: 'tone', ...given.rule } : undefined,
              );
        const id = freshId();
        const now = Date.now();
        await library.putArtwork(digest, bytes);
        await library.putProject(id, () => ({
          document,
          createdAt: now,
          changedAt: now,
          thumbnail: null,
          deletedAt: null,
        }));
        return assembleProject(id, document, loaded, rack, tellTrouble);
      });
      if (opened) goTo(pathOf(opened.id, 'stack'));
    },
    [openWith, tellTrouble],
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
          );
        return;
      }
      await begin(file.name, bytes, null);
    },
    [begin],
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
    [begin],
  );

  const routeId = route.place === 'project' ? route.id : null;
  useEffect(() => {
    if (routeId === null) {
      void refreshShelf();
      return;
    }
    if (project?.id === routeId) return;
    void openWith('the project', async (options) => {
      const saved = await library.getProject(routeId);
      if (!saved)
        throw new Refusal(
          'It is not in this browser. It may have been deleted, or was made in another one.',
        );
      const bytes = await library.getArtwork(saved.document.artwork.digest);
      if (!bytes)
        throw new Refusal(
          'Its picture is missing from this browser. Begin again from the picture.',
        );
      const [loaded, rack] = await Promise.all([
        loadArtwork(bytes, options),
        library.getRack().then(planningFilaments),
      ]);
      return assembleProject(routeId, saved.document, loaded, rack, tellTrouble);
    });
    // The open project is looked at, not followed: setting it must not open it again.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [routeId, refreshShelf, openWith, tellTrouble]);

  // A project stays open on the way to the shelf only until the next one: it holds a decoded picture.
  useEffect(() => {
    if (!project || project.id === routeId) return;
    setProject(null);
    void closeProject(project).then(() => {
      // By now its thumbnail is on the way into the library.
      if (routeOf(window.location.pathname).place === 'shelf') void refreshShelf();
    });
  }, [project, routeId, refreshShelf]);

  const update = (changed: ShelvedProject): void => {
    void library.putProject(changed.id, () => changed).then(refreshShelf);
  };

  const demos = useMemo<DemoCard[]>(
    () =>
      DEMO_PROJECTS.map((demo) => ({
        name: demo.name,
        about: demo.about,
        thumb: DEMO_ASSETS[demo.file]?.thumb ?? '',
        onOpen: () => void takeDemo(demo.name, demo.file, demo),
      })),
    [takeDemo],
  );
  const pictures = useMemo<DemoCard[]>(
    () =>
      DEMO_PICTURES.map(({ name, file }) => ({
        name,
        about: 'A picture without a stack yet',
        thumb: DEMO_ASSETS[file]?.thumb ?? '',
        onOpen: () => void takeDemo(name, file, null),
      })),
    [takeDemo],
  );

  if (route.place === 'project') {
    if (project?.id === route.id)
      return (
        <>
          <Workbench
            key={project.id}
            project={project}
            library={library}
            stop={route.stop}
            memoryOnly={memoryOnly}
          />
          <Toaster position="bottom-center" />
        </>
      );
    return (
      <div className={styles.app}>
        <header className={styles.bar}>
          <Brand />
        </header>
        <main className={styles.waiting}>
          {trouble ? (
            <>
              <p role="alert">{trouble}</p>
              <Button
                look="main"
                onClick={() => {
                  setTrouble(null);
                  goTo('/');
                }}
              >
                To the shelf
              </Button>
            </>
          ) : (
            <p role="status">
              Opening the project{busy ? `, ${Math.round(busy.fraction * 100)} %` : ''}
            </p>
          )}
        </main>
      </div>
    );
  }
  return (
    <div className={styles.app}>
      <header className={styles.bar}>
        <Brand />
        <Places at={route.place} />
      </header>
      {memoryOnly ? (
        <p className={styles.banner} role="alert">
          This browser does not let the app store anything (full, or blocked). You can work, but
          projects are gone when the page is closed: download them from the workbench.
        </p>
      ) : null}
      {route.place === 'rack' ? (
        <Suspense fallback={<Waiting />}>
          {rack ? <RackPlace library={library} rack={rack} wedgeOf={route.wedgeOf} /> : <Waiting />}
        </Suspense>
      ) : (
        <Shelf
          newProject={
            <NewProject
              busy={busy}
              trouble={trouble}
              onFile={(file) => void takeIn(file)}
              onCancel={() => abort.current?.abort()}
            />
          }
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
            const name = `${saved.document.name} copy`.slice(0, 120);
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
      )}
      <Toaster position="bottom-center" />
    </div>
  );
}
