import { expect } from 'chai';
import { strToU8, zipSync } from 'fflate';
import { brightnessOf } from '#core/stack/filament.ts';
import { createDocumentStore, REPEATS, settledState } from '../../src/state/document-store.ts';
import { alter } from '../../src/state/edits/edit.ts';
import { setWidth } from '../../src/state/edits/piece-edits.ts';
import { renameProject } from '../../src/state/edits/project-edits.ts';
import { firstStack, nameFromFile } from '../../src/state/new-project.ts';
import { heightMmOf, heightRequest, samplesOf } from '../../src/state/document-facts.ts';
import { migrateDocument } from '../../src/state/migrate-document.ts';
import { SCHEMA_VERSION, type ProjectDocument } from '../../src/state/project-document.ts';
import { sheetOfDocument, stampOfDocument } from '../../src/state/project-export.ts';
import { readProjectFile, writeProjectFile } from '../../src/state/project-file.ts';
import { looksLikeProject } from '#core/formats/project/strata-parts.ts';
import {
  changeVersion,
  createVersionStore,
  documentOfVersion,
  keepVersion,
  MOST_VERSIONS,
} from '../../src/state/versions.ts';
import { PICTURE, testDocument as makeDocument } from '../helpers/documents.ts';
import { FILAMENTS } from '../helpers/stacks.ts';
import { inSlice } from '../helpers/slices.ts';

const testDocument = (): ProjectDocument =>
  makeDocument([
    ['soot', 4],
    ['rust', 5],
  ]);

describe('a new project', () => {
  it('has the longer side at 150 mm, the usual grid, and only the filaments that its bands use', () => {
    const document = testDocument();
    expect(document.piece).to.include({ widthMm: 150, sampleMm: 0.2 });
    expect(document.heights.leastLayers).to.equal(3);
    expect(document.stack.grid).to.deep.equal({ firstLayerMm: 0.16, layerMm: 0.08 });
    expect(heightMmOf(document)).to.equal(100);
    expect(samplesOf(document)).to.include({ columns: 750, rows: 500 });
    expect(Object.keys(document.stack.filaments)).to.have.members(['soot', 'rust']);
    expect(migrateDocument(JSON.parse(JSON.stringify(document)))).to.deep.equal(document);
  });

  it('begins with what is on hand, from dark to light', () => {
    const recipe = firstStack(Object.values(FILAMENTS));
    const lightness = recipe.map(([id]) => brightnessOf(FILAMENTS[id] ?? { colour: '#000000' }));
    expect(lightness).to.deep.equal([...lightness].sort((a, b) => a - b));
    const noSoot = Object.values(FILAMENTS).map((f) => ({ ...f, onHand: f.id !== 'soot' }));
    expect(firstStack(noSoot).map(([id]) => id)).to.not.include('soot');
  });

  it('is named after its file', () => {
    expect(['a.b.png', '.png', 'x'].map(nameFromFile)).to.deep.equal(['a.b', 'Untitled', 'x']);
  });
});

describe('document history', () => {
  it('undoes and redoes single changes, and forgets what was undone after a new one', () => {
    const store = createDocumentStore(testDocument());
    const rename = (name: string) => {
      store.getState().change(renameProject(name));
    };
    rename('one');
    rename('two');
    store.getState().undo();
    expect(store.getState().document.name).to.equal('one');
    store.getState().redo();
    expect(store.getState().document.name).to.equal('two');
    store.getState().undo();
    rename('three');
    store.getState().redo();
    expect(store.getState().document.name).to.equal('three');
  });

  it('makes one step of a drag, and none of a drag taken back or a change that changes nothing', () => {
    const first = testDocument();
    const store = createDocumentStore(first);
    const widen = (widthMm: number) => {
      store.getState().change(setWidth(widthMm));
    };
    store.getState().beginGesture();
    [151, 152, 153].forEach(widen);
    store.getState().undo();
    expect(store.getState().document.piece.widthMm, 'no undo in the middle of a drag').to.equal(
      153,
    );
    store.getState().endGesture();
    expect(store.getState().past).to.have.length(1);
    store.getState().undo();
    expect(store.getState().document).to.equal(first);
    store.getState().beginGesture();
    widen(99);
    store.getState().cancelGesture();
    expect(store.getState().document).to.equal(first);
    widen(first.piece.widthMm);
    expect(store.getState().past).to.have.length(0);
  });
});

