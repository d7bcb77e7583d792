import { expect } from 'chai';
import { ReliefPlan } from '#core/plan/relief-plan.ts';
import {
  addSelection,
  addSelectionStep,
  removeSelection,
} from '../../src/state/edits/picture-edits.ts';
import {
  addZone,
  clearZonePaint,
  giveSelectionToZone,
  moveZone,
  orderZones,
  paintZone,
  removeZone,
  setSharedLayers,
  setZoneLean,
  setZones,
  setZoneSpan,
  splitZoneInto,
} from '../../src/state/edits/zone-edits.ts';
import { chooseHeightRule, setSmallestIsland } from '../../src/state/edits/height-edits.ts';
import { heightRequest } from '../../src/state/document-facts.ts';
import { dataNamedBy } from '../../src/state/kept-data.ts';
import { paintedZonesOf } from '../../src/state/painted-zones.ts';
import { stampOfDocument } from '../../src/state/project-export.ts';
import { withPicture } from '../../src/state/replace-picture.ts';
import type { Edit } from '../../src/state/edits/edit.ts';
import type { ProjectDocument } from '../../src/state/project-document.ts';
import { testDocument } from '../helpers/documents.ts';

const PARTS = [{ colours: ['#101020'] }, { colours: ['#f0e0a0', '#d0a040'] }];

const edited = (document: ProjectDocument, ...edits: readonly Edit[]): ProjectDocument =>
  edits.reduce((state, edit) => edit(state), document);

const parted = (): ProjectDocument =>
  edited(testDocument(), chooseHeightRule('zones'), setZones(PARTS));

const idsOf = ({ heights }: ProjectDocument): string[] => heights.zones.list.map(({ id }) => id);

