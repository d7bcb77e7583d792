import { IRONING_LIMITS, USUAL_IRONING, type Ironing } from '#core/slicing/ironing-settings.ts';
import { setIroning } from '../../../state/edits/print-edits.ts';
import { joinsWhen } from '../../../state/document-store.ts';
import { useDocument } from '../../../state/project-context.ts';
import { CheckField } from '../../../ui/Fields.tsx';
import { NumberField } from '../../../ui/NumberField.tsx';
import type { DeskBand } from '../desk-words.ts';
import styles from './OwnGcode.module.css';

/** Which tops are gone over once more, and how. */
export function IroningPanel({ bands }: { readonly bands: readonly DeskBand[] }) {
  const ironing = useDocument((state) => state.document.print.ironing);
  const change = useDocument((state) => state.change);
  const now: Ironing = ironing ?? { ...USUAL_IRONING, bands: [] };
  const set = (part: Partial<Ironing>, repeats = false): void => {
    const next = { ...now, ...part };
    change(setIroning(next.bands.length > 0 ? next : null), joinsWhen(repeats));
  };
  return (
    <fieldset className={styles.ironing} data-testid="ironing">
      <legend>Iron the tops of</legend>
      <div className={styles.choices}>
        {bands.map(({ index, letter, name }) => (
          <CheckField
            key={index}
            label={`${letter} ${name}`}
            checked={now.bands.includes(index)}
            testId={`iron-${letter}`}
            onChange={(on) => {
              set({
                bands: on
                  ? [...now.bands, index].sort((a, b) => a - b)
                  : now.bands.filter((band) => band !== index),
              });
            }}
          />
        ))}
      </div>
      {ironing ? (
        <div className={styles.numbers}>
          <NumberField
            label="Spacing"
            unit="mm"
            value={now.spacingMm}
            least={IRONING_LIMITS.spacingMm[0]}
            greatest={IRONING_LIMITS.spacingMm[1]}
            step={0.01}
            testId="iron-spacing"
            onChange={(spacingMm, repeats) => {
              set({ spacingMm }, repeats);
            }}
          />
          <NumberField
            label="Flow"
            unit="%"
            value={100 * now.flow}
            least={100 * IRONING_LIMITS.flow[0]}
            greatest={100 * IRONING_LIMITS.flow[1]}
            step={1}
            decimals={0}
            testId="iron-flow"
            onChange={(percent, repeats) => {
              set({ flow: percent / 100 }, repeats);
            }}
          />
          <NumberField
            label="Speed"
            unit="mm/s"
            value={now.speedMmS}
            least={IRONING_LIMITS.speedMmS[0]}
            greatest={IRONING_LIMITS.speedMmS[1]}
            step={1}
            decimals={0}
            testId="iron-speed"
            onChange={(speedMmS, repeats) => {
              set({ speedMmS }, repeats);
            }}
          />
        </div>
      ) : null}
    </fieldset>
  );
}
