import { expect } from 'chai';
import { makeRandom } from '#core/base/random.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import { sampleMostly } from '#core/artwork/sample-artwork.ts';
import { printAdvice } from '#core/edit/advice.ts';
import {
  FIRST_SETTINGS,
  type ArtworkEdit,
  type EditKind,
  type EditSettings,
  type Recipe,
  type Selection,
  type SelectionStep,
} from '#core/edit/artwork-edit.ts';
import { EditDesk, isReduced, stepsOf } from '#core/edit/edit-desk.ts';
import { editsDigest } from '#core/edit/edits-digest.ts';
import { denoise, sharpen } from '#core/edit/filters.ts';
import { frameOfEdits, inverseMap, mapPlace } from '#core/edit/frame.ts';
import { automaticLevels, curveThrough, toneOf, whiteFromGrey } from '#core/edit/light.ts';
import { traceOutline } from '#core/edit/outline.ts';
import { mapOfRun, type PixelEdit } from '#core/edit/runs.ts';
import { selectedShare, selectMask } from '#core/edit/selections.ts';
import { readEditsJson } from '#core/formats/project/edits-json.ts';
import { rasterOf } from '../helpers/scenes.ts';

const still = (): void => undefined;

let next = 0;
function edit<Kind extends EditKind>(
  kind: Kind,
  settings: Partial<EditSettings[Kind]> & { mask?: string; on?: boolean } = {},
): ArtworkEdit {
  const base = { id: String((next += 1)), kind, on: true, mask: null };
  return { ...base, ...FIRST_SETTINGS[kind], ...settings };
}

function recipe(edits: readonly ArtworkEdit[], selections: readonly Selection[] = []): Recipe {
  return { key: JSON.stringify([edits, selections]), edits, selections };
}

function selection(id: string, steps: readonly SelectionStep[], rest = {}): Selection {
  return { id, name: id, steps, grow: 0, feather: 0, invert: false, ...rest };
}

/** A picture of many colours. */
function colourful(width: number, height: number, seed = 1): RgbaRaster {
  const random = makeRandom(seed);
  return rasterOf(width, height, (x, y) => [
    (x * 255) / width,
    (y * 255) / height,
    Math.floor(256 * random.next()),
  ]);
}

const pixel = ({ width, data }: RgbaRaster, x: number, y: number): number[] =>
  Array.from(data.subarray(4 * (y * width + x), 4 * (y * width + x) + 4));

