import { ArrowDownUp, Wand } from 'lucide-react';
import {
  curveOfPoints,
  equalisedCurve,
  LEAST_POINT_GAP,
  matchedCurve,
  STRAIGHT_CURVE,
  type ToneCurve,
} from '#core/heights/tone.ts';
import { evenTops } from '#core/stack/layer-grid.ts';
import { useDocument, useLive } from '../../state/project-context.ts';
import { joinsWhen } from '../../state/document-store.ts';
import {
  fitTonePoints,
  reverseTone,
  setToneCurve,
  setTonePoints,
} from '../../state/edits/height-edits.ts';
import { Button } from '../../ui/Button.tsx';
import { RangeSlider } from '../../ui/RangeSlider.tsx';
import { CurveEditor } from './CurveEditor.tsx';
import { useBars } from './use-bars.ts';
import styles from './StackPanel.module.css';

/** The height rule *Tone*: three points on the picture's brightness, or a curve. */
export function TonePanel() {
  const rule = useDocument((state) => state.document.heights.tone);
  const leastLayers = useDocument((state) => state.document.heights.leastLayers);
  const grid = useDocument((state) => state.document.stack.grid);
  const { change, beginGesture, endGesture, cancelGesture } = useDocument((state) => state);
  const histogram = useLive((state) => state.edited.histogram);
  const ramp = useLive((state) => state.ramp);
  const bars = useBars(histogram);

  const setCurve = (curve: ToneCurve | undefined, repeats = false): void => {
    change(setToneCurve(curve), joinsWhen(repeats));
  };

  return (
    <>
      <div className={styles.toneTools}>
        <Button
          look="quiet"
          aria-pressed={rule.curve !== undefined}
          onClick={() => {
            setCurve(rule.curve ? undefined : curveOfPoints(rule));
          }}
        >
          Curve
        </Button>
        <Button
          look="quiet"
          icon={<ArrowDownUp size={15} aria-hidden />}
          aria-pressed={rule.reversed}
          onClick={() => {
            change(reverseTone(!rule.reversed));
          }}
        >
          {rule.reversed ? 'Light low, dark high' : 'Dark low, light high'}
        </Button>
        {rule.curve ? null : (
          <Button
            look="quiet"
            icon={<Wand size={15} aria-hidden />}
            title="Put the points where the picture's brightness begins and ends"
            onClick={() => {
              change(fitTonePoints(histogram));
            }}
          >
            Fit points
          </Button>
        )}
      </div>
      {rule.curve ? (
        <>
          <CurveEditor
            curve={rule.curve}
            bars={bars}
            onBegin={beginGesture}
            onEnd={endGesture}
            onCancel={cancelGesture}
            onChange={setCurve}
          />
          <div className={styles.toneTools} role="group" aria-label="Begin the curve anew">
            <Button
              onClick={() => {
                setCurve(STRAIGHT_CURVE);
              }}
            >
              Linear
            </Button>
            <Button
              title="Every height gets the same area"
              onClick={() => {
                setCurve(equalisedCurve(histogram));
              }}
            >
              Equalised
            </Button>
            <Button
              title="Each tone goes to the layer whose brightness is nearest"
              onClick={() => {
                setCurve(
                  matchedCurve(
                    ramp.map(({ lab }) => lab[0]),
                    leastLayers,
                    evenTops(grid, ramp.length),
                  ),
                );
              }}
            >
              Matched to the stack
            </Button>
          </div>
        </>
      ) : (
        <>
          <svg
            className={styles.histogram}
            viewBox={`0 0 ${bars.length} 1`}
            preserveAspectRatio="none"
            role="img"
            aria-label="How much of the picture has each brightness"
          >
            {bars.map((height, i) => (
              <rect key={i} x={i} y={1 - height} width={1.02} height={height} />
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
            onCancel={cancelGesture}
            onChange={([blackPoint = 0, midpoint = 50, whitePoint = 100], repeats) => {
              change(setTonePoints(blackPoint, midpoint, whitePoint), joinsWhen(repeats));
            }}
          />
          <p className={`${styles.points} figures`}>
            <span>black {Math.round(rule.blackPoint)}</span>
            <span>midpoint {Math.round(rule.midpoint)}</span>
            <span>white {Math.round(rule.whitePoint)}</span>
          </p>
        </>
      )}
    </>
  );
}
