import 'fake-indexeddb/auto';
import { expect } from 'chai';
import { IDBFactory } from 'fake-indexeddb';
import type { LoadedArtwork } from '../../src/app/session/open-project.ts';
import { ProjectSession } from '../../src/app/session/project-session.ts';
import { scaleLayers } from '../../src/state/edits/band-edits.ts';
import { addPictureEdit } from '../../src/state/edits/picture-edits.ts';
import { renameProject } from '../../src/state/edits/project-edits.ts';
import type { ProjectDocument } from '../../src/state/project-document.ts';
import { isUnreadable, Library } from '../../src/state/library.ts';
import { WorkerClient } from '../../src/workers/client.ts';
import type { ArtworkJobs, OpenedArtwork } from '../../src/workers/artwork/jobs.ts';
import { PICTURE, testDocument } from '../helpers/documents.ts';
import { FILAMENTS } from '../helpers/stacks.ts';

const RACK = Object.values(FILAMENTS);
const SHIPPED = () => Promise.resolve(RACK);
const later = (ms = 0): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** A worker that does nothing, and knows whether it was sent away. */
class IdleWorker extends WorkerClient<ArtworkJobs> {
  sentAway = false;
  constructor() {
    super(() => ({
      postMessage: () => undefined,
      addEventListener: () => undefined,
      terminate: () => undefined,
    }));
  }
  override retire(): Promise<void> {
    this.sentAway = true;
    this.close();
    return super.retire();
  }
}

/** A picture that is decoded when it is told to be. */
interface Decoding {
  readonly worker: IdleWorker;
  /** With the pixels that it turned out to have. */
  readonly done: (size?: Partial<Pick<OpenedArtwork, 'width' | 'height'>>) => void;
}

function surroundings() {
  const decodings: Decoding[] = [];
  const told: string[] = [];
  const around = {
    at: null as string | null,
    closed: 0,
    addressed: () => around.at,
    go: (id: string) => {
      around.at = id;
    },
    tell: (text: string) => told.push(text),
    tellTrouble: (error: Error) => told.push(error.message),
    onFresh: () => undefined,
    onClosed: () => {
      around.closed += 1;
    },
    load: (bytes: Uint8Array<ArrayBuffer>) => {
      const worker = new IdleWorker();
      const box = { left: 0, top: 0, width: 1, height: 1 };
      const opened = { kind: 'png', width: 300, height: 200, box } as OpenedArtwork;
      return new Promise<LoadedArtwork>((resolve) => {
        decodings.push({
          worker,
          done: (size = {}) => {
            resolve({ worker, opened: { ...opened, ...size }, bytes });
          },
        });
      });
    },
  };
  return { around, decodings, told };
}

async function shelved() {
  globalThis.indexedDB = new IDBFactory();
  const library = new Library(SHIPPED);
  for (const id of ['a', 'b'])
    await library.saveProject(id, {
      document: renameProject(`Project ${id}`)(testDocument()),
      versions: [],
      artwork: PICTURE,
    });
  const made = surroundings();
  const session = new ProjectSession(library, made.around);
  const visit = (id: string | null): void => {
    made.around.at = id;
    session.follow(id);
  };
  const names = (): string | undefined =>
    session.store.getState().project?.documents.getState().document.name;
  /** Waits until so many pictures were asked for. */
  const decoding = async (n: number): Promise<void> => {
    while (made.decodings.length < n) await later(1);
  };
  return { library, session, visit, names, decoding, ...made };
}