describe('frames of edited pictures', () => {
  const raster = rasterOf(6, 4, (x, y) => [10 * x, 10 * y, 0]);
  const desk = new EditDesk(raster);

  it('a crop is the part it says, and crops count from the same corner', () => {
    const first = edit('crop', { left: 1, top: 1, width: 4, height: 3 });
    const both = [first, edit('crop', { left: 2, top: 2, width: 2, height: 1 })];
    const { raster: cut, frame } = desk.edited(recipe(both), false);
    expect([cut.width, cut.height]).to.deep.equal([2, 1]);
    expect(pixel(cut, 0, 0)).to.deep.equal([20, 20, 0, 255]);
    expect(mapPlace(frame.toOriginal, 0.5, 0.5)).to.deep.equal([2.5, 2.5]);
  });

  it('a crop beside the picture leaves a pixel, never nothing', () => {
    const { raster: cut } = desk.edited(
      recipe([edit('crop', { left: 50, top: -9, width: 3, height: 2 })]),
      false,
    );
    expect([cut.width, cut.height]).to.deep.equal([1, 1]);
  });

  for (const [degrees, at] of [
    [90, [0, 3]],
    [180, [5, 3]],
    [270, [5, 0]],
    [-90, [5, 0]],
    [360, [0, 0]],
  ] as const)
    it(`a turn by ${degrees} degrees moves pixels and makes none`, () => {
      const { raster: turned, frame } = desk.edited(recipe([edit('turn', { degrees })]), false);
      const sideways = Math.abs(degrees) % 180 === 90;
      expect([turned.width, turned.height]).to.deep.equal(sideways ? [4, 6] : [6, 4]);
      const [x, y] = at;
      expect(pixel(turned, 0, 0)).to.deep.equal([10 * x, 10 * y, 0, 255]);
      const [ox, oy] = mapPlace(frame.toOriginal, 0.5, 0.5);
      expect([Math.floor(ox), Math.floor(oy)]).to.deep.equal([x, y]);
    });

  it('any angle keeps proportions, and no corner is empty', () => {
    const { raster: turned, frame } = new EditDesk(colourful(200, 120)).edited(
      recipe([edit('turn', { degrees: 8 })]),
      false,
    );
    expect(turned.width / turned.height).to.be.closeTo(200 / 120, 0.02);
    for (let at = 3; at < turned.data.length; at += 4) expect(turned.data[at]).to.equal(255);
    for (const [x, y] of [
      [0, 0],
      [frame.width, 0],
      [0, frame.height],
      [frame.width, frame.height],
    ] as const) {
      const [ox, oy] = mapPlace(frame.toOriginal, x, y);
      expect(ox).to.be.within(-1, 201);
      expect(oy).to.be.within(-1, 121);
      expect(mapPlace(inverseMap(frame.toOriginal), ox, oy)[0]).to.be.closeTo(x, 1e-9);
    }
  });

  it('the frame is told without the pixels, and twice mirrored is nothing', () => {
    const edits = [
      edit('turn', { degrees: 90 }),
      edit('crop', { left: 1, top: 0, width: 2, height: 4 }),
      edit('mirror', { across: 'width' }),
      edit('turn', { degrees: 13 }),
    ];
    const { raster: made, frame } = desk.edited(recipe(edits), false);
    expect(frameOfEdits(6, 4, edits)).to.deep.equal(frame);
    expect([made.width, made.height]).to.deep.equal([frame.width, frame.height]);
    const twice = desk.edited(recipe([edit('mirror'), edit('mirror')]), false);
    expect(twice.raster.data).to.deep.equal(raster.data);
  });
});

describe('light', () => {
  it('a curve goes through its points, rises where they rise, and never overshoots', () => {
    const points = [
      [0, 0],
      [0.2, 0.6],
      [0.25, 0.62],
      [1, 1],
    ] as const;
    const curve = curveThrough(points);
    for (const [x, y] of points) expect(curve(x)).to.be.closeTo(y, 1e-12);
    for (let i = 1; i <= 200; i += 1) expect(curve(i / 200)).to.be.at.least(curve((i - 1) / 200));
  });

  it('brightness leaves black and white, contrast leaves the middle', () => {
    const bright = toneOf({ brightness: 0.4, contrast: 0, curve: [] });
    expect([bright(0), bright(1)]).to.deep.equal([0, 1]);
    expect(bright(0.5)).to.be.above(0.5);
    const hard = toneOf({ brightness: 0, contrast: 0.5, curve: [] });
    expect(hard(0.5)).to.equal(0.5);
    expect(hard(0.6)).to.be.closeTo(0.7, 1e-12);
  });

  it('a picked grey becomes grey', () => {
    const cast = [200, 170, 140] as const;
    const white = whiteFromGrey(cast);
    if (!white) throw new Error('no balance');
    const desk = new EditDesk(rasterOf(2, 2, () => cast));
    const [r = 0, g = 0, b = 0] = pixel(
      desk.edited(recipe([edit('white', white)]), false).raster,
      0,
      0,
    );
    expect(Math.max(r, g, b) - Math.min(r, g, b)).to.be.at.most(1);
    expect(whiteFromGrey([0, 0, 0])).to.equal(undefined);
  });

  it('automatic levels reach from black to white, and say when there is nothing to do', () => {
    const flat = rasterOf(100, 100, (x) => Array<number>(3).fill(60 + x));
    const curve = automaticLevels(flat.data, 10_000);
    expect(curve?.[0]?.[1]).to.equal(0);
    expect((curve?.[0]?.[0] ?? 0) * 255).to.be.closeTo(60, 1);
    expect((curve?.[1]?.[0] ?? 0) * 255).to.be.closeTo(159, 1);
    expect(automaticLevels(rasterOf(9, 9, () => [80, 80, 80]).data, 81)).to.equal(undefined);
  });
});

