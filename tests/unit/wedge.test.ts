import { expect } from 'chai';
import { fitWedge, transmissionByEye } from '#core/optics/fit-wedge.ts';
import type { PhotoReading } from '#core/optics/wedge-reading.ts';
import { readWedgeCsv, writeWedgeCsv } from '#core/formats/rack/wedge-csv.ts';
import { layerTopsMm } from '#core/stack/layer-grid.ts';
import { totalLayers } from '#core/stack/stack.ts';
import { buildTerraceMesh } from '#core/relief/terrace-mesh.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import { planWedge, stepLayersOf, suggestTopMm } from '#core/wedge/wedge-plan.ts';
import { WEDGE_SAMPLE_MM, wedgeHeights } from '#core/wedge/wedge-relief.ts';
import { isUprightQuad } from '#core/wedge/straighten.ts';
import { trimmedMean } from '#core/wedge/read-photo.ts';
import { describePhotoFault } from '../../src/platform/fault-words.ts';
import {
  firstWedgeSettings,
  planOfSettings,
  readWedgeSettings,
  wedgePrint,
} from '../../src/state/wedge-project.ts';
import { countBadEdges, meshVolume } from '../helpers/meshes.ts';
import { demoFilament, GROUNDS, photographWedge, suggestedPlan } from '../helpers/wedges.ts';

const GRID = { firstLayerMm: 0.16, layerMm: 0.08 };
const WISH = {
  grid: GRID,
  grounded: true,
  steps: 8,
  topMm: 1.6,
  whiteTransmissionMm: 3.2,
  blackTransmissionMm: 0.4,
};

function planOf(change: Partial<typeof WISH> = {}) {
  const plan = planWedge({ ...WISH, ...change });
  if (!plan.ok) throw new Error(plan.fault.code);
  return plan.value;
}

