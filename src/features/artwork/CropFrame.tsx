import { useEffect, useMemo } from 'react';
import type { ArtworkEdit } from '#core/edit/artwork-edit.ts';
import { frameOfEdits, isFrameEdit } from '#core/edit/frame.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { editOf } from '../../state/recipe.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { BoxHandles } from './BoxHandles.tsx';
import { ratioOf, useProportion } from './crop-box.ts';
import styles from './PictureOverlay.module.css';
import { useSettings } from './use-settings.ts';

interface CropFrameProps {
  readonly edit: ArtworkEdit<'crop'>;
  readonly width: number;
  readonly height: number;
}

/** The document as its picture is before a crop: what the crop is drawn over. */
function beforeCrop(document: ProjectDocument, id: string): ProjectDocument {
  const { artwork } = document;
  const at = artwork.edits.findIndex((one) => one.id === id);
  const edits = artwork.edits.map((one, i) =>
    i >= at && isFrameEdit(editOf(one)) ? { ...one, on: false } : one,
  );
  return { ...document, artwork: { ...artwork, edits } };
}

/** The crop over the whole picture: eight handles and the middle, dragged or moved by keys. */
export function CropFrame({ edit, width, height }: CropFrameProps) {
  const { live, documents } = useProject();
  const document = useDocument((state) => state.document);
  const { proportion } = useProportion();
  const settings = useSettings(edit.id);
  const { id } = edit;
  const { artwork } = document;
  const frame = useMemo(() => {
    const at = artwork.edits.findIndex((one) => one.id === id);
    const { file } = artwork;
    return frameOfEdits(file.width, file.height, artwork.edits.slice(0, at).map(editOf));
  }, [artwork, id]);
  // Only what the crop itself does not change makes another picture under it.
  const under = JSON.stringify(beforeCrop(document, id).artwork.edits.filter(({ on }) => on));
  useEffect(() => {
    live.preview(beforeCrop(documents.getState().document, id));
  }, [live, documents, id, under]);
  useEffect(
    () => () => {
      live.preview(null);
    },
    [live],
  );
  const [sx, sy] = [width / frame.width, height / frame.height];
  const left = (edit.left - frame.corner[0]) * sx;
  const top = (edit.top - frame.corner[1]) * sy;
  const [w, h] = [edit.width * sx, edit.height * sy];
  return (
    <div className={styles.crop} data-testid="crop-frame">
      <svg viewBox={`0 0 ${width} ${height}`} className={styles.drawing} aria-hidden>
        <path
          className={styles.outside}
          fillRule="evenodd"
          d={`M0 0H${width}V${height}H0ZM${left} ${top}H${left + w}V${top + h}H${left}Z`}
        />
      </svg>
      <BoxHandles
        box={edit}
        within={frame}
        ratio={ratioOf(proportion, frame)}
        what="crop"
        draggedInside
        settings={settings}
        onStage={(x, y) => [(x - frame.corner[0]) * sx, (y - frame.corner[1]) * sy]}
        wayBack={(dx, dy) => [dx / sx, dy / sy]}
      />
    </div>
  );
}
