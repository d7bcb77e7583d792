import { MOST_LEAN } from '#core/stack/lean.ts';
import { joinsWhen } from '../../state/document-store.ts';
import type { Edit } from '../../state/edits/edit.ts';
import { useDocument, useLive } from '../../state/project-context.ts';
import { RangeSlider } from '../../ui/RangeSlider.tsx';
import styles from './LeanRow.module.css';

/** Where the maker may stop on the way from a picture to a relief: what they are good for was measured, see `docs/bench/heights.md`. */
export const LEAN_MARKS: readonly { readonly price: number; readonly text: string }[] = [
  { price: 0, text: 'colour alone' },
  { price: 6, text: 'mostly colour' },
  { price: 15, text: 'both' },
  { price: MOST_LEAN, text: 'mostly relief' },
];

interface LeanRowProps {
  readonly lean: number;
  readonly make: (price: number) => Edit;
  /** What heights lean to. */
  readonly to: string;
  readonly marks: typeof LEAN_MARKS;
}

/** One slider from colour to relief, with what it trades: the colour error, and how natural the relief is. */
export function LeanRow({ lean, make, to, marks }: LeanRowProps) {
  const reversed = useDocument((state) => state.document.heights.tone.reversed);
  const { change, beginGesture, endGesture, cancelGesture } = useDocument((state) => state);
  const exact = useLive((state) => state.difference?.mean ?? null);
  const rough = useLive((state) => state.roughError);
  const natural = useLive((state) => state.natural);
  const error = rough ?? exact;
  return (
    <div className={styles.lean}>
      <div className={styles.line}>
        <span aria-hidden>colour</span>
        <RangeSlider
          labels={[`Lean from colour to ${to}`]}
          values={[lean]}
          least={0}
          greatest={MOST_LEAN}
          step={1}
          onBegin={beginGesture}
          onEnd={endGesture}
          onCancel={cancelGesture}
          onChange={([value = 0], repeats) => {
            change(make(value), joinsWhen(repeats));
          }}
        />
        <span aria-hidden>{to}</span>
      </div>
      <div
        className={styles.marks}
        role="group"
        aria-label={`Marks on the way from colour to ${to}`}
      >
        {marks.map(({ price, text }) => (
          <button
            key={price}
            type="button"
            aria-pressed={lean === price}
            aria-label={`${price}: ${text}`}
            title={text}
            style={{ left: `${(100 * price) / MOST_LEAN}%` }}
            onClick={() => {
              change(make(price));
            }}
          >
            {price}
          </button>
        ))}
      </div>
      <p className={`${styles.figures} figures`} data-testid="lean-figures">
        <span>error {error === null ? '...' : error.toFixed(1)}</span>
        <span title="Rank correlation of height with brightness: 1 is a relief that follows the light">
          natural {natural === null ? '...' : (reversed ? -natural : natural).toFixed(2)}
        </span>
      </p>
    </div>
  );
}
