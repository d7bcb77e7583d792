import type { SwapSheet } from '#core/schedule/swap-sheet.ts';
import { formatMm } from '#core/schedule/words.ts';
import { hatchInk, HatchPatterns } from '../../ui/Hatch.tsx';
import styles from './SheetPaper.module.css';

const WIDTH = 200;
const HEIGHT = 230;
const BAR = { x: 44, width: 46 };
const ROOM = 10;

/** Lines of text must not lie closer than this. */
const LEAST_GAP = 22;

/** The section as a ruler: each band to scale with its hatch, each stop at its height. */
export function HeightRuler({ sheet: whole }: { readonly sheet: SwapSheet }) {
  // Inlays lie beside the lowest band, and what changes in there has no height of its own.
  const { flush } = whole;
  const sheet = flush
    ? {
        ...whole,
        bands: whole.bands.slice(flush.filaments.length),
        swaps: whole.swaps.filter(({ inside }) => !inside),
      }
    : whole;
  const y = (mm: number): number => HEIGHT - ROOM - (mm / sheet.thicknessMm) * (HEIGHT - 2 * ROOM);
  // From the plate up; what would lie over its neighbour is moved, and a thin line leads back.
  const places: number[] = [];
  for (const { stopAfterMm } of sheet.swaps)
    places.push(Math.min(y(stopAfterMm), (places.at(-1) ?? HEIGHT + LEAST_GAP) - LEAST_GAP));
  // Too many for the room above: they are pushed down again from the top.
  let above = -Infinity;
  for (let i = places.length - 1; i >= 0; i -= 1) {
    const place = Math.max(places[i] ?? 0, above + LEAST_GAP, ROOM + 8);
    places[i] = place;
    above = place;
  }
  const ticks = ticksOf(sheet.thicknessMm);
  let below = 0;
  return (
    <svg
      className={styles.ruler}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={`Ruler of heights: ${sheet.bands.map(({ letter, endMm }) => `${letter} up to ${formatMm(endMm)}`).join(', ')}`}
      data-testid="height-ruler"
    >
      <HatchPatterns
        prefix="ruler"
        colours={sheet.bands.map(({ filament }) => hatchInk(filament.colour))}
      />
      {ticks.map((mm) => (
        <g key={mm}>
          <line x1={BAR.x - 6} x2={BAR.x} y1={y(mm)} y2={y(mm)} stroke="currentColor" />
          {/* The plate's own line says what 0 would. */}
          {mm === 0 ? null : (
            <text x={BAR.x - 9} y={y(mm) + 3.5} textAnchor="end">
              {mm}
            </text>
          )}
        </g>
      ))}
      {sheet.bands.map((band, i) => {
        const top = y(band.endMm);
        const height = y(below) - top;
        below = band.endMm;
        return (
          <g key={band.letter}>
            <rect x={BAR.x} y={top} width={BAR.width} height={height} fill={band.filament.colour} />
            <rect
              x={BAR.x}
              y={top}
              width={BAR.width}
              height={height}
              fill={`url(#ruler-${i})`}
              stroke="currentColor"
              strokeWidth={0.7}
            />
          </g>
        );
      })}
      <line x1={4} x2={WIDTH - 4} y1={y(0)} y2={y(0)} stroke="currentColor" strokeWidth={1.6} />
      {sheet.swaps.map((swap, i) => {
        const at = y(swap.stopAfterMm);
        const place = places[i] ?? at;
        const left = BAR.x + BAR.width;
        return (
          <g key={swap.swapNumber}>
            <path
              d={`M${BAR.x} ${at}H${left + 8}L${left + 16} ${place}`}
              fill="none"
              stroke="currentColor"
              strokeWidth={1.2}
            />
            <text x={left + 19} y={place + 1} className={styles.rulerStop}>
              {swap.fromLetter} → {swap.toLetter} {formatMm(swap.stopAfterMm)}
            </text>
            <text x={left + 19} y={place + 11}>
              then layer {swap.layerNumber}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

/** About six heights that are easy to read, from the plate up. */
function ticksOf(thicknessMm: number): number[] {
  const rough = thicknessMm / 6;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((factor) => factor * power).find((size) => size >= rough) ?? rough;
  return Array.from({ length: Math.floor(thicknessMm / step + 1e-9) + 1 }, (_, i) =>
    Number((i * step).toFixed(3)),
  );
}
