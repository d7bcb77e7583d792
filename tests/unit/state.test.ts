import { expect } from 'chai';
import { strToU8, zipSync } from 'fflate';
import { digestBytes } from '#core/base/stamp.ts';
import { brightnessOf } from '#core/stack/filament.ts';
import { createDocumentStore } from '../../src/state/document-store.ts';
import { firstStack, nameFromFile, newProject } from '../../src/state/new-project.ts';
import {
  heightMmOf,
  heightRequest,
  migrateDocument,
  samplesOf,
  type ProjectDocument,
} from '../../src/state/project-document.ts';
import { sheetOfDocument, stampOfDocument } from '../../src/state/project-export.ts';
import {
  looksLikeProject,
  readProjectFile,
  writeProjectFile,
} from '../../src/state/project-file.ts';
import { FILAMENTS } from '../helpers/stacks.ts';

const PICTURE = Uint8Array.of(1, 2, 3, 4);

function testDocument(): ProjectDocument {
  return newProject(
    {
      name: 'Dome at dusk',
      artwork: {
        fileName: 'dome.png',
        kind: 'png',
        digest: digestBytes(PICTURE),
        width: 300,
        height: 200,
      },
      histogram: new Uint32Array(4096).fill(1),
    },
    Object.values(FILAMENTS),
    [
      ['soot', 4],
      ['rust', 5],
    ],
  );
}

describe('a new project', () => {
  it('has the longer side at 150 mm, the usual grid, and only the filaments that its bands use', () => {
    const document = testDocument();
    expect(document).to.deep.include({ widthMm: 150, detailMm: 0.2, leastLayers: 3 });
    expect(document.grid).to.deep.equal({ firstLayerMm: 0.16, layerMm: 0.08 });
    expect(heightMmOf(document)).to.equal(100);
    expect(samplesOf(document)).to.include({ columns: 750, rows: 500 });
    expect(Object.keys(document.filaments)).to.have.members(['soot', 'rust']);
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
      store.getState().change((draft) => {
        draft.name = name;
      });
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
      store.getState().change((draft) => {
        draft.widthMm = widthMm;
      });
    };
    store.getState().beginGesture();
    [151, 152, 153].forEach(widen);
    store.getState().undo();
    expect(store.getState().document.widthMm, 'no undo in the middle of a drag').to.equal(153);
    store.getState().endGesture();
    expect(store.getState().past).to.have.length(1);
    store.getState().undo();
    expect(store.getState().document).to.equal(first);
    store.getState().beginGesture();
    widen(99);
    store.getState().cancelGesture();
    expect(store.getState().document).to.equal(first);
    widen(first.widthMm);
    expect(store.getState().past).to.have.length(0);
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
      value: { document, artwork: PICTURE },
    });
  });

  it('refuses what is foreign, damaged or without its picture', () => {
    expect(codeOf(strToU8('PK but no zip'))).to.equal('not-a-project');
    expect(codeOf(zipSync({ 'readme.txt': strToU8('hello') }))).to.equal('not-a-project');
    expect(codeOf(zipSync({ 'project.json': strToU8('{') }))).to.equal('damaged-project');
    const wrong = { ...document, bands: [{ id: 'x', filamentId: 'nowhere', layers: 3 }] };
    expect(codeOf(zipSync({ 'project.json': strToU8(JSON.stringify(wrong)) }))).to.equal(
      'damaged-project',
    );
    const future = { ...document, schema: 99 };
    expect(codeOf(zipSync({ 'project.json': strToU8(JSON.stringify(future)) }))).to.equal(
      'damaged-project',
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
    const sheet = sheetOfDocument(document, counts);
    expect(sheet.stamp).to.equal(stampOfDocument(document));
    expect(sheet).to.include({ widthMm: 150, heightMm: 100, layers: 9, thicknessMm: 0.8 });
    expect(sheet.swaps[0]).to.include({ layerNumber: 5, stopAfterMm: 0.4 });
    expect(heightRequest({ ...document, widthMm: 600 })).to.include({
      columns: 3000,
      rows: 2000,
      layers: 9,
    });
  });
});
