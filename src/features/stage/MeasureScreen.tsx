import { useState } from 'react';
import { useProject, useView } from '../../state/project-context.ts';
import { showTrueSize } from '../../state/view-store.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { RangeSlider } from '../../ui/RangeSlider.tsx';
import styles from './MeasureScreen.module.css';

/** Size of a bank or library card, mm: ISO/IEC 7810:2019, ID-1. */
const CARD_WIDTH_MM = 85.6;
const CARD_HEIGHT_MM = 53.98;

/** What browsers take a millimetre to be: 96 pixels an inch (CSS Values and Units Level 4). */
const USUAL_PIXELS_PER_MM = 96 / 25.4;

/** Measures the screen once: a drawn card is made as wide as a real one held against it. */
export function MeasureScreen() {
  const { views } = useProject();
  const known = useView((state) => state.screenPixelsPerMm);
  const [widthPx, setWidthPx] = useState<number | null>(null);
  const shownPx =
    widthPx ??
    Math.round(
      CARD_WIDTH_MM * (known === null ? USUAL_PIXELS_PER_MM : known / window.devicePixelRatio),
    );
  const close = (): void => {
    setWidthPx(null);
    views.setState({ measuringScreen: false });
  };
  return (
    <Dialog
      open
      onOpenChange={(next) => {
        if (!next) close();
      }}
      title="Measure this screen"
      description="Hold a bank or library card against the screen and make the drawn one as wide."
    >
      <div
        className={styles.card}
        style={{ width: shownPx, height: (shownPx * CARD_HEIGHT_MM) / CARD_WIDTH_MM }}
        data-testid="card"
      >
        <span className="figures">85.6 mm</span>
      </div>
      <RangeSlider
        labels={['Width of the card']}
        values={[shownPx]}
        least={150}
        greatest={700}
        step={1}
        onChange={([px = shownPx]) => {
          setWidthPx(px);
        }}
      />
      <div className={styles.row}>
        <Button
          look="main"
          onClick={() => {
            views.setState({
              screenPixelsPerMm: (shownPx / CARD_WIDTH_MM) * window.devicePixelRatio,
            });
            close();
            showTrueSize(views);
          }}
        >
          Show true size
        </Button>
      </div>
    </Dialog>
  );
}
