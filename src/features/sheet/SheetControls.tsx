import { Settings2 } from 'lucide-react';
import { useState } from 'react';
import { describeBed, unsuitedTo, type Unsuited } from '#core/printer/printer.ts';
import { MOST_COPIES, WIDEST_SPACING_MM, type Way } from '#core/schedule/pieces.ts';
import type { SwapSheet } from '#core/schedule/swap-sheet.ts';
import { formatMm, formatSize } from '#core/schedule/words.ts';
import { joinsWhen, SAME_FIELD } from '../../state/document-store.ts';
import { isSameProfile } from '../../state/printers.ts';
import {
  changePieces,
  choosePrinter,
  setSliced,
  setSpliceMargin,
  setStart,
} from '../../state/edits/print-edits.ts';
import { GREATEST_FIGURE } from '../../state/slices/print.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import type { BatchAtHand } from '../../state/use-batch.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { CheckField, SelectField, TextField } from '../../ui/Fields.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { useTypedHold } from '../../ui/typed-hold.ts';
import { OwnLayersFields } from './OwnLayersFields.tsx';
import { PauseSnippet } from './PauseSnippet.tsx';
import styles from './SheetPage.module.css';

interface SheetControlsProps {
  readonly sheet: SwapSheet;
  readonly splices: boolean;
  readonly onSplices: (on: boolean) => void;
  readonly contrast: boolean;
  readonly onContrast: (on: boolean) => void;
  readonly onPrinters: () => void;
  readonly batch: BatchAtHand;
}

/** What the sheet cannot know by itself: the printer, the start, how many pieces, the slicing program's own figures. */
export function SheetControls({
  sheet,
  splices,
  onSplices,
  contrast,
  onContrast,
  onPrinters,
  batch,
}: SheetControlsProps) {
  const { printers } = useProject();
  const document = useDocument((state) => state.document);
  const change = useDocument((state) => state.change);
  const { print: told } = document;
  const { printer, pieces } = told;
  const choices = [printer, ...printers.filter(({ id }) => id !== printer.id)];
  const profile = printers.find(({ id }) => id === printer.id);
  const older = profile && !isSameProfile(profile, printer);
  return (
    <>
      <h2>This print</h2>
      <SelectField
        label="Printer"
        value={printer.id}
        testId="sheet-printer"
        options={choices.map(({ id, name }) => ({ value: id, text: name }))}
        onChange={(id) => {
          const chosen = choices.find((one) => one.id === id);
          if (chosen) change(choosePrinter(chosen));
        }}
      />
      <div className={styles.pair}>
        {older ? (
          <Button
            look="quiet"
            onClick={() => {
              change(choosePrinter(profile));
            }}
          >
            Take the changed profile
          </Button>
        ) : null}
        <Button look="quiet" icon={<Settings2 size={15} aria-hidden />} onClick={onPrinters}>
          Printers
        </Button>
      </div>
      <PrinterNotes sheet={sheet} />
      <StartField
        value={told.startsAt}
        onChange={(value) => {
          change(setStart(value), SAME_FIELD);
        }}
      />

      <h2>Pieces</h2>
      <NumberField
        label="Copies"
        value={pieces.copies}
        least={1}
        greatest={MOST_COPIES}
        step={1}
        decimals={0}
        testId="copies"
        onChange={(copies, repeats) => {
          change(changePieces({ copies }), joinsWhen(repeats));
        }}
      />
      {pieces.copies > 1 ? (
        <>
          <NumberField
            label="Space between"
            unit="mm"
            value={pieces.spacingMm}
            least={0}
            greatest={WIDEST_SPACING_MM}
            step={1}
            testId="spacing-mm"
            onChange={(spacingMm, repeats) => {
              change(changePieces({ spacingMm }), joinsWhen(repeats));
            }}
          />
          <Choice<Way>
            label="Printed"
            value={pieces.way}
            options={[
              { value: 'together', text: 'Together' },
              { value: 'apart', text: 'One by one' },
            ]}
            onChange={(way) => {
              change(changePieces({ way }));
            }}
          />
          {pieces.way === 'apart' ? <OwnLayersFields batch={batch} /> : null}
        </>
      ) : null}

      <h2>The slicing program says</h2>
      <FigureField
        label={`Printing time without swaps, min${pieces.copies > 1 ? (pieces.way === 'together' ? ', all pieces' : ', one piece') : ''}`}
        value={told.slicedMinutes}
        greatest={GREATEST_FIGURE}
        testId="sliced-minutes"
        onChange={(value) => {
          change(setSliced('slicedMinutes', value));
        }}
      />
      <FigureField
        label="Filament, g"
        value={told.slicedGrams}
        greatest={GREATEST_FIGURE}
        testId="sliced-grams"
        onChange={(value) => {
          change(setSliced('slicedGrams', value));
        }}
      />

      <h2>On the paper</h2>
      <CheckField
        label="High contrast, for the workshop"
        checked={contrast}
        testId="contrast"
        onChange={onContrast}
      />
      <CheckField
        label="Splice plan"
        checked={splices}
        testId="with-splices"
        onChange={onSplices}
      />
      {splices ? (
        <NumberField
          label="Put by at the end"
          unit="mm"
          value={told.spliceMarginMm}
          least={0}
          greatest={GREATEST_FIGURE}
          step={50}
          decimals={0}
          testId="splice-margin"
          onChange={(value, repeats) => {
            change(setSpliceMargin(value), joinsWhen(repeats));
          }}
        />
      ) : null}

      <PauseSnippet sheet={sheet} />
    </>
  );
}

