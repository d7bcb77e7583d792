import { useProject, useView } from '../../state/project-context.ts';
import { RangeSlider } from '../../ui/RangeSlider.tsx';
import { LIGHT_OPTIONS } from './light-words.ts';
import { SelectField } from '../../ui/Fields.tsx';
import styles from './Stage.module.css';

const LIGHTS = [
  { key: 'lamp', kind: 'lampKind', name: 'Lamp', most: 2 },
  { key: 'room', kind: 'roomKind', name: 'Room light', most: 1 },
] as const;

/** How bright the lamp behind the print is, and the room before it. */
export function LampControls() {
  const { views } = useProject();
  const light = useView((state) => state.light);
  return (
    <div className={styles.light} role="group" aria-label="Light" data-testid="lamp-controls">
      {LIGHTS.map(({ key, kind, name, most }) => (
        <div key={key}>
          <div className={styles.lightRow}>
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
          <div className={styles.lightKind}>
            <SelectField
              compact
              label={`Kind of ${name.toLowerCase()}`}
              value={light[kind] ?? 'd65'}
              options={LIGHT_OPTIONS}
              testId={`${key}-kind`}
              onChange={(next) => {
                views.setState({ light: { ...light, [kind]: next } });
              }}
            />
          </div>
        </div>
      ))}
    </div>
  );
}
