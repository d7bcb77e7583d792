import { letterOf, LINE, type LineScanner, type LineTaker } from './scanner.ts';

/** Places in {@link Machine.state}. Lengths mm, coordinates of the machine; origins are what G92 moved them by. */
export const STATE = {
  x: 0,
  y: 1,
  z: 2,
  e: 3,
  originX: 4,
  originY: 5,
  originZ: 6,
  originE: 7,
  /** mm/min, as the F word gave it. */
  feed: 8,
  /** mm in a unit: 1, or 25.4 after G20. */
  unit: 9,
  /** 1 where coordinates, and where the filament, are absolute. */
  absolute: 10,
  absoluteE: 11,
  tool: 12,
  /** Strand that was drawn back and is still owed, mm. */
  owed: 13,
  /** 1 after G10 until G11. */
  firmwareBack: 14,
  /** The last of G0 to G3. */
  motion: 15,
} as const;
export const STATE_LENGTH = 16;

/** Places in {@link Machine.move}: from, to, strand pushed on, mm; length of the way in the plane and in space, mm; mm/s. */
export const MOVE = {
  x0: 0,
  y0: 1,
  z0: 2,
  x1: 3,
  y1: 4,
  z1: 5,
  strand: 6,
  planar: 7,
  length: 8,
  speed: 9,
  /** Middle of an arc, and the angle that is run through, radians, counter-clockwise above 0; 0 for a line. */
  middleX: 10,
  middleY: 11,
  angle: 12,
} as const;
export const MOVE_LENGTH = 13;

/** What follows from lines, in the order of the file. */
export interface MachineListener {
  /** A move; {@link Machine.move} and the state before it are there to be read. */
  move(machine: Machine, scanner: LineScanner): void;
  /** A line that is no straight move comes next; the state is the one before it. */
  before(machine: Machine, scanner: LineScanner): void;
  /** Any other line. The state is the one after it. */
  other(machine: Machine, scanner: LineScanner): void;
}

const X = letterOf('X');
const Y = letterOf('Y');
const Z = letterOf('Z');
const E = letterOf('E');
const F = letterOf('F');
const I = letterOf('I');
const J = letterOf('J');
const R = letterOf('R');
const P = letterOf('P');
const L = letterOf('L');
const bit = (letter: number): number => 1 << letter;
const COORDINATES = bit(X) | bit(Y) | bit(Z) | bit(E);
const ARC_WORDS = bit(I) | bit(J) | bit(R);
const INCH_MM = 25.4;
const CODE_G = 71;
const CODE_M = 77;
const CODE_T = 84;

/** How a file that does not say it clearly means its filament words. */
export interface Meaning {
  /** Whether G90 and G91 also say how filament is meant. */
  readonly gSetsFilament: boolean;
  /** How filament is meant until the file says so. */
  readonly relativeFromStart: boolean;
}

/** G words that only set a mode: coordinates beside them are those of a move. */
const SETTING_MODES: ReadonlySet<number> = new Set([17, 20, 21, 90, 91, 94]);

/** Most strand a millimetre of way at which a line is one that was laid. */
const MOST_STRAND_A_MM = 0.6;

/**
 * The state of a printer that runs a file, as far as moves go: RS-274/NGC (NIST, 2000), sections 3.5.1 to 3.5.3 and 3.5.19 for
 * moves, arcs, units and origins; modal groups as in its table 4.
 */
export class Machine implements LineTaker {
  readonly state = new Float64Array(STATE_LENGTH);
  readonly move = new Float64Array(MOVE_LENGTH);
  /** Votes while it is in doubt how filament is meant. */
  votes = { absolute: 0, relative: 0 };
  /** 1 while G90 or G91 contradicts M82 or M83, 2 while nothing was said. */
  #doubt = 2;

  constructor(
    private readonly listener: MachineListener,
    private readonly meaning: Meaning,
  ) {
    const { state } = this;
    state[STATE.unit] = 1;
    state[STATE.absolute] = 1;
    state[STATE.absoluteE] = meaning.relativeFromStart ? 0 : 1;
  }

