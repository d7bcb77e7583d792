/** What a line of G-code is. */
export const LINE = { blank: 0, remark: 1, words: 2, named: 3, bad: 4 } as const;
export type LineKind = (typeof LINE)[keyof typeof LINE];

/** A letter's place in masks and values: 0 for A to 25 for Z. */
export function letterOf(letter: string): number {
  return letter.charCodeAt(0) - 65;
}

/** Longest line that is looked at, bytes; of a longer one only that it is there. */
export const LONGEST_LINE = 65_536;

/** What can be wrong with a line. */
export type LineFault = 'bad-number' | 'bad-word' | 'too-long' | 'bad-checksum' | 'bad-arc';

/** Takes the lines of a file, one after the other; the scanner has what the present one says. */
export interface LineTaker {
  line(scanner: LineScanner): void;
}

const LF = 10;
const CR = 13;
const BLANK = 32;
const TAB = 9;
const SEMICOLON = 59;
const POINT = 46;
const MINUS = 45;
const PLUS = 43;
const STAR = 42;
const G = 71;
const M = 77;
const N = 78;
const T = 84;
/** G, M, N and T make more of a line than a move. */
const MORE = [G, M, N, T].reduce((mask, letter) => mask | (1 << (letter - 65)), 0);
const POWERS = Float64Array.from({ length: 10 }, (_, digits) => 10 ** digits);

/** M codes whose rest of the line is a text, not words. */
const TEXTS: ReadonlySet<number> = new Set([0, 1, 16, 23, 28, 30, 32, 117, 118]);

/** What must follow a line's last letter for it to be a word and no name. */
const isLetter = (byte: number): boolean =>
  (byte >= 65 && byte <= 90) || (byte >= 97 && byte <= 122) || byte === 95;
const isDigit = (byte: number): boolean => byte >= 48 && byte <= 57;

/**
 * Splits bytes, in chunks of any size, into lines, and lines into words: a letter and a number (RS-274/NGC, NIST 2000, section
 * 3.3). No strings are made. A quick path reads `G0` and `G1` in the usual spelling; a general one everything else: any case, no
 * blanks, `.5`, N and `*`, remarks in parentheses, named commands, text after M0 and M117. E never is an exponent.
 */
export class LineScanner {
  /** Numbers of the letters that have one, by {@link letterOf}. */
  readonly values = new Float64Array(26);
  /** One bit for each letter with a number, and one for each without. */
  mask = 0;
  bare = 0;
  kind: LineKind = LINE.blank;
  /** Letter (as a character code) and number of the command; 0 and -1 where a line has none. */
  letter = 0;
  command = -1;
  /** Numbers of further G words of the same line. */
  further: number[] = [];
  /** Whether the line has a number (`N10`) in front. */
  numbered = false;
  fault: LineFault | null = null;
  /** Place of the line in the file: counted from 1; and its first byte. */
  lineNumber = 0;
  start = 0;
  /** Bytes with the line, and where it lies in them; its line end is left out. */
  bytes: Uint8Array = new Uint8Array(0);
  from = 0;
  to = 0;

  /** Whether most lines so far end with CR LF. */
  get crlf(): boolean {
    return 2 * this.#returns > this.lineNumber;
  }
  #returns = 0;
  #carry = new Uint8Array(LONGEST_LINE + 2);
  #carried = 0;
  /** Bytes of the present line that were left out, as it is too long. */
  #dropped = 0;
  /** Bytes before the present chunk. */
  #before = 0;
  /** Whether lines end with CR alone, as very old editors write them; null until the first line end is seen. */
  #loneReturns: boolean | null = null;

  constructor(private readonly taker: LineTaker) {}

  /** Where in the file the next chunk begins; lines are counted on from the one before it. */
  begin(offset: number, linesBefore: number): void {
    this.#before = offset;
    this.#carried = 0;
    this.#dropped = 0;
    this.lineNumber = linesBefore;
  }

  /** Reads a chunk; a line that it does not finish waits for the next one. */
  feed(bytes: Uint8Array): void {
    const chunk = this.#withLineFeeds(bytes);
    let at = 0;
    if (this.#carried > 0 || this.#dropped > 0) {
      const end = chunk.indexOf(LF);
      const rest = end < 0 ? chunk.length : end + 1;
      this.#keep(chunk, 0, rest);
      if (end < 0) {
        this.#before += chunk.length;
        return;
      }
      this.#takeCarried(this.#before + rest);
      at = rest;
    }
    const last = chunk.lastIndexOf(LF) + 1;
    if (last > at) this.#take(chunk, at, last, this.#before);
    if (last > at) at = last;
    if (at < chunk.length) this.#keep(chunk, at, chunk.length);
    this.#before += chunk.length;
  }

