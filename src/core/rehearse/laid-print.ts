import { noCheckpoint, type Checkpoint } from '../base/checkpoint.ts';
import { Machine, MOVE, type MachineListener } from '../gcode/machine.ts';
import { MotionClock, type Motion } from '../gcode/motion-time.ts';
import { PAUSE_CODES, pauseName } from '../gcode/remarks.ts';
import type { GcodeReport, PlacedEvent } from '../gcode/report.ts';
import { restSeconds } from '../gcode/rests.ts';
import { LINE, LineScanner } from '../gcode/scanner.ts';
import { eachChunk, type ByteSource } from '../gcode/source.ts';
import { coverLine, type CellGrid } from './cover-line.ts';

/** Most cells of a grid, and of all layers together: what is kept of a print stays within some tens of megabytes. */
const MOST_CELLS = 400_000;
const MOST_LAYER_CELLS = 24_000_000;
const LEAST_CELLS = 20_000;
/** Longest chord of an arc, radians. */
const ARC_STEP = 0.2;
/** Between these shares of a line's width, what a laid line's plastic tells of its own width is believed. */
const NARROWEST = 0.3;
const WIDEST = 3;
const CODE_M = 77;
const CODE_T = 84;

/** A layer as it is laid. */
export interface LaidLayer {
  readonly topMm: number;
  readonly thicknessMm: number;
  /** Number of the first slot that belongs to it; see `LaidPrint.slotS`. */
  readonly firstSlot: number;
  /** For each cell 0 where nothing is laid, else 1 + (slot - firstSlot) >> shift of the first line over it. */
  readonly order: Uint16Array;
  readonly shift: number;
  /** Cells over which something is laid. */
  readonly cells: number;
}

/** A place in the file where a printer may stop, or changes its tool. */
export interface FileStop {
  /** Line of the file, counted from 1. */
  readonly line: number;
  /** Seconds of printing before it, and strand pushed on before it, mm. */
  readonly atS: number;
  /** Layer that it lies in or before, counted from 1; one more than there are behind the last. */
  readonly layer: number;
  readonly command: string;
  readonly tool: number | null;
  /** Whether it lies between laid lines of its layer. */
  readonly inside: boolean;
  /** Filament that is planned from there on, where that changes within a layer. */
  readonly wants?: string | undefined;
}

/** When which cell is covered: all that a run of the file needs, whatever becomes of its stops. */
export interface LaidPrint {
  readonly grid: CellGrid;
  readonly layers: readonly LaidLayer[];
  /** A slot is a laid line, or a stop. Seconds of printing at which each has ended, and strand pushed on until then, mm. */
  readonly slotS: Float64Array;
  readonly slotMm: Float64Array;
  readonly stops: readonly FileStop[];
  /** Seconds of the whole file, heating and stops not counted. */
  readonly totalS: number;
}

/**
 * Runs a sliced file once and keeps when each cell of each layer is covered. Times as in `MotionClock`; a line is as wide as its plastic
 * makes it (strand x section = width x layer height x way); gaps of one cell between laid ones close, as plastic spreads.
 * @param report of the same file
 * @param lineMm usual width of a line; cells are half as wide or wider
 * @throws Cancelled
 */
export async function layPrint(
  source: ByteSource,
  report: GcodeReport,
  options: { readonly motion: Motion; readonly lineMm: number; readonly filamentMm: number },
  checkpoint: Checkpoint = noCheckpoint,
): Promise<LaidPrint> {
  const taker = new LaidTaker(report, options);
  const machine = new Machine(taker, report.meaning);
  const scanner = new LineScanner(machine);
  await eachChunk(source, (chunk, read) => {
    checkpoint(Math.min(1, read / source.size));
    scanner.feed(chunk);
  });
  scanner.end();
  return taker.finish();
}

/** The grid of what is laid: the box of the layers above the first, which may have a rim beside the piece. */
function gridOf({ layers }: GcodeReport, lineMm: number): CellGrid {
  const body = layers.length > 1 ? layers.filter(({ layerOfObject }) => layerOfObject > 1) : layers;
  const boxes = (body.length > 0 ? body : layers).map(({ box }) => box);
  const margin = lineMm;
  const leftMm = Math.min(...boxes.map((box) => box[0])) - margin;
  const frontMm = Math.min(...boxes.map((box) => box[1])) - margin;
  const rightMm = Math.max(...boxes.map((box) => box[2])) + margin;
  const backMm = Math.max(...boxes.map((box) => box[3])) + margin;
  const [w, d] = [Math.max(lineMm, rightMm - leftMm), Math.max(lineMm, backMm - frontMm)];
  const most = Math.max(LEAST_CELLS, Math.min(MOST_CELLS, MOST_LAYER_CELLS / layers.length));
  const cellMm = Math.max(lineMm / 2, Math.sqrt((w * d) / most));
  return {
    width: Math.ceil(w / cellMm),
    height: Math.ceil(d / cellMm),
    cellMm,
    leftMm,
    backMm,
  };
}