  /** The meaning that the lines in doubt speak for, where it is another one than was taken; otherwise null. */
  otherMeaning(): Meaning | null {
    const { absolute, relative } = this.votes;
    const taken = this.#took;
    if (absolute === relative || taken === null) return null;
    const wins = absolute > relative ? 'absolute' : 'relative';
    if (wins === taken) return null;
    return this.#doubted === 2
      ? { ...this.meaning, relativeFromStart: wins === 'relative' }
      : { ...this.meaning, gSetsFilament: !this.meaning.gSetsFilament };
  }
  /** Filament as the last line that told some said it, mm. */
  #lastWord = 0;
  #took: 'absolute' | 'relative' | null = null;
  #doubted = 0;

  line(scanner: LineScanner): void {
    if (scanner.kind === LINE.words) {
      const { letter, command } = scanner;
      const plain = scanner.bare === 0 && scanner.further.length === 0;
      if (letter === CODE_G && (command === 0 || command === 1) && plain) {
        this.#straight(scanner, command);
        return;
      }
      if (letter !== CODE_G || command > 3) this.listener.before(this, scanner);
      if (this.#words(scanner)) return;
    } else this.listener.before(this, scanner);
    this.listener.other(this, scanner);
  }

  /** @returns whether the line was a move, and has been told */
  #words(scanner: LineScanner): boolean {
    const { letter, command } = scanner;
    const { state } = this;
    if (letter === CODE_T) {
      if (command >= 0 && command < 256) state[STATE.tool] = command;
      return false;
    }
    if (letter === CODE_M) {
      if (command === 82 || command === 83) {
        state[STATE.absoluteE] = command === 82 ? 1 : 0;
        this.#doubt = 0;
      }
      return false;
    }
    if (letter === 0) {
      // A line of coordinates alone goes on with the last kind of move.
      if ((scanner.mask & COORDINATES) === 0) {
        if ((scanner.mask & bit(F)) !== 0) state[STATE.feed] = scanner.values[F] as number;
        return false;
      }
      return this.#motion(scanner, state[STATE.motion] as number);
    }
    let motion = -1;
    let sets = false;
    for (let i = -1; i < scanner.further.length; i += 1) {
      const code = i < 0 ? command : (scanner.further[i] as number);
      if (code >= 0 && code <= 3) motion = code;
      else sets = SETTING_MODES.has(code);
      this.#mode(scanner, code);
    }
    if (motion >= 0) return this.#motion(scanner, motion);
    if (sets && (scanner.mask & COORDINATES) !== 0)
      return this.#motion(scanner, state[STATE.motion] as number);
    return false;
  }

