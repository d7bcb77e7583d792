import { Plus, Trash2 } from 'lucide-react';
import { missesPrint, placeForHole } from '#core/relief/hole-place.ts';
import { GREATEST_SIDE_MM } from '#core/relief/sampling.ts';
import { PLATE_OUTLINES, type PlateOutline } from '#core/relief/shape.ts';
import { bandEnds, bandLetter, totalLayers } from '#core/stack/stack.ts';
import { samplesOf } from '../../state/document-facts.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { GREATEST_MARGIN_MM, MOST_HOLES } from '../../state/slices/piece.ts';
import { useDocument, useLive, useProject } from '../../state/project-context.ts';
import { joinsWhen } from '../../state/document-store.ts';
import {
  addHole,
  changeHole,
  changePlate,
  LEAST_BORDER_MM,
  LEAST_HOLE_MM,
  removeHole,
  setBorder,
  setBorderWidth,
  setCorners,
  setPlate,
} from '../../state/edits/piece-edits.ts';
import { Button } from '../../ui/Button.tsx';
import { SelectField } from '../../ui/Fields.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { Note } from '../../ui/Note.tsx';
import styles from './ReliefPanel.module.css';

const OUTLINE_WORDS: Readonly<Record<PlateOutline, string>> = {
  rectangle: 'rectangle',
  rounded: 'rounded rectangle',
  circle: 'circle',
  own: "the picture's own outline",
};

const NONE = 'none';

/** The heights at which bands end, with their filaments: what a border or a plate is seen in. */
function heightChoices({
  stack: { bands, filaments },
}: ProjectDocument): { value: string; text: string }[] {
  const ends = bandEnds(bands);
  return bands.map(({ filamentId }, i) => ({
    value: String(ends[i] ?? 1),
    text: `${bandLetter(i)} ${filaments[filamentId]?.name ?? filamentId}, ${ends[i] ?? 1} layers`,
  }));
}

/** Width of a new hole, mm: for a nail or a thin cord. */
const HOLE_MM = 4;

/** Border, plate, corners and holes. */
export function ShapeSection() {
  const document = useDocument((state) => state.document);
  const change = useDocument((state) => state.change);
  const { live } = useProject();
  const heights = useLive((state) => state.heights);
  const sampleMm = useLive((state) => state.shown.sampleMm);
  const { border, plate, cornerMm, holes } = document.piece.shape;
  const choices = heightChoices(document);
  const top = totalLayers(document.stack.bands);
  const piece = samplesOf(document);
  const nearest = (layers: number): string =>
    choices.find(({ value }) => Number(value) >= layers)?.value ?? String(top);
  return (
    <details className={styles.fold} data-testid="shape-section">
      <summary>
        Border, plate and holes{' '}
        <span className={styles.soft}>
          {[
            border && 'border',
            plate && 'plate',
            holes.length > 0 && `${holes.length} ${holes.length === 1 ? 'hole' : 'holes'}`,
          ]
            .filter(Boolean)
            .join(', ') || 'none'}
        </span>
      </summary>
      <SelectField
        label="Border"
        value={border ? nearest(border.layers) : NONE}
        testId="border-choice"
        options={[{ value: NONE, text: 'none' }, ...choices]}
        onChange={(value) => {
          change(setBorder(value === NONE ? null : Number(value)));
        }}
      />
      {border ? (
        <NumberField
          label="Border width"
          unit="mm"
          value={border.widthMm}
          least={LEAST_BORDER_MM}
          greatest={GREATEST_MARGIN_MM}
          step={0.5}
          testId="border-mm"
          onChange={(value, repeats) => {
            change(setBorderWidth(value), joinsWhen(repeats));
          }}
        />
      ) : null}
      <SelectField
        label="Plate behind what is cut away"
        value={plate?.outline ?? NONE}
        testId="plate-choice"
        options={[
          { value: NONE, text: 'none' },
          ...PLATE_OUTLINES.map((outline) => ({ value: outline, text: OUTLINE_WORDS[outline] })),
        ]}
        onChange={(value) => {
          change(setPlate(value === NONE ? null : value, Number(choices[0]?.value ?? 3)));
        }}
      />
      {plate ? (
        <>
          <SelectField
            label="Plate in"
            value={nearest(plate.layers)}
            testId="plate-layers"
            options={choices}
            onChange={(value) => {
              change(changePlate({ layers: Number(value) }));
            }}
          />
          <NumberField
            label="Margin"
            unit="mm"
            value={plate.marginMm}
            least={0}
            greatest={GREATEST_MARGIN_MM}
            step={0.5}
            testId="plate-mm"
            onChange={(marginMm, repeats) => {
              change(changePlate({ marginMm }), joinsWhen(repeats));
            }}
          />
        </>
      ) : null}
      <NumberField
        label="Corner radius"
        unit="mm"
        value={cornerMm}
        least={0}
        greatest={GREATEST_MARGIN_MM}
        step={1}
        testId="corner-mm"
        onChange={(value, repeats) => {
          change(setCorners(value), joinsWhen(repeats));
        }}
      />
      {holes.map((hole, i) => (
        <div key={i} className={styles.hole}>
          {(
            [
              ['xMm', 'from left'],
              ['yMm', 'from top'],
              ['diameterMm', 'wide'],
            ] as const
          ).map(([key, text]) => (
            <NumberField
              key={key}
              label={`Hole ${i + 1}, ${text}`}
              unit="mm"
              value={hole[key]}
              least={key === 'diameterMm' ? LEAST_HOLE_MM : 0}
              greatest={key === 'diameterMm' ? GREATEST_MARGIN_MM : GREATEST_SIDE_MM}
              step={0.5}
              testId={`hole-${i}-${key}`}
              onChange={(value, repeats) => {
                change(changeHole(i, key, value), joinsWhen(repeats));
              }}
            />
          ))}
          <Button
            look="quiet"
            icon={<Trash2 size={15} aria-hidden />}
            aria-label={`Take hole ${i + 1} away`}
            onClick={() => {
              change(removeHole(i));
            }}
          />
          {heights && missesPrint(heights, sampleMm, hole) ? (
            <Note tone="attention" role="status" data-testid="hole-misses">
              Nothing is printed around hole {i + 1}. Move it onto the print.
            </Note>
          ) : null}
        </div>
      ))}
      {holes.length < MOST_HOLES ? (
        <Button
          icon={<Plus size={15} aria-hidden />}
          onClick={() => {
            const { heights, shown } = live.store.getState();
            const place = heights && placeForHole(heights, shown.sampleMm, HOLE_MM);
            change(
              addHole({
                ...(place ?? { xMm: Math.round(piece.widthMm / 2), yMm: 5 }),
                diameterMm: HOLE_MM,
              }),
            );
          }}
        >
          Add a hole
        </Button>
      ) : null}
    </details>
  );
}
