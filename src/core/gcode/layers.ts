import { MOVE, STATE, STATE_LENGTH, type Machine, type MachineListener } from './machine.ts';
import { MotionClock, type Motion } from './motion-time.ts';
import {
  SAME_HEIGHT_MM,
  type GcodeEvent,
  type LayerRecord,
  type Part,
  type ToolRun,
} from './records.ts';
import { HEAT_CODES, PAUSE_CODES, pauseName, readRemark } from './remarks.ts';
import { restSeconds } from './rests.ts';
import { LINE, type LineFault, type LineScanner } from './scanner.ts';

/** Most records that are kept: above it the heights are no layers. */
export const MOST_RECORDS = 100_000;
/** Most lines of interest (pauses, tools, temperatures) that are kept. */
export const MOST_EVENTS = 50_000;

/** Most lines of a run that are kept: what is longer primes nothing. */
const LONGEST_RUN = 400;

const MOST_SETTINGS = 300;

/** Keeps records of what is laid at each height; layers follow from them when the file is read. */
export class LayerBook implements MachineListener {
  readonly records: LayerRecord[] = [];
  readonly events: GcodeEvent[] = [];
  /** There are more than {@link MOST_EVENTS}: no print pauses so often. */
  tooManyEvents = false;
  readonly settings = new Map<string, string>();
  readonly badLines: { readonly line: number; readonly code: LineFault; readonly text: string }[] =
    [];
  badCount = 0;
  marks = 0;
  tooManyHeights = false;
  /** Sums of what comes after the last laid line: strand, forward, travel, plain seconds. */
  readonly pending = new Float64Array(4);
  /** The same of what comes before the first layer. */
  readonly early = new Float64Array(4);
  lastLine = 0;
  readonly clock: MotionClock;
  /** Whether acceleration counts. */
  readonly timed: boolean;
  /** Whether there was any move. */
  moved = false;

  #present: LayerRecord | null = null;
  /** Sums of the present record: strand, forward, laid, sloped, travel, seconds, sumX, sumY. */
  readonly #sums = new Float64Array(8);
  readonly #box = new Float64Array(4);
  #part: Part = 'body';
  #partStrand = 0;
  #tool = -1;
  #afterLaid = false;
  #laidLine = 0;
  #markLine = 0;
  #firstMove = 0;
  #placeLine = 0;
  #placeOffset = 0;
  readonly #placeState = new Float64Array(STATE_LENGTH);
  readonly #pendingEvents: GcodeEvent[] = [];
  #run: ToolRun | null = null;
  /** Box of all that is laid otherwise than right after a tool change; known where tools are changed. */
  readonly body: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  #tools = false;

  /** @param motion of the printer; endless acceleration gives way over speed */
  constructor(motion: Motion) {
    this.timed = Number.isFinite(motion.accelerationMmS2);
    this.clock = new MotionClock(motion);
  }

