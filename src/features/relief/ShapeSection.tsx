import { Plus, Trash2 } from 'lucide-react';
import { missesPrint, placeForHole } from '#core/relief/hole-place.ts';
import { GREATEST_SIDE_MM } from '#core/relief/sampling.ts';
import { PLATE_OUTLINES, type PlateOutline } from '#core/relief/shape.ts';
import { bandEnds, bandLetter, totalLayers } from '#core/stack/stack.ts';
import { samplesOf } from '../../state/document-facts.ts';
import {
  GREATEST_MARGIN_MM,
  MOST_HOLES,
  type ProjectDocument,
} from '../../state/project-document.ts';
import { useDocument, useLive, useProject } from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { SelectField } from '../../ui/Fields.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import styles from './ReliefPanel.module.css';

const OUTLINE_WORDS: Readonly<Record<PlateOutline, string>> = {
  rectangle: 'rectangle',
  rounded: 'rounded rectangle',
  circle: 'circle',
  own: "the picture's own outline",
};

const NONE = 'none';

/** The heights at which bands end, with their filaments: what a border or a plate is seen in. */
function heightChoices({ bands, filaments }: ProjectDocument): { value: string; text: string }[] {
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
  const detailMm = useLive((state) => state.shown.detailMm);
  const { border, plate, cornerMm, holes } = document.shape;
  const choices = heightChoices(document);
  const top = totalLayers(document.bands);
  const piece = samplesOf(document);
  const nearest = (layers: number): string =>
    choices.find(({ value }) => Number(value) >= layers)?.value ?? String(top);
  const changeShape = (recipe: (shape: ProjectDocument['shape']) => void): void => {
    change((draft) => {
      recipe(draft.shape);
    });
  };
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
          changeShape((shape) => {
            shape.border =
              value === NONE
                ? null
                : { widthMm: shape.border?.widthMm ?? 5, layers: Number(value) };
          });
        }}
      />
      {border ? (
        <NumberField
          label="Border width"
          unit="mm"
          value={border.widthMm}
          least={0.4}
          greatest={GREATEST_MARGIN_MM}
          step={0.5}
          testId="border-mm"
          onChange={(value) => {
            changeShape((shape) => {
              if (shape.border) shape.border.widthMm = value;
            });
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
          changeShape((shape) => {
            shape.plate =
              value === NONE
                ? null
                : {
                    outline: value,
                    marginMm: shape.plate?.marginMm ?? 3,
                    layers: shape.plate?.layers ?? Number(choices[0]?.value ?? 3),
                  };
          });
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
              changeShape((shape) => {
                if (shape.plate) shape.plate.layers = Number(value);
              });
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
            onChange={(value) => {
              changeShape((shape) => {
                if (shape.plate) shape.plate.marginMm = value;
              });
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
        onChange={(value) => {
          changeShape((shape) => {
            shape.cornerMm = value;
          });
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
              least={key === 'diameterMm' ? 0.5 : 0}
              greatest={key === 'diameterMm' ? GREATEST_MARGIN_MM : GREATEST_SIDE_MM}
              step={0.5}
              testId={`hole-${i}-${key}`}
              onChange={(value) => {
                changeShape((shape) => {
                  const own = shape.holes[i];
                  if (own) own[key] = value;
                });
              }}
            />
          ))}
          <Button
            look="quiet"
            icon={<Trash2 size={15} aria-hidden />}
            aria-label={`Take hole ${i + 1} away`}
            onClick={() => {
              changeShape((shape) => {
                shape.holes.splice(i, 1);
              });
            }}
          />
          {heights && missesPrint(heights, detailMm, hole) ? (
            <p className={styles.note} role="status" data-testid="hole-misses">
              Nothing is printed around hole {i + 1}. Move it onto the print.
            </p>
          ) : null}
        </div>
      ))}
      {holes.length < MOST_HOLES ? (
        <Button
          icon={<Plus size={15} aria-hidden />}
          onClick={() => {
            const { heights, shown } = live.store.getState();
            const place = heights && placeForHole(heights, shown.detailMm, HOLE_MM);
            changeShape((shape) => {
              shape.holes.push({
                ...(place ?? { xMm: Math.round(piece.widthMm / 2), yMm: 5 }),
                diameterMm: HOLE_MM,
              });
            });
          }}
        >
          Add a hole
        </Button>
      ) : null}
    </details>
  );
}
