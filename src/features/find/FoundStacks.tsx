import { useMemo, useState } from 'react';
import { estimateUse } from '#core/schedule/estimate.ts';
import { layerTopMm } from '#core/stack/layer-grid.ts';
import { useProject } from '../../state/project-context.ts';
import { FoundPicture, type CountedSamples } from './FoundPicture.tsx';
import type { Filament } from '#core/stack/filament.ts';
import { bandLetter, totalLayers } from '#core/stack/stack.ts';
import type { FindProgress } from '../../state/find-session.ts';
import type { SuggestedStack } from '../../workers/find/jobs.ts';
import { Button } from '../../ui/Button.tsx';
import { Chart } from '../../ui/Chart.tsx';
import { hatchInk } from '../../ui/Hatch.tsx';
import { usePointing } from '../../ui/use-pointing.ts';
import { Note } from '../../ui/Note.tsx';
import styles from './Find.module.css';

interface FoundStacksProps {
  readonly progress: FindProgress;
  readonly rack: readonly Filament[];
  /** Shows a stack on the stage; null goes back to the best. */
  readonly onShow: (stack: SuggestedStack | null) => void;
  readonly onApply: (stack: SuggestedStack) => void;
}

/** What each swap buys: a curve, and a stack for each number of swaps. */
export function FoundStacks({ progress, rack, onShow, onApply }: FoundStacksProps) {
  const { curve, others } = progress;
  const option = useMemo(() => optionOf(curve), [curve]);
  if (curve.length === 0)
    return progress.best && !progress.running ? (
      <ul className={styles.found} data-testid="found-stacks">
        <FoundRow
          name="best so far"
          stack={progress.best}
          same={false}
          rack={rack}
          onShow={onShow}
          onApply={onApply}
        />
      </ul>
    ) : null;
  const says = curve
    .map(({ meanDeltaE, mostSwaps }) => `${mostSwaps} swaps ${meanDeltaE.toFixed(1)}`)
    .join(', ');
  return (
    <>
      <Chart
        label={`Colour error against swaps: ${says}`}
        option={option}
        heightPx={130}
        testId="find-curve"
      />
      <ul className={styles.found} data-testid="found-stacks">
        {curve.map((stack) => (
          <FoundRow
            key={stack.mostSwaps}
            name={`${stack.mostSwaps} ${stack.mostSwaps === 1 ? 'swap' : 'swaps'}`}
            stack={stack}
            same={stack.bands.length - 1 < stack.mostSwaps}
            rack={rack}
            onShow={onShow}
            onApply={onApply}
          />
        ))}
        {others.map((stack, i) => (
          <FoundRow
            key={`other-${i}`}
            name={`other ${i + 1}`}
            stack={stack}
            same={false}
            rack={rack}
            onShow={onShow}
            onApply={onApply}
          />
        ))}
      </ul>
      {progress.purchases.length > 0 ? (
        <section data-testid="purchases">
          <h3 className={styles.buy}>With one more filament</h3>
          <ul className={styles.found}>
            {progress.purchases.map(({ filamentId, stack }) => (
              <FoundRow
                key={filamentId}
                name={`with ${rack.find(({ id }) => id === filamentId)?.name ?? filamentId}`}
                stack={stack}
                same={false}
                rack={rack}
                onShow={onShow}
                onApply={onApply}
              />
            ))}
          </ul>
        </section>
      ) : null}
      <Note>
        Small figures, and the band around the curve: the colour error when every transmission is 10
        % less or more. Height against the present stack in brackets.
      </Note>
    </>
  );
}

interface FoundRowProps {
  readonly name: string;
  readonly stack: SuggestedStack;
  /** The swap more bought nothing. */
  readonly same: boolean;
  readonly rack: readonly Filament[];
  readonly onShow: (stack: SuggestedStack | null) => void;
  readonly onApply: (stack: SuggestedStack) => void;
}