describe('runs of edits', () => {
  const raster = colourful(64, 48);

  it('files are what every pixel by itself would be, byte for byte', () => {
    const edits = [
      edit('tone', {
        brightness: 0.2,
        contrast: 0.15,
        curve: [
          [0, 0.05],
          [0.5, 0.6],
          [1, 1],
        ],
      }),
      edit('white', { warmth: 0.2, tint: -0.1 }),
      edit('hue', { centre: 40, turn: 25, chroma: 1.2 }),
      edit('grey', { on: false }),
    ];
    const { raster: made } = new EditDesk(raster).edited(recipe(edits), false);
    const map = mapOfRun(edits.slice(0, 3) as PixelEdit[], 0);
    const codes = new Float64Array(3);
    for (let at = 0; at < raster.data.length; at += 4) {
      for (let c = 0; c < 3; c += 1) codes[c] = (raster.data[at + c] ?? 0) / 255;
      map(codes);
      for (let c = 0; c < 3; c += 1)
        expect(made.data[at + c]).to.equal(
          Math.round(255 * Math.min(1, Math.max(0, codes[c] ?? 0))),
        );
    }
  });

  it('what a hand sees while it moves is near to that', () => {
    const hue = recipe([edit('hue', { centre: 40, turn: 40 })]);
    const desk = new EditDesk(raster);
    const [exact, quick] = [desk.edited(hue, false).raster, desk.edited(hue, true).raster];
    let sum = 0;
    exact.data.forEach((one, i) => {
      sum += Math.abs(one - (quick.data[i] ?? 0));
    });
    expect(sum / exact.data.length).to.be.below(3);
  });

  it('neighbours with the same selection are one run; others are not', () => {
    const kinds = stepsOf([
      edit('tone'),
      edit('hue'),
      edit('grey', { mask: 'a' }),
      edit('denoise'),
      edit('grey'),
    ]).map((step) => ('run' in step ? step.run.length : step.edit.kind));
    expect(kinds).to.deep.equal([2, 1, 'denoise', 1]);
  });

  it('a mask takes its share of the change', () => {
    const box = selection('a', [
      { from: 'box', way: 'add', left: 0, top: 0, width: 32, height: 48 },
    ]);
    const { raster: made } = new EditDesk(raster).edited(
      recipe([edit('grey', { mask: 'a' })], [box]),
      false,
    );
    const [r, g, b] = pixel(made, 10, 10);
    expect(r).to.equal(g);
    expect(g).to.equal(b);
    expect(pixel(made, 40, 10)).to.deep.equal(pixel(raster, 40, 10));
  });

  it('a mask stays where it is in the original, whatever is cropped and turned before', () => {
    const place = { left: 20, top: 10, width: 8, height: 8 };
    const box = selection('a', [{ from: 'box', way: 'add', ...place }]);
    const edits = [
      edit('turn', { degrees: 90 }),
      edit('crop', { left: 4, top: 4, width: 40, height: 50 }),
      edit('grey', { mask: 'a' }),
    ];
    const { raster: made, frame } = new EditDesk(raster).edited(recipe(edits, [box]), false);
    for (let y = 0; y < made.height; y += 1)
      for (let x = 0; x < made.width; x += 1) {
        const [ox, oy] = mapPlace(frame.toOriginal, x + 0.5, y + 0.5);
        const inside = ox > 20 && ox < 28 && oy > 10 && oy < 18;
        const before = pixel(raster, Math.floor(ox), Math.floor(oy));
        if (!inside) expect(pixel(made, x, y)).to.deep.equal(before);
        else expect(new Set(pixel(made, x, y).slice(0, 3)).size).to.equal(1);
      }
  });
});