  /** The same bytes with LF for each CR where lines end with CR alone: so many bytes that every place stays what it is. */
  #withLineFeeds(bytes: Uint8Array): Uint8Array {
    if (this.#loneReturns === null) {
      const first = bytes.findIndex((byte) => byte === LF || byte === CR);
      // A CR that a chunk ends with may belong to an LF in the next one: a single line is no loss.
      if (first >= 0 && first + 1 < bytes.length)
        this.#loneReturns = bytes[first] === CR && bytes[first + 1] !== LF;
    }
    return this.#loneReturns === true ? bytes.map((byte) => (byte === CR ? LF : byte)) : bytes;
  }

  /** Whether a line was begun that has no end yet. */
  get waiting(): boolean {
    return this.#carried > 0 || this.#dropped > 0;
  }

  /** The file ends: what was not finished by a line end is a line as well. */
  end(): void {
    if (!this.waiting) return;
    const end = this.#before;
    this.#carry[Math.min(this.#carried, LONGEST_LINE + 1)] = LF;
    this.#carried = Math.min(this.#carried, LONGEST_LINE + 1) + 1;
    this.#takeCarried(end + 1);
  }

  /** What a remark, a name or a message says; for lines where that matters, as it makes a string. */
  text(most = 200): string {
    let text = '';
    for (let i = this.from; i < this.to && i < this.from + most; i += 1)
      text += String.fromCharCode(this.bytes[i] as number);
    return text;
  }

  #keep(chunk: Uint8Array, from: number, to: number): void {
    const room = Math.max(0, LONGEST_LINE + 1 - this.#carried);
    const kept = Math.min(room, to - from);
    this.#carry.set(chunk.subarray(from, from + kept), this.#carried);
    this.#carried += kept;
    this.#dropped += to - from - kept;
  }

  /** @param end place in the file of the byte after the line */
  #takeCarried(end: number): void {
    const length = this.#carried;
    const start = end - length - this.#dropped;
    if (this.#dropped > 0) {
      this.lineNumber += 1;
      this.start = start;
      this.#general(this.#carry, 0, 0);
      this.kind = LINE.bad;
      this.fault = 'too-long';
      this.taker.line(this);
    } else this.#take(this.#carry, 0, length, start);
    this.#carried = 0;
    this.#dropped = 0;
  }

  /** Whole lines: each ends with LF. */
  #take(bytes: Uint8Array, from: number, to: number, before: number): void {
    this.bytes = bytes;
    let at = from;
    while (at < to) {
      this.lineNumber += 1;
      this.start = before + at;
      let next = this.#quick(bytes, at);
      if (next < 0) {
        next = bytes.indexOf(LF, at) + 1;
        let end = next - 1;
        if (end > at && bytes[end - 1] === CR) {
          end -= 1;
          this.#returns += 1;
        }
        if (end - at > LONGEST_LINE) {
          this.#general(bytes, at, at);
          this.kind = LINE.bad;
          this.fault = 'too-long';
        } else this.#general(bytes, at, end);
      }
      this.taker.line(this);
      at = next;
    }
  }

  /** Reads a plain move; -1 where the line is anything else. Otherwise the place after its line end. */
  #quick(bytes: Uint8Array, at: number): number {
    if (bytes[at] !== G || bytes[at + 2] !== BLANK) return -1;
    const code = (bytes[at + 1] as number) - 48;
    if (code !== 0 && code !== 1) return -1;
    const { values } = this;
    let mask = 0;
    let i = at + 3;
    let b = bytes[i] as number;
    for (;;) {
      while (b === BLANK) b = bytes[(i += 1)] as number;
      if (b === LF) break;
      if (b === CR && bytes[i + 1] === LF) {
        this.#returns += 1;
        this.to = i;
        i += 1;
        break;
      }
      const letter = b - 65;
      const bit = 1 << letter;
      if (letter >>> 0 > 25 || ((mask | MORE) & bit) !== 0) return -1;
      b = bytes[(i += 1)] as number;
      const negative = b === MINUS;
      if (negative) b = bytes[(i += 1)] as number;
      let number = 0;
      let digits = i;
      let decimals = 0;
      let digit = b - 48;
      while (digit >>> 0 < 10) {
        number = (Math.imul(number, 10) + digit) | 0;
        b = bytes[(i += 1)] as number;
        digit = b - 48;
      }
      digits = i - digits;
      if (b === POINT) {
        b = bytes[(i += 1)] as number;
        decimals = i;
        digit = b - 48;
        while (digit >>> 0 < 10) {
          number = (Math.imul(number, 10) + digit) | 0;
          b = bytes[(i += 1)] as number;
          digit = b - 48;
        }
        decimals = i - decimals;
        digits += decimals;
      }
      // Nine digits fit an int32, and one division rounds as parsing the text would.
      if (digits === 0 || digits > 9) return -1;
      if (b > BLANK ? (b - 65) >>> 0 > 25 : b !== BLANK && b !== LF && b !== CR) return -1;
      const value = decimals === 0 ? number : number / (POWERS[decimals] as number);
      values[letter] = negative ? -value : value;
      mask |= bit;
    }
    this.kind = LINE.words;
    this.letter = G;
    this.command = code;
    this.mask = mask;
    this.bare = 0;
    this.numbered = false;
    this.fault = null;
    this.bytes = bytes;
    this.from = at;
    if (bytes[i - 1] !== CR) this.to = i;
    if (this.further.length > 0) this.further = [];
    return i + 1;
  }

  #general(bytes: Uint8Array, from: number, to: number): void {
    this.#reset(bytes, from, to);
    let i = from;
    if (this.lineNumber === 1 && bytes[i] === 0xef && bytes[i + 1] === 0xbb) i += 3;
    while (i < to) {
      const b = bytes[i] as number;
      if (b === BLANK || b === TAB || b === CR) i += 1;
      else if (b === SEMICOLON) {
        if (this.kind === LINE.blank && !this.numbered) {
          this.kind = LINE.remark;
          this.from = i;
        }
        return;
      } else if (b === 40) {
        const close = bytes.indexOf(41, i);
        i = close < 0 || close >= to ? to : close + 1;
      } else if (b === 37 && this.kind === LINE.blank) return;
      else if (b === STAR) {
        this.#checksum(bytes, from, i, to);
        return;
      } else if (this.kind === LINE.blank && isName(bytes, i, to)) {
        this.kind = LINE.named;
        this.from = i;
        return;
      } else {
        i = this.#word(bytes, i, to);
        if (this.fault || i >= to) return;
        if (this.letter === M && TEXTS.has(this.command)) return;
      }
    }
  }

  /** Nothing is known of a line yet. */
  #reset(bytes: Uint8Array, from: number, to: number): void {
    this.kind = LINE.blank;
    this.letter = 0;
    this.command = -1;
    this.mask = 0;
    this.bare = 0;
    this.numbered = false;
    this.fault = null;
    if (this.further.length > 0) this.further = [];
    this.bytes = bytes;
    this.from = from;
    this.to = to;
  }

  /** Reads one word and gives the place after it. */
  #word(bytes: Uint8Array, at: number, to: number): number {
    const upper = (bytes[at] as number) & 0xdf;
    const letter = upper - 65;
    if (!isLetter(bytes[at] as number) || letter < 0 || letter > 25)
      return this.#bad('bad-word', at);
    let i = at + 1;
    while (i < to && bytes[i] === BLANK) i += 1;
    const first = i;
    if (bytes[i] === MINUS || bytes[i] === PLUS) i += 1;
    let digits = 0;
    let points = 0;
    for (; i < to; i += 1) {
      if (isDigit(bytes[i] as number)) digits += 1;
      else if (bytes[i] === POINT && points === 0) points = 1;
      else break;
    }
    if (digits === 0) {
      // A letter by itself is right after some commands (G28 X); a sign or a point by itself is not.
      const alone = i === first;
      if (!alone || this.kind === LINE.blank) return this.#bad('bad-number', at);
      const after = bytes[i] as number;
      const ends = i >= to || after === SEMICOLON || after === STAR || isLetter(after);
      if (!ends || (i === at + 1 && i < to && isLetter(after))) return this.#bad('bad-number', at);
      this.bare |= 1 << letter;
      return i;
    }
    const after = i < to ? (bytes[i] as number) : BLANK;
    if (
      after !== BLANK &&
      after !== TAB &&
      after !== SEMICOLON &&
      after !== STAR &&
      after !== 40 &&
      !isLetter(after)
    )
      return this.#bad('bad-number', at);
    let text = '';
    for (let k = first; k < i; k += 1) text += String.fromCharCode(bytes[k] as number);
    const value = Number(text);
    if (upper === N && this.kind === LINE.blank) {
      this.numbered = true;
      return i;
    }
    if (upper === G || upper === M || (upper === T && this.letter === 0)) {
      if (this.letter === 0) {
        this.letter = upper;
        this.command = value;
      } else if (upper === G) this.further.push(value);
      this.kind = LINE.words;
      return i;
    }
    const bit = 1 << letter;
    if ((this.mask & bit) !== 0) return this.#bad('bad-word', at);
    this.values[letter] = value;
    this.mask |= bit;
    this.kind = LINE.words;
    return i;
  }

  #bad(fault: LineFault, at: number): number {
    this.kind = LINE.bad;
    this.fault = fault;
    return at + 1;
  }

  /** The checksum of numbered lines is the exclusive or of all bytes before its star. Common practice, no source. */
  #checksum(bytes: Uint8Array, from: number, star: number, to: number): void {
    let sum = 0;
    for (let i = from; i < star; i += 1) sum ^= bytes[i] as number;
    let told = 0;
    let i = star + 1;
    for (; i < to && isDigit(bytes[i] as number); i += 1)
      told = told * 10 + (bytes[i] as number) - 48;
    if (i === star + 1 || told !== sum) this.fault = 'bad-checksum';
  }
}

/** Whether a name begins here: two letters and more, or a sign that programs put before their own commands. */
function isName(bytes: Uint8Array, at: number, to: number): boolean {
  const b = bytes[at] as number;
  if (b === 64) return true;
  return isLetter(b) && at + 1 < to && isLetter(bytes[at + 1] as number);
}
