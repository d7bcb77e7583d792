import 'fake-indexeddb/auto';
import { expect } from 'chai';
import { IDBFactory } from 'fake-indexeddb';
import { openDB } from 'idb';
import { digestBytes } from '#core/base/stamp.ts';
import { DatabaseStorage, type Storage } from '../../src/platform/browser/storage.ts';
import { renameProject } from '../../src/state/edits/project-edits.ts';
import {
  isUnreadable,
  Library,
  type ShelfEntry,
  type ShelvedProject,
} from '../../src/state/library.ts';
import type { PutBy, Unwritten } from '../../src/state/patient-storage.ts';
import type { ProjectDocument } from '../../src/state/project-document.ts';
import { PICTURE, testDocument } from '../helpers/documents.ts';
import { FILAMENTS } from '../helpers/stacks.ts';
import { inSlice } from '../helpers/slices.ts';

const first = renameProject('Dome')(testDocument());
const named = (name: string): ProjectDocument => renameProject(name)(first);
const stateOf = (document: ProjectDocument) => ({
  document,
  versions: [],
  history: { past: [], future: [] },
  artwork: PICTURE,
});
const nameOf = (entry: ShelfEntry | undefined): string | undefined =>
  entry && (isUnreadable(entry) ? entry.name : entry.document.name);

/** A database that can be made to fail. */
function faultyStorage(): { readonly storage: Storage; broken: Error | null } {
  const faulty: { storage: Storage; broken: Error | null } = {
    broken: null,
    storage: new Proxy(new DatabaseStorage(), {
      get:
        (target, key: keyof Storage) =>
        (...args: never[]): unknown =>
          faulty.broken
            ? Promise.reject(faulty.broken)
            : (target[key] as (...all: never[]) => unknown)(...args),
    }),
  };
  return faulty;
}

const RACK = Object.values(FILAMENTS);
const SHIPPED = () => Promise.resolve(RACK);

const QUOTA = new DOMException('full', 'QuotaExceededError');

async function whenUntroubled(library: Library): Promise<void> {
  await new Promise<void>((resolve) => {
    if (!library.trouble.getState().troubled) resolve();
    library.trouble.subscribe(({ troubled }) => {
      if (!troubled) resolve();
    });
  });
}

const NOTHING: Unwritten = { settings: [], projects: [] };

/** A place to put by that is kept in memory, as text, like the browser's. */
function memoryPutBy(): PutBy {
  let put = NOTHING;
  return {
    put: (unwritten) => {
      put = structuredClone(unwritten);
    },
    take: () => put,
    forget: () => {
      put = NOTHING;
    },
  };
}

