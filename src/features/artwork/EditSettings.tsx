import { takesMask } from '#core/edit/artwork-edit.ts';
import { limitPictureEdit } from '../../state/edits/picture-edits.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import type { KeptEdit } from '../../state/project-document.ts';
import { setDesk } from '../../state/view-store.ts';
import { CheckField, SelectField } from '../../ui/Fields.tsx';
import { Row } from '../../ui/Row.tsx';
import styles from './ArtworkPanel.module.css';
import { ColoursPanel } from './ColoursPanel.tsx';
import { CropPanel } from './CropPanel.tsx';
import { CutoutPanel } from './CutoutPanel.tsx';
import { HuePanel } from './HuePanel.tsx';
import { LightPanel } from './LightPanel.tsx';
import { RecolourPanel, FilterPanel, MirrorPanel, WhitePanel } from './SmallPanels.tsx';
import { TurnPanel } from './TurnPanel.tsx';
import { useDesk } from './use-artwork.ts';

const WHOLE = '';

/** What an edit is limited to, and whether that is shown. */
function OnlyIn({ edit }: { readonly edit: KeptEdit }) {
  const { views } = useProject();
  const change = useDocument((state) => state.change);
  const selections = useDocument((state) => state.document.artwork.selections);
  const { showTouched } = useDesk();
  return (
    <Row className={styles.onlyIn}>
      <span aria-hidden>{edit.kind === 'cutout' ? 'keeps' : 'only in'}</span>
      <SelectField
        label={edit.kind === 'cutout' ? 'What the cut-out keeps' : 'Only in'}
        compact
        value={edit.mask ?? WHOLE}
        options={[
          {
            value: WHOLE,
            text: edit.kind === 'cutout' ? 'what looks like the subject' : 'the whole picture',
          },
          ...selections.map(({ id, name }) => ({ value: id, text: name })),
        ]}
        testId="only-in"
        onChange={(value) => {
          change(limitPictureEdit(edit.id, value === WHOLE ? null : value));
        }}
      />
      {edit.kind === 'cutout' ? null : (
        <CheckField
          label="show what is touched"
          checked={showTouched}
          testId="show-touched"
          onChange={(checked) => {
            setDesk(views, { showTouched: checked });
          }}
        />
      )}
    </Row>
  );
}

function PanelOf({ edit }: { readonly edit: KeptEdit }) {
  switch (edit.kind) {
    case 'crop':
      return <CropPanel edit={edit} />;
    case 'turn':
      return <TurnPanel edit={edit} />;
    case 'mirror':
      return <MirrorPanel edit={edit} />;
    case 'tone':
      return <LightPanel edit={edit} />;
    case 'white':
      return <WhitePanel edit={edit} />;
    case 'grey':
      return null;
    case 'hue':
      return <HuePanel edit={edit} />;
    case 'recolour':
      return <RecolourPanel edit={edit} />;
    case 'denoise':
    case 'sharpen':
      return <FilterPanel edit={edit} />;
    case 'cutout':
      return <CutoutPanel edit={edit} />;
    case 'colours':
      return <ColoursPanel edit={edit} />;
  }
}

/** The settings of one edit. */
export function EditSettings({ edit }: { readonly edit: KeptEdit }) {
  return (
    <div className={styles.settings}>
      <PanelOf edit={edit} />
      {takesMask(edit.kind) ? <OnlyIn edit={edit} /> : null}
    </div>
  );
}