  move(machine: Machine, scanner: LineScanner): void {
    const { move } = machine;
    const strand = move[MOVE.strand] as number;
    const planar = move[MOVE.planar] as number;
    const laid = strand > 0 && planar > 0;
    const length = move[MOVE.length] as number;
    const speed = move[MOVE.speed] as number;
    const seconds = speed > 0 ? (length > 0 ? length : Math.abs(strand)) / speed : 0;
    const opens = laid && this.#opens(move);
    if (this.#afterLaid && (!laid || opens)) this.#rest(machine, scanner);
    if (this.#firstMove === 0) this.#firstMove = scanner.lineNumber;
    if (laid) {
      if (opens) this.#open(machine, scanner);
      else if (!this.#afterLaid) this.#join();
      this.#lay(move, strand, planar, seconds);
      if (this.#tools) this.#keepRun(move, scanner);
      this.#laidLine = scanner.lineNumber;
      this.#afterLaid = true;
    } else {
      // The way to where it primes lies before what is laid there.
      if (planar > 0 && this.#run && this.#run.lines.length > 0) this.#run = null;
      const { pending } = this;
      pending[0] = (pending[0] as number) + strand;
      if (strand > 0) pending[1] = (pending[1] as number) + strand;
      if (strand === 0 || length > 0) pending[2] = (pending[2] as number) + length;
      pending[3] = (pending[3] as number) + seconds;
    }
    if (this.timed) {
      this.clock.move(move);
      if (laid) this.clock.settle(this.records.length - 1);
    }
    this.moved = true;
    this.endsMoving = true;
    if (scanner.fault) this.#bad(scanner);
    this.lastLine = scanner.lineNumber;
  }

  before(machine: Machine, scanner: LineScanner): void {
    if (this.#afterLaid && scanner.kind !== LINE.blank) this.#rest(machine, scanner);
  }

  other(machine: Machine, scanner: LineScanner): void {
    this.lastLine = scanner.lineNumber;
    if (scanner.kind === LINE.blank) return;
    this.endsMoving = false;
    if (scanner.kind === LINE.remark) {
      this.#remark(machine, scanner);
      return;
    }
    if (scanner.fault) this.#bad(scanner);
    if (scanner.kind === LINE.named) {
      const name = pauseName(scanner.text());
      if (name !== null) this.#event('pause', machine, scanner, name);
      return;
    }
    if (scanner.kind !== LINE.words) return;
    const { letter, command } = scanner;
    if (letter === 77) {
      if (PAUSE_CODES.has(command)) this.#event('pause', machine, scanner, `M${command}`);
      else if (HEAT_CODES.has(command)) this.#event('heat', machine, scanner, `M${command}`);
      else if (command === 2 || command === 30) this.#event('end', machine, scanner, `M${command}`);
    } else if (letter === 84) this.#event('tool', machine, scanner, `T${command}`);
    const rest = restSeconds(scanner);
    if (rest === null) return;
    this.pending[3] = (this.pending[3] as number) + rest;
    this.clock.rest(rest);
  }

  /** The file is read: what comes after the last laid line belongs to no layer. */
  end(): void {
    this.#close();
    for (const event of this.#pendingEvents) event.record = -1;
    this.clock.end();
    this.records.forEach((record, n) => {
      record.seconds = this.timed ? this.clock.secondsOf(n) : record.plainS;
    });
  }

  /** Whether the last line that says anything is a move. */
  endsMoving = false;

  /** Whether nothing follows the last laid line. */
  get endsLaying(): boolean {
    return this.#afterLaid;
  }

  #opens(move: Float64Array): boolean {
    const present = this.#present;
    if (!present) return true;
    const z0 = move[MOVE.z0] as number;
    const z1 = move[MOVE.z1] as number;
    const marked = this.#markLine > 0;
    // The first mark of all ends what is laid to prime the nozzle.
    if (marked && this.marks === 1 && !present.afterMarks) return true;
    if (z1 - z0 > 1e-4) {
      // Sloped: a seam that rises within its layer, or a spiral, which marks divide, or else the height of a layer.
      if (marked) return true;
      const thick =
        (this.#sums[3] as number) > 0 ? this.#heightOf(present) : present.topMm - present.bottomMm;
      const { bottomMm } = present;
      return z0 < bottomMm - SAME_HEIGHT_MM || z0 >= bottomMm + thick - SAME_HEIGHT_MM;
    }
    return Math.abs(z1 - present.topMm) > SAME_HEIGHT_MM;
  }

  /** How thick the layer of a sloped record is: as the one before it. */
  #heightOf(present: LayerRecord): number {
    const { records } = this;
    const before = records[records.length - 2];
    return before
      ? Math.max(0.02, before.topMm - before.bottomMm)
      : Math.max(0.02, present.bottomMm);
  }

  /** The first line after a laid one: here lines can be put in. */
  #rest(machine: Machine, { lineNumber, start }: LineScanner): void {
    this.#placeAt(machine, lineNumber, start);
    this.#afterLaid = false;
    this.#markLine = 0;
  }

  /** What lies between two laid lines of one layer belongs to it. */
  #join(): void {
    this.#markLine = 0;
    const sums = this.#sums;
    const { pending } = this;
    sums[0] = (sums[0] as number) + (pending[0] as number);
    sums[1] = (sums[1] as number) + (pending[1] as number);
    sums[4] = (sums[4] as number) + (pending[2] as number);
    sums[5] = (sums[5] as number) + (pending[3] as number);
    pending.fill(0);
    if (this.#pendingEvents.length > 0) {
      const record = this.records.length - 1;
      for (const event of this.#pendingEvents) {
        event.record = record;
        event.inside = true;
      }
      this.#pendingEvents.length = 0;
    }
  }

  #lay(move: Float64Array, strand: number, planar: number, seconds: number): void {
    const sums = this.#sums;
    const box = this.#box;
    sums[0] = (sums[0] as number) + strand;
    sums[1] = (sums[1] as number) + strand;
    sums[2] = (sums[2] as number) + planar;
    sums[5] = (sums[5] as number) + seconds;
    const x0 = move[MOVE.x0] as number;
    const y0 = move[MOVE.y0] as number;
    const x1 = move[MOVE.x1] as number;
    const y1 = move[MOVE.y1] as number;
    const z1 = move[MOVE.z1] as number;
    const present = this.#present as LayerRecord;
    if (z1 !== (move[MOVE.z0] as number)) {
      sums[3] = (sums[3] as number) + planar;
      if (z1 > present.topMm) present.topMm = z1;
    }
    // Arcs are boxed by their ends and the point half way: more than that no check needs.
    if (move[MOVE.angle] === 0) {
      sums[6] = (sums[6] as number) + (planar * (x0 + x1)) / 2;
      sums[7] = (sums[7] as number) + (planar * (y0 + y1)) / 2;
    } else this.#layArc(move, planar);
    if (x0 < (box[0] as number)) box[0] = x0;
    if (x1 < (box[0] as number)) box[0] = x1;
    if (y0 < (box[1] as number)) box[1] = y0;
    if (y1 < (box[1] as number)) box[1] = y1;
    if (x0 > (box[2] as number)) box[2] = x0;
    if (x1 > (box[2] as number)) box[2] = x1;
    if (y0 > (box[3] as number)) box[3] = y0;
    if (y1 > (box[3] as number)) box[3] = y1;
    this.#partStrand += strand;
  }

  /** Sorts a laid line to what follows a tool change at once, or to all else. */
  #keepRun(move: Float64Array, scanner: LineScanner): void {
    const run = this.#run;
    const box = run ? run.box : this.body;
    for (const [x, y] of [
      [move[MOVE.x0] as number, move[MOVE.y0] as number],
      [move[MOVE.x1] as number, move[MOVE.y1] as number],
    ] as const) {
      box[0] = Math.min(box[0], x);
      box[1] = Math.min(box[1], y);
      box[2] = Math.max(box[2], x);
      box[3] = Math.max(box[3], y);
    }
    if (run && run.lines.length < LONGEST_RUN)
      run.lines.push({
        line: scanner.lineNumber,
        offset: scanner.start,
        text: scanner.text().trimEnd(),
      });
  }

  #layArc(move: Float64Array, planar: number): void {
    const sums = this.#sums;
    const box = this.#box;
    const mx = move[MOVE.middleX] as number;
    const my = move[MOVE.middleY] as number;
    const angle = move[MOVE.angle] as number;
    const from = Math.atan2((move[MOVE.y0] as number) - my, (move[MOVE.x0] as number) - mx);
    const radius = Math.hypot((move[MOVE.x0] as number) - mx, (move[MOVE.y0] as number) - my);
    const steps = Math.max(2, Math.ceil(Math.abs(angle) / 0.2));
    for (let k = 0; k < steps; k += 1) {
      const a = from + (angle * (k + 0.5)) / steps;
      const x = mx + radius * Math.cos(a);
      const y = my + radius * Math.sin(a);
      sums[6] = (sums[6] as number) + (planar / steps) * x;
      sums[7] = (sums[7] as number) + (planar / steps) * y;
      box[0] = Math.min(box[0] as number, x);
      box[1] = Math.min(box[1] as number, y);
      box[2] = Math.max(box[2] as number, x);
      box[3] = Math.max(box[3] as number, y);
    }
  }

  #open(machine: Machine, scanner: LineScanner): void {
    const { move, state } = machine;
    const marked = this.#markLine > 0;
    this.#close();
    if (this.records.length >= MOST_RECORDS) {
      this.tooManyHeights = true;
      this.records.length = 0;
    }
    const z0 = move[MOVE.z0] as number;
    const z1 = move[MOVE.z1] as number;
    const sloped = z1 - z0 > 1e-4;
    const below = this.#present?.topMm ?? 0;
    const firstLine = marked ? this.#markLine : this.#placeLine || this.#firstMove;
    const present: LayerRecord = {
      topMm: z1,
      bottomMm: sloped ? z0 : below < z1 ? below : 0,
      strandMm: 0,
      forwardMm: 0,
      laidMm: 0,
      slopedMm: 0,
      travelMm: 0,
      plainS: 0,
      seconds: 0,
      box: [0, 0, 0, 0],
      sumX: 0,
      sumY: 0,
      firstLine,
      laidLine: scanner.lineNumber,
      lastLaidLine: scanner.lineNumber,
      lastLine: scanner.lineNumber,
      place:
        this.#placeLine > 0
          ? { line: this.#placeLine, offset: this.#placeOffset, state: this.#placeState.slice() }
          : { line: scanner.lineNumber, offset: scanner.start, state: state.slice() },
      marked,
      afterMarks: this.marks > 0,
      tools: [state[STATE.tool] as number],
      parts: {},
      byTool: new Map(),
    };
    this.records.push(present);
    this.#present = present;
    this.#sums.fill(0);
    this.#partStrand = 0;
    this.#box.set([Infinity, Infinity, -Infinity, -Infinity]);
    this.#tool = state[STATE.tool] as number;
    const index = this.records.length - 1;
    for (const event of this.#pendingEvents) event.record = index;
    this.#pendingEvents.length = 0;
    const sums = this.#sums;
    const { pending } = this;
    sums[0] = pending[0] as number;
    sums[1] = pending[1] as number;
    sums[4] = pending[2] as number;
    sums[5] = pending[3] as number;
    pending.fill(0);
    this.#markLine = 0;
  }

  #close(): void {
    const present = this.#present;
    if (!present) return;
    const sums = this.#sums;
    const box = this.#box;
    this.#sumPart();
    present.strandMm = sums[0] as number;
    present.forwardMm = sums[1] as number;
    present.laidMm = sums[2] as number;
    present.slopedMm = sums[3] as number;
    present.travelMm = sums[4] as number;
    present.plainS = sums[5] as number;
    present.sumX = sums[6] as number;
    present.sumY = sums[7] as number;
    present.box = [box[0] as number, box[1] as number, box[2] as number, box[3] as number];
    present.lastLaidLine = this.#laidLine;
    present.lastLine = this.#markLine > 0 ? this.#markLine - 1 : this.#laidLine;
  }

  #sumPart(): void {
    const present = this.#present;
    if (present && this.#partStrand > 0) {
      present.parts[this.#part] = (present.parts[this.#part] ?? 0) + this.#partStrand;
      present.byTool.set(this.#tool, (present.byTool.get(this.#tool) ?? 0) + this.#partStrand);
    }
    this.#partStrand = 0;
  }

  #remark(machine: Machine, scanner: LineScanner): void {
    const remark = readRemark(scanner.text());
    switch (remark?.kind) {
      case 'mark':
        this.#mark(machine, scanner);
        break;
      case 'own':
      case 'off':
        this.#event(remark.kind, machine, scanner, remark.text);
        break;
      case 'part':
        this.#sumPart();
        this.#part = remark.part;
        break;
      case 'setting':
        if (this.settings.size < MOST_SETTINGS) this.settings.set(remark.name, remark.value);
        break;
      default:
    }
  }

  /** A mark divides what is pending: what came before it belongs to the layer below. */
  #mark(machine: Machine, scanner: LineScanner): void {
    if (this.#markLine > 0) return;
    this.marks += 1;
    this.#markLine = scanner.lineNumber;
    const { state } = machine;
    const { pending } = this;
    if (this.#present) {
      const sums = this.#sums;
      sums[0] = (sums[0] as number) + (pending[0] as number);
      sums[1] = (sums[1] as number) + (pending[1] as number);
      sums[4] = (sums[4] as number) + (pending[2] as number);
      sums[5] = (sums[5] as number) + (pending[3] as number);
      this.clock.settle(this.records.length - 1);
    } else {
      for (let i = 0; i < 4; i += 1)
        this.early[i] = (this.early[i] as number) + (pending[i] as number);
      this.clock.settle(-1);
    }
    pending.fill(0);
    // Nothing may go between drawing back and pushing on again.
    if (state[STATE.owed] === 0 && state[STATE.firmwareBack] === 0)
      this.#placeAt(machine, scanner.lineNumber, scanner.start);
  }

  /** Copied only where a layer begins: most places are none where one does. */
  #placeAt({ state }: Machine, line: number, offset: number): void {
    this.#placeState.set(state);
    this.#placeLine = line;
    this.#placeOffset = offset;
  }

