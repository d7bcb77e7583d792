import { expect } from 'chai';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import { joinPieces } from '#core/base/byte-pieces.ts';
import { exportFile, FACE_FORMATS } from '#core/formats/mesh/export-files.ts';
import { estimateFile } from '#core/formats/mesh/file-sizes.ts';
import { readTagJson } from '#core/formats/project/tag-json.ts';
import { readSwapsJson } from '#core/formats/sheet/read-swaps-json.ts';
import { swapSheetText } from '#core/formats/sheet/swap-sheet-text.ts';
import { printPlanOf, swapsJson } from '#core/formats/sheet/swaps-json.ts';
import { auditGcode } from '#core/gcode/audit.ts';
import { readGcode } from '#core/gcode/read-gcode.ts';
import { piecesSource } from '#core/gcode/source.ts';
import { openRehearsal, playFile } from '#core/rehearse/rehearsal.ts';
import { checkMesh } from '#core/relief/check-mesh.ts';
import { inlaidMeshes, reliefMesh } from '#core/relief/relief-mesh.ts';
import { planSplices } from '#core/schedule/splice.ts';
import type { SwapSheet } from '#core/schedule/swap-sheet.ts';
import type { OwnGcode } from '#core/slicing/own-gcode.ts';
import { flushOrders, flushSwaps } from '#core/stack/flush.ts';
import { layerTopsMm } from '#core/stack/layer-grid.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { TagChecks } from '#core/tags/check-tag.ts';
import { faceEntry, rampOfFaces } from '#core/tags/face-ramp.ts';
import { outlineRelief } from '#core/tags/outline-piece.ts';
import { boxOf } from '#core/tags/rings.ts';
import type { Tag } from '#core/tags/tag.ts';
import { PNG_ENCODERS } from '../../src/platform/encode-pictures.ts';
import { loadShippedFaces } from '../../src/platform/node/load-faces.ts';
import { readyForTags } from '../../src/state/ready-for-tags.ts';
import { setFlush, setTagBack } from '../../src/state/edits/tag-edits.ts';
import { migrateDocument } from '../../src/state/migrate-document.ts';
import type { ProjectDocument } from '../../src/state/project-document.ts';
import {
  exportRequest,
  printingOf,
  sheetOfDocument,
  stampOfDocument,
} from '../../src/state/project-export.ts';
import { plannedTagOf } from '../../src/state/tag-plan.ts';
import { documentOfSide, placeFromSide, tagOfSide } from '../../src/state/tag-side.ts';
import { measureWhole } from '../../src/workers/measure.ts';
import { made as makeOwn, plainMoves } from '../helpers/own-gcode.ts';
import { FILAMENTS } from '../helpers/stacks.ts';
import {
  FIRST,
  FLUSH,
  hole,
  letters,
  SECOND,
  shape,
  tagDocument,
  tagOf,
  THIRD,
} from '../helpers/tags.ts';

/** Area of the plate of the helper's tag: a rounded rectangle of 60 x 34 mm with corners of 5 mm. */
const PLATE_MM2 = 60 * 34 - (4 - Math.PI) * 25;
const DISC_MM2 = Math.PI * 16;

function planned(document: ProjectDocument) {
  const plan = plannedTagOf(document);
  if (!plan) throw new Error('no tag');
  return plan;
}

/** All that is made of a document: its relief, its sheet, and what files are written from. */
function worked(document: ProjectDocument) {
  const { request, ...wanted } = exportRequest(document);
  if (!request.piece) throw new Error('no piece');
  const relief = outlineRelief(request.piece, request);
  const face = request.face && {
    view: request.face,
    heights: outlineRelief(request.face.piece, request).heights,
  };
  const source = { ...wanted, ...relief, looked: face, sampleMm: request.sampleMm };
  return { request, relief, source, sheet: sheetOfDocument(document, measureWhole(relief)) };
}

async function sliced(
  document: ProjectDocument,
): Promise<{ own: OwnGcode; text: string; sheet: SwapSheet }> {
  const { source, sheet } = worked(document);
  const print = { ...printingOf(document), ...source, plan: printPlanOf(sheet) };
  return { ...(await makeOwn(print)), sheet };
}

/** The volume of a disc of 8 mm, and what a plate of 2 mm has besides it. */
const lid = (more: Partial<Tag> = {}): Tag =>
  tagOf([shape({ ...FLUSH, xMm: -15, yMm: 4 }), hole(20, 10)], more);

