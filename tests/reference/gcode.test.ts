import { expect } from 'chai';
import { MotionClock, trapezoidSeconds } from '#core/gcode/motion-time.ts';
import { Machine, MOVE, MOVE_LENGTH, type MachineListener } from '#core/gcode/machine.ts';
import { LineScanner } from '#core/gcode/scanner.ts';
import { reportOf } from '../helpers/gcode.ts';

/** Runs lines and keeps the moves. */
function movesOf(text: string): Float64Array[] {
  const moves: Float64Array[] = [];
  const listener: MachineListener = {
    before: () => undefined,
    other: () => undefined,
    move: ({ move }) => moves.push(move.slice()),
  };
  const scanner = new LineScanner(
    new Machine(listener, { gSetsFilament: false, relativeFromStart: false }),
  );
  scanner.feed(new TextEncoder().encode(text));
  scanner.end();
  return moves;
}

/** The NIST RS274/NGC Interpreter, version 3 (T. R. Kramer, F. M. Proctor, E. Messina, NISTIR 6556, 2000); quoted from memory. */
describe('RS-274/NGC', () => {
  it('section 3.5.3.2: G2 X10 Y16 I3 J4 from X7 Y7 turns about X10 Y11 with radius 5', () => {
    const [, arc] = movesOf('g0 x7 y7 z9\ng17 g2 x10 y16 i3 j4 z9\n');
    expect(arc?.[MOVE.middleX]).to.equal(10);
    expect(arc?.[MOVE.middleY]).to.equal(11);
    const angle = arc?.[MOVE.angle] ?? 0;
    // Clockwise from (-3, -4) to (0, 5).
    expect(angle).to.be.lessThan(0);
    expect(arc?.[MOVE.planar]).to.be.closeTo(5 * -angle, 1e-12);
    expect(-angle).to.be.closeTo(Math.atan2(-4, -3) - Math.atan2(5, 0) + 2 * Math.PI, 1e-12);
  });

  it('section 3.5.3.1: an arc by its radius takes the shorter way; a negative one the longer', () => {
    const [, short, , long] = movesOf('G0 X0 Y0\nG2 X10 Y10 R10\nG0 X0 Y0\nG2 X10 Y10 R-10\n').map(
      (move) => move[MOVE.planar] ?? 0,
    );
    expect(short).to.be.closeTo((Math.PI / 2) * 10, 1e-9);
    expect(long).to.be.closeTo(((3 * Math.PI) / 2) * 10, 1e-9);
  });

  it('section 3.3: case and blanks between words do not matter, N words and remarks change nothing', () => {
    const plain = movesOf('G1 X0.1234 Y7 F60\n');
    for (const line of ['g1x.1234y7f60', 'N25 G1 X+0.1234 Y7. F60', '(go) G1 X0.1234(a) Y07 F60'])
      expect(movesOf(`${line}\n`)).to.deep.equal(plain);
  });

  it('table 4: a mode stays until another of its group; a move alone goes on with the last kind', () => {
    const moves = movesOf('G1 X1 F60\nX2\nG91\nX1\nG90 X1\nG20\nG1 X1\n');
    expect(moves.map((move) => move[MOVE.x1])).to.deep.equal([1, 2, 3, 1, 25.4]);
  });

  it('section 3.5.19: G92 moves the origin and no axis', () => {
    const moves = movesOf('G1 X4 F60\nG92 X-3\nG1 X0\nG92.1\nG1 X0\n');
    expect(moves.map((move) => move[MOVE.x1])).to.deep.equal([4, 7, 0]);
  });
});

/** One move along X. */
function straight(from: number, to: number, speed: number, y = 0, turnTo = y): Float64Array {
  const move = new Float64Array(MOVE_LENGTH);
  const length = Math.hypot(to - from, turnTo - y);
  move.set([from, y, 0, to, turnTo, 0, 1, length, length, speed]);
  return move;
}

