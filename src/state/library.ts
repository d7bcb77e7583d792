import { z } from 'zod';
import { readRackCsv } from '#core/formats/rack-csv.ts';
import { SHIPPED_PRINTERS, type Printer } from '#core/printer/printer.ts';
import {
  MemoryStorage,
  openStorage,
  projectKey,
  type Storage,
  type StoredProject,
  type StoredVersion,
} from '../platform/browser/storage.ts';
import demoRackCsv from '../../demo/rack.csv?raw';
import type { DocumentState, History } from './document-store.ts';
import { migrateDocument } from './migrate-document.ts';
import type { ProjectDocument } from './project-document.ts';
import type { NamedVersion } from './versions.ts';
import { readStoredPrinters } from './printers.ts';
import { readStoredRack, type Rack } from './rack-store.ts';

/** A project on the shelf whose document could be read. */
export interface ShelvedProject extends StoredProject<ProjectDocument> {
  readonly document: ProjectDocument;
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

/** The maker's projects, pictures and rack. When storage fails, it goes on in memory and says so once. */
export class Library {
  private storage: Storage = new MemoryStorage();
  private readonly ready: Promise<void>;
  private readonly memory = new MemoryStorage();
  private queue: Promise<unknown> = Promise.resolve();
  /** Called when something could not be stored; from then on things are kept in memory. */
  onTrouble: (() => void) | undefined;

  constructor() {
    this.ready = openStorage().then((storage) => {
      this.storage = storage;
      if (!storage.durable) this.onTrouble?.();
    });
  }

  /** True when what is saved outlives the page. */
  async isDurable(): Promise<boolean> {
    await this.ready;
    return this.storage.durable;
  }

  /** All projects that are not deleted, last changed first. What cannot be read is left where it is and not shown. */
  async listProjects(): Promise<ShelvedProject[]> {
    await this.ready;
    await this.queue;
    await this.storage
      .sweep(Date.now() - KEPT_AFTER_DELETION_MS, (project) => {
        const digest = (project.document as { artwork?: { digest?: unknown } } | null)?.artwork
          ?.digest;
        return typeof digest === 'string' ? [digest] : [];
      })
      .catch(() => undefined);
    const stored = new Map<string, StoredProject>();
    for (const project of await this.storage.listProjects()) stored.set(project.id, project);
    for (const project of await this.memory.listProjects()) stored.set(project.id, project);
    return [...stored.values()]
      .filter(({ deletedAt }) => deletedAt === null)
      .flatMap((project) => readable(project) ?? [])
      .sort((a, b) => b.changedAt - a.changedAt);
  }

  async getProject(id: string): Promise<ShelvedProject | undefined> {
    await this.queue;
    return this.findProject(id);
  }

  /**
   * Stores a project made from how it was before (undefined when it is new); nothing is stored when nothing is made.
   * Writes are done one after the other, and whoever reads waits for them: a project opened again at once must not come
   * back as it was before its last change.
   */
  putProject(
    id: string,
    make: (before: ShelvedProject | undefined) => Omit<ShelvedProject, 'id'> | undefined,
  ): Promise<void> {
    const write = this.queue.then(async () => {
      const project = make(await this.findProject(id));
      if (project) await this.store((storage) => storage.putProject({ ...project, id }));
    });
    this.queue = write.catch(() => undefined);
    return write;
  }

  /** Resolves when everything that was to be written so far is written. */
  async settled(): Promise<void> {
    await this.queue;
  }

  private async findProject(id: string): Promise<ShelvedProject | undefined> {
    await this.ready;
    const project = (await this.memory.getProject(id)) ?? (await this.storage.getProject(id));
    return project?.deletedAt === null ? readable(project) : undefined;
  }

  async getArtwork(digest: string): Promise<Uint8Array<ArrayBuffer> | undefined> {
    await this.ready;
    return (await this.memory.getArtwork(digest)) ?? (await this.storage.getArtwork(digest));
  }

  async putArtwork(digest: string, bytes: Uint8Array<ArrayBuffer>): Promise<void> {
    await this.store((storage) => storage.putArtwork({ digest, bytes }));
  }

  /** The rack; on the first visit the one of the demo world. */
  async getRack(): Promise<Rack> {
    const kept = readStoredRack(await this.getSetting(RACK_SETTING));
    if (kept) return kept;
    const demo = readRackCsv(demoRackCsv);
    if (!demo.ok) throw new Error(`demo rack: ${demo.fault.code} ${demo.fault.where ?? ''}`);
    const rack: Rack = { filaments: demo.value, tuning: 1 };
    await this.putRack(rack);
    return rack;
  }

  /** Stores the rack as it is now. */
  async putRack(rack: Rack): Promise<void> {
    await this.putSetting(RACK_SETTING, rack);
  }

  /** The maker's printers; on the first visit the generic ones. */
  async getPrinters(): Promise<readonly Printer[]> {
    return readStoredPrinters(await this.getSetting(PRINTERS_SETTING)) ?? SHIPPED_PRINTERS;
  }

  async putPrinters(printers: readonly Printer[]): Promise<void> {
    await this.putSetting(PRINTERS_SETTING, printers);
  }

  /** Something small that is kept under a name; undefined when there is nothing. */
  async getSetting(key: string): Promise<unknown> {
    await this.ready;
    return (await this.memory.getSetting(key)) ?? (await this.storage.getSetting(key));
  }

  async putSetting(key: string, value: unknown): Promise<void> {
    await this.store((storage) => storage.putSetting(key, value));
  }

  /** What can be undone and redone in a project as it was left; nothing where that does not belong to `document`. */
  async getHistory(id: string, document: ProjectDocument): Promise<History> {
    const nothing = { past: [], future: [] };
    const kept = historySchema.safeParse(await this.getSetting(projectKey(id, 'history')));
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

  async putHistory(id: string, { document, past, future }: DocumentState): Promise<void> {
    await this.putSetting(projectKey(id, 'history'), {
      present: document,
      past: past.slice(-KEPT_STEPS),
      future: future.slice(0, KEPT_STEPS),
    });
  }

  /** Stores something for good, or in memory where that fails (full, refused, private window). */
  private async store(action: (storage: Storage) => Promise<void>): Promise<void> {
    await this.ready;
    try {
      await action(this.storage);
      if (this.storage.durable) return;
    } catch {
      this.onTrouble?.();
    }
    await action(this.memory);
  }
}

function readable(project: StoredProject): ShelvedProject | undefined {
  try {
    return {
      ...project,
      document: migrateDocument(project.document),
      versions: (project.versions ?? []).flatMap((version) => readableVersion(version) ?? []),
    };
  } catch {
    return undefined;
  }
}

function readableVersion(version: StoredVersion): NamedVersion | undefined {
  try {
    return { ...version, document: migrateDocument(version.document) };
  } catch {
    return undefined;
  }
}
