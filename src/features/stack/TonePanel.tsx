import { ArrowDownUp, Wand } from 'lucide-react';
import { useMemo } from 'react';
import { fitTone, LEAST_POINT_GAP, tidyTone } from '#core/heights/tone.ts';
import { useDocument, useLive } from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { RangeSlider } from '../../ui/RangeSlider.tsx';
import styles from './StackPanel.module.css';

const BARS = 100;
const HISTOGRAM_HEIGHT = 30;

/** The height rule *Tone*: three points on the picture's brightness. */
export function TonePanel() {
  const rule = useDocument((state) => state.document.rule);
  const { change, beginGesture, endGesture } = useDocument((state) => state);
  const histogram = useLive((state) => state.opened.histogram);
  const bars = useMemo(() => {
    const sums = new Float64Array(BARS);
    histogram.forEach((count, step) => {
      const bar = Math.min(BARS - 1, Math.floor((step * BARS) / histogram.length));
      sums[bar] = (sums[bar] ?? 0) + count;
    });
    // Square root: a large even background must not flatten everything else.
    const most = Math.sqrt(Math.max(1, ...sums));
    return Array.from(sums, (sum) => (Math.sqrt(sum) / most) * HISTOGRAM_HEIGHT);
  }, [histogram]);

  return (
    <div className={styles.tone}>
      <div className={styles.toneHead}>
        <h2 className={styles.heading}>Tone</h2>
        <Button
          look="quiet"
          icon={<ArrowDownUp size={15} aria-hidden />}
          aria-pressed={rule.reversed}
          onClick={() => {
            change((draft) => {
              draft.rule.reversed = !draft.rule.reversed;
            });
          }}
        >
          {rule.reversed ? 'Light low, dark high' : 'Dark low, light high'}
        </Button>
        <Button
          look="quiet"
          icon={<Wand size={15} aria-hidden />}
          title="Put the points where the picture's brightness begins and ends"
          onClick={() => {
            change((draft) => {
              draft.rule = { ...fitTone(histogram), reversed: draft.rule.reversed };
            });
          }}
        >
          Fit points
        </Button>
      </div>
      <svg
        className={styles.histogram}
        viewBox={`0 0 ${BARS} ${HISTOGRAM_HEIGHT}`}
        preserveAspectRatio="none"
        role="img"
        aria-label="How much of the picture has each brightness"
      >
        {bars.map((height, i) => (
          <rect key={i} x={i} y={HISTOGRAM_HEIGHT - height} width={1.02} height={height} />
        ))}
      </svg>
      <RangeSlider
        labels={['Black point, L*', 'Midpoint, L*', 'White point, L*']}
        values={[rule.blackPoint, rule.midpoint, rule.whitePoint]}
        least={0}
        greatest={100}
        step={1}
        gap={LEAST_POINT_GAP}
        onBegin={beginGesture}
        onEnd={endGesture}
        onChange={([blackPoint = 0, midpoint = 50, whitePoint = 100]) => {
          change((draft) => {
            const { rule: old } = draft;
            // When the ends move, the midpoint keeps its share of the way between them.
            const share = (old.midpoint - old.blackPoint) / (old.whitePoint - old.blackPoint);
            const carried =
              midpoint === old.midpoint ? blackPoint + share * (whitePoint - blackPoint) : midpoint;
            draft.rule = tidyTone({ ...old, blackPoint, midpoint: carried, whitePoint });
          });
        }}
      />
      <p className={`${styles.points} figures`}>
        <span>black {Math.round(rule.blackPoint)}</span>
        <span>midpoint {Math.round(rule.midpoint)}</span>
        <span>white {Math.round(rule.whitePoint)}</span>
      </p>
    </div>
  );
}