class LaidTaker implements MachineListener {
  readonly #grid: CellGrid;
  readonly #clock: MotionClock;
  readonly #layers: LaidLayer[] = [];
  readonly #stops: (Omit<FileStop, 'atS'> & { readonly slot: number })[] = [];
  readonly #mm: number[] = [];
  /** 1 + slot of the first line over each cell of the present layer, from its first slot. */
  readonly #first: Uint32Array;
  readonly #section: number;
  readonly #events: ReadonlyMap<number, PlacedEvent>;
  readonly #lineMm: number;
  #at = -1;
  #firstSlot = 0;
  #strand = 0;
  #farthest = 0;

  constructor(
    private readonly report: GcodeReport,
    { motion, lineMm, filamentMm }: Parameters<typeof layPrint>[2],
  ) {
    this.#grid = gridOf(report, lineMm);
    this.#clock = new MotionClock(motion);
    this.#lineMm = lineMm;
    this.#section = (Math.PI * filamentMm * filamentMm) / 4;
    this.#events = new Map(
      report.events
        .filter(({ kind }) => kind === 'pause' || kind === 'tool')
        .map((event) => [event.line, event]),
    );
    const cells = this.#grid.width * this.#grid.height;
    this.#first = new Uint32Array(cells);
  }

  before(): void {
    // What matters is told as a move or as another line.
  }

  move({ move }: Machine, { lineNumber }: LineScanner): void {
    const strand = move[MOVE.strand] as number;
    const planar = move[MOVE.planar] as number;
    this.#clock.move(move);
    // What is drawn back is pushed on again: only the farthest counts.
    this.#strand += strand;
    this.#farthest = Math.max(this.#farthest, this.#strand);
    if (!(strand > 0 && planar > 0)) return;
    this.#reach(lineNumber);
    const slot = this.#slot();
    if (this.#at < 0) return;
    const thickness = this.report.layers[this.#at]?.heightMm ?? 0;
    const byPlastic = thickness > 0 ? (strand * this.#section) / (planar * thickness) : 0;
    const width = Math.min(
      WIDEST * this.#lineMm,
      Math.max(NARROWEST * this.#lineMm, byPlastic || this.#lineMm),
    );
    const order = 1 + slot - this.#firstSlot;
    this.#cover(move, width / 2, order);
  }

  other(_machine: Machine, scanner: LineScanner): void {
    const { kind, lineNumber } = scanner;
    if (kind === LINE.named) {
      const name = pauseName(scanner.text());
      if (name !== null) this.#stop(lineNumber, name, null);
      return;
    }
    if (kind !== LINE.words) return;
    const { letter, command } = scanner;
    const rest = restSeconds(scanner);
    if (rest !== null) this.#clock.rest(rest);
    if (letter === CODE_M && PAUSE_CODES.has(command)) this.#stop(lineNumber, `M${command}`, null);
    else if (letter === CODE_T) this.#stop(lineNumber, `T${command}`, command);
  }

  finish(): LaidPrint {
    const slots = this.#mm.length;
    this.#clock.end();
    while (this.#at < this.report.layers.length - 1) this.#next();
    this.#keep();
    const slotS = new Float64Array(slots);
    let sum = 0;
    for (let slot = 0; slot < slots; slot += 1) slotS[slot] = sum += this.#clock.secondsOf(slot);
    return {
      grid: this.#grid,
      layers: this.#layers,
      slotS,
      slotMm: Float64Array.from(this.#mm),
      stops: this.#stops.map(({ slot, ...stop }) => ({ ...stop, atS: slotS[slot] as number })),
      totalS: this.#clock.total,
    };
  }

  /** A further slot: what was run since the last one belongs to it. */
  #slot(): number {
    const slot = this.#mm.length;
    this.#mm.push(this.#farthest);
    this.#clock.settle(slot);
    return slot;
  }

  #stop(line: number, command: string, tool: number | null): void {
    const event = this.#events.get(line);
    if (!event) return;
    const layer = event.layer === 0 ? this.report.layers.length + 1 : event.layer;
    this.#stops.push({ line, command, tool, layer, inside: event.inside, slot: this.#slot() });
  }

  #reach(line: number): void {
    for (
      let next = this.report.layers[this.#at + 1];
      next && line >= next.place.line && line >= next.firstLine;
      next = this.report.layers[this.#at + 1]
    )
      this.#next();
  }

  /** The present layer is whole; the next one begins. */
  #next(): void {
    this.#keep();
    this.#at += 1;
    this.#firstSlot = this.#mm.length;
  }

  #keep(): void {
    const layer = this.report.layers[this.#at];
    if (!layer) return;
    const slots = this.#mm.length - this.#firstSlot;
    let shift = 0;
    while (slots >> shift >= 0xffff) shift += 1;
    const { order, cells } = closedOrder(this.#first, this.#grid.width, shift);
    this.#first.fill(0);
    this.#layers.push({
      topMm: layer.topMm,
      thicknessMm: layer.heightMm,
      firstSlot: this.#firstSlot,
      order,
      shift,
      cells,
    });
  }

  #cover(move: Float64Array, radius: number, order: number): void {
    const first = this.#first;
    const angle = move[MOVE.angle] as number;
    let x = move[MOVE.x0] as number;
    let y = move[MOVE.y0] as number;
    const x1 = move[MOVE.x1] as number;
    const y1 = move[MOVE.y1] as number;
    if (angle !== 0) {
      const mx = move[MOVE.middleX] as number;
      const my = move[MOVE.middleY] as number;
      const r = Math.hypot(x - mx, y - my);
      const from = Math.atan2(y - my, x - mx);
      const steps = Math.ceil(Math.abs(angle) / ARC_STEP);
      for (let step = 1; step < steps; step += 1) {
        const a = from + (angle * step) / steps;
        const nextX = mx + r * Math.cos(a);
        const nextY = my + r * Math.sin(a);
        coverLine(this.#grid, x, y, nextX, nextY, radius, first, order);
        x = nextX;
        y = nextY;
      }
    }
    coverLine(this.#grid, x, y, x1, y1, radius, first, order);
  }
}

/**
 * Orders as they are kept. A free cell between two laid ones, side by side or one over the other, is covered with the later of them: rims
 * have none, since the grid is wider than what is laid.
 */
function closedOrder(
  first: Uint32Array,
  width: number,
  shift: number,
): { readonly order: Uint16Array; readonly cells: number } {
  const order = new Uint16Array(first.length);
  let cells = 0;
  // The first and the last row lie beside everything.
  for (let i = width; i < order.length - width; i += 1) {
    let value = first[i] as number;
    if (value === 0) {
      const left = first[i - 1] as number;
      const right = first[i + 1] as number;
      if (left > 0 && right > 0) value = left > right ? left : right;
      else {
        const up = first[i - width] as number;
        const down = first[i + width] as number;
        if (up === 0 || down === 0) continue;
        value = up > down ? up : down;
      }
    }
    cells += 1;
    order[i] = 1 + ((value - 1) >> shift);
  }
  return { order, cells };
}

/** Seconds of printing at which a length of strand has been pushed on; the whole print where it is never reached. */
export function secondsAtStrand({ slotMm, slotS, totalS }: LaidPrint, strandMm: number): number {
  const slot = firstAtLeast(slotMm, strandMm);
  return slot < slotS.length ? (slotS[slot] as number) : totalS;
}

/** The layer that is being laid at a moment, counted from 1; 0 before the first. */
export function layerAt({ layers, slotS }: LaidPrint, atS: number): number {
  let low = 0;
  let high = layers.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    const { firstSlot } = layers[middle] as LaidLayer;
    const begins = firstSlot === 0 ? 0 : (slotS[firstSlot - 1] as number);
    if (begins < atS - 1e-9) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** When a layer begins and ends, seconds of printing; `layer` counted from 1. */
export function layerSpan(
  { layers, slotS, totalS }: LaidPrint,
  layer: number,
): readonly [number, number] {
  const first = layers[layer - 1]?.firstSlot ?? 0;
  const next = layers[layer]?.firstSlot ?? slotS.length;
  return [first > 0 ? (slotS[first - 1] as number) : 0, next > 0 ? (slotS[next - 1] ?? totalS) : 0];
}

/** Index of the first value of a rising list that is at least as great as one. */
export function firstAtLeast(list: Float64Array, value: number): number {
  let low = 0;
  let high = list.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((list[middle] as number) < value) low = middle + 1;
    else high = middle;
  }
  return low;
}
