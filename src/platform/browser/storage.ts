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

/** The original bytes of a picture, under their SHA-256. */
export interface StoredArtwork {
  readonly digest: string;
  readonly bytes: Uint8Array<ArrayBuffer>;
}

interface Schema extends DBSchema {
  projects: { key: string; value: StoredProject };
  artworks: { key: string; value: StoredArtwork };
  settings: { key: string; value: { readonly key: string; readonly value: unknown } };
}

/** What the app keeps between visits. */
export interface Storage {
  /** False when things are only kept until the page is closed. */
  readonly durable: boolean;
  listProjects(): Promise<StoredProject[]>;
  getProject(id: string): Promise<StoredProject | undefined>;
  putProject(project: StoredProject): Promise<void>;
  getArtwork(digest: string): Promise<Uint8Array<ArrayBuffer> | undefined>;
  putArtwork(artwork: StoredArtwork): Promise<void>;
  /**
   * Removes projects deleted before `before` (ms since 1970) for good, with what is kept for them (see
   * {@link projectKey}), and pictures that no project uses.
   */
  sweep(before: number, digestsOf: (project: StoredProject) => string[]): Promise<void>;
  getSetting(key: string): Promise<unknown>;
  putSetting(key: string, value: unknown): Promise<void>;
}

/** Name of a setting that goes when its project goes. */
export function projectKey(projectId: string, what: string): string {
  return `project/${projectId}/${what}`;
}

class DatabaseStorage implements Storage {
  readonly durable = true;
  constructor(private readonly db: IDBPDatabase<Schema>) {}

  listProjects = (): Promise<StoredProject[]> => this.db.getAll('projects');
  getProject = (id: string): Promise<StoredProject | undefined> => this.db.get('projects', id);
  putProject = async (project: StoredProject): Promise<void> => {
    await this.db.put('projects', project);
  };
  getArtwork = async (digest: string): Promise<Uint8Array<ArrayBuffer> | undefined> =>
    (await this.db.get('artworks', digest))?.bytes;
  putArtwork = async (artwork: StoredArtwork): Promise<void> => {
    await this.db.put('artworks', artwork);
  };
  getSetting = async (key: string): Promise<unknown> => (await this.db.get('settings', key))?.value;
  putSetting = async (key: string, value: unknown): Promise<void> => {
    await this.db.put('settings', { key, value });
  };
  sweep = async (
    before: number,
    digestsOf: (project: StoredProject) => string[],
  ): Promise<void> => {
    // One transaction, so that a project saved meanwhile in another tab keeps its picture.
    const transaction = this.db.transaction(['projects', 'artworks', 'settings'], 'readwrite');
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
  };
}

/** Keeps everything in memory: for browsers that refuse storage. */
export class MemoryStorage implements Storage {
  readonly durable = false;
  private readonly projects = new Map<string, StoredProject>();
  private readonly artworks = new Map<string, Uint8Array<ArrayBuffer>>();
  private readonly settings = new Map<string, unknown>();

  listProjects = (): Promise<StoredProject[]> => Promise.resolve([...this.projects.values()]);
  getProject = (id: string): Promise<StoredProject | undefined> =>
    Promise.resolve(this.projects.get(id));
  putProject = (project: StoredProject): Promise<void> => {
    this.projects.set(project.id, project);
    return Promise.resolve();
  };
  getArtwork = (digest: string): Promise<Uint8Array<ArrayBuffer> | undefined> =>
    Promise.resolve(this.artworks.get(digest));
  putArtwork = ({ digest, bytes }: StoredArtwork): Promise<void> => {
    this.artworks.set(digest, bytes);
    return Promise.resolve();
  };
  getSetting = (key: string): Promise<unknown> => Promise.resolve(this.settings.get(key));
  putSetting = (key: string, value: unknown): Promise<void> => {
    this.settings.set(key, value);
    return Promise.resolve();
  };
  // What is in memory goes with the page.
  sweep = (): Promise<void> => Promise.resolve();
}

/** Opens the database, or falls back to memory where the browser refuses. */
export async function openStorage(): Promise<Storage> {
  try {
    const db = await openDB<Schema>('zesty-strata', 1, {
      upgrade: (database) => {
        database.createObjectStore('projects', { keyPath: 'id' });
        database.createObjectStore('artworks', { keyPath: 'digest' });
        database.createObjectStore('settings', { keyPath: 'key' });
      },
    });
    return new DatabaseStorage(db);
  } catch {
    return new MemoryStorage();
  }
}
