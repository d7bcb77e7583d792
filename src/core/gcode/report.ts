import type { Meaning } from './machine.ts';
import type { LineFault } from './scanner.ts';
import type { LayerBook } from './layers.ts';
import {
  SAME_HEIGHT_MM,
  type GcodeEvent,
  type LayerRecord,
  type Part,
  type Place,
} from './records.ts';

/** A layer of a sliced file. */
export interface GcodeLayer {
  /** Counted from 1 over the whole file; and within its piece, where pieces are printed one after the other. */
  readonly layer: number;
  readonly object: number;
  readonly layerOfObject: number;
  readonly topMm: number;
  readonly heightMm: number;
  /** Strand, less what is drawn back, mm; and what is pushed on alone. */
  readonly filamentMm: number;
  readonly forwardMm: number;
  readonly laidMm: number;
  readonly travelMm: number;
  readonly seconds: number;
  /** Left, front, right and back of what is laid, and its middle, mm. */
  readonly box: readonly [number, number, number, number];
  readonly middle: readonly [number, number];
  readonly firstLine: number;
  readonly laidLine: number;
  readonly lastLine: number;
  readonly tools: readonly number[];
  readonly parts: Readonly<Partial<Record<Part, number>>>;
  /** Strand that each tool lays, mm. */
  readonly byTool: ReadonlyMap<number, number>;
  readonly sloped: boolean;
  /** Where lines go in before it. */
  readonly place: Place;
}

/** An event with the layer, counted from 1 over the file, that it lies in or before; 0 after all. */
export interface PlacedEvent extends Omit<GcodeEvent, 'record'> {
  readonly layer: number;
}

/** What is in a sliced file. */
export interface GcodeReport {
  readonly bytes: number;
  readonly lines: number;
  readonly crlf: boolean;
  readonly layers: readonly GcodeLayer[];
  /** Pieces printed one after the other. */
  readonly objects: number;
  readonly tools: readonly number[];
  readonly pauses: readonly PlacedEvent[];
  readonly events: readonly PlacedEvent[];
  /** Strand of everything, mm, that for priming included; and seconds. */
  readonly filamentMm: number;
  readonly seconds: number;
  /** Of it, what is laid before the first layer. */
  readonly primingMm: number;
  readonly primingS: number;
  /** How the filament words are meant at the end; and what was taken where the file does not say it clearly. */
  readonly relative: boolean;
  readonly meaning: Meaning;
  readonly spiral: boolean;
  /** Whether the file ends with a laid line, as one does that was not copied whole. */
  readonly cutOff: boolean;
  readonly settings: Readonly<Record<string, string>>;
  readonly badLines: readonly {
    readonly line: number;
    readonly code: LineFault;
    readonly text: string;
  }[];
  readonly badCount: number;
}

/** A share of laid lines that rise at which layers are a spiral's turns. */
const SPIRAL = 0.5;

/** Parts that are no part of the piece. */
const BESIDE: readonly Part[] = ['skirt', 'brim', 'support', 'tower'];

