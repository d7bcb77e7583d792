import { openDB, type DBSchema, type IDBPDatabase } from 'idb';

/** A saved project. `Document` is checked by whoever reads it: it may stem from an older version. */
export interface StoredProject<Document = unknown> {
  readonly id: string;
  readonly document: Document;
  readonly createdAt: number;
  readonly changedAt: number;
  /** Small PNG of the predicted print. */
  readonly thumbnail: Blob | null;
  /** States of the document that the maker named, oldest first. */
  readonly versions?: readonly StoredVersion<Document>[];
  /** Digests of what stands beside the document, its versions and its history: their data, not their picture. */
  readonly data?: readonly string[];
  /** When the maker deleted it; it is kept for a while so that this can be undone. */
  readonly deletedAt: number | null;
}

/** A state of a document under a name. */
export interface StoredVersion<Document = unknown> {
  readonly id: string;
  readonly name: string;
  readonly createdAt: number;
  readonly document: Document;
  /** Small PNG of its predicted print. */
  readonly thumbnail: Blob | null;
}

/** Bytes under their SHA-256: the original of a picture, or what a document names by digest. */
export interface StoredBytes {
  readonly digest: string;
  readonly bytes: Uint8Array<ArrayBuffer>;
}

/** Finds bytes by their digest; undefined where they are not known here. */
export type BytesOf = (digest: string) => Uint8Array<ArrayBuffer> | undefined;

/** A project made from how it was before, with what belongs to it. All of it is written, or nothing. */
export interface ProjectWrite {
  /** Makes the project from what is stored (undefined where nothing is); undefined leaves that as it is. */
  readonly make: (stored: StoredProject | undefined) => StoredProject | undefined;
  /** Its picture, written where it is not there: a project never stands without one. */
  readonly artwork?: StoredBytes | undefined;
  /** Gives what the project names in `data`; it is written along where storage has it not yet. */
  readonly bytesOf?: BytesOf | undefined;
  /** What can be undone and redone in it; see {@link projectKey}. */
  readonly history?: unknown;
}

interface Schema extends DBSchema {
  projects: { key: string; value: StoredProject };
  artworks: { key: string; value: StoredBytes };
  settings: { key: string; value: { readonly key: string; readonly value: unknown } };
}

/** What keeps the maker's things between visits. Everything here may fail: full, refused, the connection lost. */
export interface Storage {
  /** Resolves when it can be used. */
  open(): Promise<void>;
  listProjects(): Promise<StoredProject[]>;
  getProject(id: string): Promise<StoredProject | undefined>;
  /** Reads, makes and writes in one transaction, so that no other tab's work comes in between. */
  writeProject(id: string, write: ProjectWrite): Promise<void>;
  getBytes(digest: string): Promise<Uint8Array<ArrayBuffer> | undefined>;
  /**
   * Removes projects deleted before `before` (ms since 1970) for good, with what is kept for them (see
   * {@link projectKey}), and bytes that no project names.
   */
  sweep(before: number, digestsOf: (project: StoredProject) => readonly string[]): Promise<void>;
  getSetting(key: string): Promise<unknown>;
  putSetting(key: string, value: unknown): Promise<void>;
}

/** Name of a setting that goes when its project goes. */
export function projectKey(projectId: string, what: string): string {
  return `project/${projectId}/${what}`;
}

/** Name of what can be undone and redone in a project. */
export function historyKey(projectId: string): string {
  return projectKey(projectId, 'history');
}

/** How long an opening may wait for other tabs that hold an older database, ms. */
const OPEN_PATIENCE_MS = 4000;

/** And once it has waited in vain: work must not stand still at each save, ms. */
const LITTLE_PATIENCE_MS = 150;

const DATABASE = 'zesty-strata';

/** The browser's database. Its connection is opened anew when it was lost. */
export class DatabaseStorage implements Storage {
  private connection: Promise<IDBPDatabase<Schema>> | null = null;
  private patienceMs = OPEN_PATIENCE_MS;

  private connect(): Promise<IDBPDatabase<Schema>> {
    if (this.connection) return this.connection;
    const opening: Promise<IDBPDatabase<Schema>> = openDB<Schema>(DATABASE, 1, {
      upgrade: (database) => {
        database.createObjectStore('projects', { keyPath: 'id' });
        database.createObjectStore('artworks', { keyPath: 'digest' });
        database.createObjectStore('settings', { keyPath: 'key' });
      },
      // A later version of the app, in another tab, waits for this connection to go.
      blocking: (_from, _to, event) => {
        (event.target as IDBDatabase).close();
        this.forget(opening);
      },
      // The browser took it away: its disk failed, or the maker cleared the site's data.
      terminated: () => {
        this.forget(opening);
      },
    });
    opening.catch(() => {
      this.forget(opening);
    });
    this.connection = opening;
    return opening;
  }

