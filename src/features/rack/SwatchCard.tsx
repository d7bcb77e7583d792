import { useMemo } from 'react';
import { formatHex } from '#core/colour/srgb.ts';
import { colourBeforeLamp, USUAL_LIGHT } from '#core/heights/lamp.ts';
import type { Filament } from '#core/stack/filament.ts';
import { CARD_BLACK_MM, CARD_WHITE_MM, coversIn, swatchesOver } from '#core/stack/swatch-card.ts';
import { Chart } from '../../ui/Chart.tsx';
import styles from './Rack.module.css';

const SHOWN_LAYERS = 10;
const MOST_LAYERS = 200;

interface SwatchCardProps {
  readonly filament: Filament;
  readonly black: Filament;
  readonly white: Filament;
  readonly layerMm: number;
}

/** A filament as 1 to 10 layers over black and white, in front light and before a lamp, and how fast it covers. */
export function SwatchCard({ filament, black, white, layerMm }: SwatchCardProps) {
  const { overBlack, overWhite } = useMemo(
    () => ({
      overBlack: swatchesOver(
        filament,
        { filament: black, thicknessMm: CARD_BLACK_MM },
        layerMm,
        MOST_LAYERS,
      ),
      overWhite: swatchesOver(
        filament,
        { filament: white, thicknessMm: CARD_WHITE_MM },
        layerMm,
        MOST_LAYERS,
      ),
    }),
    [filament, black, white, layerMm],
  );
  const rows = [
    { name: 'over black', steps: overBlack, lit: false },
    { name: 'over white', steps: overWhite, lit: false },
    { name: 'lit, on black', steps: overBlack, lit: true },
    { name: 'lit, on white', steps: overWhite, lit: true },
  ];
  const blackIn = coversIn(overBlack);
  const whiteIn = coversIn(overWhite);
  // The chart ends a little after both have covered, and never squeezes the first layers.
  const end = Math.min(
    MOST_LAYERS,
    Math.max(12, Math.ceil((Math.max(blackIn ?? MOST_LAYERS, whiteIn ?? MOST_LAYERS) + 1) * 1.15)),
  );
  const option = useMemo(() => {
    const line = (name: string, steps: typeof overBlack, type: 'solid' | 'dashed') => ({
      name,
      type: 'line' as const,
      showSymbol: false,
      lineStyle: { width: 2, type },
      data: steps.slice(0, end).map(({ cover }, i) => [i + 1, Math.round(cover * 1000) / 10]),
    });
    return {
      animation: false,
      color: ['#3c434b', '#a8adb2'],
      grid: { left: 44, right: 16, top: 30, bottom: 38 },
      legend: { top: 0, right: 0, textStyle: { color: '#7b8188' } },
      tooltip: {
        trigger: 'axis' as const,
        valueFormatter: (value: unknown) => `${String(value)} %`,
      },
      xAxis: {
        type: 'value' as const,
        name: 'layers',
        nameLocation: 'middle' as const,
        nameGap: 24,
        min: 1,
        max: end,
        minInterval: 1,
        splitLine: { show: false },
      },
      yAxis: { type: 'value' as const, min: 0, max: 100, axisLabel: { formatter: '{value} %' } },
      series: [
        {
          ...line('over black', overBlack, 'solid'),
          markLine: {
            silent: true,
            symbol: 'none',
            label: { formatter: 'covered', color: '#7b8188', position: 'insideStartTop' as const },
            lineStyle: { color: '#e9b800', type: 'solid' as const },
            data: [{ yAxis: 95 }],
          },
        },
        line('over white', overWhite, 'dashed'),
      ],
    };
  }, [overBlack, overWhite, end]);

  const tell = (layers: number | undefined): string =>
    layers === undefined
      ? `not in ${MOST_LAYERS} layers`
      : `in ${layers} ${layers === 1 ? 'layer' : 'layers'} (${(layers * layerMm).toFixed(2)} mm)`;
  const says = `Covers ${black.name} ${tell(blackIn)}, ${white.name} ${tell(whiteIn)}.`;
  return (
    <>
      <div>
        <h3>1 to 10 layers of {layerMm} mm</h3>
        <div className={styles.cards} data-testid="swatches">
          <span />
          {Array.from({ length: SHOWN_LAYERS }, (_, i) => (
            <span key={i} className={`${styles.numberHead} figures`}>
              {i + 1}
            </span>
          ))}
          {rows.map(({ name, steps, lit }) => (
            <SwatchRow
              key={name}
              name={name}
              colours={steps
                .slice(0, SHOWN_LAYERS)
                .map((step) => formatHex(lit ? colourBeforeLamp(step, USUAL_LIGHT) : step.colour))}
            />
          ))}
        </div>
      </div>
      <div>
        <h3>Cover</h3>
        <p data-testid="covers-in">{says}</p>
        <Chart
          label={`Cover against layers. ${says}`}
          option={option}
          heightPx={190}
          testId="cover-chart"
        />
      </div>
    </>
  );
}

function SwatchRow({
  name,
  colours,
}: {
  readonly name: string;
  readonly colours: readonly string[];
}) {
  return (
    <>
      <span>{name}</span>
      {colours.map((colour, i) => (
        <span
          key={i}
          className={styles.tile}
          style={{ background: colour }}
          title={`${i + 1} ${name}: ${colour}`}
          data-colour={colour}
        />
      ))}
    </>
  );
}