describe('history of repeats, of drags that are saved, and of edits that go wrong', () => {
  const widths = (store: ReturnType<typeof createDocumentStore>): number[] =>
    [...store.getState().past, store.getState().document].map(({ piece: { widthMm } }) => widthMm);

  it('joins repeats of one edit, and nothing else', () => {
    const store = createDocumentStore(testDocument());
    const { change, undo } = store.getState();
    change(setWidth(100));
    change(setWidth(99), REPEATS);
    change(setWidth(98), REPEATS);
    expect(widths(store)).to.deep.equal([150, 98]);
    // A press of its own, another edit in between, and an undo each begin a step.
    change(setWidth(97));
    change(renameProject('b'), REPEATS);
    change(setWidth(96), REPEATS);
    expect(widths(store)).to.deep.equal([150, 98, 97, 97, 96]);
    undo();
    change(setWidth(95), REPEATS);
    expect(widths(store)).to.deep.equal([150, 98, 97, 97, 95]);
    store.getState().beginGesture();
    change(setWidth(90));
    store.getState().endGesture();
    change(setWidth(89), REPEATS);
    expect(widths(store)).to.deep.equal([150, 98, 97, 97, 95, 90, 89]);
  });

  it('can be saved in the middle of a drag as if it had ended', () => {
    const store = createDocumentStore(testDocument());
    store.getState().beginGesture();
    expect(settledState(store.getState()).past).to.have.length(0);
    store.getState().change(setWidth(80));
    const { document, past } = settledState(store.getState());
    expect([document.piece.widthMm, past.map(({ piece: { widthMm } }) => widthMm)]).to.deep.equal([
      80,
      [150],
    ]);
    expect(store.getState().past, 'the drag goes on').to.have.length(0);
  });

  it('refuses an edit that would leave a document that cannot be read again', () => {
    const told: string[] = [];
    const first = testDocument();
    const store = createDocumentStore(first, undefined, (reason) => told.push(reason));
    store.getState().change(
      alter('bad', (draft) => {
        draft.piece.widthMm = -1;
      }),
    );
    store.getState().change(
      alter('no filament', (draft) => {
        draft.stack.filaments = {};
      }),
    );
    expect(store.getState().document).to.equal(first);
    expect(told).to.have.length(2);
    expect(told[0]).to.match(/^bad: piece.widthMm/);
  });
});

describe('named versions', () => {
  it('are kept apart from the document, changed, removed, and limited in number', () => {
    const store = createVersionStore([]);
    const document = testDocument();
    const one = { id: 'a', name: 'one', createdAt: 1, document, thumbnail: null };
    expect(keepVersion(store, one)).to.equal(true);
    changeVersion(store, 'a', (version) => ({ ...version, name: 'first' }));
    expect(store.getState().versions.map(({ name }) => name)).to.deep.equal(['first']);
    const present = { ...document, name: 'Renamed', heights: { ...document.heights, calm: 1 } };
    expect(documentOfVersion(one, present)).to.deep.equal({ ...document, name: 'Renamed' });
    changeVersion(store, 'a', () => null);
    expect(store.getState().versions).to.deep.equal([]);
    for (let i = 0; i < MOST_VERSIONS; i += 1) keepVersion(store, { ...one, id: String(i) });
    expect(keepVersion(store, one)).to.equal(false);
    expect(store.getState().versions).to.have.length(MOST_VERSIONS);
  });
});

