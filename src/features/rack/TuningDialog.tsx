import { useState } from 'react';
import { formatHex } from '#core/colour/srgb.ts';
import { GREATEST_SPREAD_MM, tuneFilament, type Filament } from '#core/stack/filament.ts';
import { CARD_BLACK_MM, CARD_WHITE_MM, swatchesOver } from '#core/stack/swatch-card.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { SelectField } from '../../ui/Fields.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { RangeSlider } from '../../ui/RangeSlider.tsx';
import { Note } from '../../ui/Note.tsx';
import { Row } from '../../ui/Row.tsx';
import styles from './Rack.module.css';
import { formatTransmission } from './rack-words.ts';

interface TuningDialogProps {
  /** Filaments whose value stems from a label. */
  readonly filaments: readonly Filament[];
  readonly black: Filament;
  readonly white: Filament;
  readonly layerMm: number;
  readonly tuning: number;
  readonly least: number;
  readonly greatest: number;
  /** The rack's own spread, mm; see `Rack`. */
  readonly spreadMm: number;
  readonly onApply: (tuning: number, spreadMm: number) => void;
  readonly onClose: () => void;
}

/** Steps of the slider on a logarithmic scale: doubling and halving are the same way. */
const STEPS = 200;

/** The filament of middling transmission: a few layers of it neither hide everything nor vanish. */
function middleOf(filaments: readonly Filament[]): Filament | undefined {
  const sorted = [...filaments].sort((a, b) => a.transmissionMm - b.transmissionMm);
  return sorted[sorted.length >> 1];
}

/** One factor for all label values, found by holding one printed swatch beside the screen. */
export function TuningDialog({
  filaments,
  black,
  white,
  layerMm,
  tuning,
  least,
  greatest,
  spreadMm,
  onApply,
  onClose,
}: TuningDialogProps) {
  const [factor, setFactor] = useState(tuning);
  const [id, setId] = useState(() => middleOf(filaments)?.id ?? '');
  const [layers, setLayers] = useState(4);
  const [spread, setSpread] = useState(spreadMm);
  const filament = filaments.find((candidate) => candidate.id === id) ?? filaments[0];
  const span = Math.log(greatest / least);
  const place = Math.round((Math.log(factor / least) / span) * STEPS);
  const shown = filament && tuneFilament(filament, factor);
  const over = (ground: Filament, thicknessMm: number): string => {
    const step =
      shown && swatchesOver(shown, { filament: ground, thicknessMm }, layerMm, layers).at(-1);
    return formatHex(step?.colour ?? [0, 0, 0]);
  };
  return (
    <Dialog
      open
      onOpenChange={(open) => {
        if (!open) onClose();
      }}
      title="Rack tuning"
      description="Labels are measured in ways of their own and are often off by one and the same factor. Print a few layers of one filament over black and over white, hold them beside the screen, and move the factor until both look alike. Only values from labels are multiplied; measured and typed ones stay."
    >
      {filament && shown ? (
        <>
          <div className={styles.form}>
            <SelectField
              label="Printed filament"
              value={filament.id}
              options={filaments.map((candidate) => ({
                value: candidate.id,
                text: `${candidate.name}, ${candidate.maker}`,
              }))}
              onChange={setId}
            />
            <NumberField
              label={`Layers of ${layerMm} mm`}
              value={layers}
              least={1}
              greatest={60}
              step={1}
              decimals={0}
              onChange={(value) => {
                setLayers(Math.round(value));
              }}
            />
          </div>
          <div className={styles.pair} data-testid="tuning-swatch">
            <div>over {black.name}</div>
            <div>over {white.name}</div>
            <span style={{ background: over(black, CARD_BLACK_MM) }} />
            <span style={{ background: over(white, CARD_WHITE_MM) }} />
          </div>
          <Row>
            <span>Factor</span>
            <RangeSlider
              labels={['Factor']}
              values={[place]}
              least={0}
              greatest={STEPS}
              step={1}
              onChange={([value = 0]) => {
                setFactor(Number((least * Math.exp((span * value) / STEPS)).toFixed(3)));
              }}
            />
            <span className="figures" data-testid="tuning-factor">
              {factor.toFixed(2)} x
            </span>
          </Row>
          <Note>
            {filament.name}: {formatTransmission(filament.transmissionMm)} mm on the label is
            planned as {formatTransmission(shown.transmissionMm)} mm. The same factor counts for{' '}
            {filaments.length === 1 ? 'this filament' : `all ${filaments.length} filaments`} with a
            label value.
          </Note>
        </>
      ) : (
        <p>No filament has a value from a label, so there is nothing to tune.</p>
      )}
      <NumberField
        label="Light spreads sideways, mm"
        value={spread}
        least={0}
        greatest={GREATEST_SPREAD_MM}
        step={0.05}
        decimals={2}
        testId="rack-spread"
        onChange={setSpread}
      />
      <Note>
        {spread === 0
          ? '0 shows every edge as sharp as it is printed. Light goes 0.3 to 1 mm sideways in see-through plastic, so fine detail is softer in the print.'
          : `Used for filaments that have no value of their own. ${spread} mm is a guess until it is measured on a step wedge.`}
      </Note>
      <div className={styles.actions}>
        {tuning === 1 ? null : (
          <Button
            onClick={() => {
              onApply(1, spread);
            }}
          >
            Without tuning
          </Button>
        )}
        <Button onClick={onClose}>Cancel</Button>
        <Button
          look="main"
          disabled={!filament && spread === spreadMm}
          onClick={() => {
            onApply(factor, spread);
          }}
        >
          Use these values
        </Button>
      </div>
    </Dialog>
  );
}
