import { mock } from 'node:test';
import { expect } from 'chai';
import { followSaves, type SavedState } from '../../src/state/autosave.ts';
import { createDocumentStore } from '../../src/state/document-store.ts';
import { setWidth } from '../../src/state/edits/piece-edits.ts';
import { createVersionStore } from '../../src/state/versions.ts';
import { testDocument } from '../helpers/documents.ts';

const first = testDocument();

/** A project that is saved, on a clock of its own. */
function bench(
  save: (state: SavedState) => Promise<void> = () => Promise.resolve(),
  unsaved = false,
) {
  let ms = 0;
  const saves: { readonly at: number; readonly state: SavedState }[] = [];
  const documents = createDocumentStore(first);
  const autosave = followSaves(
    documents,
    createVersionStore([]),
    (state) => {
      saves.push({ at: ms, state });
      return save(state);
    },
    unsaved,
    () => ms,
  );
  const settle = async (): Promise<void> => {
    for (let i = 0; i < 20; i += 1) await Promise.resolve();
  };
  const pass = async (span: number): Promise<void> => {
    for (let i = 0; i < span; i += 10) {
      ms += 10;
      mock.timers.tick(10);
      await settle();
    }
  };
  const widths = (): number[] => saves.map(({ state }) => state.document.piece.widthMm);
  return { documents, autosave, saves, pass, settle, widths, now: () => ms };
}

describe('saving while the project changes', () => {
  beforeEach(() => {
    mock.timers.enable({ apis: ['setTimeout'] });
  });
  afterEach(() => {
    mock.timers.reset();
  });

  it('a change is saved after a short rest, once', async () => {
    const { documents, autosave, pass, widths } = bench();
    expect(autosave.status.getState().status).to.equal('saved');
    documents.getState().change(setWidth(100));
    documents.getState().change(setWidth(101));
    expect(autosave.status.getState().status).to.equal('saving');
    await pass(600);
    expect(widths()).to.deep.equal([101]);
    expect(autosave.status.getState().status).to.equal('saved');
    await pass(3000);
    expect(widths()).to.have.length(1);
  });

  for (const every of [100, 300])
    it(`nothing older than 2 s is unsaved while something changes every ${every} ms without rest`, async () => {
      const { documents, saves, pass, now } = bench();
      const made: { at: number; widthMm: number }[] = [];
      for (let i = 0; i < 20_000 / every; i += 1) {
        documents.getState().change(setWidth(50 + i));
        made.push({ at: now(), widthMm: 50 + i });
        await pass(every);
        const saved = saves.at(-1)?.state.document.piece.widthMm ?? 0;
        const old = made.filter(({ at, widthMm }) => widthMm > saved && now() - at > 1500);
        expect(old, `after ${now()} ms`).to.deep.equal([]);
      }
    });

  it('a drag that goes on is saved too, as the step it would be', async () => {
    const { documents, autosave, saves, pass } = bench();
    documents.getState().beginGesture();
    for (let i = 0; i < 30; i += 1) {
      documents.getState().change(setWidth(60 + i));
      await pass(100);
    }
    expect(saves.length).to.be.within(2, 4);
    for (const { state } of saves)
      expect(state.past.map((one) => one.piece.widthMm)).to.deep.equal([150]);
    documents.getState().cancelGesture();
    await pass(1000);
    expect(saves.at(-1)?.state.document.piece.widthMm).to.equal(150);
    expect(saves.at(-1)?.state.past).to.deep.equal([]);
    expect(autosave.isDirty()).to.equal(false);
  });

  it('a stroke that is held is saved as the step it would be, and goes again where it is given up', async () => {
    const { documents, autosave, saves, pass, widths } = bench();
    const { hold, change } = documents.getState();
    for (let i = 0; i < 66; i += 1) {
      // The same act may be tried any number of times.
      hold(() => {
        change(setWidth(60 + i));
      });
      await pass(100);
    }
    expect(documents.getState().document, 'nothing has happened yet').to.equal(first);
    expect(saves.length, 'while it was held').to.be.within(5, 8);
    expect(widths().at(-1)).to.be.at.least(60 + 66 - 12);
    expect(saves.at(-1)?.state.past).to.deep.equal([first]);
    hold(null);
    await pass(1000);
    expect(widths().at(-1), 'given up').to.equal(150);
    expect(saves.at(-1)?.state.past).to.deep.equal([]);
    expect(autosave.isDirty()).to.equal(false);
    // Let go: one step.
    hold(() => {
      change(setWidth(80));
    });
    await pass(1000);
    hold(null);
    change(setWidth(80));
    await pass(1000);
    expect(widths().at(-1)).to.equal(80);
    expect(saves.at(-1)?.state.past).to.deep.equal([first]);
  });

  it('one that fails is said, tried again, and stops none after it', async () => {
    let broken = true;
    const { documents, autosave, pass, widths } = bench(() =>
      broken ? Promise.reject(new Error('no')) : Promise.resolve(),
    );
    documents.getState().change(setWidth(100));
    await pass(600);
    expect(autosave.status.getState().status).to.equal('unsaved');
    await pass(2000);
    expect(widths().length).to.be.greaterThan(2);
    documents.getState().change(setWidth(90));
    broken = false;
    await pass(1500);
    expect(widths().at(-1)).to.equal(90);
    expect(autosave.status.getState().status).to.equal('saved');
    documents.getState().change(setWidth(80));
    await pass(600);
    expect(widths().at(-1)).to.equal(80);
  });

  it('a slow one holds later ones back, and none is lost', async () => {
    let finish: () => void = () => undefined;
    const { documents, autosave, pass, settle, widths } = bench(
      () =>
        new Promise((resolve) => {
          finish = resolve;
        }),
    );
    documents.getState().change(setWidth(100));
    await pass(500);
    documents.getState().change(setWidth(90));
    documents.getState().change(setWidth(80));
    await pass(5000);
    expect(widths(), 'one at a time').to.deep.equal([100]);
    expect(autosave.isDirty()).to.equal(true);
    finish();
    await pass(20);
    expect(widths()).to.deep.equal([100, 80]);
    finish();
    await settle();
    expect(autosave.status.getState().status).to.equal('saved');
  });

  it('flushing and stopping save what is there, at once', async () => {
    const { documents, autosave, widths, pass } = bench();
    documents.getState().change(setWidth(100));
    await autosave.flush();
    expect(widths()).to.deep.equal([100]);
    documents.getState().change(setWidth(90));
    await autosave.stop();
    documents.getState().change(setWidth(80));
    await pass(3000);
    expect(widths()).to.deep.equal([100, 90]);
  });

  it('what is opened unsaved is saved although nothing changes', async () => {
    const { pass, widths } = bench(undefined, true);
    await pass(600);
    expect(widths()).to.deep.equal([150]);
  });
});
