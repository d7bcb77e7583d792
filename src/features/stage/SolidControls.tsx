import { useProject, useView } from '../../state/project-context.ts';
import { GREATEST_STRETCH } from '../../state/view-store.ts';
import { Button } from '../../ui/Button.tsx';
import { RangeSlider } from '../../ui/RangeSlider.tsx';
import styles from './Stage.module.css';

/** How tall the solid is drawn, whether its edges show, and the way back to where the camera began. */
export function SolidControls() {
  const { views } = useProject();
  const solid = useView((state) => state.solid);
  return (
    <div className={styles.light} role="group" aria-label="Solid" data-testid="solid-controls">
      <div className={styles.lightRow}>
        <span>Z stretch</span>
        <RangeSlider
          labels={['Z stretch']}
          values={[solid.stretch]}
          least={1}
          greatest={GREATEST_STRETCH}
          step={1}
          onChange={([stretch = 1]) => {
            views.setState({ solid: { ...solid, stretch } });
          }}
        />
        <span className={`${styles.lightValue} figures`}>{solid.stretch} x</span>
      </div>
      <div className={styles.lightRow}>
        <label className={styles.wireframe}>
          <input
            type="checkbox"
            checked={solid.wireframe}
            onChange={(event) => {
              views.setState({ solid: { ...solid, wireframe: event.target.checked } });
            }}
          />
          Wireframe
        </label>
        <span className={styles.spacer} />
        <Button
          onClick={() => {
            views.setState({ solid: { ...solid, resets: solid.resets + 1 } });
          }}
        >
          Reset view
        </Button>
      </div>
    </div>
  );
}