describe('step wedge', () => {
  it('steps grow in about equal ratios, all different, in whole layers', () => {
    for (const count of [3, 5, 8, 12])
      for (const top of [1, 4, 12, 38, 90]) {
        const layers = stepLayersOf(count, top);
        expect(layers).to.have.length(count);
        expect(layers[0]).to.equal(1);
        expect(layers.at(-1)).to.equal(Math.max(top, count));
        layers.slice(1).forEach((value, i) => expect(value).to.be.above(layers[i] ?? 0));
      }
    expect(stepLayersOf(8, 38)).to.deep.equal([1, 2, 3, 5, 8, 13, 23, 38]);
  });

  it('the suggested top is half the expected transmission for a photo, at most 3 mm, and more than it for an eye', () => {
    expect(suggestTopMm(4, 'photo', GRID)).to.be.closeTo(2, 1e-9);
    expect(suggestTopMm(30, 'photo', GRID)).to.be.closeTo(3.04, 1e-9);
    expect(suggestTopMm(2, 'eye', GRID)).to.be.above(2);
    expect(suggestTopMm(0.2, 'photo', GRID)).to.be.closeTo(0.64, 1e-9);
  });

  it('every step is at least 12 mm square, over black and over white, with both grounds bare beside it', () => {
    const plan = planOf();
    for (const { rect, step } of plan.patches)
      if (step > 0) expect(Math.min(rect.width, rect.height)).to.be.at.least(12);
    for (const ground of ['black', 'white'] as const) {
      const steps = plan.patches.filter((patch) => patch.ground === ground && patch.step > 0);
      expect(steps.map(({ thicknessMm }) => thicknessMm)).to.deep.equal(plan.stepsMm);
      expect(
        plan.patches.filter((patch) => patch.ground === ground && patch.step === 0).length,
      ).to.be.above(8);
    }
    const heights = wedgeHeights(plan);
    const at = (x: number, y: number): number =>
      heights.data[
        Math.floor(y / WEDGE_SAMPLE_MM) * heights.width + Math.floor(x / WEDGE_SAMPLE_MM)
      ] ?? 0;
    const blackTop = plan.whiteLayers + (plan.stepLayers.at(-1) ?? 0) + plan.blackLayers;
    for (const { rect, ground, step } of plan.patches) {
      const base = ground === 'white' ? plan.whiteLayers : blackTop;
      expect(at(rect.x + rect.width / 2, rect.y + rect.height / 2)).to.equal(
        base + (step > 0 ? (plan.stepLayers[step - 1] ?? 0) : 0),
      );
    }
  });

  it('is a closed solid whose three swaps a single nozzle can make', () => {
    const tested = demoFilament('rust');
    const plan = suggestedPlan(tested);
    const { heights } = partDiagonals(wedgeHeights(plan));
    const print = wedgePrint(plan, { tested, ...GROUNDS });
    const tops = layerTopsMm(GRID, totalLayers(print.stack.bands));
    const mesh = buildTerraceMesh(heights, WEDGE_SAMPLE_MM, tops);
    expect(countBadEdges(mesh)).to.equal(0);
    const wanted = heights.data.reduce(
      (sum, layers) => sum + (tops[layers] ?? 0) * WEDGE_SAMPLE_MM ** 2,
      0,
    );
    expect(meshVolume(mesh)).to.be.closeTo(wanted, wanted * 1e-5);
    expect(print.sheet.swaps.map(({ toFilamentId }) => toFilamentId)).to.deep.equal([
      'rust',
      'soot',
      'rust',
    ]);
    expect(print.sheet.swaps[0]?.layerNumber).to.equal(plan.whiteLayers + 1);
    const over = wedgePrint(plan, { ...GROUNDS, tested: GROUNDS.white });
    expect(over.sheet.swaps.map(({ toFilamentId }) => toFilamentId)).to.deep.equal([
      'soot',
      'chalk',
    ]);
  });

  it('without a ground the steps stand on the plate, first layer included', () => {
    const plan = planOf({ grounded: false });
    expect(plan.stepsMm[0]).to.equal(0.16);
    expect(plan.stepsMm[1]).to.be.closeTo(0.24, 1e-9);
    expect(new Set(wedgeHeights(plan).data)).to.include(1);
    expect(
      wedgePrint(plan, { tested: demoFilament('rust'), ...GROUNDS }).sheet.swaps,
    ).to.deep.equal([]);
  });

  it('refuses what cannot be printed', () => {
    const codeOf = (change: Partial<typeof WISH>) => {
      const plan = planWedge({ ...WISH, ...change });
      return plan.ok ? 'ok' : plan.fault.code;
    };
    expect(codeOf({ steps: 2 })).to.equal('bad-steps');
    expect(codeOf({ steps: 7.5 })).to.equal('bad-steps');
    expect(codeOf({ topMm: 0 })).to.equal('bad-top');
    expect(codeOf({ topMm: Number.NaN })).to.equal('bad-top');
    expect(codeOf({ topMm: 8, grid: { firstLayerMm: 0.04, layerMm: 0.04 } })).to.equal(
      'too-many-layers',
    );
  });

  it('settings are kept and read back; broken ones are not', () => {
    const settings = firstWedgeSettings(demoFilament('rust'), GROUNDS);
    expect(readWedgeSettings(JSON.parse(JSON.stringify(settings)))).to.deep.equal(settings);
    expect(readWedgeSettings({ ...settings, steps: 99 })).to.equal(undefined);
    expect(planOfSettings(settings, GROUNDS).ok).to.equal(true);
  });
});

describe('reading by eye', () => {
  it('lies between the last step that did not hide and the first that did, half a step off at most', () => {
    const { transmissionMm, uncertainty } = transmissionByEye(1, 1.44);
    expect(transmissionMm).to.be.closeTo(1.2, 1e-12);
    expect(transmissionMm * (1 + uncertainty)).to.be.closeTo(1.44, 1e-12);
    expect(transmissionMm / (1 + uncertainty)).to.be.closeTo(1, 1e-12);
    expect(transmissionByEye(0, 0.16).transmissionMm).to.be.within(0.04, 0.16);
  });
});

