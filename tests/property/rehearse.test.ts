import { expect } from 'chai';
import fc from 'fast-check';
import {
  advanceRun,
  idleRun,
  nextMomentS,
  obey,
  playRun,
  RUN_COMMANDS,
  RUN_STATES,
  type PrinterRun,
  type RunCommand,
} from '#core/rehearse/printer-run.ts';

const seconds = fc.double({ min: 0, max: 400, noNaN: true });
const spool = fc.constantFrom('soot', 'rust', 'sand');
const optional = <Value>(arbitrary: fc.Arbitrary<Value>): fc.Arbitrary<Value | undefined> =>
  fc.option(arbitrary, { nil: undefined });

const begun = fc
  .record({
    totalS: seconds,
    stops: fc.array(
      fc.record({
        line: fc.nat(1000),
        layer: fc.integer({ min: 1, max: 40 }),
        command: fc.constantFrom('M600', 'M0', 'PAUSE', 'T1'),
        atS: seconds,
        wants: fc.option(spool),
      }),
      { maxLength: 8 },
    ),
    emptyAtS: fc.option(seconds),
    feeder: fc.constantFrom<readonly string[]>([], ['soot', 'rust']),
    faults: fc.record({
      ignores: optional(fc.integer({ min: 1, max: 5 })),
      resumesAfterS: optional(seconds),
      wrongSpool: optional(fc.record({ stop: fc.integer({ min: 1, max: 5 }), spool })),
      sensor: optional(fc.boolean()),
      powerAtS: optional(seconds),
    }),
    heatS: fc.constantFrom(0, 20, 95),
  })
  .map(({ totalS, stops, emptyAtS, feeder, faults, heatS }): PrinterRun =>
    idleRun(
      {
        totalS,
        emptyAtS,
        stops: [...stops]
          .map((stop) => ({
            ...stop,
            atS: Math.min(stop.atS, totalS),
            tool: stop.command === 'T1' ? 1 : null,
          }))
          .sort((a, b) => a.atS - b.atS),
      },
      { obeys: ['M600', 'M0'], feeder, heatS, changeS: 30 },
      faults,
      'soot',
    ),
  );

const command: fc.Arbitrary<RunCommand> = fc
  .record({ kind: fc.constantFrom(...RUN_COMMANDS), spool })
  .map(({ kind, spool: own }) =>
    kind === 'load' ? { command: kind, spool: own } : { command: kind },
  );

const expectLegal = (run: PrinterRun): void => {
  expect(RUN_STATES).to.include(run.state);
  expect(run.printS).to.be.within(0, run.job.totalS + 1e-3);
  expect(Number.isFinite(run.clockS)).to.equal(true);
  expect(run.waiting === null).to.equal(run.state !== 'waiting');
  // Spools follow each other in time, none twice in a row.
  run.laid.forEach(({ fromS, spool: own }, n) => {
    const before = run.laid[n - 1];
    if (n === 0) expect(fromS).to.equal(0);
    else {
      expect(fromS).to.be.above(before?.fromS ?? 0);
      expect(own).to.not.equal(before?.spool);
    }
    expect(fromS).to.be.at.most(run.printS);
  });
  run.events.forEach(({ clockS }, n) => {
    expect(clockS).to.be.at.least(run.events[n - 1]?.clockS ?? 0);
  });
};

describe('properties of a printer that is run by the clock', () => {
  it('any order of commands and moments leaves it in a legal state, and the clock never goes back', () => {
    fc.assert(
      fc.property(
        begun,
        fc.array(fc.oneof(command, fc.double({ min: 0, max: 200, noNaN: true })), {
          maxLength: 30,
        }),
        (first, steps) => {
          let run = first;
          for (const step of steps) {
            const before = run;
            if (typeof step === 'number') run = advanceRun(run, run.clockS + step);
            else {
              const next = obey(run, step);
              if (next.ok) run = next.value;
            }
            expectLegal(run);
            if (typeof step === 'number') expect(run.clockS).to.be.at.least(before.clockS);
          }
        },
      ),
      { numRuns: 400 },
    );
  });

  it('is the same whether it is looked at once or often', () => {
    fc.assert(
      fc.property(
        begun,
        fc.array(fc.double({ min: 0.001, max: 60, noNaN: true }), { maxLength: 20 }),
        (first, parts) => {
          const started = obey(first, { command: 'start' });
          if (!started.ok) return;
          let often = advanceRun(started.value, 0);
          for (const part of parts) often = advanceRun(often, often.clockS + part);
          const once = advanceRun(started.value, often.clockS);
          expect(once.state).to.equal(often.state);
          expect(once.printS).to.be.closeTo(often.printS, 1e-4);
          expect(once.events.map(({ kind }) => kind)).to.deep.equal(
            often.events.map(({ kind }) => kind),
          );
        },
      ),
      { numRuns: 300 },
    );
  });

  it('played by somebody who waits, every run comes to its end', () => {
    fc.assert(
      fc.property(begun, fc.double({ min: 0, max: 300, noNaN: true }), (first, swapS) => {
        const run = playRun(first, { swapS });
        expectLegal(run);
        expect(run.state).to.equal('done');
        expect(run.printS).to.be.closeTo(run.job.totalS, 1e-3);
        expect(nextMomentS(run)).to.equal(Infinity);
        expect(playRun(first, { swapS })).to.deep.equal(run);
      }),
      { numRuns: 300 },
    );
  });
});
