import type { PieceWriter } from '../base/byte-pieces.ts';
import type { Printer } from '../printer/printer.ts';

/** Speed of ways straight up and down, mm/s. Common practice, no source. */
const Z_MM_S = 10;
/** Digits of places (mm) and of strand (mm) in the file. */
const PLACE = 1000;
const STRAND = 100_000;

/** What was written, for a piece of a print. */
export interface Written {
  /** Strand pushed on along lines, mm, as it stands in the file. */
  strandMm: number;
  laidMm: number;
  travelMm: number;
  retracts: number;
  lifts: number;
}

/**
 * Writes moves as G-code: places absolute, filament relative. Rounding of the strand is carried over to the next line, so that none is
 * lost. Flow: a line of a width takes width x height of plastic a millimetre, and the strand gives its own section a millimetre
 * (conservation of volume); rows that lie a line width apart then fill their layer.
 */
export class PrintWriter {
  readonly written: Written = { strandMm: 0, laidMm: 0, travelMm: 0, retracts: 0, lifts: 0 };
  readonly #strandMm2: number;
  #x = Number.NaN;
  #y = Number.NaN;
  #z = 0;
  #feed = 0;
  #carry = 0;

  constructor(
    private readonly out: PieceWriter,
    private readonly printer: Printer,
  ) {
    this.#strandMm2 = (Math.PI / 4) * printer.filamentMm ** 2;
  }

  lines(...lines: readonly string[]): void {
    for (const line of lines) this.out.text(`${line}\n`);
  }

  /** Goes straight up or down. */
  height(zMm: number): void {
    const z = Math.round(zMm * PLACE) / PLACE;
    if (z === this.#z) return;
    this.#z = z;
    this.lines(`G0 Z${z}${this.#feedWord(Z_MM_S)}`);
  }

  /** Strand drawn back before a way over nothing; pushed on again after it. */
  retract(): void {
    const { retractMm, retractMmS } = this.printer;
    if (retractMm === 0) return;
    this.written.retracts += 1;
    this.lines(`G1 E-${retractMm}${this.#feedWord(retractMmS)}`);
  }

  push(): void {
    const { retractMm, retractMmS } = this.printer;
    if (retractMm > 0) this.lines(`G1 E${retractMm}${this.#feedWord(retractMmS)}`);
  }

  /** Goes somewhere without laying. */
  travel(xMm: number, yMm: number): void {
    const x = Math.round(xMm * PLACE) / PLACE;
    const y = Math.round(yMm * PLACE) / PLACE;
    if (x === this.#x && y === this.#y) return;
    if (!Number.isNaN(this.#x)) this.written.travelMm += Math.hypot(x - this.#x, y - this.#y);
    this.#x = x;
    this.#y = y;
    this.lines(`G0 X${x} Y${y}${this.#feedWord(this.printer.travelMmS)}`);
  }

  /** Lays a straight line from where the nozzle is. */
  lay(xMm: number, yMm: number, widthMm: number, heightMm: number, speedMmS: number): void {
    const x = Math.round(xMm * PLACE) / PLACE;
    const y = Math.round(yMm * PLACE) / PLACE;
    if (x === this.#x && y === this.#y) return;
    const length = Math.hypot(x - this.#x, y - this.#y);
    const wanted = (length * widthMm * heightMm) / this.#strandMm2 + this.#carry;
    const strand = Math.round(wanted * STRAND) / STRAND;
    this.#carry = wanted - strand;
    this.#x = x;
    this.#y = y;
    this.written.laidMm += length;
    this.written.strandMm += strand;
    this.lines(`G1 X${x} Y${y} E${strand}${this.#feedWord(speedMmS)}`);
  }

  /** Where the nozzle is. */
  get place(): readonly [number, number] {
    return [this.#x, this.#y];
  }

  /** The word for a speed, where it is another one than before. */
  #feedWord(mmS: number): string {
    const feed = Math.round(60 * mmS);
    if (feed === this.#feed) return '';
    this.#feed = feed;
    return ` F${feed}`;
  }
}
