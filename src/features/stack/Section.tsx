import { lazy, memo, useEffect, useRef, useState } from 'react';
import { formatHex } from '#core/colour/srgb.ts';
import { idleLayers } from '#core/heights/notices.ts';
import { layerThicknessMm, layerTopMm, type LayerGrid } from '#core/stack/layer-grid.ts';
import { bandEnds, bandLetter, totalLayers } from '#core/stack/stack.ts';
import { coverLayers } from '#core/stack/stack-ramp.ts';
import { stackOf } from '../../state/document-facts.ts';
import { useDocument, useLive } from '../../state/project-context.ts';
import { hatchInk, HatchPatterns } from '../../ui/Hatch.tsx';
import { Late } from '../../ui/Late.tsx';
import { BandLabels, LabelPlaces } from './BandLabels.tsx';
import { BoundaryHandle } from './BoundaryHandle.tsx';
import styles from './Section.module.css';
import {
  axisMarks,
  placeLabels,
  BRACKET_PX,
  sectionScale,
  yOf,
  type SectionScale,
} from './section-geometry.ts';

const ZoneBrackets = lazy(async () => ({
  default: (await import('./zones/ZoneBrackets.tsx')).ZoneBrackets,
}));

const AXIS_X = 34;
/** Room beside the bars that brackets of zones may have. */
const MOST_BRACKETS_PX = 56;
const AREA_X = 108;
const STRIP_X = 112;
const STRIP_WIDTH = 56;
const EDGE_WIDTH = 14;
const FULL_LABEL_PX = 54;
const TRIM_LINE_PX = 15;
const SHORT_LABEL_PX = 26;

/** The stack from the side, to scale, with the handles that shape it. */
export const Section = memo(function Section({
  onPick,
}: {
  readonly onPick: (bandIndex: number, mode: 'replace' | 'above') => void;
}) {
  const document = useDocument((state) => state.document);
  const ramp = useLive((state) => state.ramp);
  const counts = useLive((state) => state.counts);
  const [height, setHeight] = useState(480);
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setHeight(entry.contentRect.height);
    });
    observer.observe(element);
    return () => {
      observer.disconnect();
    };
  }, []);

  const {
    stack: { grid, bands, filaments },
    heights: { leastLayers },
  } = document;
  const stack = stackOf(document);
  const layers = totalLayers(bands);
  const ends = bandEnds(bands);
  const brackets = useLive((state) => state.zones?.length ?? 0);
  const bracketsPx = Math.min(MOST_BRACKETS_PX, brackets * BRACKET_PX);
  // While an edge is dragged the drawing keeps its scale: the edge must stay under the pointer.
  const [frozen, setFrozen] = useState<SectionScale | null>(null);
  const scale = frozen ?? sectionScale(height, layerTopMm(grid, layers), grid.layerMm);
  const covered = coverLayers(stack, ramp);
  const idle = idleLayers(stack, ramp, leastLayers);

  const order = bands.map((_, i) => bands.length - 1 - i);
  const wishes = order.map((i) => {
    const top = yOf(scale, layerTopMm(grid, ends[i] ?? 0));
    const bottom = yOf(scale, layerTopMm(grid, ends[i - 1] ?? 0));
    return {
      middle: (top + bottom) / 2,
      height:
        bottom - top < FULL_LABEL_PX
          ? SHORT_LABEL_PX
          : FULL_LABEL_PX + ((idle[i] ?? 0) > 0 ? TRIM_LINE_PX : 0),
    };
  });
  const tops = placeLabels(wishes, 0, height);

  const labels = order.map((i, place) => ({
    bandIndex: i,
    id: bands[i]?.id ?? '',
    top: tops[place] ?? 0,
    left: STRIP_X + STRIP_WIDTH + EDGE_WIDTH + 16,
    full: (wishes[place]?.height ?? 0) >= FULL_LABEL_PX,
    end: ends[i] ?? 0,
    coverPercent: Math.round(100 * (ramp[(ends[i] ?? 1) - 1]?.cover ?? 0)),
    idle: idle[i] ?? 0,
    coveredAt: covered[i],
  }));

  return (
    <div
      ref={box}
      className={styles.section}
      data-testid="section"
      role="group"
      aria-label="Section of the stack"
    >
      <svg className={styles.drawing} width="100%" height={height} aria-hidden focusable={false}>
        <HatchPatterns
          prefix="band-hatch"
          colours={bands.map((band) => hatchInk(filaments[band.filamentId]?.colour ?? '#808080'))}
        />
        <AxisMarks scale={scale} topMm={layerTopMm(grid, layers)} />
        <AreaBars
          scale={scale}
          grid={grid}
          layers={layers}
          counts={counts}
          left={AXIS_X + 8 + bracketsPx}
        />
        {ramp.map((step, layerIndex) => (
          <rect
            key={layerIndex}
            x={STRIP_X}
            y={yOf(scale, layerTopMm(grid, layerIndex + 1))}
            width={STRIP_WIDTH}
            height={layerThicknessMm(grid, layerIndex + 1) * scale.pixelsPerMm + 0.5}
            fill={formatHex(step.colour)}
            data-layer={layerIndex + 1}
          />
        ))}
        {bands.map((band, i) => {
          const y = yOf(scale, layerTopMm(grid, ends[i] ?? 0));
          const h = yOf(scale, layerTopMm(grid, ends[i - 1] ?? 0)) - y;
          return (
            <g key={band.id}>
              <rect
                x={STRIP_X + STRIP_WIDTH}
                y={y}
                width={EDGE_WIDTH}
                height={h}
                fill={filaments[band.filamentId]?.colour}
              />
              <rect
                x={STRIP_X + STRIP_WIDTH}
                y={y}
                width={EDGE_WIDTH}
                height={h}
                fill={`url(#band-hatch-${i})`}
              />
            </g>
          );
        })}
        {covered.map((layerNumber, i) => {
          if (layerNumber === undefined || (idle[i] ?? 0) === 0) return null;
          const y = yOf(scale, layerTopMm(grid, layerNumber));
          return (
            <path key={i} className={styles.notch} d={`M${STRIP_X} ${y}l-9 -5v10z`}>
              <title>{`band ${bandLetter(i)} has covered here, at layer ${layerNumber}`}</title>
            </path>
          );
        })}
        {order.map((i, place) => {
          const middle = wishes[place]?.middle ?? 0;
          const label = (tops[place] ?? 0) + (wishes[place]?.height ?? 0) / 2;
          return Math.abs(label - middle) < 6 ? null : (
            <path
              key={i}
              className={styles.leader}
              d={`M${STRIP_X + STRIP_WIDTH + EDGE_WIDTH + 2} ${middle}L${STRIP_X + STRIP_WIDTH + EDGE_WIDTH + 13} ${label}`}
            />
          );
        })}
        <line className={styles.plate} x1={AXIS_X} x2="100%" y1={scale.plateY} y2={scale.plateY} />
      </svg>
      {bands.map((band, i) => (
        <BoundaryHandle
          key={band.id}
          bandIndex={i}
          y={yOf(scale, layerTopMm(grid, ends[i] ?? 0))}
          scale={scale}
          left={STRIP_X - 4}
          width={STRIP_WIDTH + EDGE_WIDTH + 20}
          onDragging={(on) => {
            setFrozen(on ? scale : null);
          }}
        />
      ))}
      {brackets > 0 ? (
        <Late>
          <ZoneBrackets scale={scale} left={AXIS_X + 14} height={height} />
        </Late>
      ) : null}
      <LabelPlaces value={labels}>
        <BandLabels onPick={onPick} />
      </LabelPlaces>
    </div>
  );
});