describe('flush faces', () => {
  before(() => readyForTags(loadShippedFaces));

  describe('what is where', () => {
    it('inlay and body fill the plate, each closed, by the areas that geometry gives them', () => {
      const { source } = worked(tagDocument(lid()));
      const tops = layerTopsMm(source.stack.grid, 10);
      const parts = inlaidMeshes(source, tops);
      const volume = (mesh: Parameters<typeof checkMesh>[0] | undefined): number => {
        if (!mesh) throw new Error('no solid');
        const { badEdges, pinchedCorners, volumeMm3 } = checkMesh(mesh, { crossings: false });
        expect([badEdges, pinchedCorners]).to.deep.equal([0, 0]);
        return volumeMm3;
      };
      const body = volume(parts?.body);
      const whole = volume(reliefMesh(source, tops));
      const inlay = volume(parts?.inlays[0]);
      expect(inlay).to.be.closeTo(DISC_MM2 * 0.4, 1e-3 * DISC_MM2);
      expect(whole).to.be.closeTo((PLATE_MM2 - Math.PI * 6.25) * 2, 1e-4 * 4000);
      expect(inlay + body).to.be.closeTo(whole, 1e-6 * whole);
    });

    it('the face lies on the bed mirrored, and is looked at as it was drawn', () => {
      const { piece, face } = planned(tagDocument(lid()));
      const middle = (shapes: typeof piece.shapes, way: string): number => {
        const box = boxOf(shapes.find((one) => one.way === way)?.rings ?? []);
        return box ? (box.left + box.right) / 2 : Number.NaN;
      };
      expect(middle(piece.shapes, 'inlay')).to.be.closeTo(15, 1e-3);
      expect(middle(piece.shapes, 'hole')).to.be.closeTo(-20, 1e-3);
      expect(middle(face?.piece.shapes ?? [], 'sink')).to.be.closeTo(-15, 1e-3);
      expect(middle(face?.piece.shapes ?? [], 'hole')).to.be.closeTo(20, 1e-3);
    });

    it('files hold both parts, aligned; their sizes are told before', () => {
      const { source } = worked(tagDocument(lid()));
      const boxes = FACE_FORMATS.map((format) => {
        const { suffix, pieces, triangles } = exportFile(format, source, PNG_ENCODERS);
        expect(suffix).to.equal(`${format}.stl`);
        const bytes = joinPieces(pieces);
        expect(estimateFile(format, source)).to.deep.equal({
          bytes: bytes.length,
          triangles,
          exact: true,
        });
        // Read by a package (three) that knows nothing of ours.
        const read = new STLLoader().parse(Uint8Array.from(bytes).buffer);
        const places = [...read.getAttribute('position').array];
        const xs = places.filter((_, n) => n % 3 === 0);
        const zs = places.filter((_, n) => n % 3 === 2);
        return [Math.min(...xs), Math.max(...xs), Math.max(...zs)].map((mm) => mm.toFixed(2));
      });
      // The plate is 60 mm wide, so its middle is at 30.
      expect(boxes).to.deep.equal([
        ['41.00', '49.00', '0.40'],
        ['0.00', '60.00', '2.00'],
      ]);
      const two = worked(
        tagDocument(tagOf([shape(FLUSH), shape({ ...FLUSH, xMm: 12, filamentId: THIRD })])),
      );
      expect(exportFile('inlays', two.source, PNG_ENCODERS).suffix).to.equal('inlays.zip');
      const svg = Buffer.concat(exportFile('layers', source, PNG_ENCODERS).pieces).toString();
      expect([...svg.matchAll(/id="(layer-[12](?:-[^"]*)?)"/g)].map(([, id]) => id)).to.deep.equal([
        'layer-1',
        'layer-1-inlay-1',
        'layer-2',
        'layer-2-inlay-1',
      ]);
    });

    it('what is seen of an inlay is that filament over the plate behind it', () => {
      const document = tagDocument(lid());
      const { stack, filaments } = exportRequest(document);
      const { face } = planned(document);
      const ramp = rampOfFaces(stack, filaments, face);
      expect(ramp).to.have.length(12);
      const pile = (bands: readonly (readonly [string, number])[]) =>
        rampOfStack(
          {
            grid: stack.grid,
            bands: bands.map(([filamentId, layers]) => ({ filamentId, layers })),
          },
          FILAMENTS,
        ).at(-1)?.colour;
      expect(ramp[faceEntry(stack.bands, 0) - 1]?.colour).to.deep.equal(pile([[FIRST, 10]]));
      expect(ramp[faceEntry(stack.bands, 1) - 1]?.colour).to.deep.equal(
        pile([
          [FIRST, 8],
          [SECOND, 2],
        ]),
      );
    });

    it('an inlay of the filament of the face is none, and cuts what it lies on', () => {
      const plate = shape({ ...FLUSH, filamentId: FIRST, outline: disc(4) });
      const document = tagDocument(tagOf([shape(FLUSH), plate]));
      const { piece, swaps } = planned(document);
      expect([piece.inlays?.filaments, swaps]).to.deep.equal([[SECOND], 1]);
      const { source } = worked(document);
      const inlay = inlaidMeshes(source, layerTopsMm(source.stack.grid, 10))?.inlays[0];
      if (!inlay) throw new Error('no inlay');
      expect(checkMesh(inlay).volumeMm3).to.be.closeTo((DISC_MM2 - Math.PI * 4) * 0.4, 0.02);
    });
  });

  it('nothing meets along an edge alone: under a steep chamfer and beside what is sunk behind, solids stay closed', () => {
    const bar = shape({
      ...FLUSH,
      outline: { kind: 'rectangle', widthMm: 80, heightMm: 6, cornerMm: 0 },
    });
    const box = { kind: 'rectangle' as const, widthMm: 10, heightMm: 10, cornerMm: 0 };
    const beside = [
      shape({ ...FLUSH, outline: box, xMm: -5 }),
      // As deep as the inlays leave it: one layer of the body over the height of theirs.
      shape({ way: 'sunk', side: 'back', outline: box, xMm: -5, level: 7, filamentId: THIRD }),
    ];
    for (const tag of [
      tagOf([bar], { plate: { ...tagOf([]).plate, chamferLayers: 9 } }),
      tagOf(beside, { back: 'one', levels: 'own' }),
    ]) {
      const { source } = worked(tagDocument(tag));
      const parts = inlaidMeshes(source, layerTopsMm(source.stack.grid, 12));
      expect(parts?.inlays).to.have.length(1);
      for (const mesh of parts ? [parts.body, ...parts.inlays] : []) {
        const { badEdges, pinchedCorners, volumeMm3 } = checkMesh(mesh, { crossings: false });
        expect([badEdges, pinchedCorners]).to.deep.equal([0, 0]);
        expect(volumeMm3).to.be.above(10);
      }
    }
  });

  describe('swaps', () => {
    it('m filaments take m - 1 with the inlays first, and n (m - 1) within n layers (the trade: two a layer)', () => {
      const ids = [SECOND, THIRD, Object.keys(FILAMENTS)[3] ?? ''];
      for (const inlays of [1, 2, 3])
        for (const layers of [2, 3]) {
          const own = ids.slice(0, inlays);
          const elements = own.map((filamentId, i) =>
            shape({ ...FLUSH, filamentId, xMm: -18 + 12 * i }),
          );
          for (const print of ['first', 'within'] as const) {
            const document = tagDocument(tagOf(elements, { flush: { print, layers } }));
            const { sheet } = worked(document);
            const wanted = print === 'first' ? inlays : layers * inlays;
            expect(planned(document).swaps).to.equal(wanted);
            expect(sheet.swaps).to.have.length(wanted);
            expect(flushSwaps({ print, layers }, inlays)).to.equal(wanted);
            // From each to the next, and at last to the plate.
            sheet.swaps.forEach(({ fromFilamentId }, n) => {
              if (n > 0) expect(fromFilamentId).to.equal(sheet.swaps[n - 1]?.toFilamentId);
            });
            expect(sheet.swaps.at(-1)?.toFilamentId).to.equal(FIRST);
          }
          const orders = flushOrders({ layers, filaments: own });
          expect(orders).to.have.length(layers);
          orders.forEach((order, n) => {
            expect([...order].sort()).to.deep.equal([0, ...own.map((_, i) => i + 1)]);
            if (n > 0) expect(order[0], 'no change between layers').to.equal(orders[n - 1]?.at(-1));
          });
          expect(orders.at(-1)?.at(-1)).to.equal(0);
        }
    });

    it('one layer is the same both ways: nothing stands in the way there', () => {
      const document = tagDocument(lid({ flush: { print: 'first', layers: 1 } }));
      expect(planned(document).piece.inlays).to.deep.include({ print: 'within', layers: 1 });
      expect(worked(document).sheet.swaps.map(({ inside }) => inside)).to.deep.equal(['layer']);
    });

    it('sheet and swaps.json tell the face apart from the bands', () => {
      const back = shape({ side: 'back', filamentId: THIRD });
      const document = tagDocument(lid({ back: 'one', elements: [shape(FLUSH), back] }));
      const { sheet } = worked(document);
      expect(sheet.swaps.map(({ inside, layerNumber }) => [inside, layerNumber])).to.deep.equal([
        ['face', 1],
        [undefined, 11],
      ]);
      expect(sheet.bands.map(({ letter, filamentId }) => [letter, filamentId])).to.deep.equal([
        ['C', SECOND],
        ['A', FIRST],
        ['B', THIRD],
      ]);
      const [inlay, body] = sheet.bands;
      expect(inlay?.volumeMm3).to.be.closeTo(DISC_MM2 * 0.4, 0.2);
      expect(body?.volumeMm3).to.be.closeTo(PLATE_MM2 * 2 - DISC_MM2 * 0.4, 3);
      const text = swapSheetText(sheet);
      expect(text).to.match(/FLUSH FACE\n {2}The face lies on the bed, mirrored\./);
      expect(text).to.match(/with a lift of\s+0\.90 mm/);
      const read = readSwapsJson(swapsJson(sheet));
      if (!read.ok) throw new Error(read.fault.code);
      expect(read.value.swaps.map(({ layer, stopAfterMm }) => [layer, stopAfterMm])).to.deep.equal([
        [11, 2],
      ]);
      expect(read.value.flush).to.deep.include({
        print: 'first',
        layers: 2,
        filaments: [SECOND],
        body: FIRST,
      });
      // The lowest layers of the body have the inlay's area less, the others have not.
      const [low = 0, second = 0, third = 0] = read.value.areasMm2 ?? [];
      expect(low).to.equal(second);
      expect(third - low).to.be.closeTo(DISC_MM2, 0.5);
      // A strand that is joined outside the printer has the inlay in front.
      expect(planSplices(sheet, 100).map(({ letter }) => letter)).to.deep.equal(['C', 'A', 'B']);
      expect(planSplices(worked(within()).sheet, 100)).to.deep.equal([]);
    });
  });

  describe('G-code of our own', () => {
    it('lays the inlay, stops, and then the body around it, with every way over it 0.5 mm above its top', async () => {
      const { own, text, sheet } = await sliced(tagDocument(lid()));
      expect(own.findings).to.deep.equal([]);
      expect([own.report.objects, own.report.pauses.length]).to.deep.equal([2, 1]);
      const [before = '', after = ''] = text.split('M600\n');
      // The middle of the disc: the plate lies in the middle of a bed of 220 mm.
      const [x, y] = [110 + 15, 110 + 4];
      const laid = plainMoves(before).filter(({ strand, from, to, layer }) =>
        layer > 0 && strand > 0 ? from[0] !== to[0] || from[1] !== to[1] : false,
      );
      for (const { to } of laid) expect(Math.hypot(to[0] - x, to[1] - y)).to.be.lessThan(4);
      expect(new Set(laid.map(({ to }) => to[2]))).to.deep.equal(new Set([0.2, 0.4]));
      const over = (from: readonly number[], to: readonly number[]): boolean =>
        Array.from({ length: 60 }, (_, n) => n / 59).some(
          (t) =>
            Math.hypot(
              (from[0] ?? 0) + t * ((to[0] ?? 0) - (from[0] ?? 0)) - x,
              (from[1] ?? 0) + t * ((to[1] ?? 0) - (from[1] ?? 0)) - y,
            ) < 3.9,
        );
      const body = plainMoves(after).filter(({ layer }) => layer > 0);
      let hops = 0;
      for (const { from, to, strand, layer } of body) {
        if (layer > 2 || (from[0] === to[0] && from[1] === to[1]) || !over(from, to)) continue;
        expect(strand, 'nothing is laid where the inlay is').to.equal(0);
        expect(Math.min(from[2], to[2])).to.be.at.least(0.9 - 1e-9);
        hops += 1;
      }
      expect(hops).to.be.greaterThan(0);
      expect(body.some(({ layer, strand, from, to }) => layer > 2 && strand > 0 && over(from, to)))
        .to.be.true;
      // What is laid is the inlay's own volume.
      const mm3 = laid.reduce((sum, { strand }) => sum + strand, 0) * (Math.PI / 4) * 1.75 ** 2;
      expect(mm3).to.be.closeTo(DISC_MM2 * 0.4, 0.05 * DISC_MM2 * 0.4);
      expect(sheet.flush?.areasMm2[0]).to.be.closeTo(DISC_MM2, 0.5);
    });

    it('changes filament within each layer of the face, as its sheet says', async () => {
      const { own, text, sheet } = await sliced(within());
      expect(own.findings).to.deep.equal([]);
      expect(own.report.pauses.map(({ layer, inside }) => [layer, inside])).to.deep.equal([
        [1, true],
        [2, true],
      ]);
      // No line of a tool is left that a printer with one nozzle would stumble over.
      expect(text).not.to.match(/^T\d/m);
      expect(text).to.match(/; soot out, rust in\nM600/);
      expect(text).to.match(/; rust out, soot in\nM600/);
      expect(
        sheet.swaps.map(({ fromFilamentId, layerNumber }) => [fromFilamentId, layerNumber]),
      ).to.deep.equal([
        [FIRST, 1],
        [SECOND, 2],
      ]);
    });

    it('a rehearsal lays all of it as planned, and sees a stop that is run over', async () => {
      for (const document of [tagDocument(lid()), within()]) {
        const { own, sheet } = await sliced(document);
        const opened = await openRehearsal(
          piecesSource(own.pieces),
          printPlanOf(sheet),
          document.print.printer,
        );
        if (!opened.ok) throw new Error(opened.fault.code);
        expect(playFile(opened.value.file).score).to.deep.include({
          score: 1,
          firstWrongLayer: null,
        });
        const { score } = playFile(opened.value.file, { ignores: 1 });
        expect(score.score).to.be.lessThan(1);
        expect(score.firstWrongLayer).to.be.a('number');
      }
    });

    it('a file that lacks a change of the face is told; one of the body alone is sound', async () => {
      const findingsOf = async (text: string, sheet: SwapSheet): Promise<string[]> => {
        const report = await readGcode(piecesSource([Buffer.from(text, 'latin1')]), {});
        if (!report.ok) throw new Error(report.fault.code);
        return auditGcode(report.value, printPlanOf(sheet)).map(
          ({ code, severity }) => `${severity} ${code}`,
        );
      };
      const first = await sliced(tagDocument(lid()));
      expect(await findingsOf(first.text, first.sheet)).to.deep.equal([]);
      expect(await findingsOf(first.text.replace('M600\n', ''), first.sheet)).to.deep.equal([
        'wrong one-by-one',
      ]);
      const inside = await sliced(within());
      expect(await findingsOf(inside.text.replace('M600\n', ''), inside.sheet)).to.deep.equal([
        'wrong face-missing',
      ]);
      // As a slicing program makes it of `body.stl`: without the plan's face only the body is laid.
      const { source, sheet } = worked(tagDocument(lid()));
      const { flush: _flush, ...plan } = printPlanOf(sheet);
      const body = await makeOwn({ ...printingOf(tagDocument(lid())), ...source, plan });
      expect(await findingsOf(body.text, sheet)).to.deep.equal([]);
    });

    it('times and strand of the file go into the sheet', async () => {
      const document = tagDocument(lid());
      const { own } = await sliced(document);
      const { relief } = worked(document);
      const sheet = sheetOfDocument(document, measureWhole(relief), [], own.figures);
      expect(sheet.totalS - sheet.swapsS).to.be.closeTo(own.report.seconds, 2);
      const grams = sheet.bands.reduce((sum, band) => sum + band.metres, 0);
      expect(1000 * grams).to.be.closeTo(
        own.figures.strandMm.reduce((a, b) => a + b, 0) + (own.figures.inlays?.strandMm[0] ?? 0),
        1,
      );
    });
  });

  describe('what cannot be printed', () => {
    const faultsOf = (tag: Tag): (readonly [number, string])[] =>
      planned(tagDocument(tag)).wayFaults.map(({ element, why }) => [element, why] as const);

    it('says why: standing out of the face, flush on top, nothing behind an inlay', () => {
      expect(faultsOf(tagOf([shape(FLUSH), letters('A')]))).to.deep.equal([[1, 'stands-out']]);
      expect(faultsOf(tagOf([shape({ ...FLUSH, side: 'back' })], { back: 'one' }))).to.deep.equal([
        [0, 'on-top'],
      ]);
      const thin = { filamentId: FIRST, layers: 2, chamferLayers: 0 };
      expect(faultsOf(tagOf([shape(FLUSH)], { plate: thin }))).to.deep.equal([[0, 'thin-plate']]);
      const deep = shape({ way: 'sunk', side: 'back', level: 8 });
      expect(faultsOf(tagOf([shape(FLUSH), deep], { back: 'one', levels: 'own' }))).to.deep.equal([
        [1, 'no-cover'],
      ]);
      expect(faultsOf(tagOf([letters('A'), shape({ ...FLUSH, side: 'back' })]))).to.deep.equal([]);
    });

    it('is a problem of its element, and no file is made meanwhile', () => {
      const document = tagDocument(tagOf([shape(FLUSH), letters('A')]));
      const problems = new TagChecks().problems(
        tagOf([shape(FLUSH), letters('A')]),
        planned(document),
        { lineMm: 0.42, layerMm: 0.2 },
      );
      expect(problems.map(({ code, element, detail }) => [code, element, detail])).to.deep.equal([
        ['clash', 1, 'stands-out'],
      ]);
    });
  });

  describe('two sides', () => {
    const both = (back: Tag['back'], more: Partial<Tag> = {}): ProjectDocument =>
      tagDocument(
        tagOf(
          [
            shape({ xMm: -15 }),
            hole(20, 10),
            shape({ side: 'back', filamentId: THIRD, xMm: 5, level: 8, layers: 4 }),
          ],
          { back, ...more },
        ),
      );

    it('halves to glue lie beside each other, and their holes meet back to back', () => {
      for (const back of ['same', 'halves'] as const) {
        const { piece } = planned(both(back));
        expect(piece.box.right - piece.box.left).to.be.closeTo(2 * 60 + 5, 1e-2);
        const holes = piece.shapes.flatMap(({ way, rings }) => {
          const box = way === 'hole' ? boxOf(rings) : undefined;
          return box ? [(box.left + box.right) / 2 - piece.box.left] : [];
        });
        // 20 mm right of the middle of one half is 20 mm left of that of the other.
        expect(holes.map((mm) => mm.toFixed(2))).to.deep.equal(['50.00', '75.00']);
        const raised = piece.shapes.filter(({ way }) => way === 'raise');
        expect(raised.map(({ layers }) => layers)).to.deep.equal(
          back === 'same' ? [14, 14] : [14, 18],
        );
      }
    });

    it('lettering that a hole cuts on the second half is told', () => {
      const problems = (xMm: number) => {
        const tag = tagOf([shape({ xMm }), hole(20, 0)], { back: 'same' });
        return new TagChecks()
          .problems(tag, planned(tagDocument(tag)), { lineMm: 0.42, layerMm: 0.2 })
          .map(({ code, element, detail }) => [code, element, detail]);
      };
      expect(problems(-18)).to.deep.equal([['outside', 0, 'hole-behind']]);
      expect(problems(0)).to.deep.equal([]);
    });

    it('halves share their swaps: levels are found for both together', () => {
      expect(planned(both('halves')).swaps).to.equal(2);
      expect(planned(both('same')).swaps).to.equal(1);
      expect(planned(both('plain')).swaps).to.equal(1);
    });

    it('one piece has a flush face and what is raised behind it, seen from there', () => {
      const document = both('one', {
        elements: [
          shape({ ...FLUSH, xMm: -15 }),
          shape({ side: 'back', filamentId: THIRD, xMm: 5 }),
        ],
      });
      const { piece, swaps, wayFaults } = planned(document);
      expect([swaps, wayFaults]).to.deep.equal([2, []]);
      const raise = boxOf(piece.shapes.find(({ way }) => way === 'raise')?.rings ?? []);
      // Seen from above, as it lies on its face, the back is as it was drawn.
      expect(((raise?.left ?? 0) + (raise?.right ?? 0)) / 2).to.be.closeTo(5, 1e-3);
      const { source } = worked(document);
      const tops = layerTopsMm(source.stack.grid, 14);
      expect(checkMesh(reliefMesh(source, tops)).volumeMm3).to.be.closeTo(
        PLATE_MM2 * 2 + DISC_MM2 * 0.8,
        1,
      );
    });

    it('a side is worked on as a tag of its own; holes lie mirrored behind', () => {
      const document = both('halves');
      if (!document.tag) throw new Error('no tag');
      const behind = tagOfSide(document.tag, 'back');
      expect(behind.elements.map((one) => [one.kind, 'xMm' in one ? one.xMm : 0])).to.deep.equal([
        ['hole', -20],
        ['shape', 5],
      ]);
      const [own] = behind.elements;
      if (!own) throw new Error('no hole');
      expect(placeFromSide(own, 'back', { xMm: -18, yMm: 2 })).to.deep.equal({ xMm: 18, yMm: 2 });
      const shown = planned(documentOfSide(document, 'back'));
      expect(shown.piece.shapes.map(({ way }) => way)).to.deep.equal(['plate', 'raise', 'hole']);
      // Back and forth loses nothing.
      const there = setTagBack('plain')(document);
      expect(planned(there).piece.shapes.map(({ way }) => way)).to.deep.equal([
        'plate',
        'raise',
        'hole',
      ]);
      expect(stampOfDocument(setTagBack('halves')(there))).to.equal(stampOfDocument(document));
    });
  });

  it('the sheet advises others how to iron what G-code of our own irons', () => {
    const document = tagDocument(lid());
    const ironing = { bands: [0], spacingMm: 0.12, flow: 0.1, speedMmS: 20 };
    const ironed = { ...document, print: { ...document.print, ironing } };
    expect(swapSheetText(worked(ironed).sheet)).to.match(
      /Ironing\s+tops of A: lines 0\.12 mm apart, 10 % flow, 20 mm\/s\n\s+\(smooth where it is seen/,
    );
    expect(swapSheetText(worked(document).sheet)).not.to.include('Ironing');
  });

  it('how it is printed is a part of the stamp', () => {
    const document = tagDocument(lid());
    const stamps = [
      document,
      setFlush({ print: 'within' })(document),
      setFlush({ layers: 3 })(document),
    ].map(stampOfDocument);
    expect(new Set(stamps).size).to.equal(3);
  });

  it('tags of version 12 are of one side, with their stamp as it was', () => {
    const document = tagDocument(tagOf([shape(), letters('A'), hole(0, 10)]));
    const { flush: _flush, back: _back, elements, ...tag } = document.tag ?? tagOf([]);
    const old = elements.map(({ ...element }) => {
      if ('side' in element) delete (element as { side?: string }).side;
      return element;
    });
    const opened = migrateDocument({ ...document, schema: 12, tag: { ...tag, elements: old } });
    expect(opened).to.deep.equal(document);
    expect(stampOfDocument(opened)).to.equal(stampOfDocument(document));
  });

  it('the file of a tag tells thickness by the level, and inlays of two thicknesses are uneven', () => {
    const file = (levels: readonly number[]): string =>
      JSON.stringify({
        layerGrid: { firstLayerMm: 0.2, layerMm: 0.2 },
        outline: { kind: 'disc', widthMm: 40 },
        plate: { filament: FIRST, levelMm: 2 },
        back: 'one',
        flush: { print: 'within' },
        elements: levels.map((levelMm) => ({
          kind: 'shape',
          path: 'M0 0H10V10H0Z',
          widthMm: 10,
          filament: SECOND,
          way: 'flush',
          levelMm,
        })),
      });
    const read = (levels: readonly number[]) => {
      const result = readTagJson(file(levels), () => true);
      if (!result.ok) throw new Error(JSON.stringify(result.fault));
      return result.value;
    };
    expect(read([0.6, 0.6])).to.deep.include({ uneven: [] });
    expect(read([0.6, 0.6]).tag).to.deep.include({
      back: 'one',
      flush: { print: 'within', layers: 3 },
    });
    expect(read([0.4, 0.6]).uneven.map(({ element, mm }) => [element, mm])).to.deep.equal([
      [1, 0.6],
    ]);
    expect(read([0.3]).uneven).to.have.length(1);
  });
});

const disc = (mm: number) => ({ kind: 'disc' as const, widthMm: mm, heightMm: mm, cornerMm: 0 });

/** A lid whose filaments are changed within the layers of its face. */
function within(): ProjectDocument {
  return tagDocument(lid({ flush: { print: 'within', layers: 2 } }));
}
