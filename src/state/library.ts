import { createStore, type StoreApi } from 'zustand/vanilla';
import { z } from 'zod';
import { SHIPPED_PRINTERS, type Printer } from '#core/printer/printer.ts';
import type { Filament } from '#core/stack/filament.ts';
import {
  DatabaseStorage,
  historyKey,
  type ProjectWrite,
  type Storage,
  type StoredArtwork,
  type StoredProject,
  type StoredVersion,
} from '../platform/browser/storage.ts';
import { checkDocument } from './check-change.ts';
import type { History } from './document-store.ts';
import { migrateDocument } from './migrate-document.ts';
import type { ProjectDocument } from './project-document.ts';
import type { NamedVersion } from './versions.ts';
import { readStoredPrinters } from './printers.ts';
import { readStoredRack, type Rack } from './rack-store.ts';

/** A project on the shelf whose document could be read. */
export interface ShelvedProject extends StoredProject<ProjectDocument> {
  readonly document: ProjectDocument;
  readonly versions: readonly NamedVersion[];
}

/** A project whose document cannot be read: damaged, or made by a later version. It can still be downloaded. */
export interface UnreadableProject extends StoredProject {
  readonly unreadable: true;
  /** Its name, as far as that can be made out. */
  readonly name: string;
}

export type ShelfEntry = ShelvedProject | UnreadableProject;

export function isUnreadable(entry: ShelfEntry): entry is UnreadableProject {
  return 'unreadable' in entry;
}

/** A project as it is to be saved. */
export interface ProjectState {
  readonly document: ProjectDocument;
  readonly versions: readonly NamedVersion[];
  readonly history?: History;
  /** Its picture: written along where it is not there, whatever became of it. */
  readonly artwork: Uint8Array<ArrayBuffer>;
}

/** How long a deleted project can be brought back, ms. */
const KEPT_AFTER_DELETION_MS = 10 * 60_000;

/** Steps of history that are kept for the next visit. */
const KEPT_STEPS = 60;

/** Pauses before what could not be stored is tried again, ms: the first, and the longest. */
const RETRY_MS = 400;
const LONGEST_RETRY_MS = 3000;

const historySchema = z.object({
  present: z.unknown(),
  past: z.array(z.unknown()),
  future: z.array(z.unknown()),
});

const RACK_SETTING = 'rack';
const PRINTERS_SETTING = 'printers';

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
  readonly artwork: StoredArtwork | undefined;
  readonly history: unknown;
}

/**
 * The maker's projects, pictures and rack. Storage is asked first, always. What it does not take waits here, is read from
 * here, and is tried again until it is written; then it is forgotten, so that there is never a second truth.
 */
export class Library {
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

