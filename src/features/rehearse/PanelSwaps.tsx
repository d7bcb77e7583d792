import { LEAST_MARGIN_S, worstMarginS, type PanelSwap } from '#core/rehearse/by-panel.ts';
import { formatClock, formatWait } from './rehearse-words.ts';
import styles from './Rehearse.module.css';

/** When to stand at a printer that can only be paused at its panel, and whether there is time enough. */
export function PanelSwaps({
  swaps,
  nameOf,
}: {
  readonly swaps: readonly PanelSwap[];
  readonly nameOf: (filament: string) => string;
}) {
  if (swaps.length === 0) return null;
  const worst = worstMarginS(swaps);
  return (
    <details className={styles.panelSwaps} data-testid="panel-swaps">
      <summary>Without a pause command</summary>
      <p>
        {worst >= LEAST_MARGIN_S
          ? `It can be printed so: pause at the panel at these times. The shortest has ${formatWait(worst)}.`
          : `It is better not printed so: the shortest swap has ${formatWait(worst)}, and somebody who stands there needs ${LEAST_MARGIN_S} s.`}
      </p>
      <table>
        <thead>
          <tr>
            <th scope="col">At</th>
            <th scope="col">Load</th>
            <th scope="col">Early</th>
            <th scope="col">Late</th>
          </tr>
        </thead>
        <tbody>
          {swaps.map((swap) => (
            <tr key={swap.layer}>
              <td className="figures">{formatClock(swap.clockS)}</td>
              <td>{nameOf(swap.to)}</td>
              <td className="figures">{formatWait(swap.beforeS)}</td>
              <td className="figures">{formatWait(swap.afterS)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p>
        A press so much too early or too late leaves a twentieth of one layer in the other filament.
      </p>
    </details>
  );
}