describe('photos that cannot be read', function () {
  this.timeout(120_000);
  const rust = demoFilament('rust');
  const faultOf = (scene: Parameters<typeof photographWedge>[1]) => {
    const read = photographWedge(rust, scene);
    return read.ok ? 'ok' : read.fault.code;
  };

  it('a good one is read', () => {
    expect(faultOf({})).to.equal('ok');
  });

  it('too dark, overexposed, too tilted, too small, hazy: each with its reason', () => {
    expect(faultOf({ exposure: 0.08 })).to.equal('too-dark');
    expect(faultOf({ exposure: 1.6 })).to.equal('overexposed');
    expect(faultOf({ tiltDegrees: 42 })).to.equal('too-tilted');
    expect(faultOf({ width: 380, height: 250 })).to.equal('too-small');
    expect(faultOf({ veil: 0.5, exposure: 0.6 })).to.equal('low-contrast');
    expect(faultOf({ unevenness: 0.75 })).to.equal('uneven-light');
  });

  it('a lamp mirrored in a step is found, and where', () => {
    const read = photographWedge(rust, { highlight: { x: 36, y: 42, strength: 0.8 } });
    expect(read.ok).to.equal(false);
    if (read.ok) return;
    expect(read.fault.code).to.equal('glare');
    expect(describePhotoFault(read.fault)).to.contain('step 3 over black');
  });

  it('corners that are crossed, mirrored or turned', () => {
    const corner = (x: number, y: number) => ({ x, y });
    const [a, b, c, d] = [corner(0, 0), corner(9, 0), corner(9, 5), corner(0, 5)] as const;
    expect(isUprightQuad([a, b, c, d])).to.equal(true);
    expect(isUprightQuad([b, a, d, c])).to.equal(false);
    expect(isUprightQuad([a, c, b, d])).to.equal(false);
    expect(isUprightQuad([a, b, b, d])).to.equal(false);
    // Seen upside down the bare grounds are not where they should be.
    expect(faultOf({ rollDegrees: 0 })).to.equal('ok');
  });

  it('a trimmed mean ignores what sticks out', () => {
    expect(trimmedMean(Float64Array.of(5, 5, 5, 5, 5, 5, 5, 5, 255, 0))).to.equal(5);
  });
});

describe('readings', () => {
  const reading: PhotoReading = {
    kind: 'photo',
    date: '',
    grounds: { black: '#101112', white: '#f0f1f2' },
    patches: [
      { ground: 'black', thicknessMm: 0.08, code: [80.25, 60, 40] },
      { ground: 'white', thicknessMm: 0.08, code: [220, 160, 90] },
    ],
  };

  it('survive being written and read as CSV', () => {
    expect(readWedgeCsv(writeWedgeCsv(reading), '')).to.deep.equal({ ok: true, value: reading });
  });

  it('say in which row something is wrong', () => {
    const faultOf = (...rows: string[]) => {
      const result = readWedgeCsv(['ground,thickness_mm,red,green,blue', ...rows].join('\n'), '');
      return result.ok
        ? 'ok'
        : [result.fault.code, result.fault.where, result.fault.detail].filter(Boolean).join(' ');
    };
    expect(faultOf('grey,0.1,1,2,3')).to.equal('bad-ground row 2 grey');
    expect(faultOf('white,"0,1",1,2,3')).to.equal('bad-thickness row 2 0,1');
    expect(faultOf('white,0.1,1,2,300')).to.equal('bad-code row 2 300');
    expect(faultOf('white,0.1,1,2,3')).to.equal('no-bare-ground white');
    expect(faultOf()).to.equal('no-rows');
    expect(readWedgeCsv('ground,red\nwhite,1', '')).to.have.nested.property(
      'fault.code',
      'missing-column',
    );
  });

  it('too few, opaque or senseless ones give a reason instead of a value', () => {
    const codeOf = (patches: PhotoReading['patches']) => {
      const fit = fitWedge({ ...reading, patches });
      return fit.ok ? 'ok' : fit.fault.code;
    };
    const steps = [0.08, 0.16, 0.32, 0.64];
    const row = (code: (mm: number, i: number) => [number, number, number]) =>
      (['black', 'white'] as const).flatMap((ground) =>
        steps.map((thicknessMm, i) => ({ ground, thicknessMm, code: code(thicknessMm, i) })),
      );
    expect(codeOf(reading.patches)).to.equal('too-few-patches');
    expect(codeOf(row(() => [90, 60, 40]))).to.equal('nothing-shines-through');
    expect(codeOf(row(() => [Number.NaN, 60, 40]))).to.equal('bad-reading');
    expect(
      codeOf(
        row((_, i) => (i % 2 ? [250, 20, 20] : [20, 20, 250])).map((patch) =>
          patch.ground === 'white' ? { ...patch, code: [20, 250, 20] as const } : patch,
        ),
      ),
    ).to.equal('no-filament-fits');
  });
});
