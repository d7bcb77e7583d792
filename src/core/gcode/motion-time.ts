import { MOVE } from './machine.ts';

/** How far a corner may be rounded, mm: junction deviation. Usual value, common practice, no source. */
const DEVIATION_MM = 0.02;
/** Sine of half the angle between the ways of a right-angled corner. */
const RIGHT_ANGLE = Math.SQRT1_2;

/** How a printer gets up to its speeds. */
export interface Motion {
  /** mm/s2; Infinity gives exactly way over speed. */
  readonly accelerationMmS2: number;
  /** How fast it goes round a right angle, mm/s; without it, as with a junction deviation of 0.02 mm. */
  readonly cornerMmS?: number | undefined;
}

/** The junction deviation, mm, with which a right angle is taken at a speed: v^2 = a d s / (1 - s) with s = sin 45 degrees. */
export function deviationMm({ accelerationMmS2, cornerMmS }: Motion): number {
  return cornerMmS === undefined
    ? DEVIATION_MM
    : (cornerMmS ** 2 * (1 - RIGHT_ANGLE)) / (accelerationMmS2 * RIGHT_ANGLE);
}

/** Moves that are looked at together, and how many of them wait for those that follow. */
const WINDOW = 4096;
const KEPT = 512;

/**
 * Times of moves by constant acceleration: each runs as a trapezoid of speed (v^2 = u^2 + 2 a s), from and to speeds at which the
 * corner between two moves can be taken. Corners: v^2 = a d s / (1 - s), s the sine of half the angle between both ways, the
 * centripetal limit on a circle that leaves the corner by d ("junction deviation", S. K. Jeon, 2011, Improving Grbl: Cornering
 * Algorithm; named from memory). Arcs: v^2 = a r. Moves of filament alone, and whatever the machine waits for, are from rest to rest.
 */
export class MotionClock {
  /** Seconds of records, and of what belongs to none. */
  readonly #of: number[] = [];
  #none = 0;
  /** Seconds of moves that left the window before it was said where they belong. */
  #floating = 0;

  readonly #length = new Float64Array(WINDOW);
  readonly #cruise = new Float64Array(WINDOW);
  /** Greatest speed at the beginning of each move, squared. */
  readonly #entry = new Float64Array(WINDOW);
  /** The same with what can be braked to, as far as the window shows. */
  readonly #planned = new Float64Array(WINDOW);
  readonly #exact = new Float64Array(WINDOW);
  readonly #owner = new Int32Array(WINDOW);
  #count = 0;
  /** Moves before this one have an owner. */
  #settled = 0;
  /** Speed at which the first move of the window begins, squared. */
  #begin = 0;
  #direction: [number, number, number] | null = null;
  readonly #endless: boolean;
  private readonly accelerationMmS2: number;
  readonly #deviationMm: number;

  constructor(motion: Motion) {
    this.accelerationMmS2 = motion.accelerationMmS2;
    this.#deviationMm = deviationMm(motion);
    this.#endless = !Number.isFinite(motion.accelerationMmS2);
  }