  #motion(scanner: LineScanner, code: number): boolean {
    if ((scanner.bare & COORDINATES) !== 0) {
      // A move to nowhere.
      scanner.fault = 'bad-number';
      return false;
    }
    if (code === 2 || code === 3) return this.#arc(scanner, code);
    this.#straight(scanner, code);
    return true;
  }

  /** What a G word other than a move does. */
  #mode(scanner: LineScanner, code: number): void {
    const { state } = this;
    const { mask, bare, values } = scanner;
    switch (code) {
      case 10:
        // With P or L it sets offsets of tools.
        if ((mask & (bit(P) | bit(L))) === 0) state[STATE.firmwareBack] = 1;
        break;
      case 11:
        state[STATE.firmwareBack] = 0;
        break;
      case 20:
        state[STATE.unit] = INCH_MM;
        break;
      case 21:
        state[STATE.unit] = 1;
        break;
      case 28: {
        const all = ((mask | bare) & (bit(X) | bit(Y) | bit(Z))) === 0;
        for (const [letter, at] of [
          [X, 0],
          [Y, 1],
          [Z, 2],
        ] as const)
          if (all || ((mask | bare) & bit(letter)) !== 0) {
            state[STATE.x + at] = 0;
            state[STATE.originX + at] = 0;
          }
        break;
      }
      case 90:
      case 91: {
        const absolute = code === 90 ? 1 : 0;
        state[STATE.absolute] = absolute;
        if (this.meaning.gSetsFilament) state[STATE.absoluteE] = absolute;
        if (this.#doubt !== 2) this.#doubt = state[STATE.absoluteE] === absolute ? this.#doubt : 1;
        if (this.meaning.gSetsFilament && this.#doubt === 0) this.#doubt = 1;
        break;
      }
      case 92: {
        const u = state[STATE.unit] as number;
        const none = ((mask | bare) & COORDINATES) === 0;
        if (none || (mask & bit(E)) !== 0) this.#lastWord = none ? 0 : (values[E] as number) * u;
        for (const [letter, at] of [
          [X, 0],
          [Y, 1],
          [Z, 2],
          [E, 3],
        ] as const)
          if (none || (mask & bit(letter)) !== 0)
            state[STATE.originX + at] =
              (state[STATE.x + at] as number) - (none ? 0 : (values[letter] as number) * u);
        break;
      }
      case 92.1:
        state.fill(0, STATE.originX, STATE.originE + 1);
        break;
      default:
    }
  }

  #straight(scanner: LineScanner, code: number): void {
    const { state, move } = this;
    this.#targets(scanner);
    const dx = (move[MOVE.x1] as number) - (move[MOVE.x0] as number);
    const dy = (move[MOVE.y1] as number) - (move[MOVE.y0] as number);
    const dz = (move[MOVE.z1] as number) - (move[MOVE.z0] as number);
    const planar = dx === 0 && dy === 0 ? 0 : Math.sqrt(dx * dx + dy * dy);
    move[MOVE.planar] = planar;
    move[MOVE.length] = dz === 0 ? planar : Math.sqrt(planar * planar + dz * dz);
    move[MOVE.angle] = 0;
    state[STATE.motion] = code;
    this.#go(scanner);
  }

  /** An arc of G2 (clockwise) or G3, by its middle or its radius; RS-274/NGC, section 3.5.3. */
  #arc(scanner: LineScanner, code: number): boolean {
    const { state, move } = this;
    const { mask, values } = scanner;
    const u = state[STATE.unit] as number;
    if ((mask & ARC_WORDS) === 0) return noArc(scanner);
    this.#targets(scanner);
    const x0 = move[MOVE.x0] as number;
    const y0 = move[MOVE.y0] as number;
    const x1 = move[MOVE.x1] as number;
    const y1 = move[MOVE.y1] as number;
    let middleX = x0 + ((mask & bit(I)) === 0 ? 0 : (values[I] as number) * u);
    let middleY = y0 + ((mask & bit(J)) === 0 ? 0 : (values[J] as number) * u);
    if ((mask & bit(R)) !== 0) {
      const r = (values[R] as number) * u;
      const dx = x1 - x0;
      const dy = y1 - y0;
      const chord = Math.hypot(dx, dy);
      if (chord < 1e-9 || chord > 2 * Math.abs(r) * (1 + 1e-3)) return noArc(scanner);
      const side = Math.sqrt(Math.max(0, r * r - (chord * chord) / 4)) / chord;
      const sign = (code === 2) === r > 0 ? -1 : 1;
      middleX = (x0 + x1) / 2 - sign * dy * side;
      middleY = (y0 + y1) / 2 + sign * dx * side;
    }
    const from = Math.atan2(y0 - middleY, x0 - middleX);
    const to = Math.atan2(y1 - middleY, x1 - middleX);
    let angle = to - from;
    // One that ends where it began is a whole turn.
    const whole = Math.abs(x1 - x0) < 1e-9 && Math.abs(y1 - y0) < 1e-9;
    if (whole) angle = 2 * Math.PI;
    else if (code === 3 && angle <= 0) angle += 2 * Math.PI;
    else if (code === 2 && angle >= 0) angle -= 2 * Math.PI;
    if (whole && code === 2) angle = -angle;
    const planar = Math.hypot(x0 - middleX, y0 - middleY) * Math.abs(angle);
    const dz = (move[MOVE.z1] as number) - (move[MOVE.z0] as number);
    move[MOVE.middleX] = middleX;
    move[MOVE.middleY] = middleY;
    move[MOVE.angle] = angle;
    move[MOVE.planar] = planar;
    move[MOVE.length] = Math.hypot(planar, dz);
    state[STATE.motion] = code;
    this.#go(scanner);
    return true;
  }

  /** Where a move leads, and the strand that goes with it. */
  #targets(scanner: LineScanner): void {
    const { state, move } = this;
    const { mask, values } = scanner;
    const u = state[STATE.unit] as number;
    const absolute = state[STATE.absolute] === 1;
    const x = state[STATE.x] as number;
    const y = state[STATE.y] as number;
    const z = state[STATE.z] as number;
    move[MOVE.x0] = x;
    move[MOVE.y0] = y;
    move[MOVE.z0] = z;
    move[MOVE.x1] =
      (mask & bit(X)) === 0
        ? x
        : (values[X] as number) * u + (absolute ? (state[STATE.originX] as number) : x);
    move[MOVE.y1] =
      (mask & bit(Y)) === 0
        ? y
        : (values[Y] as number) * u + (absolute ? (state[STATE.originY] as number) : y);
    move[MOVE.z1] =
      (mask & bit(Z)) === 0
        ? z
        : (values[Z] as number) * u + (absolute ? (state[STATE.originZ] as number) : z);
    let strand = 0;
    if ((mask & bit(E)) !== 0) {
      const value = (values[E] as number) * u;
      const e = state[STATE.e] as number;
      const byPlace = value + (state[STATE.originE] as number) - e;
      strand = state[STATE.absoluteE] === 1 ? byPlace : value;
      if (this.#doubt !== 0) this.#vote(value, value - this.#lastWord);
      this.#lastWord = value;
    }
    move[MOVE.strand] = strand;
    if ((mask & bit(F)) !== 0 && (values[F] as number) > 0)
      state[STATE.feed] = (values[F] as number) * u;
    move[MOVE.speed] = (state[STATE.feed] as number) / 60;
  }

  /** Lines with a way and a strand say by their proportion what the number may mean. */
  #vote(relative: number, absolute: number): void {
    const { move, state } = this;
    const way = Math.hypot(
      (move[MOVE.x1] as number) - (move[MOVE.x0] as number),
      (move[MOVE.y1] as number) - (move[MOVE.y0] as number),
    );
    if (way < 1e-6) return;
    const fits = (strand: number): boolean => strand > 0 && strand <= MOST_STRAND_A_MM * way;
    this.#took ??= state[STATE.absoluteE] === 1 ? 'absolute' : 'relative';
    this.#doubted = this.#doubt;
    if (fits(relative) && !fits(absolute)) this.votes.relative += 1;
    else if (fits(absolute) && !fits(relative)) this.votes.absolute += 1;
  }

  #go(scanner: LineScanner): void {
    const { state, move } = this;
    this.listener.move(this, scanner);
    state[STATE.x] = move[MOVE.x1] as number;
    state[STATE.y] = move[MOVE.y1] as number;
    state[STATE.z] = move[MOVE.z1] as number;
    const strand = move[MOVE.strand] as number;
    if (strand !== 0) {
      state[STATE.e] = (state[STATE.e] as number) + strand;
      const owed = (state[STATE.owed] as number) - strand;
      state[STATE.owed] = owed > 1e-9 ? owed : 0;
    }
  }
}

/** An arc without a middle, or whose ends lie farther apart than it reaches, is not run. */
function noArc(scanner: LineScanner): false {
  scanner.fault = 'bad-arc';
  return false;
}
