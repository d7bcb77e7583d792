import { expect } from 'chai';
import fc from 'fast-check';
import {
  FIRST_SETTINGS,
  type ArtworkEdit,
  type Recipe,
  type Selection,
} from '#core/edit/artwork-edit.ts';
import { EditDesk } from '#core/edit/edit-desk.ts';
import { frameOfEdits } from '#core/edit/frame.ts';
import { rasterOf } from '../helpers/scenes.ts';

const raster = rasterOf(40, 28, (x, y) => [6 * x, 9 * y, (x * y) % 256, x + y === 0 ? 0 : 255]);

const signed = fc.double({ min: -1, max: 1, noNaN: true });
const selections: readonly Selection[] = [
  {
    id: 'box',
    name: 'box',
    steps: [{ from: 'box', way: 'add', left: 5, top: 5, width: 20, height: 12 }],
    grow: 1,
    feather: 2,
    invert: false,
  },
  {
    id: 'rest',
    name: 'rest',
    steps: [{ from: 'mask', way: 'add', mask: 'box' }],
    grow: 0,
    feather: 0,
    invert: true,
  },
];

/** Any edit; the cut-out and the reduction have tests of their own and take too long for hundreds of lists. */
const anyEdit: fc.Arbitrary<Omit<ArtworkEdit, 'id'>> = fc
  .tuple(
    fc.oneof(
      fc.record({
        kind: fc.constant('crop' as const),
        left: fc.integer({ min: -5, max: 45 }),
        top: fc.integer({ min: -5, max: 30 }),
        width: fc.integer({ min: 1, max: 60 }),
        height: fc.integer({ min: 1, max: 40 }),
      }),
      fc.record({
        kind: fc.constant('turn' as const),
        degrees: fc.oneof(
          fc.constantFrom(0, 90, 180, -90),
          fc.double({ min: -40, max: 40, noNaN: true }),
        ),
      }),
      fc.record({
        kind: fc.constant('mirror' as const),
        across: fc.constantFrom('width', 'height'),
      }),
      fc.record({
        kind: fc.constant('tone' as const),
        brightness: signed,
        contrast: signed,
        curve: fc.constant([]),
      }),
      fc.record({ kind: fc.constant('white' as const), warmth: signed, tint: signed }),
      fc.record({ kind: fc.constant('grey' as const) }),
      fc.record({
        kind: fc.constant('hue' as const),
        centre: fc.integer({ min: 0, max: 360 }),
        turn: fc.integer({ min: -180, max: 180 }),
      }),
      fc.record({ kind: fc.constant('denoise' as const) }),
      fc.record({ kind: fc.constant('sharpen' as const) }),
    ),
    fc.constantFrom(null, 'box', 'rest'),
  )
  .map(([own, mask]) => ({ ...FIRST_SETTINGS[own.kind], ...own, mask, on: true }) as never);

const lists = fc.array(anyEdit, { maxLength: 5 });

function recipeOf(
  edits: readonly Omit<ArtworkEdit, 'id'>[],
  off: ReadonlySet<number> = new Set(),
): Recipe {
  const own = edits.map((edit, i) => ({ ...edit, id: String(i), on: !off.has(i) }) as ArtworkEdit);
  return { key: JSON.stringify(own), edits: own, selections };
}

describe('any list of edits', () => {
  it('leaves the picture alone; a list in the same state gives the same bytes, whatever came between', () => {
    const before = raster.data.slice();
    fc.assert(
      fc.property(lists, lists, fc.nat(4), (one, other, at) => {
        const desk = new EditDesk(raster);
        const first = desk.edited(recipeOf(one), false).raster;
        const bytes = first.data.slice();
        desk.edited(recipeOf(other), false);
        desk.edited(recipeOf(one, new Set([at])), false);
        const again = desk.edited(recipeOf(one), false).raster;
        expect(again.data).to.deep.equal(bytes);
        // Kept results are those that a fresh desk works out.
        expect(new EditDesk(raster).edited(recipeOf(one), false).raster.data).to.deep.equal(bytes);
        expect(raster.data).to.deep.equal(before);
      }),
      { numRuns: 120 },
    );
  });

  it('all off is the picture itself; the size is what the frame says', () => {
    fc.assert(
      fc.property(lists, (edits) => {
        const desk = new EditDesk(raster);
        const off = recipeOf(edits, new Set(edits.keys()));
        expect(desk.edited(off, false).raster).to.equal(raster);
        const recipe = recipeOf(edits);
        const { raster: made, frame } = desk.edited(recipe, false);
        expect(frame).to.deep.equal(frameOfEdits(40, 28, recipe.edits));
        expect([made.width, made.height]).to.deep.equal([frame.width, frame.height]);
      }),
      { numRuns: 120 },
    );
  });

  it('outside of its selection an edit of pixels changes nothing', () => {
    const pixels = anyEdit.filter(({ kind }) => ['tone', 'white', 'grey', 'hue'].includes(kind));
    fc.assert(
      fc.property(pixels, (edit) => {
        const made = new EditDesk(raster).edited(recipeOf([{ ...edit, mask: 'box' }]), false);
        for (let y = 0; y < 28; y += 1)
          for (let x = 0; x < 40; x += 1) {
            // Three pixels beyond the box: one that it grows, two of feather.
            if (x >= 1 && x < 29 && y >= 1 && y < 21) continue;
            const at = 4 * (y * 40 + x);
            expect(made.raster.data.subarray(at, at + 4)).to.deep.equal(
              raster.data.subarray(at, at + 4),
            );
          }
      }),
      { numRuns: 60 },
    );
  });
});