  /** @param shipped filaments of a rack that was never stored */
  constructor(
    private readonly shipped: readonly Filament[],
    private readonly storage: Storage = new DatabaseStorage(),
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

  /** All projects that are not deleted, last changed first, with those that cannot be read. */
  async listProjects(): Promise<ShelfEntry[]> {
    await this.queue;
    // What still waits may need a picture that no stored project names.
    if (this.waitingProjects.size === 0)
      await this.storage
        .sweep(Date.now() - KEPT_AFTER_DELETION_MS, digestsOf)
        .catch(() => undefined);
    const stored = new Map<string, StoredProject>();
    for (const project of await this.read(() => this.storage.listProjects(), []))
      stored.set(project.id, project);
    for (const [id, { project }] of this.waitingProjects) stored.set(id, project);
    return [...stored.values()]
      .filter(({ deletedAt }) => deletedAt === null)
      .map(entryOf)
      .sort((a, b) => b.changedAt - a.changedAt);
  }

  async getProject(id: string): Promise<ShelfEntry | undefined> {
    await this.queue;
    const project =
      this.waitingProjects.get(id)?.project ??
      (await this.read(() => this.storage.getProject(id), undefined));
    return project?.deletedAt === null ? entryOf(project) : undefined;
  }

  /**
   * Saves a project with its history and picture, all at once. A deleted one comes back by that.
   * @returns whether it was deleted before
   * @throws when the document could not be read again: then what was saved before stays
   */
  async saveProject(id: string, state: ProjectState): Promise<boolean> {
    const { document, versions, history, artwork } = state;
    const fault = checkDocument(document);
    if (fault !== null) throw new Error(`the project is not valid (${fault})`);
    const now = Date.now();
    let revived = false;
    await this.write(id, {
      make: (before) => {
        revived = before !== undefined && before.deletedAt !== null;
        return {
          id,
          document,
          versions,
          createdAt: before?.createdAt ?? now,
          changedAt: now,
          thumbnail: before?.thumbnail ?? null,
          deletedAt: null,
        };
      },
      artwork: { digest: document.artwork.digest, bytes: artwork },
      ...(history
        ? {
            history: {
              present: document,
              past: history.past.slice(-KEPT_STEPS),
              future: history.future.slice(0, KEPT_STEPS),
            },
          }
        : {}),
    });
    return revived;
  }

  /** Changes a project from how it is stored at that moment; one that is not there, or undefined, changes nothing. */
  changeProject(
    id: string,
    change: (stored: StoredProject) => StoredProject | undefined,
  ): Promise<void> {
    return this.write(id, { make: (stored) => stored && change(stored) });
  }

  /** Gives a project another name. */
  renameProject(id: string, name: string): Promise<void> {
    return this.changeProject(id, (stored) => {
      const entry = entryOf(stored);
      if (isUnreadable(entry)) return undefined;
      return { ...entry, document: { ...entry.document, name }, changedAt: Date.now() };
    });
  }

  /** Takes a project from the shelf, or brings it back. */
  deleteProject(id: string, deleted: boolean): Promise<void> {
    return this.changeProject(id, (stored) => ({
      ...stored,
      deletedAt: deleted ? Date.now() : null,
    }));
  }

  /** A copy of a project under another id and name. */
  async duplicateProject(id: string, copyId: string, name: string): Promise<void> {
    const entry = await this.getProject(id);
    if (!entry || isUnreadable(entry)) return;
    const now = Date.now();
    const copy = { ...entry, id: copyId, document: { ...entry.document, name } };
    await this.write(copyId, { make: () => ({ ...copy, createdAt: now, changedAt: now }) });
  }

  /** Resolves when everything that was to be written so far is written, or waits in memory. */
  async settled(): Promise<void> {
    await this.queue;
  }

  async getArtwork(digest: string): Promise<Uint8Array<ArrayBuffer> | undefined> {
    await this.queue;
    for (const { artwork } of this.waitingProjects.values())
      if (artwork?.digest === digest) return artwork.bytes;
    return this.read(() => this.storage.getArtwork(digest), undefined);
  }

  /** The rack; until one is stored, the shipped one. */
  async getRack(): Promise<Rack> {
    const kept = readStoredRack(await this.getSetting(RACK_SETTING));
    return kept ?? { filaments: this.shipped, tuning: 1 };
  }

  /** Stores the rack as it is now. */
  putRack(rack: Rack): Promise<void> {
    return this.putSetting(RACK_SETTING, rack);
  }

  /** The maker's printers; on the first visit the generic ones. */
  async getPrinters(): Promise<readonly Printer[]> {
    return readStoredPrinters(await this.getSetting(PRINTERS_SETTING)) ?? SHIPPED_PRINTERS;
  }

  putPrinters(printers: readonly Printer[]): Promise<void> {
    return this.putSetting(PRINTERS_SETTING, printers);
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

  /** What can be undone and redone in a project as it was left; nothing where that does not belong to `document`. */
  async getHistory(id: string, document: ProjectDocument): Promise<History> {
    const nothing = { past: [], future: [] };
    await this.queue;
    const waiting = this.waitingProjects.get(id)?.history;
    const kept = historySchema.safeParse(waiting ?? (await this.getSetting(historyKey(id))));
    if (!kept.success) return nothing;
    try {
      // Both were read the same way, so equal documents have their parts in the same order.
      if (JSON.stringify(migrateDocument(kept.data.present)) !== JSON.stringify(document))
        return nothing;
      return {
        past: kept.data.past.map(migrateDocument),
        future: kept.data.future.map(migrateDocument),
      };
    } catch {
      return nothing;
    }
  }

  /** Writes are done one after the other, and whoever reads waits for them. */
  private enqueue(action: () => Promise<void>): Promise<void> {
    const write = this.queue.then(action);
    this.queue = write.catch(() => undefined);
    return write;
  }

  private write(id: string, write: ProjectWrite): Promise<void> {
    return this.enqueue(() => this.writeNow(id, write));
  }

  private async writeNow(id: string, { make, artwork, history }: ProjectWrite): Promise<void> {
    const waiting = this.waitingProjects.get(id);
    const along = {
      artwork: artwork ?? waiting?.artwork,
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
      for (const [id, { project, artwork, history }] of [...this.waitingProjects]) {
        await this.storage.writeProject(id, {
          make: (stored) => over(stored, project),
          artwork,
          history,
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

/** The picture that a stored project names, whatever else is wrong with it. */
function digestsOf({ document }: StoredProject): string[] {
  const digest = (document as { artwork?: { digest?: unknown } } | null)?.artwork?.digest;
  return typeof digest === 'string' ? [digest] : [];
}

function entryOf(project: StoredProject): ShelfEntry {
  try {
    return {
      ...project,
      document: migrateDocument(project.document),
      versions: (project.versions ?? []).flatMap((version) => readableVersion(version) ?? []),
    };
  } catch {
    const name = (project.document as { name?: unknown } | null)?.name;
    return {
      ...project,
      unreadable: true,
      name: typeof name === 'string' && name !== '' ? name.slice(0, 200) : 'Unnamed project',
    };
  }
}

function readableVersion(version: StoredVersion): NamedVersion | undefined {
  try {
    return { ...version, document: migrateDocument(version.document) };
  } catch {
    return undefined;
  }
}
