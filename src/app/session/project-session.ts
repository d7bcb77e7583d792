import { createStore, type StoreApi } from 'zustand/vanilla';
import { Cancelled } from '#core/base/checkpoint.ts';
import { isUnreadable, type Library } from '../../state/library.ts';
import { settledState } from '../../state/document-store.ts';
import { longerPxOf } from '../../state/document-facts.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import type { OpenProject } from '../../state/project-context.ts';
import type { JobOptions } from '../../workers/client.ts';
import { copyName, freshId } from '../names.ts';
import { takeUnsaved } from '../unsaved.ts';
import { readyFor } from './ready-for.ts';
import {
  assembleProject,
  closeProject,
  loadArtwork,
  readHouse,
  Refusal,
  saveProject,
  type House,
  type LoadedArtwork,
  type TakenIn,
} from './open-project.ts';

/** What is being opened, and how far that is. */
export interface Busy {
  readonly name: string;
  readonly fraction: number;
}

export interface SessionState {
  /** The project that is open. */
  readonly project: OpenProject | null;
  readonly busy: Busy | null;
  /** Why the last one could not be opened, in words. */
  readonly trouble: string | null;
}

/** Where the session stands: the address, and ways to tell the maker. */
export interface Surroundings {
  /** Id of the project that the address names; null away from projects. */
  readonly addressed: () => string | null;
  /** Puts a project into the address: as a further place, or in the place of the present one. */
  readonly go: (id: string, replace: boolean) => void;
  readonly tell: (text: string) => void;
  readonly tellTrouble: (error: Error) => void;
  /** A project was closed; its last thumbnail is on the way into the library. */
  readonly onClosed: () => void;
  /** A project of a new picture is open, with nothing chosen for it yet. */
  readonly onFresh: (project: OpenProject) => void;
  /** Decodes a picture in a worker of its own. */
  readonly load: typeof loadArtwork;
}

/** What is to be opened. */
interface Opened {
  /** As it stands in a sentence: the name of a file, or `the project`. */
  readonly name: string;
  /** Says a reason why it cannot be opened. */
  readonly refused: (reason: string) => string;
}

const THE_PROJECT: Opened = {
  name: 'the project',
  refused: (reason) => `This project cannot be opened. ${reason}`,
};

/**
 * The life of one open project: opening (from the shelf, or taken in), open, splitting off as a copy, closing. Only the last
 * wish counts, in whichever order things end; address and project change in one turn of the event loop, so no screen sees one
 * without the other.
 */
export class ProjectSession {
  readonly store: StoreApi<SessionState> = createStore(() => ({
    project: null,
    busy: null,
    trouble: null,
  }));
  private abort: AbortController | null = null;
  /** The id that is being opened because the address names it. */
  private following: string | null = null;
  private splitOff: string | null = null;

  constructor(
    private readonly library: Library,
    private readonly around: Surroundings,
  ) {}

  /** Sees to it that the open project is the one that the address names; null closes it. */
  follow(id: string | null): void {
    const { project } = this.store.getState();
    if (this.following !== null && this.following !== id) this.cancel();
    if (project && project.id !== id) this.leave(project);
    if (id !== null && project?.id !== id && this.following !== id) void this.openStored(id);
  }

  /** Takes something in as a project of its own, and goes there. */
  async takeIn(
    name: string,
    make: (options: JobOptions, house: House) => Promise<TakenIn>,
  ): Promise<void> {
    let fresh = false;
    await this.openWith(
      { name, refused: (reason) => `${name}: ${reason}` },
      async (options) => {
        const house = await readHouse(this.library);
        const {
          loaded,
          document: first,
          versions: packed = [],
          isFresh,
        } = await make(options, house);
        fresh = isFresh === true;
        try {
          await readyFor(first);
          const id = freshId();
          const versions = packed.map((one) => ({ ...one, id: freshId(), thumbnail: null }));
          const project = this.assemble({ id, document: first, versions }, loaded, house);
          const { document } = project.documents.getState();
          await this.library.saveProject(id, { document, versions, artwork: loaded.bytes });
          return project;
        } catch (error) {
          loaded.worker.close();
          throw error;
        }
      },
      // At once: a screen that saw the project without its address would close it again.
      (project) => {
        this.around.go(project.id, false);
        if (fresh) this.around.onFresh(project);
      },
    );
  }

  /**
   * Draws the open project's drawing on other pixels. Places of edits and selections go along in every state that undo and versions
   * lead to, so nothing else changes.
   * @param longerPx pixels of its longer side
   */
  async redraw(longerPx: number): Promise<void> {
    const { project: own } = this.store.getState();
    if (!own) return;
    await this.openWith(THE_PROJECT, async (options) => {
      const [loaded, house, { onPicture }] = await Promise.all([
        this.around.load(own.artworkBytes, options, longerPx),
        readHouse(this.library),
        import('../../state/replace-picture.ts'),
      ]);
      // What was done while it was drawn is kept.
      const { document, past, future } = settledState(own.documents.getState());
      const onto = (one: ProjectDocument): ProjectDocument => onPicture(one, loaded.opened);
      const project = this.assemble(
        {
          id: own.id,
          document: onto(document),
          history: { past: past.map(onto), future: future.map(onto) },
          versions: own.versions
            .getState()
            .versions.map((one) => ({ ...one, document: onto(one.document) })),
          unsaved: true,
        },
        loaded,
        house,
      );
      return { ...project, views: own.views, after: own.endings };
    });
  }