describe('zones of a project', () => {
  it('begin with names of their colours, and change places, split and go as one step each', () => {
    const document = parted();
    const [low = '', high = ''] = idsOf(document);
    expect(document.heights.zones.list.map(({ name }) => name)).to.deep.equal([
      'black',
      'light yellow',
    ]);
    const moved = moveZone(low, 1)(document);
    expect(idsOf(moved)).to.deep.equal([high, low]);
    expect(moved.heights.zones.order).to.equal('hand');
    const spanned = setZoneSpan(low, [9, 4])(moved);
    expect(spanned.heights.zones.list[1]?.span).to.deep.equal([4, 9]);
    const ordered = orderZones([low, high], 'dark')(spanned);
    expect(idsOf(ordered)).to.deep.equal([low, high]);
    expect(ordered.heights.zones.list[0]?.span).to.equal(null);
    const split = splitZoneInto(high, [{ colours: ['#f0e0a0'] }, { colours: ['#d0a040'] }])(
      ordered,
    );
    expect(split.heights.zones.list.map(({ colours }) => colours)).to.deep.equal([
      ['#101020'],
      ['#f0e0a0'],
      ['#d0a040'],
    ]);
    expect(idsOf(removeZone(low)(split))).to.not.include(low);
    // Under the rule without zones, tone holds the place.
    const { heights } = document;
    const none = { ...document, heights: { ...heights, zones: { ...heights.zones, list: [] } } };
    expect(heightRequest(none).rule.kind).to.equal('tone');
  });

  it('strokes of one zone in a row are one selection, over the whole picture or what an edit left of it', () => {
    const document = parted();
    const [low = '', high = ''] = idsOf(document);
    const stroke = { radius: 0.1, points: [0.25, 0.5, 0.75, 0.5] };
    const painted = edited(
      document,
      paintZone(high, stroke),
      paintZone(high, { radius: 0.05, points: [0.5, 0.25] }),
      paintZone(low, { radius: 0.02, points: [0.9, 0.9] }),
    );
    const { painted: told, selections } = paintedZonesOf(painted);
    expect(told.map(({ zone }) => zone)).to.deep.equal([1, 0]);
    expect(selections.map(({ steps }) => steps.length)).to.deep.equal([2, 1]);
    const { width, height } = painted.artwork.file;
    const [step] = selections[0]?.steps ?? [];
    expect(step).to.deep.equal({
      way: 'add',
      from: 'brush',
      radius: 0.1 * width,
      points: [0.25 * width, 0.5 * height, 0.75 * width, 0.5 * height],
    });
    expect(stampOfDocument(painted)).to.not.equal(stampOfDocument(document));
    expect(dataNamedBy([painted])).to.have.length(3);
    expect(paintedZonesOf(clearZonePaint(high)(painted)).painted).to.have.length(1);
    expect(paintedZonesOf(removeZone(low)(painted)).painted).to.have.length(1);
    // Another picture twice as large: what was painted grows with it.
    const larger = withPicture(painted, {
      ...painted.artwork.file,
      width: 2 * width,
      height: 2 * height,
    });
    const [grown] = paintedZonesOf(larger).selections[0]?.steps ?? [];
    expect(grown).to.deep.include({ radius: 0.2 * width });
  });

  it('selections are given once and go with the selection; a zone can be made of one', () => {
    let document = parted();
    document = edited(
      document,
      addSelection('s', 'Sky'),
      addSelectionStep('s', { way: 'add', from: 'box', left: 0, top: 0, width: 5, height: 3 }),
    );
    const [low = '', high = ''] = idsOf(document);
    const given = edited(document, giveSelectionToZone(low, 's'), giveSelectionToZone(high, 's'));
    expect(given.artwork.masks.zones).to.deep.equal([{ zone: high, selection: 's' }]);
    const made = addZone('Sky', 's')(document);
    expect(made.heights.zones.list.at(-1)).to.deep.include({ name: 'Sky', colours: [] });
    expect(paintedZonesOf(made).painted).to.deep.include.members([
      { ...paintedZonesOf(made).painted[0], zone: 2, selection: 's' },
    ]);
    expect(removeSelection('s')(made).artwork.masks.zones).to.deep.equal([]);
    expect(giveSelectionToZone(low, 'gone')(document)).to.equal(document);
    expect(paintZone('gone', { radius: 0.1, points: [0, 0] })(document)).to.equal(document);
  });

  it('what was painted decides heights, in a piece with space around the picture too', async () => {
    const picture = {
      width: 40,
      height: 20,
      data: Uint8ClampedArray.from({ length: 3200 }, (_, i) => (i % 4 === 3 ? 255 : 20)),
    };
    const file = { ...testDocument().artwork.file, width: 40, height: 20 };
    const document = withPicture(parted(), file);
    const [, high = ''] = idsOf(document);
    const painted = edited(
      { ...document, piece: { ...document.piece, widthMm: 40, sampleMm: 1 } },
      paintZone(high, { radius: 0.2, points: [0.75, 0.5] }),
      setZoneLean(30),
      setSharedLayers(0),
      setSmallestIsland(0),
    );
    const plan = new ReliefPlan(picture);
    const request = heightRequest(painted);
    await plan.prepare(request);
    const { heights } = plan.relief(request);
    const at = (x: number, y: number): number =>
      heights.data[
        Math.floor(y * heights.height) * heights.width + Math.floor(x * heights.width)
      ] ?? 0;
    expect(at(0.75, 0.5)).to.be.above(at(0.2, 0.5));
    expect(at(0.2, 0.5)).to.equal(at(0.1, 0.1));
    const pad = 3;
    const wide = {
      ...request,
      columns: request.columns + 2 * pad,
      rows: request.rows + 2 * pad,
      pad,
    };
    const bordered = plan.relief(wide).heights;
    for (const [x, y] of [
      [30, 10],
      [8, 10],
    ] as const)
      expect(bordered.data[(y + pad) * bordered.width + x + pad]).to.equal(
        heights.data[y * heights.width + x],
      );
  });
});