  #event(kind: GcodeEvent['kind'], machine: Machine, scanner: LineScanner, command: string): void {
    if (this.events.length >= MOST_EVENTS) {
      this.tooManyEvents = true;
      return;
    }
    const T = 19;
    const own = (scanner.mask & (1 << T)) !== 0 && kind === 'heat';
    const tool = machine.state[STATE.tool] as number;
    const event: GcodeEvent = {
      kind,
      line: scanner.lineNumber,
      offset: scanner.start,
      text: scanner.text().trimEnd(),
      numbered: scanner.numbered,
      command,
      tool: kind === 'tool' ? scanner.command : own ? (scanner.values[T] as number) : null,
      inUse: kind === 'tool' ? Math.max(0, this.#tool) : tool,
      run: null,
      record: -1,
      inside: false,
    };
    this.events.push(event);
    this.#pendingEvents.push(event);
    if (kind === 'tool') {
      this.#sumPart();
      this.#tools = true;
      this.#run = { lines: [], box: [Infinity, Infinity, -Infinity, -Infinity] };
      event.run = this.#run;
      this.#tool = tool;
      const tools = this.#present?.tools;
      if (tools && !tools.includes(tool)) tools.push(tool);
    }
  }

  #bad(scanner: LineScanner): void {
    this.badCount += 1;
    const code = scanner.fault;
    if (code && this.badLines.length < 20)
      this.badLines.push({
        line: scanner.lineNumber,
        code,
        text: scanner.text(80),
      });
  }
}
