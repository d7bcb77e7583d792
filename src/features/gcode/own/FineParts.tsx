import type { OwnLayer } from '#core/slicing/own-gcode.ts';
import styles from './OwnGcode.module.css';

/** Layers that are named, those with the most first. */
const MOST_ROWS = 5;

/** What is thinner than a line, and what became of it. */
export function FineParts({
  layers,
  onShow,
}: {
  readonly layers: readonly OwnLayer[];
  readonly onShow: (layer: number) => void;
}) {
  const sum = (pick: (layer: OwnLayer) => number): number =>
    layers.reduce((all, one) => all + pick(one), 0);
  const samples = sum((one) => one.samples);
  const fine = sum((one) => one.fineSamples);
  const open = sum((one) => one.openSamples);
  const percent = (part: number): string => `${((100 * part) / Math.max(1, samples)).toFixed(2)} %`;
  const worst = [...layers]
    .filter(({ fineSamples }) => fineSamples > 0)
    .sort((a, b) => b.fineSamples / b.samples - a.fineSamples / a.samples)
    .slice(0, MOST_ROWS);
  return (
    <div className={styles.fine} data-testid="own-fine">
      <h2>Finer than a line</h2>
      <p>
        {fine === 0 ? (
          'Every part is wide enough for whole lines. '
        ) : (
          <>
            {percent(fine)} of all samples got a line as narrow as they are, so no part and no layer
            is lost.{' '}
          </>
        )}
        {open > 0
          ? `The middle of ${percent(open)} lies in gaps narrower than a third of a line, which close by themselves.`
          : ''}
      </p>
      {worst.length > 0 ? (
        <ul>
          {worst.map(({ layer, fineSamples, samples: all }) => (
            <li key={layer}>
              <button
                type="button"
                onClick={() => {
                  onShow(layer);
                }}
              >
                layer {layer}
              </button>
              <span className="figures">{((100 * fineSamples) / all).toFixed(1)} %</span>
            </li>
          ))}
        </ul>
      ) : null}
    </div>
  );
}