  private forget(opening: Promise<IDBPDatabase<Schema>>): void {
    if (this.connection === opening) this.connection = null;
  }

  /** Does something with the database; once more where the connection turns out to be gone. */
  private async use<T>(action: (db: IDBPDatabase<Schema>) => Promise<T>): Promise<T> {
    for (let tries = 1; ; tries += 1) {
      const opening = this.connect();
      let timer: ReturnType<typeof setTimeout> | undefined;
      // While another tab blocks it, an opening says nothing; it goes on, and a later call may find it open.
      const patience = new Promise<never>((_, reject) => {
        timer = setTimeout(() => {
          this.patienceMs = LITTLE_PATIENCE_MS;
          reject(new Error('the database does not open: another tab holds it'));
        }, this.patienceMs);
      });
      const db = await Promise.race([opening, patience]).finally(() => {
        clearTimeout(timer);
      });
      this.patienceMs = OPEN_PATIENCE_MS;
      try {
        return await action(db);
      } catch (error) {
        if (tries > 1 || !(error instanceof DOMException && error.name === 'InvalidStateError'))
          throw error;
        this.forget(opening);
      }
    }
  }

  open = (): Promise<void> => this.use(() => Promise.resolve());
  listProjects = (): Promise<StoredProject[]> => this.use((db) => db.getAll('projects'));
  getProject = (id: string): Promise<StoredProject | undefined> =>
    this.use((db) => db.get('projects', id));
  getBytes = (digest: string): Promise<Uint8Array<ArrayBuffer> | undefined> =>
    this.use(async (db) => (await db.get('artworks', digest))?.bytes);
  getSetting = (key: string): Promise<unknown> =>
    this.use(async (db) => (await db.get('settings', key))?.value);
  putSetting = (key: string, value: unknown): Promise<void> =>
    this.use(async (db) => {
      await db.put('settings', { key, value });
    });

  writeProject = (id: string, { make, artwork, bytesOf, history }: ProjectWrite): Promise<void> =>
    this.use(async (db) => {
      const transaction = db.transaction(['projects', 'artworks', 'settings'], 'readwrite');
      // What goes wrong is told by the steps below; unheard, the transaction would tell it once more.
      transaction.done.catch(() => undefined);
      try {
        const projects = transaction.objectStore('projects');
        const stored = await projects.get(id);
        const made = make(stored);
        if (made) {
          await projects.put(made);
          const artworks = transaction.objectStore('artworks');
          if (artwork && (await artworks.getKey(artwork.digest)) === undefined)
            await artworks.put(artwork);
          // What the stored project names is there: it is swept away only with it.
          const there = new Set(stored?.data);
          for (const digest of made.data ?? []) {
            const bytes = there.has(digest) ? undefined : bytesOf?.(digest);
            if (bytes) await artworks.put({ digest, bytes });
          }
          if (history !== undefined)
            await transaction.objectStore('settings').put({ key: historyKey(id), value: history });
        }
        await transaction.done;
      } catch (error) {
        try {
          transaction.abort();
        } catch {
          // It has ended already.
        }
        throw error;
      }
    });

  sweep = (
    before: number,
    digestsOf: (project: StoredProject) => readonly string[],
  ): Promise<void> =>
    this.use(async (db) => {
      // One transaction, so that a project saved meanwhile in another tab keeps its picture.
      const transaction = db.transaction(['projects', 'artworks', 'settings'], 'readwrite');
      const projects = transaction.objectStore('projects');
      const artworks = transaction.objectStore('artworks');
      const settings = transaction.objectStore('settings');
      const used = new Set<string>();
      const kept = new Set<string>();
      for (const project of await projects.getAll()) {
        if (project.deletedAt !== null && project.deletedAt < before)
          await projects.delete(project.id);
        else {
          kept.add(project.id);
          for (const digest of digestsOf(project)) used.add(digest);
        }
      }
      for (const key of await settings.getAllKeys()) {
        const [place, id = ''] = key.split('/');
        if (place === 'project' && !kept.has(id)) await settings.delete(key);
      }
      for (const digest of await artworks.getAllKeys())
        if (!used.has(digest)) await artworks.delete(digest);
      await transaction.done;
    });
}
