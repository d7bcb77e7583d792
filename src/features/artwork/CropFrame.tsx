import { useEffect, useMemo, useRef, type KeyboardEvent } from 'react';
import type { ArtworkEdit, PixelBox } from '#core/edit/artwork-edit.ts';
import { frameOfEdits, isFrameEdit } from '#core/edit/frame.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { editOf } from '../../state/recipe.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { setDesk } from '../../state/view-store.ts';
import { useGesture } from '../../ui/use-gesture.ts';
import { draggedBox, ratioOf, useProportion, type CropHandle } from './crop-box.ts';
import styles from './PictureOverlay.module.css';
import { useSettings } from './use-settings.ts';

interface CropFrameProps {
  readonly edit: ArtworkEdit<'crop'>;
  readonly width: number;
  readonly height: number;
}

const HANDLES: readonly (CropHandle & { readonly text: string })[] = [
  { x: -1, y: -1, text: 'Upper left corner' },
  { x: 0, y: -1, text: 'Upper side' },
  { x: 1, y: -1, text: 'Upper right corner' },
  { x: 1, y: 0, text: 'Right side' },
  { x: 1, y: 1, text: 'Lower right corner' },
  { x: 0, y: 1, text: 'Lower side' },
  { x: -1, y: 1, text: 'Lower left corner' },
  { x: -1, y: 0, text: 'Left side' },
];
const WHOLE: CropHandle = { x: 0, y: 0 };

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
  const { live, documents, views } = useProject();
  const document = useDocument((state) => state.document);
  const { proportion } = useProportion();
  const { set, drag } = useSettings(edit.id);
  const { id } = edit;
  const { artwork } = document;
  const from = useRef<PixelBox>(edit);
  const started = useRef({ x: 0, y: 0 });
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
  const ratio = ratioOf(proportion, frame);
  const gesture = useGesture<CropHandle>({
    onBegin: (event) => {
      event.stopPropagation();
      event.currentTarget.focus();
      from.current = edit;
      started.current = { x: event.clientX, y: event.clientY };
      drag.onBegin();
      return true;
    },
    onMove: (event, handle) => {
      const by = [
        (event.clientX - started.current.x) / sx,
        (event.clientY - started.current.y) / sy,
      ] as const;
      set(draggedBox(from.current, handle, by, ratio, frame));
    },
    onEnd: drag.onEnd,
    onCancel: drag.onCancel,
  });
  const onKeyDown = (handle: CropHandle) => (event: KeyboardEvent) => {
    const step = event.shiftKey ? 10 : 1;
    const ways: Readonly<Record<string, readonly [number, number]>> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, -step],
      ArrowDown: [0, step],
    };
    const way = ways[event.key];
    if (way) set(draggedBox(edit, handle, way, ratio, frame), event.repeat);
    else if (event.key === 'Enter' || event.key === 'Escape') setDesk(views, { tool: null });
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
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
      <button
        type="button"
        className={styles.cropWhole}
        style={{ left, top, width: w, height: h }}
        aria-label="Crop: arrow keys move it, Enter ends"
        data-testid="crop-whole"
        {...gesture.on(WHOLE)}
        onKeyDown={onKeyDown(WHOLE)}
      />
      {HANDLES.map((handle) => (
        <button
          key={handle.text}
          type="button"
          className={styles.cropHandle}
          style={{ left: left + (w * (handle.x + 1)) / 2, top: top + (h * (handle.y + 1)) / 2 }}
          aria-label={`${handle.text} of the crop`}
          data-testid={`crop-handle-${handle.x}-${handle.y}`}
          {...gesture.on(handle)}
          onKeyDown={onKeyDown(handle)}
        />
      ))}
    </div>
  );
}
