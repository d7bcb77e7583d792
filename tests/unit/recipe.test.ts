import { expect } from 'chai';
import { heightMmOf, heightRequest, samplesOf } from '../../src/state/document-facts.ts';
import type { Edit } from '../../src/state/edits/edit.ts';
import * as picture from '../../src/state/edits/picture-edits.ts';
import { addStroke, markSelection, setEditedBox } from '../../src/state/edits/artwork-edits.ts';
import type { ProjectDocument } from '../../src/state/project-document.ts';
import { importanceOf } from '../../src/state/importance.ts';
import { stampOfDocument } from '../../src/state/project-export.ts';
import { readProjectFile, writeProjectFile } from '../../src/state/project-file.ts';
import { editedFrameOf, recipeOf } from '../../src/state/recipe.ts';
import { withPicture } from '../../src/state/replace-picture.ts';
import { PICTURE, testDocument } from '../helpers/documents.ts';

const first = testDocument();
const { width, height } = first.artwork.file;
const made = (...edits: readonly Edit[]): ProjectDocument =>
  edits.reduce((document, edit) => edit(document), first);

describe('edits of a document', () => {
  const stroke = { radius: 3, points: [1, 2, 3, 4] };

  it('what is off, or changes nothing, is no part of the recipe and leaves the stamp as it was', () => {
    const idle = made(
      picture.addPictureEdit('a', 'tone'),
      picture.addPictureEdit('b', 'grey'),
      picture.switchPictureEdit('b', false),
    );
    expect(idle.artwork.edits).to.have.length(2);
    expect(recipeOf(idle).edits).to.have.length(0);
    expect(stampOfDocument(idle)).to.equal(stampOfDocument(first));
    const lit = picture.changePictureEdit('a', { brightness: 0.2 })(idle);
    expect(stampOfDocument(lit)).to.not.equal(stampOfDocument(first));
    expect(heightRequest(lit).recipe?.edits).to.have.length(1);
  });

  it('a crop and a turn decide the proportions of the piece, and nothing of the picture is lost', () => {
    const cropped = made(
      picture.addPictureEdit('c', 'crop', { left: 0, top: 0, width: width / 2, height }),
    );
    expect(editedFrameOf(cropped).width).to.equal(width / 2);
    expect(heightMmOf(cropped)).to.be.closeTo(2 * heightMmOf(first), 1e-9);
    const turned = picture.addPictureEdit('t', 'turn', { degrees: 90 })(first);
    expect(samplesOf(turned).rows / samplesOf(turned).columns).to.be.closeTo(width / height, 0.02);
    expect(picture.removePictureEdit('c')(cropped).artwork.file).to.equal(first.artwork.file);
  });

  it('edits, selections and the places of their strokes travel in a project file', () => {
    const full = made(
      picture.addSelection('m', 'Moon'),
      picture.addSelectionStep('m', { from: 'brush', way: 'add', ...stroke }),
      picture.addSelectionStep('m', { from: 'polygon', way: 'take', points: [0, 0, 5, 0, 5, 5] }),
      picture.addPictureEdit('x', 'cutout'),
      picture.addCutoutLine('x', 'keep', stroke),
      picture.addCutoutLine('x', 'take', { radius: 2, points: [9, 9] }),
      picture.limitPictureEdit('x', 'm'),
      setEditedBox({ left: 0, top: 0, width: 0.5, height: 1 }),
    );
    const read = readProjectFile(writeProjectFile({ document: full, artwork: PICTURE }));
    if (!read.ok) throw new Error(read.fault.code);
    expect(read.value.document).to.deep.equal(full);
    expect(stampOfDocument(read.value.document)).to.equal(stampOfDocument(full));
    const { edits, selections } = recipeOf(read.value.document);
    expect(edits[0]).to.deep.include({ mask: 'm', keep: [stroke] });
    expect(selections[0]?.steps[1]).to.deep.include({ points: [0, 0, 5, 0, 5, 5] });
  });

  it('without its selection an edit is off, not over the whole picture', () => {
    const gone = made(
      picture.addSelection('m', 'Moon'),
      picture.addPictureEdit('g', 'grey'),
      picture.limitPictureEdit('g', 'm'),
      picture.removeSelection('m'),
    );
    expect(gone.artwork.edits[0]).to.include({ on: false, mask: null });
  });

  it('on another picture places go along with its size', () => {
    const before = made(
      picture.addPictureEdit('c', 'crop', { left: 10, top: 10, width: 20, height: 20 }),
      picture.addPictureEdit('x', 'cutout'),
      picture.addCutoutLine('x', 'drop', stroke),
      picture.addSelection('m', 'Moon'),
      picture.addSelectionStep('m', {
        from: 'similar',
        way: 'add',
        x: 4,
        y: 6,
        tolerance: 0.2,
        connected: true,
      }),
    );
    const after = withPicture(before, {
      ...before.artwork.file,
      width: 2 * width,
      height: 3 * height,
    });
    const { edits, selections } = recipeOf(after);
    expect(edits[0]).to.deep.include({ left: 20, top: 30, width: 40, height: 60 });
    expect(edits[1]).to.deep.include({ drop: [{ radius: 6, points: [2, 6, 6, 12] }] });
    expect(selections[0]?.steps[0]).to.deep.include({ x: 8, y: 18 });
  });

  it('importance stays in its place when the picture is cut, turned or replaced', () => {
    const dab = addStroke({ mark: 'more', radius: 0.1, points: [0.6, 0.5] });
    const crop = { left: width / 2, top: 0, width: width / 2, height };
    const cut = made(dab, picture.addPictureEdit('c', 'crop', crop));
    const [stroke] = importanceOf(cut);
    const places = stroke && 'points' in stroke ? stroke.points : [];
    expect(places[0]).to.be.closeTo(0.2, 1e-9);
    expect(places[1]).to.be.closeTo(0.5, 1e-9);
    expect(stroke).to.have.property('radius').closeTo(0.2, 1e-9);
    // What is painted over the part lies right when the whole comes back.
    const back = picture.removePictureEdit('c')(
      addStroke({ mark: 'less', radius: 0.1, points: [0.5, 0.5] })(cut),
    );
    const both = importanceOf(back).map((one) => ('points' in one ? one.points[0] : undefined));
    expect(both[0]).to.be.closeTo(0.6, 1e-9);
    expect(both[1]).to.be.closeTo(0.75, 1e-9);
    const file = { ...cut.artwork.file, width: 2 * width, height: 3 * height };
    const [moved] = importanceOf(withPicture(cut, file));
    const there = moved && 'points' in moved ? moved.points : [];
    expect(there[0]).to.be.closeTo(0.2, 1e-9);
    expect(there[1]).to.be.closeTo(0.5, 1e-9);
  });

  it('a selection is said to matter once, last, and not any more without it', () => {
    const document = made(
      picture.addSelection('m', 'Moon'),
      markSelection('m', 'more'),
      addStroke({ mark: 'less', radius: 0.1, points: [0.5, 0.5] }),
      markSelection('m', 'less'),
      markSelection('gone', 'more'),
    );
    const { importance } = document.artwork.masks;
    expect(importance.map((one) => ('selection' in one ? one.selection : 'stroke'))).to.deep.equal([
      'stroke',
      'm',
    ]);
    expect(picture.removeSelection('m')(document).artwork.masks.importance).to.have.length(1);
  });

  it('edits of another project come under ids of their own, with their selections', () => {
    const source = made(
      picture.addSelection('m', 'Moon'),
      picture.addSelection('n', 'Not moon'),
      picture.addSelectionStep('n', { from: 'mask', way: 'add', mask: 'm' }),
      picture.addPictureEdit('g', 'grey'),
      picture.limitPictureEdit('g', 'n'),
    );
    let fresh = 0;
    const pasted = picture.pasteEdits(source.artwork, () => `f${String((fresh += 1))}`)(source);
    const { edits, selections } = pasted.artwork;
    expect(new Set(edits.map(({ id }) => id)).size).to.equal(2);
    const own = selections.find(({ id }) => id === edits[1]?.mask);
    expect(own?.name).to.equal('Not moon');
    const [step] = own?.steps ?? [];
    expect(step?.from === 'mask' && selections.find(({ id }) => id === step.mask)?.name).to.equal(
      'Moon',
    );
    expect(step?.from === 'mask' && step.mask).to.not.equal('m');
  });
});
