import { createStore, type StoreApi } from 'zustand/vanilla';
import {
  historyKey,
  type ProjectWrite,
  type Storage,
  type BytesOf,
  type StoredBytes,
  type StoredProject,
} from '../platform/browser/storage.ts';

/** Pauses before what could not be stored is tried again, ms: the first, and the longest. */
const RETRY_MS = 400;
const LONGEST_RETRY_MS = 3000;

/** What is unwritten when the page goes. */
export interface Unwritten {
  readonly settings: readonly (readonly [key: string, value: unknown])[];
  readonly projects: readonly UnwrittenProject[];
}

/** A project that storage does not take, with what stands beside it. */
export interface UnwrittenProject {
  readonly project: StoredProject;
  /** Its picture, where there is room for it. */
  readonly artwork?: StoredBytes | undefined;
  /** What it names in `data`. */
  readonly beside: readonly StoredBytes[];
  readonly history?: unknown;
}

/** A place that is written to at once, for what is unwritten when the page goes; see `app/unsaved.ts`. */
export interface PutBy {
  readonly put: (unwritten: Unwritten) => void;
  /** Gives what was put by. It stays there until it is forgotten. */
  readonly take: () => Unwritten;
  readonly forget: () => void;
}

/** Whether storage is refused, or something is only in this page's memory; and whether that is so because a newer app wrote it. */
export interface StorageTrouble {
  readonly troubled: boolean;
  readonly newer: boolean;
}

/** A data base of a later version than this app knows (Indexed Database API, 2.2: opening it ends in a VersionError). */
const isNewer = (error: unknown): boolean =>
  error instanceof DOMException && error.name === 'VersionError';

/** A project that could not be written yet. */
interface WaitingProject {
  readonly project: StoredProject;
  readonly artwork: StoredBytes | undefined;
  readonly bytesOf: BytesOf | undefined;
  readonly history: unknown;
}

/**
 * Storage that loses nothing: it is asked first, always. What it does not take waits here, is read from here, and is tried
 * again until it is written; then it is forgotten, so that there is never a second truth. Writes are done one after the
 * other, and whoever reads waits for them.
 */
export class PatientStorage {
  private queue: Promise<unknown> = Promise.resolve();
  private readonly waitingProjects = new Map<string, WaitingProject>();
  private readonly waitingSettings = new Map<string, unknown>();
  /** What is being written now: a page that is being left may go before the database has it. */
  private readonly writingSettings = new Map<string, unknown>();
  private retryTimer: ReturnType<typeof setTimeout> | undefined;
  private retryMs = RETRY_MS;
  private everOpened = false;
  /** Whether something the maker did is only in this page's memory, or storage is refused. */
  readonly trouble: StoreApi<StorageTrouble> = createStore(() => ({
    troubled: false,
    newer: false,
  }));

  constructor(
    private readonly storage: Storage,
    private readonly putBy?: PutBy,
  ) {
    this.queue = storage.open().then(
      async () => {
        this.everOpened = true;
        // What the last page could not finish writing comes first of all.
        const { settings, projects } = putBy?.take() ?? { settings: [], projects: [] };
        for (const [key, value] of settings)
          await storage.putSetting(key, value).catch((error: unknown) => {
            this.waitingSettings.set(key, value);
            this.failed(error);
          });
        for (const one of projects) await this.takeBack(one);
        this.forgetPutBy();
      },
      (error: unknown) => {
        // The fault goes on: what the last page put by is here, at least.
        const { settings, projects } = putBy?.take() ?? { settings: [], projects: [] };
        for (const [key, value] of settings) this.waitingSettings.set(key, value);
        for (const one of projects) this.waitingProjects.set(one.project.id, waitingOf(one));
        this.failed(error);
      },
    );
  }

  /** Writes a project that the last page could not, unless it was changed elsewhere since. */
  private async takeBack(one: UnwrittenProject): Promise<void> {
    const { project } = one;
    const waiting = waitingOf(one);
    try {
      await this.storage.writeProject(project.id, {
        ...waiting,
        make: (stored) =>
          stored && stored.changedAt >= project.changedAt ? undefined : over(stored, project),
      });
    } catch (error) {
      this.waitingProjects.set(project.id, waiting);
      this.failed(error);
    }
  }

