import { DIFFERENCE_COLOURS } from '#core/heights/shades.ts';
import { GROSS_DIFFERENCE } from '#core/heights/difference.ts';
import { useLive } from '../../state/project-context.ts';
import styles from './Stage.module.css';

const MOST = DIFFERENCE_COLOURS.at(-1)?.[0] ?? 1;

/** What the colours of the difference view mean, and the figures of the whole picture. */
export function DifferenceLegend() {
  const difference = useLive((state) => state.difference);
  const stops = DIFFERENCE_COLOURS.map(
    ([limit, colour]) => `rgb(${colour.join(' ')}) ${(100 * limit) / MOST}%`,
  ).join(', ');
  return (
    <div className={styles.light} data-testid="difference-legend">
      <div className={styles.scale} style={{ background: `linear-gradient(to right, ${stops})` }} />
      <div className={`${styles.scaleMarks} figures`} aria-hidden>
        {DIFFERENCE_COLOURS.map(([limit]) => (
          <span key={limit} style={{ left: `${(100 * limit) / MOST}%` }}>
            {limit === MOST ? `${limit}+` : limit}
          </span>
        ))}
      </div>
      <p className="figures">
        {difference
          ? `mean ${difference.mean.toFixed(1)}, 95 % up to ${difference.percentile95.toFixed(1)}, ${(100 * difference.grossShare).toFixed(0)} % above ${GROSS_DIFFERENCE}`
          : 'being worked out'}
      </p>
    </div>
  );
}
