import { ArrowDown, ArrowUp, Merge } from 'lucide-react';
import type { ArtworkEdit, PaletteColour } from '#core/edit/artwork-edit.ts';
import { MOST_COLOURS } from '#core/edit/flat/palette.ts';
import { Button } from '../../ui/Button.tsx';
import { CheckField } from '../../ui/Fields.tsx';
import { Note } from '../../ui/Note.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { Row } from '../../ui/Row.tsx';
import styles from './ArtworkPanel.module.css';
import { useAnswer } from './use-artwork.ts';
import { useSettings } from './use-settings.ts';

/** Few clean colours: how many, and what each becomes. Changes of the list only paint areas anew. */
export function ColoursPanel({ edit }: { readonly edit: ArtworkEdit<'colours'> }) {
  const { set, seek } = useSettings(edit.id);
  const { count, thin, palette } = edit;
  const found = useAnswer({ of: 'palette', settings: { count, thin, palette } }, edit.id)?.palette;
  if (!found) return <Note role="status">Looking for the colours</Note>;
  const colours = palette ?? found.colours;
  const settle = (next: readonly PaletteColour[]): void => {
    set({ palette: next });
  };
  const move = (from: number, to: number): void => {
    const next = [...colours];
    const [one] = next.splice(from, 1);
    if (one) next.splice(to, 0, one);
    settle(next);
  };
  return (
    <>
      <Row>
        <NumberField
          label="Colours"
          value={count ?? found.colours.length - (thin ? 1 : 0)}
          least={2}
          greatest={MOST_COLOURS}
          step={1}
          decimals={0}
          testId="colour-count"
          onChange={(next) => {
            set({ count: Math.round(next), palette: null });
          }}
        />
        <Button
          disabled={count === null && palette === null}
          title={`The picture seems to have ${found.proposed}`}
          onClick={() => {
            set({ count: null, palette: null });
          }}
        >
          As many as there are
        </Button>
      </Row>
      <CheckField
        label="one more: thin dark lines"
        checked={thin}
        testId="thin-lines"
        onChange={(checked) => {
          set({ thin: checked, palette: null });
        }}
      />
      <ol className={styles.palette} data-testid="palette">
        {colours.map(({ seed, colour }, i) => (
          <li key={`${seed} ${i}`}>
            <input
              type="color"
              aria-label={`Colour ${i + 1}`}
              value={colour}
              onChange={(event) => {
                const next = event.target.value;
                seek({
                  palette: colours.map((one, k) => (k === i ? { ...one, colour: next } : one)),
                });
              }}
            />
            <span className="figures">{colour}</span>
            <span className="figures">{(100 * (found.shares[i] ?? 0)).toFixed(1)} %</span>
            <Button
              look="quiet"
              icon={<ArrowUp size={14} aria-hidden />}
              aria-label={`Colour ${i + 1} earlier`}
              disabled={i === 0}
              onClick={() => {
                move(i, i - 1);
              }}
            />
            <Button
              look="quiet"
              icon={<ArrowDown size={14} aria-hidden />}
              aria-label={`Colour ${i + 1} later`}
              disabled={i === colours.length - 1}
              onClick={() => {
                move(i, i + 1);
              }}
            />
            <Button
              look="quiet"
              icon={<Merge size={14} aria-hidden />}
              aria-label={`Colour ${i + 1} becomes the one above it`}
              title="Becomes the one above it"
              disabled={i === 0 || colours[i - 1]?.colour === colour}
              onClick={() => {
                const above = colours[i - 1]?.colour ?? colour;
                settle(colours.map((one, k) => (k === i ? { ...one, colour: above } : one)));
              }}
            />
          </li>
        ))}
      </ol>
      {palette ? <Note>The list is yours now; areas only change their paint.</Note> : null}
    </>
  );
}
