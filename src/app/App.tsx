import { lazy, Suspense, useCallback, useEffect, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import { Toaster, toast } from 'sonner';
import { Cancelled } from '#core/base/checkpoint.ts';
import { DEMO_ASSETS } from '../../demo/assets.ts';
import type { DemoProject } from '../../demo/projects.ts';
import { NewProject } from '../features/shelf/NewProject.tsx';
import { MOST_PICTURE_BYTES } from '../platform/check-picture.ts';
import { Library, type ShelvedProject } from '../state/library.ts';
import { nameFromFile, newProject } from '../state/new-project.ts';
import type { ProjectDocument } from '../state/project-document.ts';
import { looksLikeProject, readProjectFile, type PackedVersion } from '../state/project-file.ts';
import type { OpenProject } from '../state/project-context.ts';
import { Button } from '../ui/Button.tsx';
import styles from './App.module.css';
import { Brand } from './Brand.tsx';
import { copyName, freshId } from './names.ts';
import { Places } from './Places.tsx';
import { ShelfPlace } from './ShelfPlace.tsx';
import { restoreTheme } from './theme.ts';
import { takeUnsaved } from './unsaved.ts';
import { useWindowDrop } from './use-window-drop.ts';
import { useRack } from './use-rack.ts';
import {
  assembleProject,
  closeProject,
  loadArtwork,
  readHouse,
  Refusal,
  saveProject,
} from './open-project.ts';
import { goTo, pathOf, RACK_PATH, routeOf, usePath } from './route.ts';
import { describeProjectFault } from './words.ts';
import { Workbench } from './Workbench.tsx';

/** Tables, forms and measuring are loaded when the rack is entered: the workbench does not need them. */
const RackPlace = lazy(async () => ({ default: (await import('./RackPlace.tsx')).RackPlace }));

const PrintersPlace = lazy(async () => ({
  default: (await import('./PrintersPlace.tsx')).PrintersPlace,
}));

interface Busy {
  readonly name: string;
  readonly fraction: number;
}

/** One library for the whole visit: what it holds in memory must survive every change of screen. */
const library = new Library();

function Waiting({ what }: { readonly what: string }) {
  return (
    <main className={styles.waiting}>
      <p role="status">Opening {what}</p>
    </main>
  );
}

/** Lies over everything while a file is dragged over the window. */
function DropHint() {
  return (
    <div className={styles.dropHint} data-testid="drop-hint">
      <p>Drop a picture, a .strata project, or a rack as CSV or JSON</p>
    </div>
  );
}

restoreTheme();

/** The whole app: shelf and workbench, and the way from one to the other. */
export function App() {
  const route = routeOf(usePath());
  const rack = useRack(library);
  const [projects, setProjects] = useState<readonly ShelvedProject[] | null>(null);
  const [project, setProject] = useState<OpenProject | null>(null);
  const [busy, setBusy] = useState<Busy | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [memoryOnly, setMemoryOnly] = useState(false);
  const [reopened, setReopened] = useState(0);
  const [droppedRack, setDroppedRack] = useState<File | null>(null);
  const abort = useRef<AbortController | null>(null);
  const forked = useRef<string | null>(null);
  const latest = useRef(project);
  latest.current = project;

  useEffect(() => {
    library.onTrouble = () => {
      setMemoryOnly(true);
    };
    void library.isDurable().then((durable) => {
      if (!durable) setMemoryOnly(true);
    });
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
            packed.value.versions,
          );
        return;
      }
      await begin(file.name, bytes, null);
    },
    [begin],
  );

  const dragging = useWindowDrop((file) => {
    if (/\.(csv|json)$/i.test(file.name)) {
      setDroppedRack(file);
      goTo(RACK_PATH);
    } else void takeIn(file);
  });
  // Within a project there is no other place for what a dropped file could not be.
  useEffect(() => {
    if (trouble !== null && latest.current) toast.error(trouble, { duration: 10_000 });
  }, [trouble]);

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
    if (latest.current?.id === routeId) return;
    void openWith('the project', async (options) => {
      // Looked at before and after the database: another tab writes here first, there next, and then takes it away here.
      const before = takeUnsaved(routeId, 0);
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
      const [loaded, house, kept] = await Promise.all([
        loadArtwork(bytes, options),
        readHouse(library),
        library.getHistory(routeId, saved.document),
      ]);
      const { versions = [] } = saved;
      const putBy = takeUnsaved(routeId, saved.changedAt) ?? before;
      const newer = putBy && putBy.changedAt > saved.changedAt ? putBy.document : undefined;
      // What could not be saved any more when the page was left is one step after what was.
      const history = newer ? { past: [...kept.past, saved.document], future: [] } : kept;
      return assembleProject(
        { id: routeId, document: newer ?? saved.document, versions, history },
        loaded,
        house,
        tellTrouble,
      );
    });
  }, [routeId, reopened, refreshShelf, openWith, tellTrouble]);

  // Another one was opened in its place: what the last one still does is waited for.
  const shown = useRef(project);
  useEffect(() => {
    const before = shown.current;
    shown.current = project;
    if (before && project && before.opening !== project.opening) void closeProject(before);
  }, [project]);

  // A project stays open on the way to the shelf only until the next one: it holds a decoded picture.
  useEffect(() => {
    if (!project || project.id === routeId) return;
    setProject(null);
    void closeProject(project).then(() => {
      // By now its thumbnail is on the way into the library.
      if (routeOf(window.location.pathname).place === 'shelf') void refreshShelf();
    });
  }, [project, routeId, refreshShelf]);

  /** Another tab has the project: what was done here goes on as a copy under a name and an address of its own. */
  const fork = useCallback(() => {
    const own = project;
    const at = routeOf(window.location.pathname);
    if (!own || at.place !== 'project' || forked.current === own.opening) return;
    forked.current = own.opening;
    const id = freshId();
    const rename = (document: ProjectDocument): ProjectDocument => ({
      ...document,
      name: copyName(document.name),
    });
    own.documents.setState(({ document, past, future }) => ({
      document: rename(document),
      past: past.map(rename),
      future: future.map(rename),
    }));
    const copy = { ...own, id };
    void saveProject(copy, library).then(() => {
      // Together: a path without its project, or the other way round, would close and open it again.
      flushSync(() => {
        setProject(copy);
        goTo(pathOf(id, at.stop), true);
      });
      toast(`Your change is kept in ${copy.documents.getState().document.name}`);
    });
  }, [project]);

  /** The other tab has let go: what it left is opened. */
  const reopen = useCallback(() => {
    if (latest.current) void closeProject(latest.current);
    setProject(null);
    setReopened((count) => count + 1);
  }, []);

  if (route.place === 'project') {
    if (project?.id === route.id)
      return (
        <>
          <Workbench
            key={project.opening}
            project={project}
            onFork={fork}
            onFree={reopen}
            library={library}
            stop={route.stop}
            memoryOnly={memoryOnly}
          />
          {dragging ? <DropHint /> : null}
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
        <Suspense fallback={<Waiting what="the rack" />}>
          {rack ? (
            <RackPlace
              library={library}
              rack={rack}
              wedgeOf={route.wedgeOf}
              dropped={droppedRack}
              onDroppedRead={() => {
                setDroppedRack(null);
              }}
            />
          ) : (
            <Waiting what="the rack" />
          )}
        </Suspense>
      ) : route.place === 'printers' ? (
        <Suspense fallback={<Waiting what="the printers" />}>
          <PrintersPlace library={library} />
        </Suspense>
      ) : (
        <ShelfPlace
          library={library}
          newProject={
            <NewProject
              busy={busy}
              trouble={trouble}
              onFile={(file) => void takeIn(file)}
              onCancel={() => abort.current?.abort()}
            />
          }
          projects={projects}
          onChanged={() => void refreshShelf()}
          onDemo={takeDemo}
        />
      )}
      {dragging ? <DropHint /> : null}
      <Toaster position="bottom-center" />
    </div>
  );
}