function secondsOf(moves: readonly Float64Array[], acceleration: number): number {
  const clock = new MotionClock({ accelerationMmS2: acceleration });
  for (const move of moves) clock.move(move);
  clock.settle(0);
  clock.end();
  return clock.total;
}

describe('times of moves', () => {
  // Uniformly accelerated motion, as any handbook of mechanics has it: v^2 = u^2 + 2 a s, s = u t + a t^2 / 2.
  it('a move from rest to rest takes L / v + v / a, or 2 sqrt(L / a) where the speed is never reached', () => {
    const a = 1500;
    expect(secondsOf([straight(0, 100, 80)], a)).to.be.closeTo(100 / 80 + 80 / a, 1e-12);
    expect(secondsOf([straight(0, 1, 80)], a)).to.be.closeTo(2 * Math.sqrt(1 / a), 1e-12);
  });

  it('the trapezoid agrees with stepping through the motion', () => {
    for (const [length, cruise, u, v] of [
      [10, 60, 0, 30],
      [3, 200, 20, 5],
      [0.4, 40, 10, 10],
    ] as const) {
      const a = 1000;
      const dt = 1e-6;
      let seconds = 0;
      let way = 0;
      let speed: number = u;
      // As fast as can be, as long as the rest is enough to slow down in.
      while (way < length) {
        const brake = (speed * speed - v * v) / (2 * a);
        speed = length - way <= brake ? speed - a * dt : Math.min(cruise, speed + a * dt);
        way += Math.max(speed, 1e-3) * dt;
        seconds += dt;
      }
      expect(trapezoidSeconds(length, cruise, u * u, v * v, a)).to.be.closeTo(seconds, 2e-4);
    }
  });

  // "Improving Grbl: Cornering Algorithm" (S. K. Jeon, 2011), from memory: v^2 = a d s / (1 - s), s = sin(half the angle).
  it('a corner is taken at the speed of a circle that leaves it by 0.02 mm', () => {
    const a = 2000;
    const s = Math.SQRT1_2;
    const corner = Math.sqrt((a * 0.02 * s) / (1 - s));
    const bent = [straight(0, 50, 80), straight(50, 50, 80, 0, 50)];
    const half = 50 / 80 + 80 / a;
    // Both halves save the time between rest and the speed of the corner, and the way it takes.
    const saved = corner / a - (corner * corner) / (2 * a) / 80;
    expect(secondsOf(bent, a)).to.be.closeTo(2 * (half - saved), 1e-9);
    // Straight on, nothing is lost; back the way it came, all is.
    expect(secondsOf([straight(0, 50, 80), straight(50, 100, 80)], a)).to.be.closeTo(
      100 / 80 + 80 / a,
      1e-9,
    );
    expect(secondsOf([straight(0, 50, 80), straight(50, 0, 80)], a)).to.be.closeTo(2 * half, 1e-9);
  });

  it('many short moves beyond the window take as long as one long one', () => {
    const short = Array.from({ length: 9000 }, (_, n) => straight(n / 10, (n + 1) / 10, 70));
    expect(secondsOf(short, 1500)).to.be.closeTo(900 / 70 + 70 / 1500, 1e-6);
  });

  it('endless acceleration gives way over speed, and dwelling is added', async () => {
    const text = 'G90\nM83\nG1 Z.2 F600\nG1 X30 E1 F1800\nG4 P500\nG4 S2\nG1 X0 E1\n';
    expect((await reportOf(text)).seconds).to.be.closeTo(0.02 + 1 + 2.5 + 1, 1e-9);
    const timed = await reportOf(text, { accelerationMmS2: 1e12 });
    expect(timed.seconds).to.be.closeTo(0.02 + 1 + 2.5 + 1, 1e-4);
    const slow = await reportOf(text, { accelerationMmS2: 1000 });
    // Both long moves begin or end at rest; only the corner after the rise is taken at some speed.
    expect(slow.seconds).to.be.within(4.52 + 0.05, 4.52 + 0.07);
  });
});