/** Sorts the records of a file into what is laid before the first layer, layers, and pieces that are printed one after the other. */
export function makeReport(
  book: LayerBook,
  facts: Pick<GcodeReport, 'bytes' | 'crlf' | 'relative' | 'meaning'> & {
    /** Whether the last line has no line end. */
    readonly openEnd: boolean;
  },
): GcodeReport {
  const { records } = book;
  const primed = primingRecords(book);
  const groups = layersOf(records, primed);
  const layerOf = new Int32Array(records.length);
  const layers: GcodeLayer[] = [];
  let object = 1;
  let ofObject = 0;
  let below = 0;
  for (const group of groups) {
    if (group.restarts) {
      object += 1;
      ofObject = 0;
      below = 0;
    }
    ofObject += 1;
    const { parts } = group;
    for (const n of parts) layerOf[n] = layers.length + 1;
    const own = parts.map((n) => records[n] as LayerRecord);
    layers.push(makeLayer(own, { layer: layers.length + 1, object, ofObject, below }));
    below = layers.at(-1)?.topMm ?? below;
  }
  for (let n = 0; n < primed; n += 1) layerOf[n] = 1;
  const events = book.events.map(({ record, ...event }): PlacedEvent => ({
    ...event,
    // What stands among priming comes before layer 1.
    inside: event.inside && record >= primed,
    layer: record < 0 ? 0 : (layerOf[record] ?? 0),
  }));
  // A run that lies outside all else only primes; one within the piece is the piece.
  for (const event of events)
    if (event.run && (event.run.lines.length === 0 || touches(event.run.box, book.body)))
      event.run = null;
  const priming = records.slice(0, primed);
  const sum = (list: readonly LayerRecord[], of: (record: LayerRecord) => number): number =>
    list.reduce((total, record) => total + of(record), 0);
  const [beforeStrand = 0, , , beforeS = 0] = book.early;
  const [afterStrand = 0, , , afterS = 0] = book.pending;
  const plainS = sum(records, ({ seconds }) => seconds) + beforeS + afterS;
  const laidMm = sum(records, (record) => record.laidMm);
  return {
    bytes: facts.bytes,
    lines: book.lastLine,
    crlf: facts.crlf,
    layers,
    objects: layers.length === 0 ? 0 : object,
    tools: [...new Set(layers.flatMap(({ tools }) => tools))].sort((a, b) => a - b),
    pauses: events.filter(({ kind }) => kind === 'pause'),
    events,
    filamentMm: sum(records, ({ strandMm }) => strandMm) + beforeStrand + afterStrand,
    seconds: book.timed ? book.clock.total : plainS,
    primingMm: sum(priming, ({ strandMm }) => strandMm) + beforeStrand,
    primingS: sum(priming, ({ seconds }) => seconds) + (book.timed ? 0 : beforeS),
    relative: facts.relative,
    meaning: facts.meaning,
    spiral: laidMm > 0 && sum(records, ({ slopedMm }) => slopedMm) > SPIRAL * laidMm,
    cutOff: book.endsLaying || (facts.openEnd && book.endsMoving),
    settings: Object.fromEntries(book.settings),
    badLines: book.badLines,
    badCount: book.badCount,
  };
}

/** How many records at the beginning only prime the nozzle. */
function primingRecords({ records, marks }: LayerBook): number {
  const first = records[0];
  const second = records[1];
  if (!first || !second) return 0;
  const firstMarked = records.findIndex(({ afterMarks }) => afterMarks);
  if (marks > 0 && firstMarked > 0) {
    // Where marks stand only between layers, the first layer has none; it lies lower than the second, on the same place.
    const next = records[firstMarked] as LayerRecord;
    const before = records[firstMarked - 1] as LayerRecord;
    const isLayer =
      firstMarked === 1 &&
      before.topMm < next.topMm - SAME_HEIGHT_MM &&
      overlap(before.box, next.box) > 0.5;
    return isLayer ? 0 : firstMarked;
  }
  // Without marks, or after one that marks nothing: what lies higher than what comes next, beside it.
  return first.topMm > second.topMm + SAME_HEIGHT_MM && overlap(second.box, first.box) < 0.5
    ? 1
    : 0;
}

/** How near two boxes may lie and be apart, mm. */
const APART_MM = 0.5;

function touches(one: Box, other: Box): boolean {
  return (
    one[0] < other[2] + APART_MM &&
    other[0] < one[2] + APART_MM &&
    one[1] < other[3] + APART_MM &&
    other[1] < one[3] + APART_MM
  );
}

type Box = readonly [number, number, number, number];

/** Share of the second box that the first one covers. */
function overlap(one: Box, other: Box): number {
  const width = Math.min(one[2], other[2]) - Math.max(one[0], other[0]);
  const depth = Math.min(one[3], other[3]) - Math.max(one[1], other[1]);
  const area = Math.max(1e-9, (other[2] - other[0]) * (other[3] - other[1]));
  return width > 0 && depth > 0 ? (width * depth) / area : 0;
}

