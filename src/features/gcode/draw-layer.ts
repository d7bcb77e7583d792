import type { LayerLines } from '#core/gcode/layer-lines.ts';

/** How mm of the plate become pixels of the canvas: y grows to the back, and up on the screen. */
export interface DeskFrame {
  readonly scale: number;
  readonly left: number;
  readonly top: number;
}

export interface DrawnLayer {
  readonly lines: LayerLines;
  /** Stretches up to this one have been run. */
  readonly until: number;
  /** The layer that is shown; those below are set back. */
  readonly layer: number;
  readonly travels: boolean;
  readonly lineMm: number;
  /** Colour of a layer, counted from 1. */
  readonly colourOf: (layer: number) => string;
  readonly ink: string;
  readonly paper: string;
  readonly accent: string;
  readonly pauses: readonly { readonly x: number; readonly y: number }[];
}

/** Ways that are drawn in one go: the browser takes longer for each way of a go, the more it has. */
const WAYS_AT_ONCE = 500;

/** How long a frame may take before fewer ways are drawn in the next one, ms; and the ways of the first one. */
const FRAME_MS = 40;
const FIRST_FRAME_WAYS = 8000;

/**
 * Draws the ways of layers: what is laid as wide as it is, travels thin, the nozzle where it is. A layer of very many ways takes
 * several frames.
 * @returns goes on with the drawing at each step; what it yields is how many ways it drew
 */
export function* drawLayer(
  context: CanvasRenderingContext2D,
  frame: DeskFrame,
  { width, height }: { readonly width: number; readonly height: number },
  drawn: DrawnLayer,
): Generator<number, void> {
  const { lines, until, layer, travels, colourOf } = drawn;
  context.clearRect(0, 0, width, height);
  const x = (mm: number): number => frame.left + mm * frame.scale;
  const y = (mm: number): number => frame.top - mm * frame.scale;
  const { points, laid } = lines;
  context.lineCap = 'round';
  const line = Math.max(1, 0.86 * drawn.lineMm * frame.scale);
  /** How ways are drawn: between two goes others may draw. */
  type Pen = () => void;
  function* stroke(from: number, to: number, kind: 0 | 1, pen: Pen): Generator<number, void> {
    for (let begin = from; begin < to; begin += WAYS_AT_ONCE) {
      const end = Math.min(to, begin + WAYS_AT_ONCE);
      pen();
      context.beginPath();
      for (let i = begin; i < end; i += 1) {
        if (laid[i] !== kind) continue;
        context.moveTo(x(points[4 * i] as number), y(points[4 * i + 1] as number));
        context.lineTo(x(points[4 * i + 2] as number), y(points[4 * i + 3] as number));
      }
      context.stroke();
      yield end - begin;
    }
  }
  const laidPen =
    (own: number, alpha: number): Pen =>
    () => {
      context.strokeStyle = colourOf(own);
      context.lineWidth = line;
      context.globalAlpha = alpha;
      context.setLineDash([]);
    };
  const count = laid.length;
  for (let from = 0; from < count;) {
    const own = lines.layer[from] as number;
    let to = from;
    while (to < count && lines.layer[to] === own) to += 1;
    const done = Math.min(to, until);
    if (done > from) yield* stroke(from, done, 1, laidPen(own, own === layer ? 1 : 0.35));
    // What is still to come is seen as through a veil.
    if (to > done) yield* stroke(Math.max(from, done), to, 1, laidPen(own, 0.16));
    if (travels && own === layer)
      yield* stroke(from, done, 0, () => {
        context.strokeStyle = drawn.ink;
        context.lineWidth = 1;
        context.globalAlpha = 0.55;
        context.setLineDash([4, 3]);
      });
    from = to;
  }
  context.setLineDash([]);
  context.globalAlpha = 1;
  context.strokeStyle = drawn.ink;
  context.lineWidth = 2;
  for (const pause of drawn.pauses) {
    context.fillStyle = drawn.paper;
    context.beginPath();
    context.rect(x(pause.x) - 5, y(pause.y) - 5, 10, 10);
    context.fill();
    context.stroke();
  }
  const at = Math.min(count, until) - 1;
  if (at >= 0) {
    context.fillStyle = drawn.accent;
    context.beginPath();
    context.arc(
      x(points[4 * at + 2] as number),
      y(points[4 * at + 3] as number),
      6,
      0,
      2 * Math.PI,
    );
    context.fill();
    context.stroke();
  }
}

/**
 * Runs a drawing at once where it is small, and else a part of it in each frame: as much as the frame before had time for.
 * @param done is told when all is drawn
 * @returns gives the drawing up
 */
export function inFrames(drawing: Generator<number, void>, done: () => void): () => void {
  let ways = FIRST_FRAME_WAYS;
  let before: number | null = null;
  let frame = 0;
  const go = (now: number | null): void => {
    // What is drawn is painted after this ends: only the time to the next frame tells what it took.
    if (now !== null && before !== null)
      ways = now - before > FRAME_MS ? Math.max(WAYS_AT_ONCE, ways / 2) : ways * 1.5;
    before = now;
    for (let drawn = 0; drawn < ways;) {
      const step = drawing.next();
      if (step.done) {
        done();
        return;
      }
      drawn += step.value;
    }
    frame = requestAnimationFrame(go);
  };
  go(null);
  return () => {
    cancelAnimationFrame(frame);
  };
}
