import { useEffect } from 'react';
import { DIFFERENCE_COLOURS } from '#core/heights/shades.ts';
import { GROSS_DIFFERENCE } from '#core/heights/difference.ts';
import { useLive, useProject, useView } from '../../state/project-context.ts';
import { isSeenApart, roomOf } from '../../state/room-light.ts';
import { useSeen } from '../../state/use-seen.ts';
import { Choice } from '../../ui/Choice.tsx';
import styles from './Stage.module.css';

const MOST = DIFFERENCE_COLOURS.at(-1)?.[0] ?? 1;

/** From where the difference may be seen. */
const PLACES = [
  { value: '0', text: 'side by side' },
  { value: '500', text: '0.5 m' },
  { value: '1000', text: '1 m' },
] as const;

/** What the colours of the difference view mean, and the figures of the whole picture. */
export function DifferenceLegend() {
  const { views } = useProject();
  const fromMm = useView((state) => state.seenFromMm);
  const sideBySide = useLive((state) => state.difference);
  const light = useView((state) => state.light);
  const apart = isSeenApart({ light, seenFromMm: fromMm });
  const seen = useSeen(apart ? [fromMm] : [], roomOf(light));
  const away = seen?.[0]?.difference ?? null;
  useEffect(() => {
    views.setState({ seenDifference: away });
    return () => {
      views.setState({ seenDifference: null });
    };
  }, [views, away]);
  const difference = apart ? away : sideBySide;
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
      <Choice
        label="Seen from"
        value={String(fromMm)}
        options={PLACES}
        onChange={(next) => {
          views.setState({ seenFromMm: Number(next) });
        }}
      />
      <p className="figures">
        {difference
          ? `mean ${difference.mean.toFixed(1)}, 95 % up to ${difference.percentile95.toFixed(1)}, ${(100 * difference.grossShare).toFixed(0)} % above ${GROSS_DIFFERENCE}`
          : 'being worked out'}
      </p>
    </div>
  );
}
