import { expect } from 'chai';
import fc from 'fast-check';
import Module from 'manifold-3d';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { checkMesh } from '#core/relief/check-mesh.ts';
import { inlaidMeshes, reliefMesh, spanMeshes } from '#core/relief/relief-mesh.ts';
import { areaAt } from '#core/relief/smooth-outlines.ts';
import { bandSpans } from '#core/formats/mesh/band-solids.ts';
import { layerTopsMm } from '#core/stack/layer-grid.ts';
import { totalLayers } from '#core/stack/stack.ts';
import { bandsOfTops, findLevels, type Leveled } from '#core/tags/levels.ts';
import { outlineRelief } from '#core/tags/outline-piece.ts';
import { ringsOf } from '#core/tags/rings.ts';
import { loadShippedFaces } from '../../src/platform/node/load-faces.ts';
import { readyForTags } from '../../src/state/ready-for-tags.ts';
import { documentSchema } from '../../src/state/project-document.ts';
import { heightRequest, stackOf } from '../../src/state/document-facts.ts';
import { plannedTagOf } from '../../src/state/tag-plan.ts';
import { anyBack, anyElement, editCalls, tagCalls } from '../helpers/edits.ts';
import { FIRST, SECOND, tagDocument, tagOf } from '../helpers/tags.ts';

describe('tags of any elements', () => {
  before(() => readyForTags(loadShippedFaces));

  it('every edit in any order ends in a valid document, whose bands follow from its elements', () => {
    const elements = ['e0', 'e1', 'e2', 'e3'].map((id) =>
      anyElement.map((element) => ({ ...element, id })),
    );
    const calls = { ...editCalls(tagDocument()) };
    fc.assert(
      fc.property(
        fc.tuple(...elements),
        fc.array(fc.oneof(...Object.values(tagCalls())), { maxLength: 6 }),
        fc.array(fc.oneof(...Object.values(calls)), { maxLength: 4 }),
        (own, tagEdits, others) => {
          const start = tagDocument(tagOf(own));
          const document = [...tagEdits, ...others].reduce((one, edit) => edit(one), start);
          const read = documentSchema.safeParse(document);
          expect(read.error?.issues[0]?.message).to.equal(undefined);
          const planned = plannedTagOf(document);
          expect(
            document.stack.bands.map(({ filamentId, layers }) => [filamentId, layers]),
          ).to.deep.equal(planned?.bands.map(({ filamentId, layers }) => [filamentId, layers]));
          const { tag } = document;
          // Only what would be taller than can be printed is left to clash.
          const tall = totalLayers(document.stack.bands) >= MAX_LAYERS;
          if (tag?.levels === 'found' && !tall) expect(planned?.clashes).to.deep.equal([]);
        },
      ),
      { numRuns: 120 },
    );
  });

  it('gives closed solids whose bands fill the whole (manifold-3d reads them without a fault)', async () => {
    const module = await Module();
    module.setup();
    const { Manifold, Mesh } = module;
    fc.assert(
      fc.property(fc.array(anyElement, { minLength: 1, maxLength: 5 }), anyBack, (given, more) => {
        const own = given.map((element, i) => ({ ...element, id: `e${i}` }));
        const document = tagDocument(tagOf(own, more));
        const request = heightRequest(document);
        if (!request.piece) throw new Error('no piece');
        const relief = { ...outlineRelief(request.piece, request), sampleMm: request.sampleMm };
        const stack = stackOf(document);
        const tops = layerTopsMm(stack.grid, totalLayers(stack.bands));
        const mesh = reliefMesh(relief, tops);
        const whole = checkMesh(mesh, { crossings: false });
        const { notNumbers, degenerate, badEdges, pinchedCorners } = whole;
        expect([notNumbers, degenerate, badEdges, pinchedCorners]).to.deep.equal([0, 0, 0, 0]);
        const solid = new Manifold(
          new Mesh({ numProp: 3, vertProperties: mesh.positions, triVerts: mesh.triangles }),
        );
        expect(solid.status()).to.equal('NoError');
        expect(solid.volume()).to.be.closeTo(whole.volumeMm3, 1e-3 * whole.volumeMm3);
        solid.delete();
        let parts = 0;
        const inlaid = inlaidMeshes(relief, tops);
        const inlays = inlaid?.inlays ?? [];
        if (inlaid) {
          const { badEdges, pinchedCorners: pinched } = checkMesh(inlaid.body, {
            crossings: false,
          });
          expect([badEdges, pinched], 'the body').to.deep.equal([0, 0]);
        }
        for (const part of [...spanMeshes(relief, bandSpans(stack)), ...inlays]) {
          if (part.triangles.length === 0) continue;
          const faults = checkMesh(part, { crossings: false });
          expect([faults.badEdges, faults.pinchedCorners]).to.deep.equal([0, 0]);
          parts += faults.volumeMm3;
        }
        expect(parts).to.be.closeTo(whole.volumeMm3, 1e-6 * whole.volumeMm3);
        let slices = 0;
        for (let layer = 1; layer < tops.length; layer += 1)
          slices +=
            areaAt(relief.outlines, layer) *
            relief.sampleMm ** 2 *
            ((tops[layer] ?? 0) - (tops[layer - 1] ?? 0));
        expect(slices).to.be.closeTo(whole.volumeMm3, 1e-5 * whole.volumeMm3);
      }),
      { numRuns: 40 },
    );
  });

  it('contacts made on purpose, in points and along edges, are joined or shared', () => {
    const inlays = { print: 'first' as const, layers: 2, filaments: [FIRST, SECOND] };
    const square = (x: number, y: number, side: number): readonly number[][] => [
      [x, y, x + side, y, x + side, y + side, x, y + side],
    ];
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.nat(4),
            fc.nat(4),
            fc.constantFrom(12, 15),
            fc.constantFrom('hole' as const, 'raise' as const, 'inlay' as const),
          ),
          { minLength: 2, maxLength: 8 },
        ),
        (squares) => {
          const shapes = [
            { way: 'plate' as const, layers: 10, rings: ringsOf(square(0, 0, 10), 'nonzero') },
            ...squares.map(([x, y, layers, way]) => ({
              way,
              // Two inlays of two filaments.
              layers: way === 'inlay' ? 1 + (x % 2) : layers,
              rings: ringsOf(square(2 * x, 2 * y, 2), 'nonzero'),
            })),
          ];
          const relief = {
            ...outlineRelief(
              { shapes, box: { left: 0, right: 10, bottom: 0, top: 10 }, inlays },
              { columns: 50, rows: 50, sampleMm: 0.2 },
            ),
            sampleMm: 0.2,
          };
          if (relief.outlines.edges.length === 0) return;
          const tops = Float64Array.from({ length: 16 }, (_, n) => 0.2 * n);
          const parts = inlaidMeshes(relief, tops);
          const meshes = [
            reliefMesh(relief, tops),
            ...(parts ? [parts.body, ...parts.inlays] : []),
          ];
          for (const [i, mesh] of meshes.entries()) {
            if (mesh.triangles.length === 0) continue;
            const { badEdges, pinchedCorners } = checkMesh(mesh, { crossings: false });
            expect([badEdges, pinchedCorners], `solid ${i}`).to.deep.equal([0, 0]);
          }
        },
      ),
      { numRuns: 300 },
    );
  });
});

