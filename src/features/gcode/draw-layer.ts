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

/** Draws the ways of layers: what is laid as wide as it is, travels thin, the nozzle where it is. */
export function drawLayer(
  context: CanvasRenderingContext2D,
  frame: DeskFrame,
  { width, height }: { readonly width: number; readonly height: number },
  drawn: DrawnLayer,
): void {
  const { lines, until, layer, travels, colourOf } = drawn;
  context.clearRect(0, 0, width, height);
  const x = (mm: number): number => frame.left + mm * frame.scale;
  const y = (mm: number): number => frame.top - mm * frame.scale;
  const { points, laid } = lines;
  context.lineCap = 'round';
  const line = Math.max(1, 0.86 * drawn.lineMm * frame.scale);
  const stroke = (from: number, to: number, kind: 0 | 1): void => {
    context.beginPath();
    for (let i = from; i < to; i += 1) {
      if (laid[i] !== kind) continue;
      context.moveTo(x(points[4 * i] as number), y(points[4 * i + 1] as number));
      context.lineTo(x(points[4 * i + 2] as number), y(points[4 * i + 3] as number));
    }
    context.stroke();
  };
  const count = laid.length;
  for (let from = 0; from < count;) {
    const own = lines.layer[from] as number;
    let to = from;
    while (to < count && lines.layer[to] === own) to += 1;
    const done = Math.min(to, until);
    context.strokeStyle = colourOf(own);
    context.lineWidth = line;
    context.globalAlpha = own === layer ? 1 : 0.35;
    if (done > from) stroke(from, done, 1);
    // What is still to come is seen as through a veil.
    context.globalAlpha = 0.16;
    if (to > done) stroke(Math.max(from, done), to, 1);
    context.globalAlpha = 1;
    if (travels && own === layer) {
      context.strokeStyle = drawn.ink;
      context.lineWidth = 1;
      context.globalAlpha = 0.55;
      context.setLineDash([4, 3]);
      stroke(from, done, 0);
      context.setLineDash([]);
      context.globalAlpha = 1;
    }
    from = to;
  }
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