describe('project file', () => {
  const document = testDocument();
  const packed = writeProjectFile({ document, artwork: PICTURE });
  const codeOf = (bytes: Uint8Array): string => {
    const result = readProjectFile(bytes);
    return result.ok ? 'ok' : result.fault.code;
  };

  it('opens again exactly as it was, picture included', () => {
    expect(looksLikeProject(packed)).to.equal(true);
    expect(readProjectFile(packed)).to.deep.equal({
      ok: true,
      value: { document, artwork: PICTURE, versions: [] },
    });
  });

  it('carries named versions along, without their pictures', () => {
    const earlier = { ...document, heights: { ...document.heights, calm: 0.5 } };
    const version = { id: 'v', name: 'Before', createdAt: 5, document: earlier, thumbnail: null };
    const read = readProjectFile(
      writeProjectFile({ document, artwork: PICTURE, versions: [version] }),
    );
    expect(read.ok && read.value.versions).to.deep.equal([
      { name: 'Before', createdAt: 5, document: earlier },
    ]);
  });

  it('refuses a printer in it that is not right, as any damage', () => {
    const bad = {
      ...document,
      print: { ...document.print, printer: { ...document.print.printer, solidMmS: 0 } },
    };
    expect(() => migrateDocument(bad)).to.throw();
  });

  it('refuses what is foreign, damaged or without its picture', () => {
    expect(codeOf(strToU8('PK but no zip'))).to.equal('not-a-project');
    expect(codeOf(zipSync({ 'readme.txt': strToU8('hello') }))).to.equal('not-a-project');
    expect(codeOf(zipSync({ 'project.json': strToU8('{') }))).to.equal('damaged-project');
    const wrong = {
      ...document,
      stack: { ...document.stack, bands: [{ id: 'x', filamentId: 'nowhere', layers: 3 }] },
    };
    expect(codeOf(zipSync({ 'project.json': strToU8(JSON.stringify(wrong)) }))).to.equal(
      'damaged-project',
    );
    const future = { ...document, schema: 99 };
    expect(codeOf(zipSync({ 'project.json': strToU8(JSON.stringify(future)) }))).to.equal(
      'newer-project',
    );
    expect(codeOf(zipSync({ 'project.json': strToU8(JSON.stringify(document)) }))).to.equal(
      'artwork-missing',
    );
    expect(codeOf(writeProjectFile({ document, artwork: Uint8Array.of(9) }))).to.equal(
      'artwork-missing',
    );
  });
});

describe('export of a document', () => {
  it('gives sheet and stamp for the finished relief, not the shown one', () => {
    const document = testDocument();
    const counts = new Uint32Array(251);
    counts[9] = 750 * 500;
    const sheet = sheetOfDocument(document, { counts });
    expect(sheet.stamp).to.equal(stampOfDocument(document));
    expect(sheet).to.include({ widthMm: 150, heightMm: 100, layers: 9, thicknessMm: 0.8 });
    expect(sheet.swaps[0]).to.include({ layerNumber: 5, stopAfterMm: 0.4 });
    expect(heightRequest({ ...document, piece: { ...document.piece, widthMm: 600 } })).to.include({
      columns: 3000,
      rows: 2000,
      layers: 9,
    });
  });
});