/** Where the piece and the chosen printer do not suit each other. */
function PrinterNotes({ sheet }: { readonly sheet: SwapSheet }) {
  const { printer, base, firstLayerMm, layerMm } = sheet;
  const highestLayerMm = Math.max(firstLayerMm, layerMm, base?.layerMm ?? 0);
  const words: Readonly<Record<Unsuited, string>> = {
    'off-bed': `${formatSize(sheet)} does not lie on its bed of ${describeBed(printer.bed)}. Make the piece smaller at stop 3.`,
    'too-high': `${formatMm(sheet.thicknessMm)} is higher than it prints (${printer.heightMm} mm).`,
    'layers-above-nozzle': `Layers of ${formatMm(highestLayerMm)} do not come out of a nozzle of ${printer.nozzleMm} mm. Take thinner ones at stop 3.`,
    'other-layers': `It likes layers of ${formatMm(printer.firstLayerMm)}, then ${formatMm(printer.layerMm)}. This piece has ${formatMm(firstLayerMm)}, then ${formatMm(layerMm)}: set just these.`,
  };
  const found = unsuitedTo(printer, {
    widthMm: sheet.widthMm,
    depthMm: sheet.heightMm,
    thicknessMm: sheet.thicknessMm,
    firstLayerMm,
    layerMm,
    highestLayerMm,
  });
  return found.map((one) => (
    <p key={one} className={styles.unsuited} role="status" data-testid={`unsuited-${one}`}>
      {words[one]}
    </p>
  ));
}

/** The moment that a print starts; cleared, the sheet has no clock. */
function StartField({
  value,
  onChange,
}: {
  readonly value: string | null;
  readonly onChange: (value: string | null) => void;
}) {
  return (
    <TextField
      label="Starts"
      type="datetime-local"
      data-testid="starts-at"
      value={value ?? ''}
      onChange={(event) => {
        const text = event.target.value;
        if (text === '') onChange(null);
        else if (!Number.isNaN(Date.parse(text))) onChange(text.slice(0, 16));
      }}
    />
  );
}

/** A figure that may be left open. It counts once it is a number above 0. */
function FigureField({
  label,
  value,
  greatest,
  testId,
  onChange,
}: {
  readonly label: string;
  readonly value: number | null;
  readonly greatest: number;
  readonly testId: string;
  readonly onChange: (value: number | null) => void;
}) {
  const hold = useTypedHold();
  const [typed, setTyped] = useState<string | null>(null);
  const read = (text: string): number => Number(text.replace(',', '.'));
  const isWrong = (text: string): boolean =>
    text.trim() !== '' && !(read(text) > 0 && read(text) <= greatest);
  const wrong = typed !== null && isWrong(typed);
  const take = (text: string): void => {
    onChange(text.trim() === '' ? null : read(text));
  };
  return (
    <TextField
      label={label}
      inputMode="decimal"
      placeholder="not asked"
      data-testid={testId}
      value={typed ?? (value === null ? '' : String(value))}
      trouble={wrong ? `A number above 0, at most ${greatest}, or nothing` : undefined}
      onChange={(event) => {
        const text = event.target.value;
        setTyped(text);
        hold(
          isWrong(text)
            ? null
            : () => {
                take(text);
              },
        );
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
      }}
      onBlur={() => {
        if (typed === null || wrong) return;
        hold(null);
        take(typed);
        setTyped(null);
      }}
    />
  );
}
