import { formatHex } from '#core/colour/srgb.ts';
import { layerTopMm } from '#core/stack/layer-grid.ts';
import { bandEnds, bandLetter, totalLayers } from '#core/stack/stack.ts';
import { useDocument, useLive } from '../../state/project-context.ts';
import { hatchInk, HatchPatterns } from '../../ui/Hatch.tsx';
import styles from './TagPanel.module.css';
import { usePlannedTag, useTag } from './use-tag.ts';

const HEIGHT = 190;
const BAR_X = 44;
const BAR_WIDTH = 66;
const LABEL_X = 122;
/** Lines of a label need this much room, px. */
const LABEL_PX = 30;
/** And one of an inlay so much. */
const INLAY_PX = 16;

/** The bands from the side, to scale in mm. */
export function TagSection() {
  const { grid, bands, filaments } = useDocument((state) => state.document.stack);
  const ramp = useLive((state) => state.ramp);
  const ends = bandEnds(bands);
  const totalMm = layerTopMm(grid, totalLayers(bands));
  const yOf = (mm: number): number => HEIGHT - 14 - (mm / totalMm) * (HEIGHT - 28);
  const step = totalMm > 6 ? 2 : totalMm > 2.5 ? 1 : 0.5;
  const marks = Array.from({ length: Math.floor(totalMm / step + 1e-6) + 1 }, (_, n) => n * step);
  const labels: { readonly y: number; readonly i: number }[] = [];
  ends.forEach((end, i) => {
    const middle = (yOf(layerTopMm(grid, end)) + yOf(layerTopMm(grid, ends[i - 1] ?? 0))) / 2;
    // From below upward, each at least one label above the one before.
    labels.push({ i, y: Math.min(middle, (labels.at(-1)?.y ?? Infinity) - LABEL_PX) });
  });
  const { flush } = useTag();
  const inlays = usePlannedTag().face?.inlays.filaments ?? [];
  const lowest = Math.min(0, ...labels.map(({ y }) => y - LABEL_PX / 2));
  const height = HEIGHT - lowest + (inlays.length > 0 ? INLAY_PX * inlays.length + 8 : 0);
  return (
    <svg
      className={styles.section}
      viewBox={`0 ${lowest} 340 ${height}`}
      style={{ height }}
      role="img"
      aria-label={`Section: ${bands
        .map(
          ({ filamentId, layers }, i) =>
            `band ${bandLetter(i)}, ${filaments[filamentId]?.name ?? filamentId}, ${layers} layers`,
        )
        .join('; ')}`}
      data-testid="tag-section"
    >
      <HatchPatterns
        prefix="tag-hatch"
        colours={bands.map(({ filamentId }) =>
          hatchInk(filaments[filamentId]?.colour ?? '#808080'),
        )}
      />
      {marks.map((mm) => (
        <g key={mm}>
          <line className={styles.mark} x1={36} x2={BAR_X} y1={yOf(mm)} y2={yOf(mm)} />
          <text className={styles.axis} x={30} y={yOf(mm) + 4}>
            {mm.toFixed(1)}
          </text>
        </g>
      ))}
      {ends.map((end, i) => {
        const [top, bottom] = [yOf(layerTopMm(grid, end)), yOf(layerTopMm(grid, ends[i - 1] ?? 0))];
        const filament = filaments[bands[i]?.filamentId ?? ''];
        const seen = formatHex(ramp[end - 1]?.colour ?? [128, 128, 128]);
        const colour = filament?.colour ?? '#808080';
        return (
          <g key={bands[i]?.id}>
            <rect x={BAR_X} width={BAR_WIDTH - 14} y={top} height={bottom - top} fill={seen} />
            <rect
              x={BAR_X + BAR_WIDTH - 14}
              width={14}
              y={top}
              height={bottom - top}
              fill={colour}
            />
            <rect
              x={BAR_X + BAR_WIDTH - 14}
              width={14}
              y={top}
              height={bottom - top}
              fill={`url(#tag-hatch-${i})`}
            />
            <line
              className={styles.edge}
              x1={BAR_X - 4}
              x2={BAR_X + BAR_WIDTH + 4}
              y1={top}
              y2={top}
            />
          </g>
        );
      })}
      {inlays.map((id, i) => {
        const top = yOf(layerTopMm(grid, flush.layers));
        const wide = (BAR_WIDTH - 14) / (2 * inlays.length + 1);
        return (
          <rect
            key={id}
            className={styles.inlay}
            x={BAR_X + (2 * i + 1) * wide}
            width={wide}
            y={top}
            height={yOf(0) - top}
            fill={filaments[id]?.colour ?? '#808080'}
            data-testid="section-inlay"
          />
        );
      })}
      {inlays.length > 0 ? (
        <>
          {inlays.map((id, i) => (
            <text key={id} className={styles.label} x={LABEL_X} y={HEIGHT + 4 + INLAY_PX * i}>
              {bandLetter(bands.length + i)} {filaments[id]?.name ?? id}
            </text>
          ))}
          <text
            className={styles.layers}
            x={LABEL_X}
            y={HEIGHT + 4 + INLAY_PX * (inlays.length - 1) + 14}
          >
            in the face, layers 1-{flush.layers}
          </text>
        </>
      ) : null}
      <line className={styles.edge} x1={20} x2={330} y1={yOf(0)} y2={yOf(0)} />
      {labels.map(({ y, i }) => (
        <g key={bands[i]?.id}>
          <text className={styles.label} x={LABEL_X} y={y - 2}>
            {bandLetter(i)} {filaments[bands[i]?.filamentId ?? '']?.name}
          </text>
          <text className={styles.layers} x={LABEL_X} y={y + 12}>
            layers {(ends[i - 1] ?? 0) + 1}-{ends[i]}
          </text>
        </g>
      ))}
    </svg>
  );
}
