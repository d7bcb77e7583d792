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

/** A place that is written to at once, for what is unwritten when the page goes; see `app/unsaved.ts`. */
export interface PutBy {
  readonly put: (settings: readonly (readonly [key: string, value: unknown])[]) => void;
  /** Gives what was put by. It stays there until it is forgotten. */
  readonly take: () => readonly (readonly [key: string, value: unknown])[];
  readonly forget: () => void;
}

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
  readonly trouble: StoreApi<{ readonly troubled: boolean }> = createStore(() => ({
    troubled: false,
  }));

  constructor(
    private readonly storage: Storage,
    private readonly putBy?: PutBy,
  ) {
    this.queue = storage.open().then(
      async () => {
        this.everOpened = true;
        // What the last page could not finish writing comes first of all.
        for (const [key, value] of putBy?.take() ?? [])
          await storage.putSetting(key, value).catch(() => {
            this.waitingSettings.set(key, value);
            this.failed();
          });
        if (this.waitingSettings.size === 0) putBy?.forget();
      },
      () => {
        this.failed();
      },
    );
  }

  /** Puts by what is not written yet, because the page is being left. */
  leave(): void {
    const unwritten = [...this.waitingSettings, ...this.writingSettings];
    if (unwritten.length > 0) this.putBy?.put(unwritten);
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
      } catch {
        this.waitingSettings.set(key, value);
        this.failed();
      } finally {
        if (this.writingSettings.get(key) === value) this.writingSettings.delete(key);
        // The page stayed after all.
        if (this.writingSettings.size === 0 && this.waitingSettings.size === 0)
          this.putBy?.forget();
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
      await this.storage.writeProject(id, { make: makeNow, ...along });
      this.waitingProjects.delete(id);
      this.worked();
    } catch (error) {
      // A change that cannot be made is no fault of the storage.
      if (broken !== undefined) throw error;
      const stored = await this.storage.getProject(id).catch(() => undefined);
      const made = makeNow(stored);
      if (made) this.waitingProjects.set(id, { project: made, ...along });
      this.failed();
    }
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
        this.failed();
        if (!this.everOpened) return nothing;
        if (tries === 4) throw error;
        await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
      }
  }

  private failed(): void {
    this.trouble.setState({ troubled: true });
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
    this.trouble.setState({ troubled: false });
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
        this.waitingProjects.delete(id);
      }
      this.worked();
    } catch {
      this.failed();
    }
  }
}

/** A project that waited, put over what is stored of it. */
function over(stored: StoredProject | undefined, waiting: StoredProject): StoredProject {
  return {
    ...waiting,
    createdAt: stored?.createdAt ?? waiting.createdAt,
    thumbnail: waiting.thumbnail ?? stored?.thumbnail ?? null,
  };
}
