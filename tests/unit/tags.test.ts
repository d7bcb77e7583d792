import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { zlibSync } from 'fflate';
import opentype from 'opentype.js';
import { readNamesCsv } from '#core/formats/sheet/names-csv.ts';
import { checkMesh } from '#core/relief/check-mesh.ts';
import { reliefMesh } from '#core/relief/relief-mesh.ts';
import { layerTopsMm } from '#core/stack/layer-grid.ts';
import { totalLayers } from '#core/stack/stack.ts';
import { TagChecks, type TagProblem } from '#core/tags/check-tag.ts';
import { addArc } from '#core/tags/curves.ts';
import { distanceBetween, thinnest, widthsAlong } from '#core/tags/fine.ts';
import { faceOf, readFont } from '#core/tags/font.ts';
import { setLettering } from '#core/tags/lettering.ts';
import { outlineRelief } from '#core/tags/outline-piece.ts';
import { OUTLINE_KINDS } from '#core/tags/outline-kinds.ts';
import { outlineContours } from '#core/tags/outlines.ts';
import { countCrossings } from '#core/tags/crossings.ts';
import {
  areaMm2,
  boxOf,
  grown,
  ringsOf,
  withoutRings,
  type Contour,
  type Ring,
} from '#core/tags/rings.ts';
import { fieldsOf, fillFields } from '#core/tags/series.ts';
import { pathContours, readPath } from '#core/tags/svg-path.ts';
import type { Tag } from '#core/tags/tag.ts';
import { describeFontFault } from '../../src/platform/tag-words.ts';
import { faceById } from '../../src/platform/faces.ts';
import { loadShippedFaces } from '../../src/platform/node/load-faces.ts';
import { readyForTags } from '../../src/state/ready-for-tags.ts';
import { readSvgShapes } from '../../src/platform/svg-shapes.ts';
import { heightRequest, samplesOf } from '../../src/state/document-facts.ts';
import { setGrid } from '../../src/state/edits/piece-edits.ts';
import { setTagLevels, patchElement } from '../../src/state/edits/tag-edits.ts';
import type { ProjectDocument } from '../../src/state/project-document.ts';
import { stampOfDocument } from '../../src/state/project-export.ts';
import { plannedTagOf } from '../../src/state/tag-plan.ts';
import { FIRST, hole, letters, SECOND, shape, tagDocument, tagOf, THIRD } from '../helpers/tags.ts';

const discRings = (mm: number, xMm = 0): Ring[] => {
  const circle: number[] = [];
  addArc(circle, [xMm, 0], mm / 2, 0, 2 * Math.PI);
  return ringsOf([circle], 'nonzero');
};
const boxRings = (x: number, y: number, w: number, h: number): Ring[] =>
  ringsOf([[x, y, x + w, y, x + w, y + h, x, y + h]], 'nonzero');

function planned(document: ProjectDocument) {
  const plan = plannedTagOf(document);
  if (!plan) throw new Error('no tag');
  return plan;
}

function problemsOf(tag: Tag): TagProblem[] {
  const document = tagDocument(tag);
  return new TagChecks().problems(tag, planned(document), { lineMm: 0.42, layerMm: 0.2 });
}

