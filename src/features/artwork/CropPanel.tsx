import { Crop, Shrink } from 'lucide-react';
import type { ArtworkEdit } from '#core/edit/artwork-edit.ts';
import { frameOfEdits } from '#core/edit/frame.ts';
import { heightMmOf, samplesOf } from '../../state/document-facts.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { editOf } from '../../state/recipe.ts';
import { setDesk } from '../../state/view-store.ts';
import { Button } from '../../ui/Button.tsx';
import { SelectField } from '../../ui/Fields.tsx';
import { Note } from '../../ui/Note.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { Row } from '../../ui/Row.tsx';
import styles from './ArtworkPanel.module.css';
import { PROPORTIONS, proportionedBox, ratioOf, useProportion } from './crop-box.ts';
import { useAnswer, useDesk } from './use-artwork.ts';
import { useSettings } from './use-settings.ts';

const SIDES = [
  ['left', 'Left'],
  ['top', 'Top'],
  ['width', 'Width'],
  ['height', 'Height'],
] as const;

/** A part of the picture, in pixels, and what that is in mm and samples. */
export function CropPanel({ edit }: { readonly edit: ArtworkEdit<'crop'> }) {
  const { views } = useProject();
  const document = useDocument((state) => state.document);
  const { tool } = useDesk();
  const { set } = useSettings(edit.id);
  const { proportion, setProportion } = useProportion();
  const trim = useAnswer({ of: 'trim' }, edit.id)?.trim;
  const { artwork, piece } = document;
  const at = artwork.edits.findIndex(({ id }) => id === edit.id);
  const before = frameOfEdits(
    artwork.file.width,
    artwork.file.height,
    artwork.edits.slice(0, at).map(editOf),
  );
  const { columns, rows } = samplesOf(document);
  return (
    <>
      <Row>
        <Button
          icon={<Crop size={15} aria-hidden />}
          aria-pressed={tool === 'crop'}
          onClick={() => {
            setDesk(views, { tool: tool === 'crop' ? null : 'crop' });
          }}
        >
          {tool === 'crop' ? 'Done' : 'Drag on the picture'}
        </Button>
        <SelectField
          label="Proportions"
          compact
          value={proportion}
          options={PROPORTIONS.map((value) => ({
            value,
            text: value === 'free' ? 'free' : value === 'picture' ? 'as the picture' : value,
          }))}
          testId="proportions"
          onChange={(value) => {
            setProportion(value);
            set(proportionedBox(edit, ratioOf(value, before)));
          }}
        />
        {trim ? (
          <Button
            icon={<Shrink size={15} aria-hidden />}
            onClick={() => {
              set(trim);
            }}
          >
            Trim what is empty
          </Button>
        ) : null}
      </Row>
      <div className={styles.numbers}>
        {SIDES.map(([name, label]) => (
          <NumberField
            key={name}
            label={label}
            value={Math.round(edit[name])}
            unit="px"
            least={name === 'left' || name === 'top' ? 0 : 1}
            greatest={name === 'left' || name === 'width' ? before.width : before.height}
            step={1}
            decimals={0}
            testId={`crop-${name}`}
            onChange={(value, repeats) => {
              set({ [name]: value }, repeats);
            }}
          />
        ))}
      </div>
      <Note data-testid="crop-facts">
        {piece.widthMm} x {heightMmOf(document).toFixed(1)} mm, {columns} x {rows} samples
      </Note>
    </>
  );
}
