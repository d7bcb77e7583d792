import { OUTLINE_KINDS } from '#core/tags/outline-kinds.ts';
import { TAG_BACKS, type TagBack } from '#core/tags/tag.ts';
import { readPath } from '#core/tags/svg-path.ts';
import { joinsWhen } from '../../state/document-store.ts';
import {
  setChamfer,
  setPlateLayers,
  setTagBack,
  setTagOutline,
} from '../../state/edits/tag-edits.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { MOST_PLATE_LAYERS, TAG_LIMITS } from '#core/tags/tag-limits.ts';
import { describePathFault } from '../../platform/tag-words.ts';
import { Button } from '../../ui/Button.tsx';
import { toast } from '../../ui/toast.ts';
import { SelectField } from '../../ui/Fields.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { PickFile } from './PickFile.tsx';
import { DRAWING_KINDS, readDrawing } from './read-drawing.ts';
import { FORM_NAMES } from './tag-words.ts';
import styles from './TagPanel.module.css';
import { useTag } from './use-tag.ts';

const [LEAST, MOST] = TAG_LIMITS.sideMm;

/** How far the outline of a picture goes beyond it at first, mm. Common practice, no source. */
const CONTOUR_MM = 2;

const BACKS: Readonly<Record<TagBack, string>> = {
  plain: 'Plain',
  same: 'The same, as two halves to glue',
  halves: 'Another one, as two halves to glue',
  one: 'Another one, in one piece: the front is flush',
};

/** Form, size, thickness, edge and back of the tag. */
export function PlateSettings({ onChoose }: { readonly onChoose: () => void }) {
  const { outline, plate, back } = useTag();
  const { worker } = useProject();
  const change = useDocument((state) => state.change);
  const filament = useDocument((state) => state.document.stack.filaments[plate.filamentId]);
  const size = (key: 'widthMm' | 'heightMm' | 'cornerMm', label: string) => (
    <NumberField
      label={label}
      unit="mm"
      value={outline[key]}
      least={key === 'cornerMm' ? 0 : LEAST}
      greatest={MOST}
      step={1}
      testId={`outline-${key}`}
      onChange={(value, repeats) => {
        change(setTagOutline({ [key]: value }), joinsWhen(repeats));
      }}
    />
  );
  return (
    <div className={styles.settings} data-testid="plate-settings">
      <SelectField
        label="Form"
        value={outline.kind}
        testId="outline-kind"
        options={OUTLINE_KINDS.filter((kind) => kind !== 'path' || outline.path !== undefined).map(
          (value) => ({ value, text: FORM_NAMES[value] }),
        )}
        onChange={(kind) => {
          change(setTagOutline({ kind }));
        }}
      />
      <div className={styles.numbers}>
        {size('widthMm', 'Width')}
        {size('heightMm', 'Height')}
        {outline.kind === 'rounded' ? size('cornerMm', 'Corners') : null}
        {outline.kind === 'path' ? (
          <NumberField
            label="Grown by"
            unit="mm"
            value={outline.grownMm ?? 0}
            least={0}
            greatest={50}
            step={0.5}
            testId="outline-grownMm"
            onChange={(value, repeats) => {
              change(setTagOutline({ grownMm: value }), joinsWhen(repeats));
            }}
          />
        ) : null}
        <NumberField
          label="Plate"
          unit="layers"
          value={plate.layers}
          least={1}
          greatest={MOST_PLATE_LAYERS}
          step={1}
          decimals={0}
          testId="plate-layers"
          onChange={(value, repeats) => {
            change(setPlateLayers(value), joinsWhen(repeats));
          }}
        />
        <NumberField
          label="Chamfer"
          unit="layers"
          value={plate.chamferLayers}
          least={0}
          greatest={Math.max(0, plate.layers - 1)}
          step={1}
          decimals={0}
          testId="plate-chamfer"
          onChange={(value, repeats) => {
            change(setChamfer(value), joinsWhen(repeats));
          }}
        />
      </div>
      <SelectField
        label="Back"
        value={back}
        testId="tag-back"
        options={TAG_BACKS.map((value) => ({ value, text: BACKS[value] }))}
        onChange={(value) => {
          change(setTagBack(value));
        }}
      />
      <PickFile
        label="Outline from an SVG or picture"
        accept={DRAWING_KINDS}
        name="Outline as SVG or picture"
        testId="outline-file"
        onFile={async (file) => {
          const drawing = await readDrawing(file, worker);
          if (!drawing) return;
          const shapes = drawing.contour ? [drawing.contour] : drawing.shapes;
          const path = shapes.map((shape) => shape.path).join('');
          const read = readPath(path);
          if (!read.ok) {
            toast.error(describePathFault(read.fault), { duration: 9000 });
            return;
          }
          const { width, height } = read.value;
          change(
            setTagOutline({
              kind: 'path',
              path,
              fill: shapes.length === 1 ? (shapes[0]?.fill ?? 'nonzero') : 'nonzero',
              heightMm: (outline.widthMm * height) / width,
              // Around a picture a rim is left; a drawn outline is meant as it is.
              grownMm: drawing.contour ? CONTOUR_MM : 0,
            }),
          );
        }}
      />
      <Button onClick={onChoose} data-testid="plate-filament">
        Filament: {filament?.name ?? plate.filamentId}
      </Button>
    </div>
  );
}
