import { Pipette, X } from 'lucide-react';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { bandEnds, bandLetter } from '#core/stack/stack.ts';
import { useDocument, useLive, useProject } from '../../state/project-context.ts';
import { REPEATS, SAME_FIELD } from '../../state/document-store.ts';
import {
  addAim,
  changeAim,
  removeAim,
  setLean,
  toggleEndBand,
} from '../../state/edits/height-edits.ts';
import { Button } from '../../ui/Button.tsx';
import { LEAN_MARKS, LeanRow } from './LeanRow.tsx';
import styles from './StackPanel.module.css';

/** The height rule *Closest blend*: which bands heights may end in, and the aim colours that steer them. */
export function ClosestPanel() {
  const { views } = useProject();
  const bands = useDocument((state) => state.document.stack.bands);
  const { bandIds, aims, lean } = useDocument((state) => state.document.heights.closest);
  const change = useDocument((state) => state.change);
  const stage = useLive((state) => state.edited.stage);
  const allowed = (id: string): boolean => bandIds === null || bandIds.includes(id);

  /** The artwork's colour at the last pin, or in its middle. */
  const pickedColour = (): string => {
    const { x, y } = views.getState().pins.at(-1) ?? { x: 0.5, y: 0.5 };
    const at = 4 * (Math.floor(y * stage.height) * stage.width + Math.floor(x * stage.width));
    return `#${[0, 1, 2].map((k) => (stage.data[at + k] ?? 0).toString(16).padStart(2, '0')).join('')}`;
  };
  const ends = bandEnds(bands);

  return (
    <>
      <LeanRow lean={lean} make={setLean} to="relief" marks={LEAN_MARKS} />
      <div className={styles.chips} role="group" aria-label="Bands that heights may end in">
        <span>Ends in</span>
        {bands.map(({ id }, i) => (
          <Button
            key={id}
            aria-pressed={allowed(id)}
            aria-label={`Heights may end in band ${bandLetter(i)}`}
            onClick={() => {
              change(toggleEndBand(id));
            }}
          >
            {bandLetter(i)}
          </Button>
        ))}
        <Button
          look="quiet"
          icon={<Pipette size={15} aria-hidden />}
          title="Pins the artwork's colour at the last pin on the picture to a layer"
          onClick={() => {
            change(addAim(pickedColour()));
          }}
        >
          Aim colour
        </Button>
      </div>
      {aims.length > 0 ? (
        <div className={styles.aims} data-testid="aims">
          <p>Aim colours steer heights; the print still shows the filaments.</p>
          <ul>
            {aims.map(({ colour, layerNumber }, i) => (
              <li key={i}>
                <input
                  type="color"
                  aria-label={`Aim colour ${i + 1}`}
                  value={colour}
                  onChange={(event) => {
                    change(changeAim(i, { colour: event.target.value }), SAME_FIELD);
                  }}
                />
                <span>at layer</span>
                <input
                  className={`${styles.layerInput} figures`}
                  type="number"
                  aria-label={`Layer of aim colour ${i + 1}`}
                  min={1}
                  max={ends.at(-1) ?? 1}
                  value={layerNumber}
                  onChange={(event) => {
                    const next = Math.round(Number(event.target.value));
                    if (next >= 1 && next <= MAX_LAYERS)
                      change(changeAim(i, { layerNumber: next }), REPEATS);
                  }}
                />
                <Button
                  look="quiet"
                  icon={<X size={14} aria-hidden />}
                  aria-label={`Remove aim colour ${i + 1}`}
                  onClick={() => {
                    change(removeAim(i));
                  }}
                />
              </li>
            ))}
          </ul>
        </div>
      ) : null}
    </>
  );
}
