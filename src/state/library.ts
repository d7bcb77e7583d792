import { z } from 'zod';
import { SHIPPED_PRINTERS, type Printer } from '#core/printer/printer.ts';
import type { Filament } from '#core/stack/filament.ts';
import {
  DatabaseStorage,
  type Storage,
  type StoredProject,
  type StoredVersion,
} from '../platform/browser/storage.ts';
import { artworkOfRaw } from '#core/formats/project/strata-parts.ts';
import { dataNamedBy, dataOf, keepData } from './kept-data.ts';
import { checkDocument } from './check-change.ts';
import type { History } from './document-store.ts';
import { migrateDocument } from './migrate-document.ts';
import type { ProjectDocument } from './project-document.ts';
import { dateSchema, type NamedVersion } from './versions.ts';
import { PatientStorage, type PutBy } from './patient-storage.ts';
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

const historySchema = z.object({
  present: z.unknown(),
  past: z.array(z.unknown()),
  future: z.array(z.unknown()),
});

const RACK_SETTING = 'rack';
const PRINTERS_SETTING = 'printers';

/**
 * The maker's projects, pictures, printers and rack, as they stand in storage.
 */
export class Library {
  private readonly storage: PatientStorage;

  /** @param shipped gives the filaments of a rack that was never stored */
  constructor(
    private readonly shipped: () => Promise<readonly Filament[]>,
    storage: Storage = new DatabaseStorage(),
    putBy?: PutBy,
  ) {
    this.storage = new PatientStorage(storage, putBy);
  }

  /** Whether something the maker did is only in this page's memory, or storage is refused. */
  get trouble(): PatientStorage['trouble'] {
    return this.storage.trouble;
  }

  /** Puts by what is not written yet, because the page is being left. */
  leave(): void {
    this.storage.leave();
  }

  /** All projects that are not deleted, last changed first, with those that cannot be read. */
  async listProjects(): Promise<ShelfEntry[]> {
    const stored = await this.storage.listProjects(KEPT_AFTER_DELETION_MS, digestsOf);
    return stored
      .filter(({ deletedAt }) => deletedAt === null)
      .map(entryOf)
      .sort((a, b) => b.changedAt - a.changedAt);
  }

  async getProject(id: string): Promise<ShelfEntry | undefined> {
    const project = await this.storage.getProject(id);
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
    const kept = history && {
      past: history.past.slice(-KEPT_STEPS),
      future: history.future.slice(0, KEPT_STEPS),
    };
    const data = dataNamedBy([
      document,
      ...versions.map((version) => version.document),
      ...(kept ? [...kept.past, ...kept.future] : []),
    ]);
    let revived = false;
    await this.storage.writeProject(id, {
      make: (before) => {
        revived = before !== undefined && before.deletedAt !== null;
        return {
          id,
          document,
          versions,
          data,
          createdAt: before?.createdAt ?? now,
          changedAt: now,
          thumbnail: before?.thumbnail ?? null,
          deletedAt: null,
        };
      },
      artwork: { digest: document.artwork.file.digest, bytes: artwork },
      bytesOf: dataOf,
      ...(kept ? { history: { present: document, ...kept } } : {}),
    });
    return revived;
  }

  /** Changes a project from how it is stored at that moment; one that is not there, or undefined, changes nothing. */
  changeProject(
    id: string,
    change: (stored: StoredProject) => StoredProject | undefined,
  ): Promise<void> {
    return this.storage.writeProject(id, { make: (stored) => stored && change(stored) });
  }

  /** Gives a project another name. */
  renameProject(id: string, name: string): Promise<void> {
    return this.changeProject(id, (stored) => {
      if (isUnreadable(entryOf(stored))) return undefined;
      return { ...stored, document: withName(stored.document, name), changedAt: Date.now() };
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
    const stored = await this.storage.getProject(id);
    if (stored?.deletedAt !== null || isUnreadable(entryOf(stored))) return;
    const now = Date.now();
    const copy = { ...stored, id: copyId, document: withName(stored.document, name) };
    await this.storage.writeProject(copyId, {
      make: () => ({ ...copy, createdAt: now, changedAt: now }),
    });
  }

  /** Resolves when everything that was to be written so far is written, or waits in memory. */
  settled(): Promise<void> {
    return this.storage.settled();
  }

  /** The bytes of a picture, or of what a document names by digest. */
  getBytes(digest: string): Promise<Uint8Array<ArrayBuffer> | undefined> {
    return this.storage.getBytes(digest);
  }

  /** Reads what stands beside a project, so that `dataOf` knows it. What is lost stays unknown. */
  async readData({ data = [] }: Pick<StoredProject, 'data'>): Promise<void> {
    await Promise.all(
      data.map(async (digest) => {
        const bytes = dataOf(digest) ?? (await this.getBytes(digest));
        if (bytes) keepData(bytes);
      }),
    );
  }

  /** The rack; until one is stored, the shipped one. */
  async getRack(): Promise<Rack> {
    const kept = readStoredRack(await this.getSetting(RACK_SETTING));
    return kept ?? { filaments: await this.shipped(), tuning: 1 };
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
  getSetting(key: string): Promise<unknown> {
    return this.storage.getSetting(key);
  }

  putSetting(key: string, value: unknown): Promise<void> {
    return this.storage.putSetting(key, value);
  }

  /** What can be undone and redone in a project as it was left; nothing where that does not belong to `document`. */
  async getHistory(id: string, document: ProjectDocument): Promise<History> {
    const nothing = { past: [], future: [] };
    const kept = historySchema.safeParse(await this.storage.getHistory(id));
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
}

/** The bytes that a stored project names, whatever else is wrong with it. */
function digestsOf({ document, data = [] }: StoredProject): string[] {
  const { digest } = artworkOfRaw(document);
  return digest === undefined ? [...data] : [digest, ...data];
}

/** A stored document, of whichever version, under another name. */
function withName(document: unknown, name: string): unknown {
  return { ...(document as object), name };
}

/** Moments as they are stored; one that no calendar has is taken for the beginning of time, which hides nothing. */
const momentOf = (value: unknown): number => dateSchema.catch(0).parse(value);

function entryOf(stored: StoredProject): ShelfEntry {
  const project = {
    ...stored,
    createdAt: momentOf(stored.createdAt),
    changedAt: momentOf(stored.changedAt),
  };
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
    const { createdAt, document } = version;
    return { ...version, createdAt: momentOf(createdAt), document: migrateDocument(document) };
  } catch {
    return undefined;
  }
}
