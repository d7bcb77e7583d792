import { useRef, type KeyboardEvent } from 'react';
import type { PixelBox } from '#core/edit/artwork-edit.ts';
import type { Frame } from '#core/edit/frame.ts';
import { setDesk } from '../../state/view-store.ts';
import { useProject } from '../../state/project-context.ts';
import { arrowWay } from '../../ui/arrow-way.ts';
import { useGesture } from '../../ui/use-gesture.ts';
import { draggedBox, quarterTurnOf, sideOf, type CropHandle } from './crop-box.ts';
import styles from './PictureOverlay.module.css';
import type { useSettings } from './use-settings.ts';

/** Handles where they are seen, and what they are called there. */
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

/** From pixels of the picture that a box is given in to pixels of the stage, and a way on the stage back. */
export interface BoxPlace {
  readonly onStage: (x: number, y: number) => readonly [number, number];
  readonly wayBack: (dx: number, dy: number) => readonly [number, number];
}

interface BoxHandlesProps extends BoxPlace {
  readonly box: PixelBox;
  /** Where it must stay. */
  readonly within: Pick<Frame, 'width' | 'height' | 'corner'>;
  /** Width over height; null where it is free. */
  readonly ratio: number | null;
  /** What it is the box of, in words and in test ids. */
  readonly what: 'crop' | 'subject';
  /** A pointer inside the box moves it; else only keys do, and the pointer goes through. */
  readonly draggedInside: boolean;
  readonly settings: ReturnType<typeof useSettings>;
}

/** A box over the picture: eight handles and the middle, dragged or moved by keys. */
export function BoxHandles({
  box,
  within,
  ratio,
  what,
  draggedInside,
  settings: { set, drag },
  onStage,
  wayBack,
}: BoxHandlesProps) {
  const { views } = useProject();
  const from = useRef<PixelBox>(box);
  const started = useRef({ x: 0, y: 0 });
  const change = (next: PixelBox, repeats = false): void => {
    set(what === 'crop' ? next : { box: next }, repeats);
  };
  // Names and keys follow what is seen, whichever way the box's own picture lies.
  const turned = quarterTurnOf(wayBack);
  const gesture = useGesture<CropHandle>({
    onBegin: (event) => {
      event.stopPropagation();
      event.currentTarget.focus();
      from.current = box;
      started.current = { x: event.clientX, y: event.clientY };
      drag.onBegin();
      return true;
    },
    onMove: (event, handle) => {
      const by = wayBack(event.clientX - started.current.x, event.clientY - started.current.y);
      change(draggedBox(from.current, handle, by, ratio, within));
    },
    onEnd: drag.onEnd,
    onCancel: drag.onCancel,
  });
  const onKeyDown = (handle: CropHandle) => (event: KeyboardEvent) => {
    const way = arrowWay(event.key, event.shiftKey ? 10 : 1);
    if (way) change(draggedBox(box, handle, turned(...way), ratio, within), event.repeat);
    else if (event.key === 'Enter' || event.key === 'Escape') setDesk(views, { tool: null });
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const place = ({ x, y }: CropHandle): { readonly left: number; readonly top: number } => {
    const [left, top] = onStage(
      box.left + (box.width * (x + 1)) / 2,
      box.top + (box.height * (y + 1)) / 2,
    );
    return { left, top };
  };
  const [from0, right, down] = [
    place({ x: -1, y: -1 }),
    place({ x: 1, y: -1 }),
    place({ x: -1, y: 1 }),
  ];
  const [across, up] = [
    [right.left - from0.left, right.top - from0.top] as const,
    [down.left - from0.left, down.top - from0.top] as const,
  ];
  const [w, h] = [Math.hypot(...across), Math.hypot(...up)];
  return (
    <>
      <button
        type="button"
        className={draggedInside ? styles.cropWhole : styles.boxWhole}
        style={{
          ...from0,
          width: w,
          height: h,
          // The box lies as its picture does: turned, mirrored, straightened.
          transform: `matrix(${across[0] / w}, ${across[1] / w}, ${up[0] / h}, ${up[1] / h}, 0, 0)`,
        }}
        aria-label={`The ${what}: arrow keys move its box, Enter ends`}
        data-testid={`${what}-whole`}
        {...(draggedInside ? gesture.on(WHOLE) : {})}
        onKeyDown={onKeyDown(WHOLE)}
      />
      {HANDLES.map(({ x, y, text }) => {
        const [ownX, ownY] = turned(x, y);
        const handle = { x: sideOf(ownX), y: sideOf(ownY) };
        return (
          <button
            key={text}
            type="button"
            className={styles.cropHandle}
            style={place(handle)}
            aria-label={`${text} of the ${what}`}
            data-testid={`${what}-handle-${x}-${y}`}
            {...gesture.on(handle)}
            onKeyDown={onKeyDown(handle)}
          />
        );
      })}
    </>
  );
}
