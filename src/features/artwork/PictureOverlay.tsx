import { useDocument } from '../../state/project-context.ts';
import { CutAwayGround } from './CutAwayGround.tsx';
import { CropFrame } from './CropFrame.tsx';
import { CutoutMarks } from './CutoutMarks.tsx';
import styles from './PictureOverlay.module.css';
import { SelectionLines } from './SelectionLines.tsx';
import { ToolSurface } from './ToolSurface.tsx';
import { TouchedVeil } from './TouchedVeil.tsx';
import { useDesk, useInset, useOpenEdit } from './use-artwork.ts';

interface PictureOverlayProps {
  /** The piece on the screen, px. */
  readonly width: number;
  readonly height: number;
}

/** What lies over the picture while the artwork is edited: selections, crop, strokes, and the surface that takes the pointer. */
export function PictureOverlay({ width, height }: PictureOverlayProps) {
  const inset = useInset();
  const { tool, selection } = useDesk();
  const edit = useOpenEdit();
  const known = useDocument((state) =>
    state.document.artwork.selections.some(({ id }) => id === selection),
  );
  const size = { width: width * (1 - 2 * inset.x), height: height * (1 - 2 * inset.y) };
  return (
    <div
      className={styles.over}
      style={{
        left: width * inset.x,
        top: height * inset.y,
        width: size.width,
        height: size.height,
      }}
      data-testid="picture-overlay"
    >
      {edit?.kind === 'cutout' && edit.on ? <CutAwayGround id={edit.id} /> : null}
      <TouchedVeil />
      {selection && known ? <SelectionLines id={selection} {...size} /> : null}
      {tool === 'crop' && edit?.kind === 'crop' ? <CropFrame edit={edit} {...size} /> : null}
      {tool !== null && tool !== 'crop' ? <ToolSurface tool={tool} {...size} /> : null}
      {/* Above the surface, so that its box can be taken by its handles; the rest of it takes no pointer. */}
      {edit?.kind === 'cutout' ? <CutoutMarks edit={edit} {...size} /> : null}
    </div>
  );
}
