import { inverseMap, mapPlace } from '#core/edit/frame.ts';
import type { KeptEdit } from '../../state/project-document.ts';
import { useDocument } from '../../state/project-context.ts';
import { editOf } from '../../state/recipe.ts';
import { BoxHandles } from './BoxHandles.tsx';
import styles from './PictureOverlay.module.css';
import { useDesk, useFrame } from './use-artwork.ts';
import { useSettings } from './use-settings.ts';

interface CutoutMarksProps {
  readonly edit: Extract<KeptEdit, { kind: 'cutout' }>;
  readonly width: number;
  readonly height: number;
}

/** Box and strokes of a cut-out, while one of its tools is in hand; the box has handles while it is what is drawn. */
export function CutoutMarks({ edit, width, height }: CutoutMarksProps) {
  const frame = useFrame();
  const { tool } = useDesk();
  const artwork = useDocument((state) => state.document.artwork);
  const settings = useSettings(edit.id);
  const shows = tool === 'subject' || tool === 'keep' || tool === 'drop' || tool === 'hair';
  if (!shows) return null;
  const back = inverseMap(frame.toOriginal);
  const scale = width / frame.width;
  const place = (x: number, y: number): string => {
    const [px, py] = mapPlace(back, x, y);
    return `${(px * width) / frame.width} ${(py * height) / frame.height}`;
  };
  const path = (points: readonly number[]): string => {
    const places: string[] = [];
    for (let i = 0; i + 1 < points.length; i += 2)
      places.push(place(points[i] as number, points[i + 1] as number));
    return `M${places[0] ?? '0 0'}L${(places.length > 1 ? places.slice(1) : places).join('L')}`;
  };
  const lines = editOf(edit);
  const { box } = edit;
  const { file } = artwork;
  const drawing = (
    <svg
      className={styles.drawing}
      viewBox={`0 0 ${width} ${height}`}
      aria-hidden
      data-testid="cutout-marks"
      data-box={box ? [box.left, box.top, box.width, box.height].join(' ') : undefined}
      data-lines={edit.keep.length + edit.drop.length + edit.hair.length}
    >
      {box ? (
        <>
          {(['lineUnder', 'lineOver'] as const).map((look) => (
            <path
              key={look}
              className={styles[look]}
              d={`M${place(box.left, box.top)}L${place(box.left + box.width, box.top)}L${place(
                box.left + box.width,
                box.top + box.height,
              )}L${place(box.left, box.top + box.height)}Z`}
            />
          ))}
        </>
      ) : null}
      {lines.kind === 'cutout'
        ? (['keep', 'drop', 'hair'] as const).flatMap((list) =>
            lines[list].map(({ points, radius }, i) => (
              <g key={`${list} ${i}`} data-list={list} className={styles.stroke}>
                <path d={path(points)} strokeWidth={Math.max(3, 2 * radius * scale)} />
                <path d={path(points)} strokeWidth={1.5} />
              </g>
            )),
          )
        : null}
    </svg>
  );
  // Strokes go over the box too, so it has its handles only while it is what the hand changes.
  if (tool !== 'subject' || !box) return drawing;
  return (
    <>
      {drawing}
      <BoxHandles
        box={box}
        within={{ width: file.width, height: file.height, corner: [0, 0] }}
        ratio={null}
        what="subject"
        draggedInside={false}
        settings={settings}
        onStage={(x, y) => {
          const [px, py] = mapPlace(back, x, y);
          return [(px * width) / frame.width, (py * height) / frame.height];
        }}
        wayBack={(dx, dy) => {
          const zero = mapPlace(frame.toOriginal, 0, 0);
          const end = mapPlace(
            frame.toOriginal,
            (dx * frame.width) / width,
            (dy * frame.height) / height,
          );
          return [end[0] - zero[0], end[1] - zero[1]];
        }}
      />
    </>
  );
}
