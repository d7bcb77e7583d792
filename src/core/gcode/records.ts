/** Laid lines whose heights differ by less lie on one layer, mm. */
export const SAME_HEIGHT_MM = 0.004;

/** What a remark says about the lines after it. Words of the trade; no program spells them like another. */
export const PARTS = ['body', 'skirt', 'brim', 'support', 'tower'] as const;
export type Part = (typeof PARTS)[number];

/** A place in a file where lines can be put in, with the printer's state there. */
export interface Place {
  /** The line in front of which they go, counted from 1, and its first byte. */
  readonly line: number;
  readonly offset: number;
  readonly state: Float64Array;
}

/** What was laid at one height, from when it was reached until another one was. */
export interface LayerRecord {
  /** Height of the highest laid line, and where sloped ones began, mm. */
  topMm: number;
  bottomMm: number;
  /** Strand pushed on, less what was drawn back, mm; and what was pushed on alone. */
  strandMm: number;
  forwardMm: number;
  laidMm: number;
  slopedMm: number;
  travelMm: number;
  /** Way over speed; and with acceleration. */
  plainS: number;
  seconds: number;
  /** Box of what was laid: left, front, right, back; mm. */
  box: [number, number, number, number];
  /** Sums of middles of laid lines by their length, mm2. */
  sumX: number;
  sumY: number;
  /** Lines: where it begins, its first and its last laid one, where it ends. */
  firstLine: number;
  laidLine: number;
  lastLaidLine: number;
  lastLine: number;
  /** Where lines can go in before it. */
  readonly place: Place;
  /** Whether a remark marked its beginning, and whether one had come at all. */
  readonly marked: boolean;
  readonly afterMarks: boolean;
  /** Tools in the order of their use. */
  tools: number[];
  /** Strand by part as remarks name them, and by tool, mm. */
  parts: Partial<Record<Part, number>>;
  byTool: Map<number, number>;
}

/** What is laid right after a tool change, up to the first travel. */
export interface ToolRun {
  readonly lines: { readonly line: number; readonly offset: number; readonly text: string }[];
  readonly box: [number, number, number, number];
}

/** A line that is no move but matters. */
export interface GcodeEvent {
  readonly kind: 'pause' | 'tool' | 'heat' | 'own' | 'off' | 'motors' | 'end';
  readonly line: number;
  readonly offset: number;
  /** The line as it stands. */
  readonly text: string;
  readonly numbered: boolean;
  /** Command, `M600`; for a tool or the temperature of one, its number. */
  readonly command: string;
  readonly tool: number | null;
  /** Tool in use at that line. */
  readonly inUse: number;
  /** Of a tool change: the laid lines from it to the first travel after one, by their first bytes, and their box. */
  run: ToolRun | null;
  /** Record that the line lies in, or that begins after it; -1 after all. */
  record: number;
  /** Whether it lies between laid lines of its record. */
  inside: boolean;
}
