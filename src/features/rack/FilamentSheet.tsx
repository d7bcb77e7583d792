import { Copy, Ruler, Trash2 } from 'lucide-react';
import { useState } from 'react';
import type { WedgeReading } from '#core/optics/wedge-reading.ts';
import type { Filament } from '#core/stack/filament.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { Facts } from '../../ui/Facts.tsx';
import { FilamentForm } from './FilamentForm.tsx';
import { Note } from '../../ui/Note.tsx';
import { Row, Spacer } from '../../ui/Row.tsx';
import styles from './Rack.module.css';
import { describeBasis } from '#core/stack/filament-words.ts';
import { FINDING_WORDS, formatTransmission } from './rack-words.ts';
import { SwatchCard } from './SwatchCard.tsx';

const PARTS = [
  { value: 'looks', text: 'Looks' },
  { value: 'values', text: 'Values' },
  { value: 'measured', text: 'Measured' },
] as const;
type Part = (typeof PARTS)[number]['value'];

interface FilamentSheetProps {
  readonly filament: Filament;
  /** The same filament as it is planned with: label values tuned. */
  readonly planned: Filament;
  readonly black: Filament;
  readonly white: Filament;
  readonly layerMm: number;
  /** What working the kept reading out anew said; null while nothing was asked. */
  readonly refitted: string | null;
  readonly onSave: (filament: Filament) => void;
  readonly onDuplicate: () => void;
  readonly onDelete: () => void;
  readonly onWedge: () => void;
  readonly onRefit: () => void;
  readonly onReadings: () => void;
  readonly onClose: () => void;
}

/** Everything about one filament, beside the table. */
export function FilamentSheet(props: FilamentSheetProps) {
  const { filament, planned, black, white, layerMm, onClose } = props;
  const [part, setPart] = useState<Part>('looks');
  return (
    <Dialog
      open
      onOpenChange={(open) => {
        if (!open) onClose();
      }}
      title={filament.name}
      place="wide"
    >
      <Row>
        <Choice label="Part" value={part} options={PARTS} onChange={setPart} />
        <Spacer />
        <Button icon={<Copy size={15} aria-hidden />} onClick={props.onDuplicate}>
          Duplicate
        </Button>
        <Button icon={<Trash2 size={15} aria-hidden />} onClick={props.onDelete}>
          Delete
        </Button>
      </Row>
      <div className={styles.sheet}>
        {part === 'looks' ? (
          <SwatchCard filament={planned} black={black} white={white} layerMm={layerMm} />
        ) : null}
        {part === 'values' ? (
          <FilamentForm filament={filament} submitText="Save" onSubmit={props.onSave} />
        ) : null}
        {part === 'measured' ? <Measured {...props} /> : null}
      </div>
    </Dialog>
  );
}

function Measured({
  filament,
  planned,
  refitted,
  onWedge,
  onRefit,
  onReadings,
}: FilamentSheetProps) {
  const { reading } = filament;
  return (
    <>
      <Facts
        rows={[
          [
            'Transmission',
            `${formatTransmission(filament.transmissionMm)} mm, ${describeBasis(filament.basis)}`,
          ],
          ['Found', FINDING_WORDS[filament.found]],
          [
            'May be off by',
            filament.uncertainty === undefined
              ? 'not known'
              : `±${Math.max(1, Math.round(filament.uncertainty * 100))} %`,
          ],
          ...(planned.transmissionMm === filament.transmissionMm
            ? []
            : ([
                ['Planned with (rack tuning)', `${formatTransmission(planned.transmissionMm)} mm`],
              ] as const)),
          ['Reading', describeReading(reading)],
        ]}
      />
      <Note>
        A step wedge is a small print that shows how much shines through. It takes about an hour and
        makes every picture with this filament truer.
      </Note>
      <div className={styles.actions}>
        {reading?.kind === 'photo' ? (
          <>
            <Button onClick={onReadings}>Readings as CSV</Button>
            <Button onClick={onRefit}>Work out anew</Button>
          </>
        ) : null}
        <Button look="main" icon={<Ruler size={16} aria-hidden />} onClick={onWedge}>
          Measure with a step wedge
        </Button>
      </div>
      {refitted ? <p role="status">{refitted}</p> : null}
    </>
  );
}

function describeReading(reading: WedgeReading | undefined): string {
  if (!reading) return 'none yet';
  return reading.kind === 'photo'
    ? `photo of ${reading.date}, ${reading.patches.length} patches`
    : `by eye on ${reading.date}, ${formatTransmission(reading.notMetMm)} to ${formatTransmission(reading.metMm)} mm`;
}