describe('project files that are not what they should be', () => {
  const document = testDocument();
  const zipOf = (entries: Record<string, string | Uint8Array>): Uint8Array =>
    zipSync(
      Object.fromEntries(
        Object.entries(entries).map(([name, content]) => [
          name,
          typeof content === 'string' ? strToU8(content) : content,
        ]),
      ),
    );
  const refused = (bytes: Uint8Array): string => {
    const read = readProjectFile(bytes);
    return read.ok ? 'taken' : read.fault.code;
  };
  const whole = writeProjectFile({ document, artwork: PICTURE });

  it('are told apart: foreign, cut off, of a later version, damaged, with another picture', () => {
    expect(refused(zipOf({ 'readme.txt': 'hello' }))).to.equal('not-a-project');
    expect(refused(whole.subarray(0, whole.length / 2))).to.equal('not-a-project');
    const later = JSON.stringify({ ...document, schema: SCHEMA_VERSION + 1 });
    expect(refused(zipOf({ 'project.json': later }))).to.equal('newer-project');
    expect(refused(zipOf({ 'project.json': '{' }))).to.equal('damaged-project');
    const broken = JSON.stringify({ ...document, piece: { ...document.piece, widthMm: 'wide' } });
    expect(refused(zipOf({ 'project.json': broken }))).to.equal('damaged-project');
    const good = JSON.stringify(document);
    const entry = `artwork.${document.artwork.file.kind}`;
    expect(refused(zipOf({ 'project.json': good }))).to.equal('artwork-missing');
    expect(refused(zipOf({ 'project.json': good, [entry]: Uint8Array.of(1, 2) }))).to.equal(
      'artwork-missing',
    );
  });

  it('a version of a moment that no calendar has is kept, with one that there is', () => {
    for (const createdAt of [1e300, -5, '1e300'] as const) {
      const version = { name: 'Odd', createdAt, document };
      const read = readProjectFile(
        zipOf({
          'project.json': JSON.stringify(document),
          'versions.json': JSON.stringify([version]),
          [`artwork.${document.artwork.file.kind}`]: PICTURE,
        }),
      );
      if (!read.ok) throw new Error(read.fault.code);
      const [kept] = read.value.versions ?? [];
      expect(kept?.name).to.equal('Odd');
      expect(new Date(kept?.createdAt ?? NaN).getFullYear()).to.be.within(2020, 2200);
    }
  });

  it('cannot fill the memory, climb out of their folder or reach into objects', () => {
    const bomb = zipSync({ 'project.json': [new Uint8Array(70_000_000), { level: 9 }] });
    expect(bomb.length).to.be.lessThan(100_000);
    expect(refused(bomb)).to.equal('project-too-large');
    // Only the picture that the document names is ever unpacked.
    const many = Object.fromEntries(
      ['png', 'jpg', 'webp', 'gif', 'bmp'].map((kind) => [
        `artwork.${kind}`,
        new Uint8Array(20_000_000),
      ]),
    );
    const named = inSlice('artwork', { file: { ...document.artwork.file, kind: 'avif' } })(
      document,
    );
    const before = process.memoryUsage().arrayBuffers;
    const unasked = zipSync({ 'project.json': strToU8(JSON.stringify(named)), ...many });
    expect(refused(unasked)).to.equal('artwork-missing');
    expect(process.memoryUsage().arrayBuffers - before).to.be.lessThan(60_000_000);
    const parts = Object.fromEntries(Array.from({ length: 40 }, (_, i) => [`a${i}`, '']));
    expect(refused(zipOf({ ...parts, 'project.json': '{}' }))).to.equal('project-too-many-parts');
    const deep = `{"a":"[[\\"[","b":${'['.repeat(200_000)}${']'.repeat(200_000)}}`;
    expect(refused(zipOf({ 'project.json': deep }))).to.equal('damaged-project');
    // A header that lies about the size: the entry is said to be small and unpacks to much more.
    const lying = zipSync({ 'project.json': [new Uint8Array(30_000_000), { level: 9 }] });
    const view = new DataView(lying.buffer);
    for (let at = 0; at + 30 < lying.length; at += 1) {
      if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 100, true);
      if (view.getUint32(at, true) === 0x04034b50) view.setUint32(at + 22, 100, true);
    }
    expect(refused(lying)).to.equal('project-too-large');
    // So is a picture that comes to more than it says.
    const picture = `artwork.${document.artwork.file.kind}`;
    const bombed = zipSync({
      'project.json': strToU8(JSON.stringify(document)),
      [picture]: [new Uint8Array(100_000_000), { level: 9 }],
    });
    const told = new DataView(bombed.buffer);
    for (let at = 0; at + 30 < bombed.length; at += 1) {
      const central = told.getUint32(at, true) === 0x02014b50;
      const local = told.getUint32(at, true) === 0x04034b50;
      const size = at + (central ? 24 : 22);
      if ((central || local) && told.getUint32(size, true) === 100_000_000)
        told.setUint32(size, 1000, true);
    }
    expect(refused(bombed)).to.equal('project-too-large');
    const outside = zipOf({ '../../project.json': JSON.stringify(document) });
    expect(refused(outside)).to.equal('not-a-project');
    const reaching = JSON.stringify(document).replace('{', '{"__proto__":{"polluted":1},');
    readProjectFile(zipOf({ 'project.json': reaching }));
    expect(({} as { polluted?: number }).polluted).to.equal(undefined);
  });
});