describe('library', () => {
  beforeEach(() => {
    globalThis.indexedDB = new IDBFactory();
  });

  it('keeps project, history and picture in one step, and gives them to the next visit', async () => {
    const library = new Library(SHIPPED);
    const history = { past: [first], future: [] };
    await library.saveProject('a', { ...stateOf(named('Later')), history });
    const next = new Library(SHIPPED);
    const entry = await next.getProject('a');
    expect(nameOf(entry)).to.equal('Later');
    expect(await next.getBytes(first.artwork.file.digest)).to.deep.equal(PICTURE);
    const { document } = entry as ShelvedProject;
    expect((await next.getHistory('a', document)).past.map(({ name }) => name)).to.deep.equal([
      'Dome',
    ]);
    // A history that belongs to another state is worth nothing.
    expect((await next.getHistory('a', first)).past).to.deep.equal([]);
    expect(nameOf((await next.listProjects())[0])).to.equal('Later');
  });

  it('never stores a document that could not be read again, and keeps what was there', async () => {
    const library = new Library(SHIPPED);
    await library.saveProject('a', stateOf(first));
    const broken = inSlice('piece', { widthMm: -4 })(first);
    let told = '';
    await library.saveProject('a', stateOf(broken)).catch((error: unknown) => {
      told = String(error);
    });
    expect(told).to.include('widthMm');
    expect(nameOf(await new Library(SHIPPED).getProject('a'))).to.equal('Dome');
    expect(library.trouble.getState().troubled).to.equal(false);
    // Neither did the failed save stop those after it.
    await library.saveProject('a', stateOf(named('Good')));
    expect(nameOf(await new Library(SHIPPED).getProject('a'))).to.equal('Good');
  });

  for (const [what, fault] of [
    ['full', QUOTA],
    ['cut off in the middle', new DOMException('abort', 'AbortError')],
    ['gone', new DOMException('closing', 'InvalidStateError')],
  ] as const)
    it(`goes on in memory while storage is ${what}, and writes everything once it works again`, async () => {
      const faulty = faultyStorage();
      const library = new Library(SHIPPED, faulty.storage);
      await library.saveProject('a', stateOf(named('Before')));
      faulty.broken = fault;
      await library.saveProject('a', stateOf(named('During')));
      await library.saveProject('new', stateOf(named('New')));
      await library.putSetting('s', 1);
      await library.putSetting('s', 2);
      expect(library.trouble.getState().troubled).to.equal(true);
      expect(nameOf(await library.getProject('a'))).to.equal('During');
      expect(await library.getSetting('s')).to.equal(2);
      faulty.broken = null;
      // What is written after the trouble is what is read from then on, in this page and the next.
      await library.saveProject('a', stateOf(named('After')));
      expect(nameOf(await library.getProject('a'))).to.equal('After');
      await whenUntroubled(library);
      const next = new Library(SHIPPED);
      expect(nameOf(await next.getProject('a'))).to.equal('After');
      expect(nameOf(await next.getProject('new'))).to.equal('New');
      expect(await next.getBytes(first.artwork.file.digest)).to.deep.equal(PICTURE);
      expect(await next.getSetting('s')).to.equal(2);
      // And what another page writes is seen here: no copy is left over.
      await next.saveProject('a', stateOf(named('Elsewhere')));
      expect(nameOf(await library.getProject('a'))).to.equal('Elsewhere');
      await library.changeProject('a', (stored) => ({ ...stored, thumbnail: null }));
      expect(nameOf(await next.getProject('a'))).to.equal('Elsewhere');
    });

  it('takes a storage that fails for a moment neither for empty nor for the demo rack', async () => {
    const faulty = faultyStorage();
    const library = new Library(SHIPPED, faulty.storage);
    const rack = { filaments: [], tuning: 1.5 };
    await library.putRack(rack);
    faulty.broken = QUOTA;
    const read = library.getRack();
    setTimeout(() => {
      faulty.broken = null;
    }, 600);
    expect(await read).to.deep.equal(rack);
    faulty.broken = QUOTA;
    let told = '';
    await library.listProjects().catch((error: unknown) => {
      told = String(error);
    });
    expect(told).to.include('full');
    faulty.broken = null;
    await whenUntroubled(library);
    expect(await library.listProjects()).to.deep.equal([]);
  });

  it('works in memory where storage is refused from the beginning', async () => {
    const faulty = faultyStorage();
    faulty.broken = new DOMException('private', 'SecurityError');
    const library = new Library(SHIPPED, faulty.storage);
    expect((await library.getRack()).filaments).to.equal(RACK);
    await library.saveProject('a', stateOf(first));
    expect((await library.listProjects()).map(nameOf)).to.deep.equal(['Dome']);
    expect(await library.getBytes(first.artwork.file.digest)).to.deep.equal(PICTURE);
    expect(library.trouble.getState().troubled).to.equal(true);
  });

  it('changes a project from how it is stored, not from what was once listed', async () => {
    const here = new Library(SHIPPED);
    const there = new Library(SHIPPED);
    await here.saveProject('a', stateOf(first));
    const [listed] = await here.listProjects();
    await there.saveProject(
      'a',
      stateOf({ ...first, name: 'Dome', heights: { ...first.heights, calm: 0.7 } }),
    );
    await here.renameProject(listed?.id ?? '', 'Renamed');
    const entry = await there.getProject('a');
    const present = entry && !isUnreadable(entry) ? entry.document : undefined;
    expect([present?.name, present?.heights.calm]).to.deep.equal(['Renamed', 0.7]);
    await here.duplicateProject('a', 'b', 'Copy');
    expect((await there.listProjects()).map(nameOf)).to.have.members(['Renamed', 'Copy']);
    // Nothing is made of one that is gone.
    await here.renameProject('gone', 'x');
    expect(await there.getProject('gone')).to.equal(undefined);
  });

  it('a project deleted elsewhere comes back whole, with its picture, by the next save', async () => {
    const editing = new Library(SHIPPED);
    const shelf = new Library(SHIPPED);
    await editing.saveProject('a', stateOf(first));
    await shelf.deleteProject('a', true);
    expect(await shelf.getProject('a')).to.equal(undefined);
    // Long ago: it is swept away, picture and history with it.
    await shelf.changeProject('a', (stored) => ({ ...stored, deletedAt: 1 }));
    await shelf.listProjects();
    expect(await shelf.getBytes(first.artwork.file.digest)).to.equal(undefined);
    expect(await editing.saveProject('a', stateOf(named('Back'))), 'nothing is left').to.equal(
      false,
    );
    expect(nameOf(await shelf.getProject('a'))).to.equal('Back');
    expect(await shelf.getBytes(first.artwork.file.digest)).to.deep.equal(PICTURE);
    await shelf.deleteProject('a', true);
    expect(await editing.saveProject('a', stateOf(named('Again'))), 'it was deleted').to.equal(
      true,
    );
  });

  it('sweeps pictures that nothing uses, and none of a project that is being begun', async () => {
    const library = new Library(SHIPPED);
    await library.saveProject('a', stateOf(first));
    await Promise.all([
      ...Array.from({ length: 10 }, (_, i) =>
        library.saveProject(`p${i}`, {
          ...stateOf({
            ...first,
            artwork: {
              ...first.artwork,
              file: { ...first.artwork.file, digest: digestBytes(Uint8Array.of(i)) },
            },
          }),
          artwork: Uint8Array.of(i),
        }),
      ),
      ...Array.from({ length: 10 }, () => new Library(SHIPPED).listProjects()),
    ]);
    for (let i = 0; i < 10; i += 1)
      expect(await library.getBytes(digestBytes(Uint8Array.of(i)))).to.deep.equal(Uint8Array.of(i));
  });

  it('shows what cannot be read, and never loses it', async () => {
    const storage = new DatabaseStorage();
    const library = new Library(SHIPPED, storage);
    await library.saveProject('a', stateOf(first));
    const damaged = { ...inSlice('stack', { bands: [] })(first), name: 'Damaged' };
    await storage.writeProject('bad', {
      make: () => ({
        id: 'bad',
        document: damaged,
        createdAt: 1,
        changedAt: 2,
        thumbnail: null,
        deletedAt: null,
      }),
    });
    const entries = await library.listProjects();
    expect(entries.map((entry) => [nameOf(entry), isUnreadable(entry)])).to.deep.equal([
      ['Dome', false],
      ['Damaged', true],
    ]);
    await library.renameProject('bad', 'x');
    await library.deleteProject('bad', true);
    await library.deleteProject('bad', false);
    expect((await storage.getProject('bad'))?.document).to.deep.equal(damaged);
  });

  it('what is being written while the page goes is put by, and is there for the next one', async () => {
    const putBy = memoryPutBy();
    const faulty = faultyStorage();
    const library = new Library(SHIPPED, faulty.storage, putBy);
    await library.putRack({ filaments: [], tuning: 1 });
    library.leave();
    expect(putBy.take(), 'all is written').to.deep.equal(NOTHING);
    // The page goes while the write is under way: it never ends.
    faulty.broken = QUOTA;
    void library.putRack({ filaments: [], tuning: 2 });
    library.leave();
    expect(putBy.take().settings).to.deep.equal([['rack', { filaments: [], tuning: 2 }]]);
    const next = new Library(SHIPPED, new DatabaseStorage(), putBy);
    expect(await next.getRack()).to.deep.equal({ filaments: [], tuning: 2 });
    expect(putBy.take(), 'and it is forgotten once it is written').to.deep.equal(NOTHING);
    expect(await new Library(SHIPPED).getRack()).to.deep.equal({ filaments: [], tuning: 2 });
  });

  it('a project that waits through a long fault outlives a reload, during the fault and after it', async () => {
    const putBy = memoryPutBy();
    const faulty = faultyStorage();
    const library = new Library(SHIPPED, faulty.storage, putBy);
    await library.saveProject('a', stateOf(named('Before the fault')));
    faulty.broken = QUOTA;
    await library.saveProject('a', {
      ...stateOf(named('During the fault')),
      history: { past: [named('Before the fault')], future: [] },
    });
    await library.saveProject('b', stateOf(named('Begun during the fault')));
    library.leave();
    // The fault goes on: the next page shows what the last one had.
    const second = new Library(SHIPPED, faulty.storage, putBy);
    expect(nameOf(await second.getProject('a'))).to.equal('During the fault');
    second.leave();
    // And it is over: everything is written, with picture and history.
    const third = new Library(SHIPPED, new DatabaseStorage(), putBy);
    const entry = await third.getProject('a');
    expect(nameOf(entry)).to.equal('During the fault');
    expect(putBy.take()).to.deep.equal(NOTHING);
    const last = new Library(SHIPPED);
    expect(nameOf(await last.getProject('a'))).to.equal('During the fault');
    const { document } = entry as ShelvedProject;
    expect((await last.getHistory('a', document)).past.map(({ name }) => name)).to.deep.equal([
      'Before the fault',
    ]);
    expect(nameOf(await last.getProject('b'))).to.equal('Begun during the fault');
    expect(await last.getBytes(first.artwork.file.digest)).to.deep.equal(PICTURE);
  });

  it('a moment that no calendar has neither empties the shelf nor breaks the versions of a project', async () => {
    const library = new Library(SHIPPED);
    await library.saveProject('a', stateOf(named('Sound')));
    await library.saveProject('b', stateOf(named('Odd')));
    await library.changeProject('b', (stored) => ({
      ...stored,
      changedAt: 1e300,
      createdAt: NaN,
      versions: [{ id: 'v', name: 'V', createdAt: 1e300, document: first, thumbnail: null }],
    }));
    const entries = await new Library(SHIPPED).listProjects();
    expect(entries.map(nameOf).sort()).to.deep.equal(['Odd', 'Sound']);
    for (const entry of entries) {
      expect(isUnreadable(entry)).to.equal(false);
      for (const at of [
        entry.changedAt,
        entry.createdAt,
        ...(entry.versions ?? []).map((one) => one.createdAt),
      ])
        expect(Number.isNaN(new Date(at).getTime())).to.equal(false);
    }
  });

  it('a data base of a newer app is told as that, and left as it is', async () => {
    const later = await openDB('zesty-strata', 7, {
      upgrade: (database) => {
        database.createObjectStore('other');
      },
    });
    later.close();
    const library = new Library(SHIPPED);
    expect(await library.getProject('a')).to.equal(undefined);
    expect(library.trouble.getState()).to.deep.equal({ troubled: true, newer: true });
    await library.saveProject('b', stateOf(first));
    expect(nameOf(await library.getProject('b')), 'work goes on in memory').to.equal('Dome');
    const still = await openDB('zesty-strata', 7);
    expect([...still.objectStoreNames]).to.deep.equal(['other']);
    still.close();
  });

  it('what was put by never goes over what was saved later elsewhere', async () => {
    const putBy = memoryPutBy();
    const faulty = faultyStorage();
    const library = new Library(SHIPPED, faulty.storage, putBy);
    await library.settled();
    faulty.broken = QUOTA;
    await library.saveProject('a', stateOf(named('Waited')));
    library.leave();
    await new Promise((resolve) => setTimeout(resolve, 5));
    await new Library(SHIPPED).saveProject('a', stateOf(named('Saved later')));
    const next = new Library(SHIPPED, new DatabaseStorage(), putBy);
    expect(nameOf(await next.getProject('a'))).to.equal('Saved later');
  });

  it('what cannot be read back is not called saved', async () => {
    // A database that says it wrote, and keeps what it had.
    let deaf = true;
    const real = new DatabaseStorage();
    const storage = new Proxy(real, {
      get: (target, key: keyof Storage) =>
        key === 'writeProject' && deaf
          ? (_id: string, { make }: { make: (stored: undefined) => unknown }) => {
              make(undefined);
              return Promise.resolve();
            }
          : target[key],
    });
    const library = new Library(SHIPPED, storage);
    await library.saveProject('a', stateOf(first));
    expect(library.trouble.getState().troubled).to.equal(true);
    expect(nameOf(await library.getProject('a')), 'it is in memory').to.equal('Dome');
    deaf = false;
    await whenUntroubled(library);
    expect(nameOf(await new Library(SHIPPED).getProject('a'))).to.equal('Dome');
  });

  it('opens its connection anew when the browser closed it', async () => {
    const storage = new DatabaseStorage();
    const library = new Library(SHIPPED, storage);
    await library.saveProject('a', stateOf(first));
    const connection = await (storage as unknown as { connection: Promise<IDBDatabase> })
      .connection;
    connection.close();
    expect(nameOf(await library.getProject('a'))).to.equal('Dome');
    expect(library.trouble.getState().troubled).to.equal(false);
  });

  it('goes on in memory while another tab blocks the database, and writes once that lets go', async () => {
    // A page that holds its connection while the site's data are being cleared: every opening waits.
    const held = await openDB('zesty-strata', 1, {
      upgrade: (database) => {
        for (const [name, keyPath] of [
          ['projects', 'id'],
          ['artworks', 'digest'],
          ['settings', 'key'],
        ] as const)
          database.createObjectStore(name, { keyPath });
      },
    });
    indexedDB.deleteDatabase('zesty-strata');
    const library = new Library(SHIPPED);
    await library.saveProject('a', stateOf(first));
    expect(library.trouble.getState().troubled).to.equal(true);
    expect(nameOf(await library.getProject('a'))).to.equal('Dome');
    held.close();
    await whenUntroubled(library);
    expect(nameOf(await new Library(SHIPPED).getProject('a'))).to.equal('Dome');
  });

  it('lets go of the database when a later version of the app wants to change it', async () => {
    const library = new Library(SHIPPED);
    await library.saveProject('a', stateOf(first));
    const later = await openDB('zesty-strata', 2, {
      upgrade: () => undefined,
    });
    expect((await later.getAll('projects')).length).to.equal(1);
    later.close();
  });
});
