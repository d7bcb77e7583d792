import { expect } from 'chai';
import fc from 'fast-check';
import { auditGcode } from '#core/gcode/audit.ts';
import { readGcode } from '#core/gcode/read-gcode.ts';
import { bytesSource, changedSource } from '#core/gcode/source.ts';
import { findOwnLines } from '#core/gcode/take-out.ts';
import { planToolsToPauses } from '#core/gcode/tools.ts';
import { changesOf, planWeave } from '#core/gcode/weave.ts';
import { planOf, reliefForSlices, slice, type SliceOptions } from '../helpers/gcode.ts';

const HEIGHTS = reliefForSlices(8, 30, 20);
const M600 = { command: 'M600', text: '' } as const;
const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);

/** Lines that a sliced file may have, sound and broken, in any order. */
const LINES = fc.oneof(
  fc
    .record({
      code: fc.constantFrom('G0', 'G1', 'g1', 'G2', 'G3', 'N5 G1', 'G01'),
      x: fc.double({ min: -50, max: 300, noNaN: true }),
      y: fc.double({ min: -50, max: 300, noNaN: true }),
      z: fc.option(fc.integer({ min: 0, max: 20 })),
      e: fc.option(fc.double({ min: -3, max: 9, noNaN: true })),
      f: fc.option(fc.integer({ min: -10, max: 9000 })),
    })
    .map(
      ({ code, x, y, z, e, f }) =>
        `${code} X${x.toFixed(3)} Y${y.toFixed(2)}${z === null ? '' : ` Z${z / 10}`}${e === null ? '' : ` E${e.toFixed(4)}`}${f === null ? '' : ` F${f}`}`,
    ),
  fc.constantFrom(
    'G90',
    'G91',
    'M82',
    'M83',
    'G20',
    'G21',
    'G92 E0',
    'G92',
    'G28',
    'G28 X',
    'T0',
    'T1',
    'M600',
    'PAUSE',
    ';LAYER:3',
    ';LAYER_CHANGE',
    '; TYPE:Skirt',
    ';@strata off M600',
    'M104 T1 S200',
    'G4 P10',
    'G10',
    'G11',
    '',
    '   ',
    '%',
    '(x',
    'G1',
    'G2 X1',
    'M117 G1 X5 E5',
    '@pause',
    '*',
    'N1',
    'E',
    'G1 X1e5',
  ),
  fc.string({ maxLength: 30 }),
);

describe('sliced files, any', () => {
  it('nothing that is read throws, hangs, or gives numbers that are none; pieces of any size tell the same', () =>
    fc.assert(
      fc.asyncProperty(
        fc.array(LINES, { maxLength: 60 }),
        fc.constantFrom('\n', '\r\n'),
        fc.integer({ min: 1, max: 50 }),
        async (lines, end, chunkBytes) => {
          const source = bytesSource(utf8(lines.join(end)));
          const read = await readGcode(source);
          const again = await readGcode(source, { chunkBytes });
          expect(again).to.deep.equal(read);
          if (!read.ok) return;
          const { layers, filamentMm, seconds } = read.value;
          expect(Number.isFinite(filamentMm) && seconds >= 0).to.equal(true);
          for (const { topMm, middle, box, travelMm } of layers)
            expect([topMm, ...middle, ...box, travelMm].every(Number.isFinite)).to.equal(true);
          const timed = await readGcode(source, { accelerationMmS2: 800 });
          // Speeding up and slowing down never saves time.
          expect(timed.ok && timed.value.seconds).to.be.at.least(seconds - 1e-9);
          auditGcode(read.value, planOf(HEIGHTS, 8, [3]));
        },
      ),
    ));

  it('whatever is put in comes out again, and what is laid stays as it is', () =>
    fc.assert(
      fc.asyncProperty(
        fc.record({
          relative: fc.boolean(),
          crlf: fc.boolean(),
          marks: fc.constantFrom('layer', 'change', 'none') as fc.Arbitrary<'layer'>,
          objects: fc.integer({ min: 1, max: 3 }),
          pauseAt: fc.integer({ min: 1, max: 8 }),
          toolAt: fc.integer({ min: 1, max: 8 }),
        }),
        fc.uniqueArray(fc.integer({ min: 2, max: 8 }), { minLength: 1, maxLength: 4 }),
        async ({ pauseAt, toolAt, ...rest }, stops) => {
          const options: SliceOptions = {
            ...rest,
            before: { [pauseAt]: ['M0 look'] },
            inside: { [toolAt]: ['T1', 'M104 T1 S210'] },
          };
          const plan = planOf(
            HEIGHTS,
            8,
            stops.sort((a, b) => a - b),
          );
          const bytes = utf8(slice(HEIGHTS, 8, options));
          const read = await readGcode(bytesSource(bytes));
          if (!read.ok) throw new Error(read.fault.code);
          for (const weaving of [
            planWeave(read.value, plan, { pause: M600, switchOff: true }),
            planToolsToPauses(read.value, { pause: M600, onlyLayers: 2, dropPriming: false }),
          ]) {
            const woven = changedSource(bytesSource(bytes), changesOf(weaving, read.value.crlf));
            const own = await findOwnLines(woven);
            if (!own.ok) throw new Error(own.fault.code);
            expect(own.value.blocks).to.equal(weaving.blocks.length);
            const back = changedSource(woven, own.value.cuts);
            expect(Buffer.from(await back.read(0, back.size)).equals(bytes)).to.equal(true);
            const after = await readGcode(woven);
            if (!after.ok) throw new Error(after.fault.code);
            expect(after.value.layers.map(({ laidMm, topMm }) => [laidMm, topMm])).to.deep.equal(
              read.value.layers.map(({ laidMm, topMm }) => [laidMm, topMm]),
            );
          }
        },
      ),
      { numRuns: 25 },
    ));
});