/** The fewest runs by trying every order of filaments: nothing of the search is used. */
function exhaustive(plateId: string, given: readonly Leveled[]): number {
  const colours = [...new Set(given.map(({ filamentId }) => filamentId))];
  const finish = (done: ReadonlySet<number>, colour: string): Set<number> => {
    const out = new Set(done);
    for (let more = true; more;) {
      more = false;
      given.forEach(({ filamentId, over }, i) => {
        if (out.has(i) || filamentId !== colour || over.some((j) => !out.has(j))) return;
        out.add(i);
        more = true;
      });
    }
    return out;
  };
  const best = (done: ReadonlySet<number>, last: string, left: number): boolean => {
    if (done.size === given.length) return true;
    if (left === 0) return false;
    return colours.some((colour) => {
      if (colour === last) return false;
      const next = finish(done, colour);
      return next.size > done.size && best(next, colour, left - 1);
    });
  };
  const first = finish(new Set(), plateId);
  for (let runs = 0; ; runs += 1) if (best(first, plateId, runs)) return runs;
}

describe('levels', () => {
  const given = fc
    .array(
      fc.tuple(
        fc.constantFrom('a', 'b', 'c', 'd'),
        fc.nat(4),
        fc.array(fc.nat(6), { maxLength: 3 }),
      ),
      {
        maxLength: 7,
      },
    )
    .map((rows) =>
      rows.map(([filamentId, layers, over], i): Leveled => ({
        filamentId,
        layers: layers + 1,
        over: [...new Set(over)].filter((j) => j < i),
      })),
    );

  it('have as few swaps as trying every order finds', () => {
    fc.assert(
      fc.property(given, (elements) => {
        const { bands } = findLevels('a', elements);
        const swaps = bands.length - (bands[0]?.filamentId === 'a' ? 1 : 0);
        expect(swaps).to.equal(exhaustive('a', elements));
      }),
      { numRuns: 500 },
    );
  });

  it('each stands above what it lies on, and no layer wants two filaments', () => {
    fc.assert(
      fc.property(given, (elements) => {
        const { levels } = findLevels('a', elements);
        elements.forEach(({ over, layers, filamentId }, i) => {
          for (const j of over) expect(levels[i]).to.be.at.least((levels[j] ?? 0) + 1);
          expect(levels[i]).to.be.at.least(layers);
          expect(filamentId).to.be.a('string');
        });
        const { clashes, bands } = bandsOfTops([
          { layer: 10, filamentId: 'a', element: -1 },
          ...elements.map(({ filamentId }, i) => ({
            layer: 10 + (levels[i] ?? 0),
            filamentId,
            element: i,
          })),
        ]);
        expect(clashes).to.deep.equal([]);
        expect(totalLayers(bands)).to.equal(10 + Math.max(0, ...levels));
      }),
      { numRuns: 300 },
    );
  });
});
