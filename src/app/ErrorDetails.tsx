import { GROSS_DIFFERENCE } from '#core/heights/difference.ts';
import { useLive } from '../state/project-context.ts';
import { useSeen } from '../state/use-seen.ts';
import styles from './Ledger.module.css';

/** From how far the print is looked at, mm: beside the artwork, in the hand, on a wall. */
const DISTANCES_MM = [0, 500, 1000];

/** All that is known of the colour error: worked out while it is looked at. */
export function ErrorDetails() {
  const difference = useLive((state) => state.difference);
  const seen = useSeen(DISTANCES_MM);
  const figure = (value: number | null | undefined): string =>
    value === null || value === undefined ? '...' : value.toFixed(1);
  const rows: readonly (readonly [string, string])[] = [
    ['mean', figure(difference?.mean)],
    ['95 % of the picture up to', figure(difference?.percentile95)],
    [
      `share above ${GROSS_DIFFERENCE}`,
      difference ? `${(100 * difference.grossShare).toFixed(0)} %` : '...',
    ],
    ['the rarest 5 % of the colours', figure(seen?.[0]?.rarest)],
    ['seen from 0.5 m', figure(seen?.[1]?.difference?.mean)],
    ['seen from 1 m', figure(seen?.[2]?.difference?.mean)],
  ];
  return (
    <>
      <p>
        CIEDE2000 between artwork and predicted print. 1 is just noticeable side by side; a mean
        below 6 looks alike. From further away the eye blurs both.
      </p>
      <dl className={styles.details} data-testid="error-details">
        {rows.map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd className="figures">{value}</dd>
          </div>
        ))}
      </dl>
    </>
  );
}