interface AxisMarksProps {
  readonly scale: SectionScale;
  readonly topMm: number;
}

/** Heights in mm. Memoised, as the bars are: neither changes while an inner edge is dragged. */
const AxisMarks = memo(function AxisMarks({ scale, topMm }: AxisMarksProps) {
  return axisMarks(scale, topMm).map((mm) => (
    <g key={mm}>
      <line
        className={styles.mark}
        x1={AXIS_X + 4}
        x2={STRIP_X}
        y1={yOf(scale, mm)}
        y2={yOf(scale, mm)}
      />
      <text className={styles.figure} x={AXIS_X} y={yOf(scale, mm) + 4} textAnchor="end">
        {mm.toFixed(1)}
      </text>
    </g>
  ));
});

interface AreaBarsProps {
  readonly scale: SectionScale;
  readonly grid: LayerGrid;
  readonly layers: number;
  /** Samples at each height; see `countHeights`. */
  readonly counts: Uint32Array | null;
  /** How far the longest bar reaches. */
  readonly left: number;
}

/** How much of the picture ends in each layer. */
const AreaBars = memo(function AreaBars({ scale, grid, layers, counts, left }: AreaBarsProps) {
  const mostArea = counts ? Math.max(1, ...counts.subarray(1)) : 1;
  const printed = counts ? counts.subarray(1).reduce((sum, count) => sum + count, 0) : 0;
  return Array.from({ length: layers }, (_, layerIndex) => {
    const layerNumber = layerIndex + 1;
    const y = yOf(scale, layerTopMm(grid, layerNumber));
    const h = layerThicknessMm(grid, layerNumber) * scale.pixelsPerMm;
    const area = counts?.[layerNumber] ?? 0;
    const width = ((AREA_X - left) * area) / mostArea;
    return (
      <rect
        key={layerNumber}
        className={styles.area}
        x={AREA_X - width}
        y={y + Math.min(1, h * 0.15)}
        width={width}
        height={Math.max(0.5, h - Math.min(2, h * 0.3))}
      >
        <title>{`layer ${layerNumber}: ${((100 * area) / Math.max(1, printed)).toFixed(1)} % of the picture`}</title>
      </rect>
    );
  });
});
