import {
  Blend,
  Crop,
  Contrast,
  Droplets,
  FlipHorizontal2,
  Grid2x2,
  Palette,
  Plus,
  RotateCw,
  Scissors,
  Sparkles,
  Sun,
  Thermometer,
} from 'lucide-react';
import type { ReactNode } from 'react';
import { EDIT_KINDS, type EditKind } from '#core/edit/artwork-edit.ts';
import { addPictureEdit } from '../../state/edits/picture-edits.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { setDesk } from '../../state/view-store.ts';
import { Button } from '../../ui/Button.tsx';
import { Menu } from '../../ui/Menu.tsx';
import { Panel } from '../../ui/Panel.tsx';
import { Row, Spacer } from '../../ui/Row.tsx';
import { Advice } from './Advice.tsx';
import styles from './ArtworkPanel.module.css';
import { EditList } from './EditList.tsx';
import { EDIT_NAMES } from './edit-words.ts';
import { PictureFile } from './PictureFile.tsx';
import { firstSettings } from './first-settings.ts';
import { useFrame } from './use-artwork.ts';

const ICONS: Readonly<Record<EditKind, ReactNode>> = {
  crop: <Crop size={15} aria-hidden />,
  turn: <RotateCw size={15} aria-hidden />,
  mirror: <FlipHorizontal2 size={15} aria-hidden />,
  tone: <Sun size={15} aria-hidden />,
  white: <Thermometer size={15} aria-hidden />,
  grey: <Contrast size={15} aria-hidden />,
  hue: <Palette size={15} aria-hidden />,
  recolour: <Droplets size={15} aria-hidden />,
  denoise: <Blend size={15} aria-hidden />,
  sharpen: <Sparkles size={15} aria-hidden />,
  cutout: <Scissors size={15} aria-hidden />,
  colours: <Grid2x2 size={15} aria-hidden />,
};

/** Stop 1: the picture and its list of edits. */
export function ArtworkPanel({
  onReplace,
  onRedraw,
}: {
  readonly onReplace: (file: File) => void;
  /** Draws a drawing finer; see {@link Advice}. */
  readonly onRedraw: (longerPx: number) => void;
}) {
  const { views } = useProject();
  const fileName = useDocument((state) => state.document.artwork.file.fileName);
  const change = useDocument((state) => state.change);
  const edits = useDocument((state) => state.document.artwork.edits);
  const frame = useFrame();
  const add = (kind: EditKind, settings: object = firstSettings(kind, frame)): void => {
    const id = crypto.randomUUID();
    change(addPictureEdit(id, kind, settings));
    setDesk(views, { openEdit: id, tool: kind === 'crop' ? 'crop' : null });
  };
  return (
    <Panel className={styles.panel}>
      <Row className={styles.head}>
        <h2 className={styles.heading}>Edits</h2>
        <span className={styles.of} title={fileName}>
          of {fileName}, {frame.width} x {frame.height} px
        </span>
        <Spacer />
        <Menu
          label="Add an edit"
          framed
          trigger={
            <>
              <Plus size={15} aria-hidden /> Add
            </>
          }
          items={() =>
            EDIT_KINDS.map((kind) => ({
              text: EDIT_NAMES[kind],
              icon: ICONS[kind],
              onSelect: () => {
                add(kind);
              },
            }))
          }
        />
      </Row>
      <EditList />
      <div className={styles.below}>
        {edits.length === 0 ? (
          <p className={styles.empty}>
            The picture is as it came. An edit changes how it is read and never the picture itself;
            each can be switched off, changed or moved later.
          </p>
        ) : null}
        <Row>
          <Button
            look="main"
            icon={<Scissors size={15} aria-hidden />}
            onClick={() => {
              add('cutout');
            }}
          >
            Cut out the subject
          </Button>
          <Button
            icon={<Grid2x2 size={15} aria-hidden />}
            onClick={() => {
              add('colours');
            }}
          >
            Clean flat colours
          </Button>
        </Row>
        <Advice onRedraw={onRedraw} />
        <PictureFile onReplace={onReplace} />
      </div>
    </Panel>
  );
}