  /** What is done here while another tab has the project goes on as a copy under a name and an address of its own. */
  split(): void {
    const { project: own } = this.store.getState();
    if (!own) return;
    if (own.id !== this.around.addressed() || this.splitOff === own.opening) return;
    this.splitOff = own.opening;
    const rename = (document: ProjectDocument): ProjectDocument => ({
      ...document,
      name: copyName(document.name),
    });
    own.documents.setState(({ document, past, future, gestureFrom }) => {
      const renamed = rename(document);
      return {
        document: renamed,
        past: past.map(rename),
        future: future.map(rename),
        // A drag that has moved nothing yet must not look as if it had.
        gestureFrom: gestureFrom === document ? renamed : gestureFrom && rename(gestureFrom),
      };
    });
    // What is done while the copy is being written is saved once it is entered.
    const copy: OpenProject = { ...own, id: freshId(), unsaved: true, endings: [] };
    const state = {
      ...settledState(own.documents.getState()),
      versions: own.versions.getState().versions,
    };
    saveProject(copy, this.library, state).then(
      () => {
        if (this.store.getState().project?.opening === own.opening) {
          this.store.setState({ project: copy });
          this.around.go(copy.id, true);
        }
        this.around.tell(`Your change is kept in ${copy.documents.getState().document.name}`);
      },
      (error: unknown) => {
        this.splitOff = null;
        this.around.tellTrouble(error instanceof Error ? error : new Error(String(error)));
      },
    );
  }

  /** The other tab has let go: what it left is opened. */
  reopen(): void {
    const { project } = this.store.getState();
    if (project) this.leave(project);
    this.follow(this.around.addressed());
  }

  /** Gives up what is being opened. */
  cancel(): void {
    this.abort?.abort();
    this.abort = null;
    this.following = null;
    this.store.setState({ busy: null });
  }

  /** Says why something could not even be begun; null takes that back. */
  setTrouble(trouble: string | null): void {
    this.store.setState({ trouble });
  }

  private leave(project: OpenProject): void {
    this.store.setState({ project: null });
    void closeProject(project).then(this.around.onClosed);
  }

  private assemble(
    parts: Parameters<typeof assembleProject>[0],
    loaded: LoadedArtwork,
    house: House,
  ): OpenProject {
    return assembleProject(parts, loaded, house, this.around.tellTrouble);
  }

  private async openStored(id: string): Promise<void> {
    this.following = id;
    await this.openWith(THE_PROJECT, (options) => this.readStored(id, options));
    if (this.following === id) this.following = null;
  }

  /** Runs something that ends in an open project; says why when it does not. What was being opened before is given up. */
  private async openWith(
    { name, refused }: Opened,
    work: (options: JobOptions) => Promise<OpenProject>,
    arrived?: (project: OpenProject) => void,
  ): Promise<void> {
    const controller = new AbortController();
    this.abort?.abort();
    this.abort = controller;
    const isWanted = (): boolean => this.abort === controller && !controller.signal.aborted;
    this.store.setState({ busy: { name, fraction: 0 }, trouble: null });
    try {
      const opened = await work({
        signal: controller.signal,
        onProgress: (fraction) => {
          if (isWanted()) this.store.setState({ busy: { name, fraction } });
        },
      });
      if (!isWanted()) {
        void closeProject(opened);
        return;
      }
      const { project: before } = this.store.getState();
      this.store.setState({ project: opened });
      // Another one was open in its place: what that still does is waited for.
      if (before) void closeProject(before);
      arrived?.(opened);
    } catch (error) {
      if (!isWanted() || error instanceof Cancelled) return;
      const reason = error instanceof Error ? error.message : String(error);
      this.setTrouble(
        error instanceof Refusal
          ? refused(reason)
          : `${name} could not be opened (${reason}). Nothing was changed.`,
      );
    } finally {
      if (this.abort === controller) {
        this.abort = null;
        this.store.setState({ busy: null });
      }
    }
  }

  private async readStored(id: string, options: JobOptions): Promise<OpenProject> {
    const { library } = this;
    // Looked at before and after the database: another tab writes here first, there next, and then takes it away here.
    const before = takeUnsaved(id, 0);
    const saved = await library.getProject(id);
    if (saved && isUnreadable(saved))
      throw new Refusal(
        'What is stored of it is damaged, or was made by a later version. Download it from the shelf, where it stays.',
      );
    if (!saved && library.trouble.getState().newer)
      throw new Refusal(
        'What this browser keeps was written by a newer version of the app, and stays there as it is. Start that version, or load this page anew once it is updated.',
      );
    if (!saved)
      throw new Refusal(
        'It is not in this browser. It may have been deleted, or was made in another one.',
      );
    const bytes = await library.getBytes(saved.document.artwork.file.digest);
    if (!bytes)
      throw new Refusal('Its picture is missing from this browser. Begin again from the picture.');
    await readyFor(saved.document);
    const [loaded, house, kept] = await Promise.all([
      this.around.load(bytes, options, longerPxOf(saved.document)),
      readHouse(library),
      library.getHistory(id, saved.document),
      library.readData(saved),
    ]);
    const putBy = takeUnsaved(id, saved.changedAt) ?? before;
    const late = putBy && putBy.changedAt > saved.changedAt ? putBy.document : undefined;
    // A save that only made the thumbnail puts by what is saved already: that is no step.
    const newer = JSON.stringify(late) === JSON.stringify(saved.document) ? undefined : late;
    return this.assemble(
      {
        id,
        document: newer ?? saved.document,
        versions: saved.versions,
        // What could not be saved any more when the page was left is one step after what was.
        history: newer ? { past: [...kept.past, saved.document], future: [] } : kept,
        unsaved: newer !== undefined,
      },
      loaded,
      house,
    );
  }
}