/** Records of each layer, and whether a further piece begins with it. */
function layersOf(
  records: readonly LayerRecord[],
  primed: number,
): { readonly parts: number[]; readonly restarts: boolean }[] {
  const layers: { parts: number[]; restarts: boolean; topMm: number }[] = [];
  let firstTop = 0;
  let waiting: number[] = [];
  for (let n = primed; n < records.length; n += 1) {
    const record = records[n] as LayerRecord;
    const last = layers.at(-1);
    const top = last?.topMm ?? -Infinity;
    if (!last || record.topMm > top + SAME_HEIGHT_MM) {
      layers.push({ parts: [...waiting, n], restarts: false, topMm: record.topMm });
      if (!last) firstTop = record.topMm;
      waiting = [];
    } else if (Math.abs(record.topMm - top) <= SAME_HEIGHT_MM) last.parts.push(n);
    else if (record.topMm <= firstTop + SAME_HEIGHT_MM && restartsAt(records, n)) {
      layers.push({ parts: [...waiting, n], restarts: true, topMm: record.topMm });
      firstTop = record.topMm;
      waiting = [];
    }
    // A tower that lags behind: after a mark it opens the layer that is to come, otherwise it ends the present one.
    else if (record.marked && n + 1 < records.length) waiting.push(n);
    else last.parts.push(n);
  }
  if (waiting.length > 0) layers.at(-1)?.parts.push(...waiting);
  return layers;
}

/** Whether a piece begins at a record, and not a tower that is behind: what follows goes on from there. */
function restartsAt(records: readonly LayerRecord[], n: number): boolean {
  const record = records[n] as LayerRecord;
  const before = records[n - 1];
  const next = records[n + 1];
  if (!next) return record.strandMm > 0;
  // A tower that is behind is followed by a layer higher than any; a further piece rises from where it began.
  return !before || next.topMm <= before.topMm + SAME_HEIGHT_MM;
}

function makeLayer(
  own: readonly LayerRecord[],
  at: {
    readonly layer: number;
    readonly object: number;
    readonly ofObject: number;
    readonly below: number;
  },
): GcodeLayer {
  const sum = (of: (record: LayerRecord) => number): number =>
    own.reduce((total, record) => total + of(record), 0);
  const first = own[0] as LayerRecord;
  const topMm = Math.max(...own.map((record) => record.topMm));
  const laidMm = sum((record) => record.laidMm);
  const parts: Partial<Record<Part, number>> = {};
  for (const record of own)
    for (const [part, strand] of Object.entries(record.parts) as [Part, number][])
      parts[part] = (parts[part] ?? 0) + strand;
  const byTool = new Map<number, number>();
  for (const record of own)
    for (const [tool, strand] of record.byTool) byTool.set(tool, (byTool.get(tool) ?? 0) + strand);
  return {
    layer: at.layer,
    object: at.object,
    layerOfObject: at.ofObject,
    topMm: round(topMm),
    heightMm: round(topMm - at.below),
    filamentMm: sum((record) => record.strandMm),
    forwardMm: sum((record) => record.forwardMm),
    laidMm,
    travelMm: sum((record) => record.travelMm),
    seconds: sum((record) => record.seconds),
    box: [
      Math.min(...own.map(({ box }) => box[0])),
      Math.min(...own.map(({ box }) => box[1])),
      Math.max(...own.map(({ box }) => box[2])),
      Math.max(...own.map(({ box }) => box[3])),
    ],
    middle: [
      sum(({ sumX }) => sumX) / Math.max(laidMm, 1e-9),
      sum(({ sumY }) => sumY) / Math.max(laidMm, 1e-9),
    ],
    firstLine: first.firstLine,
    laidLine: first.laidLine,
    lastLine: (own.at(-1) as LayerRecord).lastLine,
    tools: [...new Set(own.flatMap(({ tools }) => tools))],
    parts,
    byTool,
    sloped: sum(({ slopedMm }) => slopedMm) > SPIRAL * laidMm,
    place: first.place,
  };
}

/** Strand of a layer that is the piece's own, as far as remarks tell, mm. */
export function ownStrandMm({ forwardMm, filamentMm, parts }: GcodeLayer): number {
  const beside = BESIDE.reduce((sum, part) => sum + (parts[part] ?? 0), 0);
  return Math.max(0, Math.min(filamentMm, forwardMm) - beside);
}

const round = (mm: number): number => Math.round(mm * 1e5) / 1e5;