describe('selections', () => {
  const raster = rasterOf(40, 30, (x, y) =>
    (x > 5 && x < 15 && y > 5 && y < 15) || (x > 25 && x < 35 && y > 5 && y < 15)
      ? [200, 60, 40]
      : [230, 230, 220],
  );
  const similar = (connected: boolean): SelectionStep => ({
    from: 'similar',
    way: 'add',
    x: 10,
    y: 10,
    tolerance: 0.2,
    connected,
  });

  it('by similarity: all of that colour, or what touches the place', () => {
    expect(selectedShare(selectMask(raster, 1, selection('a', [similar(false)])))).to.be.closeTo(
      162 / 1200,
      1e-6,
    );
    const touching = selectMask(raster, 1, selection('a', [similar(true)]));
    expect(selectedShare(touching)).to.be.closeTo(81 / 1200, 1e-6);
    expect(touching.data[10 * 40 + 30]).to.equal(0);
  });

  it('steps add, take away and keep within; then it grows, and turns inside out', () => {
    const box = (left: number, way: SelectionStep['way']): SelectionStep => ({
      from: 'box',
      way,
      left,
      top: 0,
      width: 10,
      height: 30,
    });
    const area = (one: Selection): number =>
      Math.round(1200 * selectedShare(selectMask(raster, 1, one)));
    expect(area(selection('a', [box(0, 'add'), box(20, 'add')]))).to.equal(600);
    expect(area(selection('a', [box(0, 'add'), box(5, 'take')]))).to.equal(150);
    expect(area(selection('a', [box(0, 'add'), box(5, 'within')]))).to.equal(150);
    expect(area(selection('a', [box(10, 'add')], { grow: 3 }))).to.equal(16 * 30);
    expect(area(selection('a', [box(10, 'add')], { grow: -3 }))).to.equal(4 * 30);
    expect(area(selection('a', [box(0, 'add')], { invert: true }))).to.equal(900);
    const soft = selectMask(raster, 1, selection('a', [box(10, 'add')], { feather: 4 }));
    expect(soft.data[15 * 40 + 10]).to.be.within(120, 190);
    expect(soft.data[15 * 40 + 6]).to.be.below(30);
  });

  it('a selection of selections; one that names itself selects nothing, and ends', () => {
    const inner = selection('in', [
      { from: 'polygon', way: 'add', points: [0, 0, 20, 0, 20, 30, 0, 30] },
    ]);
    const outer = selection('out', [{ from: 'mask', way: 'add', mask: 'in' }]);
    expect(selectedShare(selectMask(raster, 1, outer, [inner, outer]))).to.be.closeTo(0.5, 1e-6);
    const loop = selection('loop', [{ from: 'mask', way: 'add', mask: 'loop' }]);
    expect(selectedShare(selectMask(raster, 1, loop, [loop]))).to.equal(0);
  });

  it('a brush line is as wide as it says, at any size of the copy', () => {
    const brush = selection('b', [
      { from: 'brush', way: 'add', radius: 4, points: [10, 15, 30, 15] },
    ]);
    const whole = selectedShare(selectMask(raster, 1, brush));
    expect(whole * 1200).to.be.closeTo(20 * 8 + Math.PI * 16, 4);
    const twice = rasterOf(80, 60, () => [0, 0, 0]);
    expect(selectedShare(selectMask(twice, 2, brush))).to.be.closeTo(whole, 0.003);
  });

  it('an outline goes round the outside and round each hole', () => {
    const ring = traceOutline((x, y) => !(x === 2 && y === 2), 5, 5);
    expect(ring).to.have.length(2);
    expect(ring[0]).to.have.length(8);
  });
});