  /** Whether a project is only in this page's memory. */
  isWaiting(id: string): boolean {
    return this.waitingProjects.has(id);
  }

  /** Forgets what was put by, once nothing of it waits any more. */
  private forgetPutBy(): void {
    if (
      this.writingSettings.size === 0 &&
      this.waitingSettings.size === 0 &&
      this.waitingProjects.size === 0
    )
      this.putBy?.forget();
  }

  /** Puts by what is not written yet, because the page is being left. */
  leave(): void {
    const settings = [...this.waitingSettings, ...this.writingSettings];
    const projects = [...this.waitingProjects.values()].map(
      ({ project, artwork, bytesOf, history }): UnwrittenProject => ({
        project,
        artwork,
        beside: (project.data ?? []).flatMap((digest) => {
          const bytes = bytesOf?.(digest);
          return bytes ? [{ digest, bytes }] : [];
        }),
        history,
      }),
    );
    if (settings.length + projects.length > 0) this.putBy?.put({ settings, projects });
  }

  /** Everything that is stored, deleted projects too; pictures that none of them names go first. */
  async listProjects(
    keptAfterDeletionMs: number,
    digestsOf: (project: StoredProject) => string[],
  ): Promise<StoredProject[]> {
    await this.queue;
    // What still waits may need a picture that no stored project names.
    if (this.waitingProjects.size === 0)
      await this.storage.sweep(Date.now() - keptAfterDeletionMs, digestsOf).catch(() => undefined);
    const stored = new Map<string, StoredProject>();
    for (const project of await this.read(() => this.storage.listProjects(), []))
      stored.set(project.id, project);
    for (const [id, { project }] of this.waitingProjects) stored.set(id, project);
    return [...stored.values()];
  }

  async getProject(id: string): Promise<StoredProject | undefined> {
    await this.queue;
    return (
      this.waitingProjects.get(id)?.project ??
      (await this.read(() => this.storage.getProject(id), undefined))
    );
  }

  async getBytes(digest: string): Promise<Uint8Array<ArrayBuffer> | undefined> {
    await this.queue;
    for (const { artwork, bytesOf } of this.waitingProjects.values()) {
      if (artwork?.digest === digest) return artwork.bytes;
      const bytes = bytesOf?.(digest);
      if (bytes) return bytes;
    }
    return this.read(() => this.storage.getBytes(digest), undefined);
  }

  /** The history that was written along with a project. */
  async getHistory(id: string): Promise<unknown> {
    await this.queue;
    return this.waitingProjects.get(id)?.history ?? (await this.getSetting(historyKey(id)));
  }

  /** Something small that is kept under a name; undefined when there is nothing. */
  async getSetting(key: string): Promise<unknown> {
    await this.queue;
    return (
      this.waitingSettings.get(key) ??
      (await this.read(() => this.storage.getSetting(key), undefined))
    );
  }

  putSetting(key: string, value: unknown): Promise<void> {
    this.writingSettings.set(key, value);
    return this.enqueue(async () => {
      try {
        await this.storage.putSetting(key, value);
        this.waitingSettings.delete(key);
        this.worked();
      } catch (error) {
        this.waitingSettings.set(key, value);
        this.failed(error);
      } finally {
        if (this.writingSettings.get(key) === value) this.writingSettings.delete(key);
        // The page stayed after all.
        this.forgetPutBy();
      }
    });
  }

  /** Resolves when everything that was to be written so far is written, or waits in memory. */
  async settled(): Promise<void> {
    await this.queue;
  }

  /**
   * Writes a project with what belongs to it, all at once, or lets it wait.
   * @throws what the change itself throws: then nothing is written
   */
  writeProject(id: string, write: ProjectWrite): Promise<void> {
    return this.enqueue(() => this.writeNow(id, write));
  }

  private enqueue(action: () => Promise<void>): Promise<void> {
    const write = this.queue.then(action);
    this.queue = write.catch(() => undefined);
    return write;
  }