function FoundRow({ name, stack, same, rack, onShow, onApply }: FoundRowProps) {
  const filamentOf = (id: string): Filament | undefined => rack.find((one) => one.id === id);
  const [less, more] = stack.whenOff;
  const { documents } = useProject();
  // Of this very stack: what the last search counted under the same name is another one's.
  const [measured, setMeasured] = useState<{
    readonly of: SuggestedStack;
    readonly counts: CountedSamples;
  } | null>(null);
  const counts = measured?.of === stack ? measured.counts : null;
  const present = documents.getState().document;
  const topMm = layerTopMm(present.stack.grid, totalLayers(stack.bands));
  const presentMm = layerTopMm(present.stack.grid, totalLayers(present.stack.bands));
  const added = topMm < presentMm ? '-' : '+';
  const grams =
    counts &&
    estimateUse(
      { grid: present.stack.grid, bands: stack.bands },
      Object.fromEntries(rack.map((one) => [one.id, one])),
      counts.counts,
      counts.sampleMm,
    ).reduce((sum, use) => sum + use.grams, 0);
  const pointing = usePointing((pointed) => {
    onShow(pointed ? stack : null);
  });
  const words = stack.bands
    .map(
      ({ filamentId, layers }, i) =>
        `${bandLetter(i)} ${filamentOf(filamentId)?.name ?? filamentId} ${layers}`,
    )
    .join(', ');
  return (
    <li className={styles.stack} data-testid="found-stack" {...pointing}>
      <span className={styles.stackHead}>
        <strong>{name}</strong>
        <span className="figures">
          {stack.meanDeltaE.toFixed(2)}
          <small>
            {' '}
            {less.toFixed(1)} / {more.toFixed(1)}
          </small>
        </span>
        <Button
          disabled={same}
          aria-label={`Use the stack with ${name}`}
          title={same ? 'This swap more buys nothing' : words}
          onClick={() => {
            onApply(stack);
          }}
        >
          Use
        </Button>
      </span>
      <span className={styles.body}>
        <FoundPicture
          stack={stack}
          rack={rack}
          onMeasured={(made) => {
            setMeasured({ of: stack, counts: made });
          }}
        />
        <span className={styles.facts}>
          <span className={styles.strip} role="img" aria-label={words} title={words}>
            {stack.bands.map(({ filamentId, layers }, i) => {
              const colour = filamentOf(filamentId)?.colour ?? '#808080';
              return (
                <span key={i} style={{ flex: layers, background: colour, color: hatchInk(colour) }}>
                  {bandLetter(i)}
                </span>
              );
            })}
          </span>
          <span className={`${styles.words} figures`} data-testid="found-figures">
            {totalLayers(stack.bands)} layers, {topMm.toFixed(2)} mm ({added}
            {Math.abs(topMm - presentMm).toFixed(2)})
            {grams === null ? '' : `, ${grams.toFixed(1)} g`}
          </span>
        </span>
      </span>
    </li>
  );
}

/** The errors between which a stack's own lies when transmissions are off. */
function span({ meanDeltaE, whenOff }: SuggestedStack): readonly number[] {
  return [meanDeltaE, ...whenOff];
}

function optionOf(curve: readonly SuggestedStack[]) {
  return {
    animation: false,
    color: ['#7b8188'],
    grid: { left: 36, right: 12, top: 12, bottom: 34 },
    tooltip: { trigger: 'axis' as const },
    xAxis: {
      type: 'category' as const,
      name: 'swaps',
      nameLocation: 'middle' as const,
      nameGap: 22,
      data: curve.map(({ mostSwaps }) => String(mostSwaps)),
    },
    yAxis: { type: 'value' as const, min: 0, splitNumber: 3 },
    series: [
      {
        type: 'line' as const,
        name: 'colour error',
        symbolSize: 8,
        data: curve.map(({ meanDeltaE }) => Number(meanDeltaE.toFixed(2))),
      },
      // The band in which the error lies when transmissions are off: its lower edge, and its width stacked on it.
      {
        type: 'line' as const,
        name: 'least when off',
        stack: 'off',
        symbol: 'none',
        lineStyle: { opacity: 0 },
        data: curve.map((stack) => Number(Math.min(...span(stack)).toFixed(2))),
      },
      {
        type: 'line' as const,
        name: 'width of the band',
        stack: 'off',
        symbol: 'none',
        lineStyle: { opacity: 0 },
        areaStyle: { color: '#7b8188', opacity: 0.3 },
        data: curve.map((stack) =>
          Number((Math.max(...span(stack)) - Math.min(...span(stack))).toFixed(2)),
        ),
      },
    ],
  };
}