describe('filters', () => {
  it('noise goes and an edge stays', () => {
    const random = makeRandom(4);
    const noisy = rasterOf(60, 40, (x) => {
      const base = x < 30 ? 70 : 190;
      return Array<number>(3).fill(base + 16 * (random.next() - 0.5));
    });
    const calm = denoise(noisy, 0.5, 1, undefined, still);
    const spread = (raster: RgbaRaster): number => {
      let [sum, square] = [0, 0];
      for (let i = 0; i < 20 * 40; i += 1) {
        const one = raster.data[4 * (Math.floor(i / 20) * 60 + (i % 20))] ?? 0;
        sum += one;
        square += one * one;
      }
      return Math.sqrt(square / 800 - (sum / 800) ** 2);
    };
    expect(spread(calm)).to.be.below(0.6 * spread(noisy));
    expect((calm.data[4 * (20 * 60 + 32)] ?? 0) - (calm.data[4 * (20 * 60 + 27)] ?? 0)).to.be.above(
      90,
    );
  });

  it('noise filter and sharpening take nothing from colours that hide under see-through pixels', () => {
    // The same subject over hidden red and over hidden black: what is seen must be the same.
    const subject = (hidden: readonly number[]): RgbaRaster =>
      rasterOf(40, 30, (x, y) =>
        x < 20 ? [...hidden, 0] : [90 + ((x * 5 + y * 3) % 40), 120, 160, 255],
      );
    for (const filter of [
      (raster: RgbaRaster) => denoise(raster, 0.8, 1, undefined, still),
      (raster: RgbaRaster) => sharpen(raster, 1.5, 3, 1, undefined, still),
    ]) {
      const [red, black] = [filter(subject([255, 0, 0])), filter(subject([0, 0, 0]))];
      for (let i = 0; i < 40 * 30; i += 1)
        if (i % 40 >= 20)
          expect([...red.data.slice(4 * i, 4 * i + 4)]).to.deep.equal([
            ...black.data.slice(4 * i, 4 * i + 4),
          ]);
      // Near the edge the flat channels stay what they are.
      const at = 4 * (15 * 40 + 20);
      expect(red.data[at + 1]).to.be.closeTo(120, 1);
      expect(red.data[at + 2]).to.be.closeTo(160, 1);
    }
  });

  it('sharpening makes a soft edge steeper, without a halo', () => {
    const soft = rasterOf(40, 10, (x) =>
      Array<number>(3).fill(60 + 130 / (1 + Math.exp(-(x - 20) / 2))),
    );
    const sharp = sharpen(soft, 1.5, 2, 1, undefined, still);
    const step = (raster: RgbaRaster): number =>
      (raster.data[4 * (5 * 40 + 22)] ?? 0) - (raster.data[4 * (5 * 40 + 18)] ?? 0);
    expect(step(sharp)).to.be.above(1.2 * step(soft));
    expect(Math.max(...sharp.data.filter((_, i) => i % 4 === 0))).to.be.below(190 + 12);
  });
});

describe('few colours and their samples', () => {
  it('samples of reduced art are of its colours alone', () => {
    const art = rasterOf(90, 90, (x, y) => (x * 7 + y * 3 < 400 ? [10, 20, 30] : [220, 40, 40]));
    const small = sampleMostly(art, 31, 31);
    const seen = new Set<string>();
    for (let at = 0; at < small.data.length; at += 4)
      seen.add(Array.from(small.data.subarray(at, at + 4)).join());
    expect([...seen].sort()).to.deep.equal(['10,20,30,255', '220,40,40,255']);
  });

  it('only a reduction that is last counts', () => {
    expect(isReduced([edit('colours')])).to.equal(true);
    expect(isReduced([edit('colours'), edit('crop'), edit('turn')])).to.equal(true);
    expect(isReduced([edit('colours'), edit('tone')])).to.equal(false);
    expect(isReduced([edit('colours'), edit('tone', { on: false })])).to.equal(true);
    expect(isReduced([edit('colours'), edit('turn', { degrees: 3 })])).to.equal(false);
  });
});