  private async writeNow(
    id: string,
    { make, artwork, bytesOf, history }: ProjectWrite,
  ): Promise<void> {
    const waiting = this.waitingProjects.get(id);
    const along = {
      artwork: artwork ?? waiting?.artwork,
      bytesOf: bytesOf ?? waiting?.bytesOf,
      history: history ?? waiting?.history,
    };
    let broken: unknown;
    const makeNow = (stored: StoredProject | undefined): StoredProject | undefined => {
      try {
        return make(waiting ? over(stored, waiting.project) : stored);
      } catch (error) {
        broken = error;
        throw error;
      }
    };
    try {
      let made: StoredProject | undefined;
      await this.storage.writeProject(id, {
        make: (stored) => (made = makeNow(stored)),
        ...along,
      });
      await this.readBack(made);
      this.waitingProjects.delete(id);
      this.forgetPutBy();
      this.worked();
    } catch (error) {
      // A change that cannot be made is no fault of the storage.
      if (broken !== undefined) throw error;
      const stored = await this.storage.getProject(id).catch(() => undefined);
      const made = makeNow(stored);
      if (made) this.waitingProjects.set(id, { project: made, ...along });
      this.failed(error);
    }
  }

  /**
   * Reads what was just written: only what can be read again is saved.
   * @throws where it is not there as it was written; a later save, of another tab too, is no fault
   */
  private async readBack(made: StoredProject | undefined): Promise<void> {
    if (!made) return;
    const stored = await this.storage.getProject(made.id);
    if (!stored || stored.changedAt < made.changedAt)
      throw new Error('what was written could not be read back');
    if (
      stored.changedAt === made.changedAt &&
      JSON.stringify(stored.document) !== JSON.stringify(made.document)
    )
      throw new Error('what was read back is not what was written');
  }

  /**
   * Reads from storage. Where it was refused from the beginning there is nothing in it; where it failed in between, that
   * must not be taken for nothing.
   */
  private async read<T>(action: () => Promise<T>, nothing: T): Promise<T> {
    for (let tries = 1; ; tries += 1)
      try {
        const value = await action();
        this.everOpened = true;
        return value;
      } catch (error) {
        this.failed(error);
        if (!this.everOpened) return nothing;
        if (tries === 4) throw error;
        await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
      }
  }

  private failed(error: unknown): void {
    this.trouble.setState({ troubled: true, newer: isNewer(error) });
    if (this.retryTimer !== undefined) return;
    this.retryTimer = setTimeout(() => {
      this.retryTimer = undefined;
      void this.enqueue(() => this.retry());
    }, this.retryMs);
    this.retryMs = Math.min(LONGEST_RETRY_MS, 1.5 * this.retryMs);
  }

  /** Storage works again; the trouble is over once nothing waits. */
  private worked(): void {
    this.everOpened = true;
    if (this.waitingProjects.size > 0 || this.waitingSettings.size > 0) return;
    clearTimeout(this.retryTimer);
    this.retryTimer = undefined;
    this.retryMs = RETRY_MS;
    this.trouble.setState({ troubled: false, newer: false });
  }

  private async retry(): Promise<void> {
    try {
      await this.storage.open();
      for (const [key, value] of [...this.waitingSettings]) {
        await this.storage.putSetting(key, value);
        this.waitingSettings.delete(key);
      }
      for (const [id, { project, ...along }] of [...this.waitingProjects]) {
        await this.storage.writeProject(id, {
          make: (stored) => over(stored, project),
          ...along,
        });
        await this.readBack(project);
        this.waitingProjects.delete(id);
      }
      this.forgetPutBy();
      this.worked();
    } catch (error) {
      this.failed(error);
    }
  }
}

function waitingOf({ project, artwork, beside, history }: UnwrittenProject): WaitingProject {
  const bytes = new Map(beside.map((one) => [one.digest, one.bytes]));
  return { project, artwork, bytesOf: (digest) => bytes.get(digest), history };
}

/** A project that waited, put over what is stored of it. */
function over(stored: StoredProject | undefined, waiting: StoredProject): StoredProject {
  return {
    ...waiting,
    createdAt: stored?.createdAt ?? waiting.createdAt,
    thumbnail: waiting.thumbnail ?? stored?.thumbnail ?? null,
  };
}
