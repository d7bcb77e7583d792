import { pauseLines } from './pause.ts';
import { bedBox, type Printer } from './printer.ts';

/** The tile: 20 mm square, four layers, the stop after the second one. */
const SIDE_MM = 20;
const LAYERS = 4;
const STOP_AFTER = 2;

/** Heat for the commonest filament, in degrees Celsius. Common practice, no source. */
const NOZZLE_C = 210;
const BED_C = 60;

/** Strand that is drawn back on the way to the next layer, mm, and how far the head lifts. Common practice, no source. */
const RETRACT_MM = 1;
const LIFT_MM = 0.4;

/**
 * A tiny print to try a printer's pause with: whether it stops at all, parks away from the piece, and waits. Written with
 * relative extrusion in the common subset of G-code that printers share.
 * @returns text, one command a line
 */
export function writePauseTest(printer: Printer): string {
  const { firstLayerMm, layerMm, lineMm, filamentMm, pause } = printer;
  const { widthMm, depthMm } = bedBox(printer.bed);
  // A round bed has its zero in the middle.
  const round = printer.bed.shape === 'round';
  const left = (round ? 0 : widthMm / 2) - SIDE_MM / 2;
  const front = (round ? 0 : depthMm / 2) - SIDE_MM / 2;
  const strandMm2 = (Math.PI / 4) * filamentMm ** 2;
  const topMm = (layer: number): number => firstLayerMm + (layer - 1) * layerMm;
  const lines = [
    `; pause test for ${pause.command}: a tile of ${SIDE_MM} x ${SIDE_MM} mm, ${LAYERS} layers`,
    `; it must stop when layer ${STOP_AFTER} (${mm(topMm(STOP_AFTER))} mm) is finished, and wait`,
    'G21 ; millimetres',
    'G90 ; positions are absolute',
    'M83 ; extrusion is relative',
    `M140 S${BED_C}`,
    `M104 S${NOZZLE_C}`,
    `M190 S${BED_C}`,
    `M109 S${NOZZLE_C}`,
    'G28 ; home',
  ];
  for (let layer = 1; layer <= LAYERS; layer += 1) {
    if (layer === STOP_AFTER + 1)
      lines.push(
        '; the pause',
        ...pauseLines(pause, {
          swap: 1,
          layer,
          stopMm: Number(mm(topMm(STOP_AFTER))),
          topMm: Number(mm(topMm(layer))),
          from: 'first',
          to: 'second',
          purgeMm: printer.purgeToLightMm,
          stamp: 'test',
        }),
      );
    lines.push(...layerLines(layer));
  }
  return `${[
    ...lines,
    `G1 E-${RETRACT_MM} F1800`,
    `G0 Z${mm(topMm(LAYERS) + 10)} F600`,
    'M104 S0',
    'M140 S0',
    'M84 ; motors off',
  ].join('\n')}\n`;

  /** One outline, then straight lines, turned by a quarter with every layer. */
  function layerLines(layer: number): string[] {
    const height = layer === 1 ? firstLayerMm : layerMm;
    const speed = 60 * (layer === 1 ? printer.firstLayerMmS : printer.solidMmS);
    const perMm = (lineMm * height) / strandMm2;
    const out = [`; layer ${layer}, top at ${mm(topMm(layer))} mm`];
    let at: readonly [number, number] = [0, 0];
    const place = (x: number, y: number): string => `X${mm(left + x)} Y${mm(front + y)}`;
    const go = (x: number, y: number): void => {
      out.push(
        `G1 E-${RETRACT_MM} F1800`,
        `G0 Z${mm(topMm(layer) + LIFT_MM)} F600`,
        `G0 ${place(x, y)} F${60 * printer.travelMmS}`,
        `G0 Z${mm(topMm(layer))} F600`,
        `G1 E${RETRACT_MM} F1800`,
      );
      at = [x, y];
    };
    const draw = (x: number, y: number, feed: number): void => {
      const length = Math.hypot(x - at[0], y - at[1]);
      out.push(`G1 ${place(x, y)} E${(length * perMm).toFixed(5)} F${feed}`);
      at = [x, y];
    };
    const edge = lineMm / 2;
    const far = SIDE_MM - edge;
    go(edge, edge);
    const outline = 60 * (layer === 1 ? printer.firstLayerMmS : printer.outlineMmS);
    for (const [x, y] of [
      [far, edge],
      [far, far],
      [edge, far],
      [edge, edge],
    ] as const)
      draw(x, y, outline);
    const turned = layer % 2 === 0;
    const inner = edge + lineMm;
    const end = SIDE_MM - inner;
    const rows = Math.max(1, Math.floor((end - inner) / lineMm));
    const spot = (along: number, across: number): readonly [number, number] =>
      turned ? [across, along] : [along, across];
    go(...spot(inner, inner));
    for (let row = 0; row <= rows; row += 1) {
      const across = inner + ((end - inner) * row) / rows;
      if (row > 0) draw(...spot(row % 2 === 0 ? inner : end, across), speed);
      draw(...spot(row % 2 === 0 ? end : inner, across), speed);
    }
    return out;
  }
}

function mm(value: number): string {
  return value.toFixed(3).replace(/\.?0+$/, '');
}
