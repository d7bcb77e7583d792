import { expect } from 'chai';
import { measureBrightness } from '#core/artwork/brightness.ts';
import { gatherColours } from '#core/artwork/colour-cells.ts';
import { padSamples, sampleArtwork } from '#core/artwork/sample-artwork.ts';
import { Cancelled } from '#core/base/checkpoint.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import type { HeightRule } from '#core/heights/height-rules.ts';
import { PLAIN_TONE } from '#core/heights/tone.ts';
import { Kept } from '#core/base/kept.ts';
import { ReliefPlan, reliefKey, type ReliefRequest } from '#core/plan/relief-plan.ts';
import { partedByRule } from '../helpers/parted.ts';
import { shapePiece, type PieceShape } from '#core/relief/shape.ts';

/** Waves of colour with a hole, so that every rule and every stage has something to do. */
function waves(width: number, height: number): RgbaRaster {
  const data = new Uint8ClampedArray(4 * width * height);
  for (let i = 0; i < width * height; i += 1) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const wave = (by: number): number => 128 + 120 * Math.sin(x / by) * Math.cos(y / (by + 2));
    data.set([wave(5), wave(9), wave(14), Math.hypot(x - 20, y - 30) < 6 ? 0 : 255], 4 * i);
  }
  return { width, height, data };
}

const PICTURE = waves(120, 80);
const TONE: HeightRule = { kind: 'tone', tone: PLAIN_TONE, calm: 0, smallestMm: 0 };
const SHAPE: PieceShape = {
  border: { widthMm: 2, layers: 4 },
  plate: null,
  cornerMm: 3,
  holes: [{ xMm: 6, yMm: 6, diameterMm: 3 }],
};
const BASE: ReliefRequest = {
  columns: 60,
  rows: 40,
  sampleMm: 0.5,
  rule: TONE,
  layers: 14,
  leastLayers: 3,
};

describe('kept results', () => {
  it('are made once a key, and what was not asked for longest goes first', () => {
    const made: string[] = [];
    const kept = new Kept<string>(3, (text) => text.length);
    const ask = (key: string, value = key): string =>
      kept.get(key, () => {
        made.push(key);
        return value;
      });
    for (const key of ['a', 'b', 'c', 'a', 'd']) expect(ask(key)).to.equal(key);
    expect(made).to.deep.equal(['a', 'b', 'c', 'd']);
    expect(['a', 'b', 'c', 'd'].filter((key) => kept.has(key))).to.deep.equal(['a', 'c', 'd']);
    expect(ask('wide', 'xx')).to.equal('xx');
    expect(['a', 'c', 'd', 'wide'].filter((key) => kept.has(key))).to.deep.equal(['d', 'wide']);
  });

  it('what is too large is handed out and takes nothing away; what fails is kept by nobody', () => {
    const kept = new Kept<string>(3, (text) => text.length);
    kept.get('a', () => 'x');
    expect(kept.get('huge', () => 'xxxx')).to.equal('xxxx');
    expect(kept.has('huge')).to.equal(false);
    expect(kept.has('a')).to.equal(true);
    expect(() =>
      kept.get('b', () => {
        throw new Cancelled();
      }),
    ).to.throw(Cancelled);
    expect(kept.get('b', () => 'y')).to.equal('y');
  });
});

describe('plan of a relief', () => {
  /** The same stages one after the other, without anything kept. */
  const byHand = (request: ReliefRequest) => {
    const { columns, rows, pad = 0, shape = null, sampleMm, layers, rule } = request;
    const samples = padSamples(sampleArtwork(PICTURE, columns - 2 * pad, rows - 2 * pad), pad);
    const artwork = {
      brightness: measureBrightness(samples),
      cells: () => gatherColours(samples),
    };
    return partedByRule(artwork, rule, request, (heights) =>
      shape ? shapePiece(heights, shape, sampleMm, layers) : heights,
    );
  };
  const requests: readonly ReliefRequest[] = [
    BASE,
    { ...BASE, columns: 30, rows: 20, sampleMm: 1 },
    { ...BASE, columns: 68, rows: 48, pad: 4, shape: SHAPE },
    { ...BASE, rule: { ...TONE, calm: 0.5, smallestMm: 1 } },
    { ...BASE, layers: 9 },
    {
      ...BASE,
      rule: {
        kind: 'flat',
        flat: [
          { colour: '#203040', layers: 4 },
          { colour: '#d0c080', layers: 12 },
        ],
        calm: 0,
        smallestMm: 0.5,
      },
    },
  ];

  it('gives what its stages give by hand, whatever was asked for before', () => {
    const plan = new ReliefPlan(PICTURE);
    for (const request of [...requests, ...requests.toReversed()])
      expect(plan.relief(request)).to.deep.equal(byHand(request));
  });

  it('finds a state that one goes back to, and works out only what follows from a change', () => {
    const plan = new ReliefPlan(PICTURE);
    const first = plan.relief(BASE);
    plan.relief({ ...BASE, layers: 9 });
    expect(plan.has(BASE)).to.equal(true);
    expect(plan.relief({ ...BASE })).to.equal(first);
    // The picture is not sampled again for another rule, nor ruled again for another shape: neither checkpoint is passed.
    const sampled = plan.artwork(BASE);
    expect(plan.artwork({ columns: 60, rows: 40, pad: 0 })).to.equal(sampled);
    let passed = 0;
    plan.relief({ ...BASE, shape: { ...SHAPE, border: null } }, () => {
      passed += 1;
    });
    expect(passed).to.equal(0);
  });

  it('a job that is given up leaves nothing half done', () => {
    const plan = new ReliefPlan(PICTURE);
    expect(() =>
      plan.relief(BASE, () => {
        throw new Cancelled();
      }),
    ).to.throw(Cancelled);
    expect(plan.has(BASE)).to.equal(false);
    expect(plan.relief(BASE)).to.deep.equal(byHand(BASE));
  });

  it('two requests have one key only if nothing differs that a stage depends on', () => {
    const keys = new Set(requests.map(reliefKey));
    expect(keys.size).to.equal(requests.length);
    expect(reliefKey({ ...BASE, pad: 0 })).to.equal(reliefKey(BASE));
    expect(reliefKey({ ...BASE, tops: [0.2] })).not.to.equal(reliefKey(BASE));
    expect(reliefKey({ ...BASE, leastLayers: 4 })).not.to.equal(reliefKey(BASE));
    expect(reliefKey({ ...BASE, sampleMm: 0.4 })).not.to.equal(reliefKey(BASE));
  });
});