describe('lists of edits as files', () => {
  it('everything that the contract names is read, with what is left out', () => {
    const read = readEditsJson(
      JSON.stringify({
        edits: [
          { kind: 'crop', left: 1, top: 2, width: 30, height: 20 },
          { kind: 'turn', degrees: 90 },
          {
            kind: 'tone',
            brightness: 0.1,
            contrast: -0.2,
            curve: [
              [0, 0],
              [1, 1],
            ],
          },
          { kind: 'white', warmth: 0.1, tint: 0 },
          {
            kind: 'hue',
            centre: 30,
            half: 20,
            soft: 15,
            leastChroma: [0.02, 0.06],
            turn: 10,
            chroma: 1,
            lightness: 0,
            mask: 'a',
          },
          { kind: 'recolour', hue: 200, chroma: 0.1, lightness: 0, mask: 'b' },
          { kind: 'grey' },
          { kind: 'denoise', strength: 0.3 },
          { kind: 'sharpen', amount: 1, radius: 2 },
          {
            kind: 'cutout',
            way: 'cut',
            box: [1, 2, 10, 10],
            keep: [[3, 4, 2]],
            drop: [[5, 6, 1]],
            edge: 'soft',
            cleanColours: true,
          },
          { kind: 'colours', count: 4 },
        ],
        masks: {
          a: { from: 'similar', x: 4, y: 4, tolerance: 0.3, connected: true, grow: 2, feather: 1 },
          b: {
            from: 'polygon',
            points: [
              [0, 0],
              [9, 0],
              [9, 9],
            ],
            invert: true,
            without: 'a',
          },
          c: {
            from: 'box',
            points: [
              [9, 8],
              [1, 2],
            ],
          },
        },
      }),
    );
    if (!read.ok) throw new Error(`${read.fault.where ?? ''} ${read.fault.detail ?? ''}`);
    const { edits, selections } = read.value;
    expect(edits.map(({ kind }) => kind)).to.have.length(11);
    expect(edits[9]).to.deep.include({
      box: { left: 1, top: 2, width: 10, height: 10 },
      keep: [{ radius: 2, points: [3, 4] }],
    });
    const raster = colourful(20, 20);
    const areas = ['a', 'b', 'c'].map((id) => {
      const own = selections.find((one) => one.id === id);
      return own ? selectedShare(selectMask(raster, 1, own, selections)) : NaN;
    });
    expect(areas[2]).to.be.closeTo((8 * 6) / 400, 1e-9);
    expect(areas[1]).to.be.within(0.3, 0.95);
  });

  for (const [what, list, where] of [
    ['an unknown kind', { edits: [{ kind: 'wave' }] }, /edits\.0\.kind.*wave/],
    ['an unknown field', { edits: [{ kind: 'grey', strength: 1 }] }, /edits\.0.*strength/],
    ['a missing number', { edits: [{ kind: 'turn' }] }, /edits\.0\.degrees/],
    [
      'a number beyond its range',
      { edits: [{ kind: 'denoise', strength: 4 }] },
      /edits\.0\.strength/,
    ],
    ['a mask that is not there', { edits: [{ kind: 'grey', mask: 'x' }] }, /edits\.0\.mask.*x/],
    ['a mask of an unknown kind', { edits: [], masks: { a: { from: 'moon' } } }, /masks\.a/],
    ['another field beside', { edits: [], wishes: [] }, /wishes/],
  ] as const)
    it(`${what} is refused by its name`, () => {
      const read = readEditsJson(JSON.stringify(list));
      expect(read.ok).to.equal(false);
      if (!read.ok) expect(`${read.fault.where ?? ''}: ${read.fault.detail ?? ''}`).to.match(where);
    });

  it('what is no JSON says so', () => {
    const read = readEditsJson('{edits');
    expect(!read.ok && read.fault.code).to.equal('not-json');
  });

  it('the digest knows what is done, not how it is called', () => {
    const box = selection('a', [{ from: 'box', way: 'add', left: 0, top: 0, width: 3, height: 3 }]);
    const one = recipe([edit('grey', { mask: 'a' })], [box]);
    const renamed = recipe([edit('grey', { mask: 'z' })], [{ ...box, id: 'z', name: 'Other' }]);
    expect(editsDigest(one)).to.equal(editsDigest(renamed));
    expect(editsDigest(recipe([edit('grey', { on: false })]))).to.equal(undefined);
    const larger = recipe([edit('grey', { mask: 'a' })], [{ ...box, grow: 1 }]);
    expect(editsDigest(larger)).to.not.equal(editsDigest(one));
  });
});

describe('advice on resolution', () => {
  it('says what is wanted, what there is, and what would be honest', () => {
    expect(printAdvice(420, 150, 0.2)).to.deep.equal({
      wantedPx: 750,
      partPx: 420,
      crisp: false,
      honestMm: 0.36,
    });
    expect(printAdvice(750, 150, 0.2).crisp).to.equal(true);
  });
});