describe('the session of a project', () => {
  it('opens what the address names, and closes it when the address leaves', async () => {
    const { session, visit, names, decoding, decodings, around } = await shelved();
    visit('a');
    expect(session.store.getState().busy?.name).to.equal('the project');
    await decoding(1);
    decodings[0]?.done();
    await later(5);
    expect(names()).to.equal('Project a');
    expect(session.store.getState().busy).to.equal(null);
    // Nothing is opened a second time.
    visit('a');
    await later(5);
    expect(decodings).to.have.length(1);
    visit(null);
    await later(5);
    expect(session.store.getState().project).to.equal(null);
    expect([decodings[0]?.worker.sentAway, around.closed]).to.deep.equal([true, 1]);
  });

  it('only the last wish counts, in whichever order they end', async () => {
    const { visit, names, decoding, decodings } = await shelved();
    visit('a');
    await decoding(1);
    visit('b');
    await decoding(2);
    decodings[1]?.done();
    await later(5);
    expect(names()).to.equal('Project b');
    decodings[0]?.done();
    await later(5);
    expect(names()).to.equal('Project b');
    expect(decodings.map(({ worker }) => worker.sentAway)).to.deep.equal([true, false]);
  });

  it('what is taken in has its address in the same turn as it is open; leaving gives it up', async () => {
    const { session, around, names, decodings, decoding } = await shelved();
    const seen: (string | null)[] = [];
    session.store.subscribe(({ project }, before) => {
      if (project && project !== before.project)
        void Promise.resolve().then(() => seen.push(around.at === project.id ? 'together' : null));
    });
    const take = (): Promise<void> =>
      session.takeIn('new.png', async () => ({
        loaded: await around.load(PICTURE),
        document: renameProject('New')(testDocument()),
      }));
    const taken = take();
    await decoding(1);
    decodings[0]?.done();
    await taken;
    expect([names(), seen]).to.deep.equal(['New', ['together']]);
    const second = take();
    await decoding(2);
    session.cancel();
    decodings[1]?.done();
    await second;
    expect(session.store.getState().busy).to.equal(null);
    expect([names(), decodings[1]?.worker.sentAway]).to.deep.equal(['New', true]);
  });

  it('says why something cannot be opened, and forgets it with the next wish', async () => {
    const { session, visit, decoding, decodings } = await shelved();
    visit('gone');
    await later(20);
    expect(session.store.getState().trouble).to.match(/cannot be opened.*not in this browser/);
    visit('a');
    expect(session.store.getState().trouble).to.equal(null);
    await decoding(1);
    decodings[0]?.done();
    await later(5);
    expect(session.store.getState().trouble).to.equal(null);
  });

  it('draws a drawing finer: every state that undo and versions lead to goes along, and is saved', async () => {
    const { library, session, visit, decoding, decodings } = await shelved();
    visit('a');
    await decoding(1);
    decodings[0]?.done();
    await later(5);
    const own = session.store.getState().project;
    const box = { left: 30, top: 20, width: 60, height: 50 };
    own?.documents.getState().change(addPictureEdit('c', 'crop', box));
    own?.versions.setState({
      versions: [
        {
          id: 'v',
          name: 'Cropped',
          createdAt: 1,
          document: own.documents.getState().document,
          thumbnail: null,
        },
      ],
    });
    const drawn = session.redraw(600);
    await decoding(2);
    // What is done while it is drawn stays.
    own?.documents.getState().change(renameProject('Crest'));
    decodings[1]?.done({ width: 600, height: 400 });
    await drawn;
    const { project } = session.store.getState();
    expect([project?.id, project?.unsaved]).to.deep.equal(['a', true]);
    expect(project?.opening).to.not.equal(own?.opening);
    const cropOf = (one: ProjectDocument | undefined): object | undefined =>
      one?.artwork.edits.find(({ kind }) => kind === 'crop');
    const twice = { left: 60, top: 40, width: 120, height: 100 };
    const state = project?.documents.getState();
    expect(state?.document.name).to.equal('Crest');
    expect(state?.document.artwork.file).to.include({ width: 600, height: 400 });
    expect(cropOf(state?.document)).to.include(twice);
    expect(cropOf(project?.versions.getState().versions[0]?.document)).to.include(twice);
    state?.undo();
    expect(project?.documents.getState().document.name).to.equal('Project a');
    expect(cropOf(project?.documents.getState().document)).to.include(twice);
    project?.documents.getState().undo();
    const { document } = project?.documents.getState() ?? {};
    expect(cropOf(document)).to.equal(undefined);
    expect(document?.artwork.file).to.include({ width: 600, height: 400 });
    expect(decodings[0]?.worker.sentAway).to.equal(true);
    expect(await library.listProjects()).to.have.length(2);
  });

  it('splits off a copy with what was done here, once, and leaves the other as it was', async () => {
    const { library, session, visit, decoding, decodings, around, told } = await shelved();
    visit('a');
    await decoding(1);
    decodings[0]?.done();
    await later(5);
    const { project } = session.store.getState();
    project?.documents.getState().change(scaleLayers(40));
    session.split();
    session.split();
    while (around.at === 'a') await later(1);
    const { at } = around;
    expect(session.store.getState().project).to.include({ id: at, opening: project?.opening });
    expect(told).to.deep.equal(['Your change is kept in Project a copy']);
    const copy = await library.getProject(at ?? '');
    const own = await library.getProject('a');
    const layers = [copy, own].map((entry) =>
      entry && !isUnreadable(entry)
        ? entry.document.stack.bands.reduce((sum, band) => sum + band.layers, 0)
        : null,
    );
    expect(layers[0]).to.equal(40);
    expect(layers[1]).to.not.equal(40);
    expect(await library.listProjects()).to.have.length(3);
  });
});