describe('tags', () => {
  before(() => readyForTags(loadShippedFaces));

  it('less than a line between two elements is told; what touches or lies on another has no gap', () => {
    const disc = (xMm: number, more: object = {}) => shape({ xMm, ...more });
    const gaps = (elements: Parameters<typeof tagOf>[0]): (readonly [number, number, number])[] =>
      problemsOf(tagOf(elements)).flatMap(({ code, element, other = -1, mm }) =>
        code === 'thin-gap' ? [[element, other, Number(mm.toFixed(1))] as const] : [],
      );
    // Discs of 8 mm: 0.3 mm between them, then a whole line, then none.
    expect(gaps([disc(0), disc(8.3)])).to.deep.equal([[1, 0, 0.3]]);
    expect(gaps([disc(0), disc(8.45)])).to.deep.equal([]);
    expect(gaps([disc(0), disc(7.9)])).to.deep.equal([]);
    const small = { outline: { kind: 'disc' as const, widthMm: 7.6, heightMm: 7.6, cornerMm: 0 } };
    expect(gaps([disc(0), disc(0, small)]), 'it lies on it').to.deep.equal([]);
    expect(gaps([disc(0), disc(8.3, { way: 'sunk' })]), 'one up, one down').to.deep.equal([]);
  });

  describe('outlines', () => {
    it('have the areas that geometry gives them', () => {
      const area = (kind: (typeof OUTLINE_KINDS)[number], w: number, h: number, r = 0): number => {
        const read = outlineContours({ kind, widthMm: w, heightMm: h, cornerMm: r });
        if (!read.ok) throw new Error(read.fault.code);
        return areaMm2(ringsOf(read.value, 'nonzero'));
      };
      expect(area('disc', 40, 40)).to.be.closeTo(Math.PI * 400, 0.01);
      expect(area('disc', 40, 20)).to.be.closeTo(Math.PI * 200, 0.01);
      expect(area('rectangle', 60, 34)).to.be.closeTo(60 * 34, 1e-9);
      expect(area('rounded', 60, 34, 5)).to.be.closeTo(60 * 34 - (4 - Math.PI) * 25, 0.05);
      expect(area('pill', 60, 20)).to.be.closeTo(40 * 20 + Math.PI * 100, 0.05);
      // Regular: 3/2 sqrt(3) a² with a = 20.
      expect(area('hexagon', 40, 40 * Math.sin(Math.PI / 3))).to.be.closeTo(
        1.5 * Math.sqrt(3) * 400,
        0.05,
      );
    });

    it('are as wide and high as was asked, in the middle', () => {
      for (const kind of OUTLINE_KINDS) {
        const own = { kind, widthMm: 30, heightMm: 44, cornerMm: 4, path: 'M3 3c9 1 9 9 0 9z' };
        const read = outlineContours(own);
        if (!read.ok) throw new Error(read.fault.code);
        const box = boxOf(ringsOf(read.value, 'nonzero'));
        for (const [side, mm] of Object.entries({ left: -15, right: 15, bottom: -22, top: 22 }))
          expect(box?.[side as 'left'], `${kind} ${side}`).to.be.closeTo(mm, 0.02);
      }
    });
  });

  describe('paths of SVG', () => {
    const area = (data: string, fill: 'nonzero' | 'evenodd' = 'nonzero', transform?: string) => {
      const read = readPath(data, transform);
      if (!read.ok) return read.fault.code;
      return areaMm2(
        ringsOf(
          read.value.contours.map((line) => line.map((at, n) => (n % 2 === 0 ? at : -at))),
          fill,
        ),
      );
    };

    it('follow the rules of SVG 1.1, chapter 8.3', () => {
      // Relative commands, implicit lines, numbers without separators.
      expect(area('m10 10 20 0 0 20-20 0z')).to.equal(400);
      expect(area('M.5.5L10.5.5 10.5 10.5 .5 10.5')).to.equal(100);
      expect(area('M0 0h10v10H0z m20 0h10v10h-10z')).to.equal(200);
      // Two half circles by arcs.
      expect(area('M0 50A50 50 0 0 1 100 50A50 50 0 0 1 0 50Z')).to.be.closeTo(
        Math.PI * 2500,
        Math.PI * 2500 * 1e-3,
      );
      // The large arc of a quarter circle and the small one are the whole circle.
      const large = area('M0 0L50 0A50 50 0 1 1 0-50Z');
      const small = area('M0 0L50 0A50 50 0 0 0 0-50Z');
      expect(Number(large) + Number(small)).to.be.closeTo(Math.PI * 2500, 8);
      // A radius of an arc that is too small grows (F.6.6).
      expect(area('M0 0A1 1 0 0 1 100 0Z')).to.be.closeTo((Math.PI * 2500) / 2, 5);
      // Smooth curves mirror the control point before them.
      expect(area('M0 0C0-10 10-10 10 0S20 10 20 0Z')).to.be.closeTo(
        Number(area('M0 0C0-10 10-10 10 0C10 10 20 10 20 0Z')),
        1e-6,
      );
      expect(area('M0 0Q5-10 10 0T20 0Z')).to.be.closeTo(
        Number(area('M0 0Q5-10 10 0Q15 10 20 0Z')),
        1e-6,
      );
    });

    it('count what lies over each other by the fill rule, and take transforms', () => {
      const ring = 'M0 0h30v30h-30zM10 10h10v10h-10z';
      expect(area(ring)).to.equal(900);
      expect(area(ring, 'evenodd')).to.equal(800);
      expect(
        area('M0 0h10v10h-10z', 'nonzero', 'translate(5 5) rotate(30) scale(2 3)'),
      ).to.be.closeTo(600, 0.1);
    });

    it('that are none say so', () => {
      expect(area('')).to.equal('no-path');
      expect(area('M 0 0 L 10 q')).to.equal('bad-path');
      expect(area('M0 0L10 10')).to.equal('no-area');
      expect(area('M0 0 NaN')).to.equal('bad-path');
      expect(area(`M0 0${'h1'.repeat(200_001)}`)).to.equal('too-long');
      const scaled = pathContours('M0 0h10v20h-10z', 5);
      expect(scaled.ok && boxOf(ringsOf(scaled.value, 'nonzero'))).to.deep.equal({
        left: -2.5,
        right: 2.5,
        bottom: -5,
        top: 5,
      });
    });

    it('of a drawing come by colour, in groups, by reference and as basic shapes', () => {
      const read = readSvgShapes(
        `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><defs><rect id="r" width="10" height="10"/></defs>
        <g transform="translate(10 0)" fill="#f00"><circle cx="20" cy="20" r="10"/><use href="#r" x="40" y="5"/></g>
        <path d="M0 60h20v20h-20z" style="fill: rgb(0, 0, 255)"/><path d="M0 0L9 9" fill="none" stroke="#000"/>
        <text x="1" y="1">no</text></svg>`,
      );
      if (!read.ok) throw new Error(read.fault.detail);
      expect(read.value.map(({ colour }) => colour)).to.deep.equal(['#ff0000', '#0000ff']);
      const [red, blue] = read.value;
      expect(
        [red?.left, red?.width, blue?.top, blue?.height].map((at) => Math.round(at ?? 0)),
      ).to.deep.equal([20, 40, 60, 20]);
    });

    it('of hostile drawings are refused in words', () => {
      const svg = (inner: string): string =>
        `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9">${inner}</svg>`;
      const fault = (text: string): string => {
        const read = readSvgShapes(text);
        return read.ok ? 'read' : (read.fault.detail ?? '');
      };
      expect(fault('<!DOCTYPE svg [<!ENTITY a "b">]><svg/>')).to.include('entities');
      expect(fault(svg('<foreignObject/>'))).to.include('foreign objects');
      expect(fault(svg('<g id="a"><use href="#a"/></g>'))).to.include('multiply');
      expect(fault(svg('<text>A</text>'))).to.include('Convert lettering');
      expect(fault(svg('<path d="M0 0 L 1 q"/>'))).to.include('cannot be read');
      expect(
        fault(
          svg(
            Array.from({ length: 9 }, (_, n) => `<path fill="#00000${n}" d="M0 0h1v1z"/>`).join(''),
          ),
        ),
      ).to.include('more than 8 colours');
      expect(fault('not a drawing')).to.not.equal('read');
    });
  });

  describe('fonts', () => {
    it('that are broken, empty or packed are told apart', () => {
      const code = (bytes: Uint8Array): string => {
        const read = readFont(bytes);
        return read.ok ? 'read' : read.fault.code;
      };
      expect(code(new Uint8Array())).to.equal('not-a-font');
      expect(code(new TextEncoder().encode('wOF2 and more'))).to.equal('packed');
      expect(code(new Uint8Array(11_000_000))).to.equal('too-large');
      const whole = new Uint8Array(
        readFileSync(
          new URL(
            '../../node_modules/@fontsource/fredoka/files/fredoka-latin-700-normal.woff',
            import.meta.url,
          ),
        ),
      );
      expect(code(whole)).to.equal('read');
      expect(code(whole.slice(0, 900))).to.equal('not-a-font');
    });

    it('tell which letters they lack, and set the others', () => {
      const face = faceById('hanken-bold');
      if (!face) throw new Error('no face');
      const set = { heightMm: 10, tracking: 0, lineSpacing: 1, arcMm: 0 };
      const { missing, contours } = setLettering({ ...set, text: 'A\u4e2dB \u6587' }, face);
      expect(missing).to.deep.equal(['\u4e2d', '\u6587']);
      expect(contours.length).to.be.greaterThan(2);
      // What the first file lacks comes from the second.
      expect(setLettering({ ...set, text: 'Dvořák' }, face).missing).to.deep.equal([]);
    });

    it('make capitals as high as asked, whatever the face; lines lie one under the other', () => {
      for (const id of ['hanken', 'zilla-bold', 'barlow', 'fredoka-bold']) {
        const face = faceById(id);
        if (!face) throw new Error(id);
        const set = { heightMm: 10, tracking: 0, lineSpacing: 1, arcMm: 0 };
        const box = boxOf(ringsOf(setLettering({ ...set, text: 'H' }, face).contours, 'nonzero'));
        // Round ends reach a little below the line that letters stand on.
        expect(box?.top, id).to.be.closeTo(5, 0.01);
        expect(box?.bottom, id).to.be.closeTo(-5, id.startsWith('fredoka') ? 0.2 : 0.01);
        const two = boxOf(
          ringsOf(setLettering({ ...set, text: 'H\nH' }, face).contours, 'nonzero'),
        );
        const emMm = 10 / face.capitals;
        expect(two?.top, id).to.be.closeTo(5 + 0.6 * emMm, 0.01);
        const wide = boxOf(
          ringsOf(setLettering({ ...set, text: 'HH', tracking: 500 }, face).contours, 'nonzero'),
        );
        const near = boxOf(ringsOf(setLettering({ ...set, text: 'HH' }, face).contours, 'nonzero'));
        const width = (one: typeof wide): number => (one?.right ?? 0) - (one?.left ?? 0);
        expect(width(wide) - width(near), id).to.be.closeTo(emMm / 2, 0.01);
      }
    });

    it('set letters on a circle at its radius, upright above and below', () => {
      const face = faceById('hanken-bold');
      if (!face) throw new Error('no face');
      for (const arcMm of [20, -20]) {
        const { contours } = setLettering(
          { text: 'IIIIIIIII', heightMm: 4, tracking: 400, lineSpacing: 1, arcMm },
          face,
        );
        const radii = contours.flatMap((line) =>
          line.flatMap((x, n) => (n % 2 === 0 ? [Math.hypot(x, (line[n + 1] ?? 0) + arcMm)] : [])),
        );
        const [least, most] = [Math.min(...radii), Math.max(...radii)];
        // Above, feet stand on the circle; below, they hang on it.
        if (arcMm > 0)
          expect([least, most]).to.satisfy(
            ([a, b]: number[]) => (a ?? 0) > 19.9 && (b ?? 9) < 24.2,
          );
        else
          expect([least, most]).to.satisfy(
            ([a, b]: number[]) => (a ?? 0) > 15.8 && (b ?? 99) < 20.1,
          );
      }
    });
  });

  describe('solids', () => {
    it('are the areas times the heights, to the layer', () => {
      const tag = tagOf(
        [hole(0, 10), shape({ outline: { kind: 'disc', widthMm: 10, heightMm: 10, cornerMm: 0 } })],
        {
          outline: { kind: 'disc', widthMm: 40, heightMm: 40, cornerMm: 0 },
        },
      );
      const document = tagDocument(tag);
      const request = heightRequest(document);
      if (!request.piece) throw new Error('no piece');
      const relief = { ...outlineRelief(request.piece, request), sampleMm: request.sampleMm };
      const tops = layerTopsMm(document.stack.grid, totalLayers(document.stack.bands));
      const { volumeMm3, crossings, badEdges } = checkMesh(reliefMesh(relief, tops));
      expect([crossings, badEdges]).to.deep.equal([0, 0]);
      const expected = Math.PI * (400 - 6.25) * 2 + Math.PI * 25 * 0.8;
      expect(volumeMm3).to.be.closeTo(expected, 1e-4 * expected);
      // The samples that the sheet counts say the same within what a sample is wide.
      const printed = relief.heights.data.filter((layers) => layers > 0).length;
      expect(printed * 0.01).to.be.closeTo(Math.PI * (400 - 6.25), 2);
    });

    it('of chamfered plates step back by as much as a layer is high', () => {
      const tag = tagOf([], {
        outline: { kind: 'rectangle', widthMm: 30, heightMm: 20, cornerMm: 0 },
        plate: { filamentId: FIRST, layers: 10, chamferLayers: 3 },
      });
      const document = tagDocument(tag);
      const { piece } = heightRequest(document);
      const expected = [600, 29.6 * 19.6, 29.2 * 19.2, 28.8 * 18.8];
      expect(piece?.shapes.map(({ layers }) => layers)).to.deep.equal([7, 8, 9, 10]);
      piece?.shapes.forEach(({ rings }, i) => {
        expect(areaMm2(rings)).to.be.closeTo(expected[i] ?? 0, 0.1);
      });
    });

    it('keep their number of outlines where samples get coarser, and grow with the tag', () => {
      const document = tagDocument(tagOf([letters('LOCKER')]));
      expect(samplesOf(document)).to.deep.include({
        columns: 600,
        rows: 340,
        widthMm: 60,
        heightMm: 34,
      });
    });
  });

  describe('levels', () => {
    // Common practice, no source: a plate of 2 mm and letters of 2 mm at 0.2 mm; the swap comes before layer 11.
    it('of the trade: 2 + 2 mm at 0.2 mm swap at layer 11', () => {
      const document = tagDocument(tagOf([letters('7', { layers: 10 })]));
      expect(
        document.stack.bands.map(({ filamentId, layers }) => [filamentId, layers]),
      ).to.deep.equal([
        [FIRST, 10],
        [SECOND, 10],
      ]);
    });

    it('put a second filament above the first, and the fewest swaps are found', () => {
      const elements = [
        letters('LOCKER', { xMm: -8 }),
        letters('7', { xMm: 22, filamentId: THIRD }),
        shape({ yMm: -11, xMm: -8 }),
      ];
      const { stack, tag } = tagDocument(tagOf(elements));
      expect(stack.bands.map(({ filamentId, layers }) => [filamentId, layers])).to.deep.equal([
        [FIRST, 10],
        [SECOND, 4],
        [THIRD, 4],
      ]);
      expect(tag?.elements.map((element) => 'level' in element && element.level)).to.deep.equal([
        4, 8, 4,
      ]);
    });

    it('sunk ones lay their filament under the plate', () => {
      const sunk = shape({ way: 'sunk', layers: 3, filamentId: SECOND });
      const { stack } = tagDocument(tagOf([sunk]));
      expect(stack.bands.map(({ filamentId, layers }) => [filamentId, layers])).to.deep.equal([
        [SECOND, 7],
        [FIRST, 3],
      ]);
    });

    it('of the maker\u2019s own may clash: that is told with the level that is free', () => {
      const elements = [
        letters('LOCKER', { xMm: -8, id: 'locker' }),
        letters('7', { xMm: 22, id: 'seven', filamentId: THIRD, level: 4 }),
      ];
      const tag = tagOf(elements, { levels: 'own' });
      const clash = problemsOf(tag).filter(({ code }) => code === 'clash');
      expect(clash).to.have.length(1);
      expect(clash[0]).to.deep.include({ element: 1, other: 0, neededMm: 1 });
      const document = tagDocument(tag);
      const raised = patchElement('seven', { level: 5 })(document);
      expect(planned(raised).clashes).to.deep.equal([]);
      expect(raised.stack.bands.map(({ layers }) => layers)).to.deep.equal([10, 4, 1]);
      expect(planned(setTagLevels('found')(document)).clashes).to.deep.equal([]);
    });

    it('go to the nearest layers where the layer height changes', () => {
      const document = tagDocument(tagOf([letters('7', { layers: 10 })]));
      const finer = setGrid({ firstLayerMm: 0.2, layerMm: 0.1 })(document);
      expect(finer.tag?.plate.layers).to.equal(19);
      expect(finer.stack.bands.map(({ layers }) => layers)).to.deep.equal([19, 20]);
    });

    it('decide the stamp, and so does every outline; names do not', () => {
      const document = tagDocument(tagOf([letters('7', { id: 'seven' })]));
      const stamp = stampOfDocument(document);
      expect(stampOfDocument(patchElement('seven', { name: 'Number' })(document))).to.equal(stamp);
      for (const patch of [{ xMm: 0.5 }, { text: '8' }, { layers: 5 }, { heightMm: 8.5 }])
        expect(stampOfDocument(patchElement('seven', patch)(document))).to.not.equal(stamp);
    });
  });

  describe('what is too fine', () => {
    it('widths of bars are right within 0.01 mm, those of rings within 0.02', () => {
      for (const mm of [0.2, 0.35, 0.8, 1.4]) {
        const bar = boxRings(0, 0, 20, mm);
        expect(thinnest(widthsAlong(bar, true, 3), 0.42)?.widthMm).to.be.closeTo(mm, 0.01);
        // Two bars apart by as much.
        const pair = [...boxRings(0, 0, 20, 4), ...boxRings(0, 4 + mm, 20, 4)];
        expect(thinnest(widthsAlong(pair, false, 3), 0.42)?.widthMm).to.be.closeTo(mm, 0.01);
        const ring = withoutRings(discRings(12), discRings(12 - 2 * mm));
        expect(thinnest(widthsAlong(ring, true, 3), 0.42)?.widthMm).to.be.closeTo(mm, 0.02);
      }
      expect(thinnest(widthsAlong(discRings(10), true, 3), 0.42)).to.equal(undefined);
    });

    it('slanted bars and wedges too: a wedge counts from where a line width of it is thinner', () => {
      const turned = boxRings(-10, -0.25, 20, 0.5).map((ring) =>
        ring.map((_, n) => {
          const [x, y] = [ring[n - (n % 2)] ?? 0, ring[n - (n % 2) + 1] ?? 0];
          return Math.round(n % 2 === 0 ? 0.8 * x - 0.6 * y : 0.6 * x + 0.8 * y);
        }),
      );
      expect(thinnest(widthsAlong(turned, true, 3), 0.42)?.widthMm).to.be.closeTo(0.5, 0.01);
    });

    it('is told with the number that would mend it', () => {
      const fine = problemsOf(tagOf([letters('name', { face: 'barlow', heightMm: 2.2 })]));
      const [stroke] = fine;
      expect(stroke?.code).to.equal('thin-stroke');
      if (!stroke) throw new Error('no stroke');
      // The height of capitals, which is what the element is set by, at which the stroke is as wide as a line.
      expect(stroke.neededMm).to.be.within(
        (2.2 * 0.42) / stroke.mm - 0.01,
        (2.4 * 0.42) / stroke.mm,
      );
      const again = problemsOf(
        tagOf([letters('name', { face: 'barlow', heightMm: (stroke.neededMm ?? 0) + 0.05 })]),
      );
      expect(again.filter(({ code }) => code === 'thin-stroke')).to.deep.equal([]);
    });

    it('rims are measured to the edge and to the next hole; a hole over the edge has none', () => {
      const rims = (elements: Tag['elements']): (readonly [number, number])[] =>
        problemsOf(tagOf(elements))
          .filter(({ code }) => code === 'rim')
          .map(({ element, mm }) => [element, mm] as const);
      expect(rims([hole(0, 12)])).to.deep.equal([]);
      const [near] = rims([hole(0, 14.2)]);
      expect(near?.[0]).to.equal(0);
      expect(near?.[1]).to.be.closeTo(0.3, 0.01);
      expect(rims([hole(0, 17)])[0]?.[1]).to.equal(0);
      const [pair] = rims([hole(0, 0), hole(5.2, 0)]);
      expect(pair?.[1]).to.be.closeTo(0.2, 0.02);
    });

    it('lettering beyond the outline is told by how far', () => {
      const [outside] = problemsOf(tagOf([shape({ xMm: 28 })]));
      expect(outside?.code).to.equal('outside');
      expect(outside?.mm).to.be.closeTo(2, 0.05);
      expect(distanceBetween(discRings(4), discRings(4, 10))?.mm).to.be.closeTo(6, 0.02);
      expect(areaMm2(grown(boxRings(0, 0, 10, 10), 1, false))).to.be.closeTo(144, 0.01);
    });
  });

  it('series fill fields, count, and break lines; an unknown field stays to be seen', () => {
    const tag = tagOf([letters('{Name}\n{#}'), letters('{role}')]);
    expect(fieldsOf(tag)).to.deep.equal(['Name', '#', 'role']);
    const filled = fillFields(tag, { name: 'Ada | Moss' }, 7, 2);
    expect(filled.elements.map((element) => element.kind === 'text' && element.text)).to.deep.equal(
      ['Ada\nMoss\n07', '{role}'],
    );
  });

  it('crossings are counted as often as there are, whatever the lines are like', () => {
    const random = (n: number): Contour =>
      Array.from({ length: 2 * n }, (_, i) => ((i * 7919 + i * i * 104729) % 10007) / 10);
    const bruteForce = (line: Contour): number => {
      const n = line.length / 2;
      const p = (i: number) =>
        [line[2 * (i % n)] as number, line[2 * (i % n) + 1] as number] as const;
      const side = (a: readonly number[], b: readonly number[], c: readonly number[]): number =>
        Math.sign(
          ((b[0] as number) - (a[0] as number)) * ((c[1] as number) - (a[1] as number)) -
            ((b[1] as number) - (a[1] as number)) * ((c[0] as number) - (a[0] as number)),
        );
      let count = 0;
      for (let i = 0; i < n; i += 1)
        for (let j = i + 1; j < n; j += 1)
          if (
            side(p(i), p(i + 1), p(j)) * side(p(i), p(i + 1), p(j + 1)) < 0 &&
            side(p(j), p(j + 1), p(i)) * side(p(j), p(j + 1), p(i + 1)) < 0
          )
            count += 1;
      return count;
    };
    for (const n of [5, 40, 120]) {
      const line = random(n);
      expect(countCrossings([line], 1e9), `${n} places`).to.equal(bruteForce(line));
    }
    expect(countCrossings([random(400)], 100)).to.equal(100);
    const box = [0, 0, 10, 0, 10, 10, 0, 10];
    expect(countCrossings([box], 100)).to.equal(0);
    expect(countCrossings([box, box.map((at) => at + 5)], 100), 'two boxes').to.equal(2);
  });

  it('outlines of many corners are simplified within a hundredth of a millimetre, scribbles refused', () => {
    const star = (corners: number, teeth: number): string =>
      `M${Array.from({ length: corners }, (_, i) => {
        const a = (2 * Math.PI * i) / corners;
        const r = 400 + 60 * Math.sin(9 * a) + (i % 2) * teeth;
        return `${(500 + r * Math.cos(a)).toFixed(3)} ${(500 + r * Math.sin(a)).toFixed(3)}`;
      }).join('L')}Z`;
    const smooth = pathContours(star(20_000, 0), 40);
    if (!smooth.ok) throw new Error(smooth.fault.code);
    const [line = []] = smooth.value;
    expect(line.length / 2, 'corners').to.be.below(1000);
    const area = (contours: readonly Contour[]): number => areaMm2(ringsOf(contours, 'nonzero'));
    const coarse = pathContours(star(1990, 0), 40);
    if (!coarse.ok) throw new Error(coarse.fault.code);
    // Moved by a hundredth along 150 mm of outline at most.
    expect(area(smooth.value)).to.be.closeTo(area(coarse.value), 1);
    const toothed = pathContours(star(20_500, 8), 40);
    expect(!toothed.ok && toothed.fault).to.include({ code: 'too-many-corners' });
    const scribble = `M${Array.from({ length: 3000 }, (_, i) => `${(i * 7919) % 1009} ${(i * 104729) % 997}`).join('L')}Z`;
    const read = readPath(scribble);
    expect(!read.ok && read.fault.code).to.equal('tangled');
    const drawing = readSvgShapes(
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1000 1000"><path d="${scribble}"/></svg>`,
    );
    expect(!drawing.ok && drawing.fault.detail).to.match(/cross each other/);
  });

  it('a list of names may have any column; one that comes twice gets a number', () => {
    const read = readNamesCsv('__proto__, Name ,constructor,,Name\nx,Ada,y,lost,Moss\n,,,,\n');
    if (!read.ok) throw new Error(read.fault.code);
    expect(read.value.columns).to.deep.equal(['__proto__', 'Name', 'constructor', 'Name_1']);
    expect(read.value.rows.map((row) => Object.entries(row))).to.deep.equal([
      [
        ['__proto__', 'x'],
        ['Name', 'Ada'],
        ['constructor', 'y'],
        ['Name_1', 'Moss'],
      ],
    ]);
    const open = readNamesCsv('Name\nAda\n"Moss');
    expect(!open.ok && open.fault).to.include({ code: 'bad-quotes', where: '3' });
  });

  it('a packed font that comes to more than it says, or than any font, is refused before it is unpacked', () => {
    const woff = (tables: readonly { packed: Uint8Array; full: number }[]): Uint8Array => {
      const head = 44 + 20 * tables.length;
      const bytes = new Uint8Array(
        head + tables.reduce((sum, { packed }) => sum + packed.length, 0),
      );
      const view = new DataView(bytes.buffer);
      bytes.set(new TextEncoder().encode('wOFF'));
      view.setUint16(12, tables.length);
      let at = head;
      tables.forEach(({ packed, full }, i) => {
        [at, packed.length, full].forEach((value, k) => {
          view.setUint32(44 + 20 * i + 4 + 4 * k, value);
        });
        bytes.set(packed, at);
        at += packed.length;
      });
      return bytes;
    };
    const codeOf = (bytes: Uint8Array) => {
      const read = readFont(bytes);
      return read.ok ? null : read.fault.code;
    };
    const bomb = zlibSync(new Uint8Array(100_000_000));
    expect(bomb.length, 'small packed').to.be.below(200_000);
    expect(codeOf(woff([{ packed: bomb, full: 100_000_000 }])), 'honest').to.equal('too-much');
    expect(codeOf(woff([{ packed: bomb, full: 1_000_000 }])), 'lying').to.equal('too-much');
    const many = Array.from({ length: 40 }, () => ({
      packed: bomb.subarray(0, 100),
      full: 999_999,
    }));
    expect(codeOf(woff(many))).to.be.oneOf(['too-much', 'not-a-font']);
    expect(codeOf(woff([{ packed: bomb, full: 1_000_000 }]).subarray(0, 60))).to.equal(
      'not-a-font',
    );
  });

  it('a font whose letters are empty is said to be one', () => {
    const bare = new opentype.Font({
      familyName: 'Bare',
      styleName: 'Regular',
      unitsPerEm: 1000,
      ascender: 800,
      descender: -200,
      glyphs: ['.notdef', 'H', 'E', 'I', 'N', 'X', '0'].map(
        (name) =>
          new opentype.Glyph({
            name,
            ...(name.length === 1 ? { unicode: name.codePointAt(0) } : {}),
            advanceWidth: 500,
            path: new opentype.Path(),
          }),
      ),
    });
    const read = readFont(new Uint8Array(bare.toArrayBuffer()));
    if (!read.ok) throw new Error(read.fault.detail);
    const face = faceOf([read.value]);
    expect(!face.ok && face.fault.code).to.equal('empty-letters');
    expect(!face.ok && describeFontFault(face.fault)).to.match(/have no outlines/);
  });

  it('a face is one of several files that complete each other', () => {
    const read = (part: string) => {
      const font = readFont(
        new Uint8Array(
          readFileSync(
            new URL(
              `../../node_modules/@fontsource/hanken-grotesk/files/hanken-grotesk-${part}-800-normal.woff`,
              import.meta.url,
            ),
          ),
        ),
      );
      if (!font.ok) throw new Error(font.fault.code);
      return font.value;
    };
    const made = faceOf([read('latin'), read('latin-ext')]);
    if (!made.ok) throw new Error(made.fault.code);
    const { value: face } = made;
    expect(faceOf([read('latin-ext')]).ok).to.equal(false);
    expect(face.letter('A')).to.not.equal(undefined);
    expect(face.letter('\u0151')).to.not.equal(undefined);
    expect(face.capitals).to.be.within(0.6, 0.8);
  });
});
