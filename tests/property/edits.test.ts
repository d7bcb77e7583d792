import { expect } from 'chai';
import fc from 'fast-check';
import { createDocumentStore, settledState } from '../../src/state/document-store.ts';
import { migrateDocument } from '../../src/state/migrate-document.ts';
import { documentSchema } from '../../src/state/project-document.ts';
import { readProjectFile, writeProjectFile } from '../../src/state/project-file.ts';
import { EDITS, editCalls } from '../helpers/edits.ts';
import { PICTURE, testDocument } from '../helpers/documents.ts';

const first = testDocument();
const CALLS = editCalls(first);

describe('every edit of the document', () => {
  it('is in the list that these tests go through', () => {
    expect(Object.keys(CALLS)).to.have.members(Object.keys(EDITS));
  });

  for (const [name, call] of Object.entries(CALLS))
    it(`${name} ends in a valid document, whatever it is given and wherever it begins`, () => {
      const some = fc.array(fc.oneof(...Object.values(CALLS)), { maxLength: 6 });
      fc.assert(
        fc.property(some, call, (before, edit) => {
          const start = before.reduce((document, one) => one(document), first);
          const frozen = JSON.stringify(start);
          const read = documentSchema.safeParse(edit(start));
          expect(
            read.error?.issues
              .map(({ path, message }) => `${path.join('.')}: ${message}`)
              .join('; '),
            edit.what,
          ).to.equal(undefined);
          expect(JSON.stringify(start), 'the document before is left alone').to.equal(frozen);
        }),
        { numRuns: 60 },
      );
    });

  it('in any order: it saves, reopens equal, and undoes to the bytes it began with', () => {
    const step = fc.record({
      edits: fc.array(fc.oneof(...Object.values(CALLS)), { minLength: 1, maxLength: 3 }),
      drag: fc.constantFrom('none', 'none', 'end', 'cancel'),
      joins: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(step, { maxLength: 25 }), (steps) => {
        const refused: string[] = [];
        const store = createDocumentStore(first, undefined, (reason) => refused.push(reason));
        const state = (): string => JSON.stringify(store.getState().document);
        const begin = state();
        for (const { edits, drag, joins } of steps) {
          if (drag !== 'none') store.getState().beginGesture();
          for (const edit of edits)
            store.getState().change(edit, joins ? { withinMs: 1000 } : undefined);
          // What is saved in the middle of a drag can be read again too.
          const { document, past } = settledState(store.getState());
          expect(documentSchema.safeParse(document).success).to.equal(true);
          if (past.length > store.getState().past.length)
            expect(past.at(-1)).to.equal(store.getState().gestureFrom);
          if (drag === 'cancel') store.getState().cancelGesture();
          if (drag === 'end') store.getState().endGesture();
        }
        expect(refused.join('; '), 'no edit needs the last guard').to.equal('');
        const end = state();
        const { document, past } = store.getState();
        const reopened = migrateDocument(JSON.parse(end));
        expect(JSON.stringify(documentSchema.parse(reopened))).to.equal(JSON.stringify(reopened));
        expect(reopened).to.deep.equal(JSON.parse(end));
        const file = readProjectFile(writeProjectFile({ document, artwork: PICTURE }));
        expect(file.ok && file.value.document).to.deep.equal(reopened);
        past.forEach(() => {
          store.getState().undo();
        });
        expect(state()).to.equal(begin);
        past.forEach(() => {
          store.getState().redo();
        });
        expect(state()).to.equal(end);
      }),
      { numRuns: 150 },
    );
  });
});
