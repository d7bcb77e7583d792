import { useProject, useView } from '../../state/project-context.ts';
import { RangeSlider } from '../../ui/RangeSlider.tsx';
import styles from './Stage.module.css';

const LIGHTS = [
  { key: 'lamp', name: 'Lamp', most: 2 },
  { key: 'room', name: 'Room light', most: 1 },
] as const;

/** How bright the lamp behind the print is, and the room before it. */
export function LampControls() {
  const { views } = useProject();
  const light = useView((state) => state.light);
  return (
    <div className={styles.light} role="group" aria-label="Light" data-testid="lamp-controls">
      {LIGHTS.map(({ key, name, most }) => (
        <div key={key} className={styles.lightRow}>
          <span>{name}</span>
          <RangeSlider
            labels={[name]}
            values={[Math.round(light[key] * 100)]}
            least={0}
            greatest={most * 100}
            step={5}
            onChange={([value = 0]) => {
              views.setState({ light: { ...light, [key]: value / 100 } });
            }}
          />
          <span className={`${styles.lightValue} figures`}>{Math.round(light[key] * 100)} %</span>
        </div>
      ))}
    </div>
  );
}
