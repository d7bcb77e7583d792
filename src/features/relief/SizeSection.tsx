import { formatSize } from '#core/schedule/words.ts';
import { Link2, Link2Off, Maximize2 } from 'lucide-react';
import { misfits, type Opening } from '#core/relief/fit.ts';
import {
  GREATEST_SAMPLE_MM,
  GREATEST_SIDE_MM,
  LEAST_SAMPLE_MM,
  LEAST_SIDE_MM,
} from '#core/relief/sampling.ts';
import { describeBed, type Printer } from '#core/printer/printer.ts';
import { heightMmOf, heightRatioOf } from '../../state/document-facts.ts';
import { bedOpening } from '../../state/printers.ts';
import {
  useDocument,
  usePieceSize,
  usePrintedTop,
  useProject,
} from '../../state/project-context.ts';
import { joinsWhen } from '../../state/document-store.ts';
import {
  growToFit,
  linkSides,
  setSampleSize,
  setHeight,
  setOpening,
  setOutlines,
  setTrim,
  setWidth,
} from '../../state/edits/piece-edits.ts';
import { Button } from '../../ui/Button.tsx';
import { CheckField, SelectField } from '../../ui/Fields.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { Note } from '../../ui/Note.tsx';
import { PanelHeading } from '../../ui/Panel.tsx';
import styles from './ReliefPanel.module.css';

const MISFIT_WORDS = {
  'too-wide': 'too wide',
  'too-high': 'too high',
  'too-thick': 'too thick',
} as const;

const FRAME: Opening = { kind: 'frame', widthMm: 130, heightMm: 180, depthMm: 5 };

/** Width, height, sample size, and what the piece has to fit on or into. */
export function SizeSection() {
  const document = useDocument((state) => state.document);
  const change = useDocument((state) => state.change);
  const {
    piece: { widthMm, heightMm, fit: opening, trim },
    artwork: { file: artwork },
  } = document;
  const { printers } = useProject();
  // The project's own printer first, also where it is no longer among the maker's.
  const beds = [
    document.print.printer,
    ...printers.filter(({ id }) => id !== document.print.printer.id),
  ];
  const linked = heightMm === null;
  const ratio = heightRatioOf(document);
  const size = usePieceSize();
  const { mm: thicknessMm } = usePrintedTop();
  const wrong = opening ? misfits({ ...size, thicknessMm }, opening) : [];
  const hasMargins = artwork.box !== undefined && artwork.box.width * artwork.box.height < 0.999;
  return (
    <>
      <PanelHeading>Size</PanelHeading>
      <NumberField
        label="Width"
        unit="mm"
        value={widthMm}
        least={LEAST_SIDE_MM}
        greatest={GREATEST_SIDE_MM}
        step={1}
        testId="width-mm"
        onChange={(value, repeats) => {
          change(setWidth(value), joinsWhen(repeats));
        }}
      />
      <NumberField
        label="Height"
        unit="mm"
        value={heightMmOf(document)}
        least={linked ? LEAST_SIDE_MM * ratio : LEAST_SIDE_MM}
        greatest={linked ? GREATEST_SIDE_MM * ratio : GREATEST_SIDE_MM}
        step={1}
        testId="height-mm"
        onChange={(value, repeats) => {
          change(setHeight(value), joinsWhen(repeats));
        }}
      />
      <div className={styles.row}>
        <Button
          look="quiet"
          icon={linked ? <Link2 size={15} aria-hidden /> : <Link2Off size={15} aria-hidden />}
          aria-pressed={linked}
          onClick={() => {
            change(linkSides(!linked));
          }}
        >
          {linked ? 'keeps the proportions' : 'width and height apart'}
        </Button>
      </div>
      {hasMargins ? (
        <CheckField
          label="Size counts only what is printed"
          checked={trim}
          testId="trim"
          onChange={(checked) => {
            change(setTrim(checked));
          }}
        />
      ) : null}
      <NumberField
        label="Sample size"
        unit="mm"
        value={document.piece.sampleMm}
        least={LEAST_SAMPLE_MM}
        greatest={GREATEST_SAMPLE_MM}
        step={0.05}
        testId="sample-mm"
        onChange={(value, repeats) => {
          change(setSampleSize(value), joinsWhen(repeats));
        }}
      />
      {document.heights.rule === 'flat' ? (
        <CheckField
          label="Smooth outlines, for letters and logos"
          checked={document.piece.outlines === 'smooth'}
          testId="smooth-outlines"
          onChange={(checked) => {
            change(setOutlines(checked ? 'smooth' : 'samples'));
          }}
        />
      ) : null}
      <div className={styles.row}>
        <SelectField
          label="Has to fit"
          value={opening ? chosenName(opening, beds) : 'nothing'}
          testId="fit-choice"
          options={[
            { value: 'nothing', text: 'nothing' },
            ...beds.map(({ id, name, bed }) => ({
              value: id,
              text: `bed of ${name}, ${describeBed(bed)}`,
            })),
            { value: 'frame', text: 'a frame opening' },
          ]}
          onChange={(value) => {
            const chosen = beds.find(({ id }) => id === value);
            change(setOpening(chosen ? bedOpening(chosen) : value === 'frame' ? FRAME : null));
          }}
        />
        {opening ? (
          <Button
            icon={<Maximize2 size={14} aria-hidden />}
            onClick={() => {
              change(growToFit());
            }}
          >
            As large as fits
          </Button>
        ) : null}
      </div>
      {opening?.kind === 'frame'
        ? (
            [
              ['widthMm', 'Opening width', 2000],
              ['heightMm', 'Opening height', 2000],
              ['depthMm', 'Depth', 1000],
            ] as const
          ).map(([key, label, greatest]) => (
            <NumberField
              key={key}
              label={label}
              unit="mm"
              value={opening[key] ?? 5}
              least={0.5}
              greatest={greatest}
              step={1}
              testId={`opening-${key}`}
              onChange={(value, repeats) => {
                change(setOpening({ ...opening, [key]: value }), joinsWhen(repeats));
              }}
            />
          ))
        : null}
      {wrong.length > 0 && opening ? (
        <Note tone="attention" role="status" data-testid="misfit">
          {formatSize(size)}, {thicknessMm} mm thick, is{' '}
          {wrong.map((one) => MISFIT_WORDS[one]).join(' and ')} for{' '}
          {opening.kind === 'bed'
            ? opening.round === true
              ? `a round bed of ${opening.widthMm} mm`
              : `a bed of ${opening.widthMm} x ${opening.heightMm} mm`
            : `an opening of ${opening.widthMm} x ${opening.heightMm} mm, ${opening.depthMm ?? 0} mm deep`}
          .
        </Note>
      ) : null}
    </>
  );
}

function chosenName(opening: Opening, beds: readonly Printer[]): string {
  if (opening.kind === 'frame') return 'frame';
  const same = beds.find((printer) => {
    const { widthMm, heightMm, round = false } = bedOpening(printer);
    return (
      widthMm === opening.widthMm &&
      heightMm === opening.heightMm &&
      round === (opening.round ?? false)
    );
  });
  return same?.id ?? 'nothing';
}