  /** Adds a move, see `MOVE`. */
  move(move: Float64Array): void {
    const length = move[MOVE.length] as number;
    const speed = move[MOVE.speed] as number;
    if (!(speed > 0)) return;
    if (length <= 0) {
      const strand = Math.abs(move[MOVE.strand] as number);
      if (strand === 0) return;
      this.#direction = null;
      this.#push(strand, speed, 0, 0);
      return;
    }
    if (this.#endless) {
      this.#push(length, speed, 0, 0);
      return;
    }
    const angle = move[MOVE.angle] as number;
    const dz = ((move[MOVE.z1] as number) - (move[MOVE.z0] as number)) / length;
    let start: [number, number, number];
    let stop: [number, number, number];
    let cruise = speed;
    if (angle === 0) {
      start = [
        ((move[MOVE.x1] as number) - (move[MOVE.x0] as number)) / length,
        ((move[MOVE.y1] as number) - (move[MOVE.y0] as number)) / length,
        dz,
      ];
      stop = start;
    } else {
      const mx = move[MOVE.middleX] as number;
      const my = move[MOVE.middleY] as number;
      const radius = Math.hypot((move[MOVE.x0] as number) - mx, (move[MOVE.y0] as number) - my);
      cruise = Math.min(speed, Math.sqrt(this.accelerationMmS2 * radius));
      const turn = Math.sign(angle) / Math.max(radius, 1e-9);
      const tangent = (x: number, y: number): [number, number, number] => [
        -(y - my) * turn,
        (x - mx) * turn,
        0,
      ];
      start = tangent(move[MOVE.x0] as number, move[MOVE.y0] as number);
      stop = tangent(move[MOVE.x1] as number, move[MOVE.y1] as number);
    }
    const before = this.#direction;
    let corner = 0;
    if (before) {
      const cosine = before[0] * start[0] + before[1] * start[1] + before[2] * start[2];
      const s = Math.sqrt(Math.max(0, (1 + cosine) / 2));
      const squared =
        s > 0.999999 ? Infinity : (this.accelerationMmS2 * this.#deviationMm * s) / (1 - s);
      const last = this.#cruise[this.#count - 1] ?? 0;
      corner = Math.min(squared, cruise * cruise, last * last);
    }
    this.#direction = stop;
    this.#push(length, cruise, corner, 0);
  }

  /** The machine comes to rest, and stays there for some seconds. */
  rest(seconds: number): void {
    this.#direction = null;
    if (seconds > 0) this.#push(0, 0, 0, seconds);
  }

  /** Says where all moves since the last call belong: to a record, or to none (-1). */
  settle(record: number): void {
    if (this.#floating > 0) {
      this.#add(record, this.#floating);
      this.#floating = 0;
    }
    for (let i = this.#settled; i < this.#count; i += 1) this.#owner[i] = record;
    this.#settled = this.#count;
  }

  /** No move follows. */
  end(): void {
    this.#run(this.#count);
    this.#none += this.#floating;
    this.#floating = 0;
  }

  /** Seconds of one record. */
  secondsOf(record: number): number {
    return this.#of[record] ?? 0;
  }

  /** Seconds of everything, that which belongs to no record included. */
  get total(): number {
    return this.#of.reduce((sum, one) => sum + (one || 0), this.#none + this.#floating);
  }

  #push(length: number, cruise: number, entry: number, exact: number): void {
    if (this.#count === WINDOW) this.#run(WINDOW - KEPT);
    const i = this.#count;
    this.#length[i] = length;
    this.#cruise[i] = cruise;
    this.#entry[i] = entry;
    this.#exact[i] = exact;
    this.#owner[i] = -2;
    this.#count = i + 1;
  }

  #add(record: number, seconds: number): void {
    if (record < 0) this.#none += seconds;
    else this.#of[record] = (this.#of[record] ?? 0) + seconds;
  }

  /** Works out the first moves of the window: backward from rest, then forward. */
  #run(moves: number): void {
    const count = this.#count;
    const length = this.#length;
    const entry = this.#planned;
    const twice = 2 * this.accelerationMmS2;
    if (!this.#endless) {
      let after = 0;
      for (let i = count - 1; i >= 0; i -= 1) {
        // Moves that are kept get other limits when more of them are known.
        after = Math.min(this.#entry[i] as number, after + twice * (length[i] as number));
        entry[i] = after;
      }
    }
    let begin = this.#begin;
    for (let i = 0; i < moves; i += 1) {
      const way = length[i] as number;
      const cruise = this.#cruise[i] as number;
      const owner = this.#owner[i] as number;
      let seconds = this.#exact[i] as number;
      if (way > 0) {
        if (this.#endless) seconds += way / cruise;
        else {
          const wanted = i + 1 < count ? (entry[i + 1] as number) : 0;
          const leave = Math.min(wanted, begin + twice * way);
          seconds += trapezoidSeconds(way, cruise, begin, leave, this.accelerationMmS2);
          begin = leave;
        }
      } else begin = 0;
      if (owner === -2) this.#floating += seconds;
      else this.#add(owner, seconds);
    }
    this.#begin = begin;
    const left = count - moves;
    for (const list of [length, this.#cruise, this.#entry, this.#exact])
      list.copyWithin(0, moves, count);
    this.#owner.copyWithin(0, moves, count);
    this.#count = left;
    this.#settled = Math.max(0, this.#settled - moves);
  }
}

/**
 * Seconds for a way that begins and ends at given speeds and reaches at most the cruising speed: v^2 = u^2 + 2 a s.
 * @param begin squared speed at its beginning, mm2/s2
 * @param leave squared speed at its end
 */
export function trapezoidSeconds(
  lengthMm: number,
  cruiseMmS: number,
  begin: number,
  leave: number,
  accelerationMmS2: number,
): number {
  const peak = (2 * accelerationMmS2 * lengthMm + begin + leave) / 2;
  const u = Math.sqrt(begin);
  const v = Math.sqrt(leave);
  if (peak <= cruiseMmS * cruiseMmS) {
    const top = Math.sqrt(peak);
    return (2 * top - u - v) / accelerationMmS2;
  }
  const rise = (cruiseMmS * cruiseMmS - begin) / (2 * accelerationMmS2);
  const fall = (cruiseMmS * cruiseMmS - leave) / (2 * accelerationMmS2);
  return (2 * cruiseMmS - u - v) / accelerationMmS2 + (lengthMm - rise - fall) / cruiseMmS;
}
