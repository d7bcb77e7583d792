import { useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { formatHex } from '#core/colour/srgb.ts';
import { boxOf, type Box } from '#core/tags/rings.ts';
import { topOf, type PlannedTag } from '#core/tags/plan-tag.ts';
import { faceEntry } from '#core/tags/face-ramp.ts';
import { isColoured, isPlaced, type ElementSide } from '#core/tags/tag.ts';
import { joinsWhen } from '../../state/document-store.ts';
import {
  duplicateElements,
  patchElement,
  placeElements,
  removeElements,
} from '../../state/edits/tag-edits.ts';
import { useDocument, useLive, useProject, useView } from '../../state/project-context.ts';
import type { KeptElement } from '../../state/project-document.ts';
import { PLATE, selectElements } from '../../state/view-store.ts';
import { useGesture } from '../../ui/use-gesture.ts';
import { boxAround, groupedWith, snapped, type Guide } from './arrange.ts';
import { drawnFrom, Grip, pathOf } from './drawing.tsx';
import { nameOfElement, mm, shortProblem } from './tag-words.ts';
import { ProblemMarks } from './ProblemMarks.tsx';
import styles from './TagOverlay.module.css';
import { placeFromSide } from '../../state/tag-side.ts';
import { useSide, useTag } from './use-tag.ts';

interface TagOverlayProps {
  /** The piece on the screen, px. */
  readonly width: number;
  readonly height: number;
}

/** How near an element comes to a line before it keeps to it, px. */
const SNAP_PX = 6;
/** What an arrow key moves by, mm; with Shift ten times as much. */
const ARROW_MM = 0.5;

/** A drag of elements, or of a corner of the one in hand. */
type Subject = { readonly kind: 'move'; readonly id: string } | { readonly kind: 'size' };

interface Dragged {
  readonly x: number;
  readonly y: number;
  /** Where the elements lay, by id. */
  readonly places: Readonly<Record<string, { readonly xMm: number; readonly yMm: number }>>;
  readonly box: Box | undefined;
  readonly element: KeptElement | undefined;
}

/** The tag over its print: elements to take in hand, move and size, and what of them cannot be printed. */
export function TagOverlay({ width, height }: TagOverlayProps) {
  const { views, documents } = useProject();
  const { side, tag, planned, bands } = useSide();
  const whole = useTag();
  const change = useDocument((state) => state.change);
  const ramp = useLive((state) => state.ramp);
  const checked = useLive((state) => state.checked);
  const view = useView((state) => state.view);
  const { selected, snap } = useView((state) => state.tagDesk);
  const lineMm = useDocument((state) => state.document.print.lineMm);
  const shown = useLive((state) => state.shown);
  const [guides, setGuides] = useState<readonly Guide[]>([]);
  const drag = useRef<Dragged | null>(null);
  const pxPerMm = width / shown.widthMm;
  const { box, face } = planned;
  const toX = (xMm: number): number => (xMm - box.left) * pxPerMm;
  const toY = (yMm: number): number => (box.top - yMm) * pxPerMm;
  const paths = useMemo(
    () =>
      planned.shapes.map(({ rings, hole }, i) =>
        drawnFrom([...rings, ...(hole ?? [])], box, tag.elements[i]),
      ),
    [planned, box, tag],
  );
  const outlinePath = useMemo(() => pathOf(planned.outline.rings, box), [planned, box]);
  const colourAt = (layer: number): string =>
    formatHex(ramp[Math.min(layer, ramp.length) - 1]?.colour ?? [128, 128, 128]);
  // A face that lies on the bed has colours of its own, after those of the layers.
  const plateColour = colourAt(face ? faceEntry(bands, 0) : tag.plate.layers);
  const colourOf = (element: KeptElement, top: number): string =>
    face && isColoured(element)
      ? colourAt(faceEntry(bands, face.inlays.filaments.indexOf(element.filamentId) + 1))
      : colourAt(top);

  const select = (id: string, add: boolean): void => {
    const whole = groupedWith(tag.elements, [id]);
    if (!add) {
      if (!selected.includes(id)) selectElements(views, whole);
      return;
    }
    selectElements(
      views,
      selected.includes(id)
        ? selected.filter((one) => !whole.includes(one))
        : [...selected.filter((one) => one !== PLATE), ...whole],
    );
  };

  const gesture = useGesture<Subject>({
    onBegin: (event, subject) => {
      event.stopPropagation();
      if (subject.kind === 'move') select(subject.id, event.shiftKey || event.ctrlKey);
      const hand = views.getState().tagDesk.selected;
      const own = tag.elements.filter(({ id }) => hand.includes(id));
      const places = Object.fromEntries(
        own.flatMap((element) =>
          isPlaced(element) ? [[element.id, { xMm: element.xMm, yMm: element.yMm }]] : [],
        ),
      );
      drag.current = {
        x: event.clientX,
        y: event.clientY,
        places,
        box: boxAround(planned, tag, hand),
        element: own[0],
      };
      documents.getState().beginGesture();
      return true;
    },
    onMove: (event, subject) => {
      const from = drag.current;
      if (!from) return;
      const dx = (event.clientX - from.x) / pxPerMm;
      const dy = (from.y - event.clientY) / pxPerMm;
      if (subject.kind === 'size') {
        sizeBy(from, dx);
        return;
      }
      const free = { dx, dy, guides: [] };
      const kept =
        snap && !event.altKey && from.box
          ? snapped(from.box, dx, dy, tag, planned, Object.keys(from.places), SNAP_PX / pxPerMm)
          : free;
      setGuides(kept.guides);
      change(
        placeElements(
          Object.fromEntries(
            Object.entries(from.places).map(([id, { xMm, yMm }]) => [
              id,
              { xMm: tidy(xMm + kept.dx), yMm: tidy(yMm + kept.dy) },
            ]),
          ),
          side,
        ),
      );
    },
    onEnd: () => {
      drag.current = null;
      setGuides([]);
      documents.getState().endGesture();
    },
    onCancel: () => {
      drag.current = null;
      setGuides([]);
      documents.getState().cancelGesture();
    },
  });

  /** A corner dragged to the right makes the element larger around its middle. */
  const sizeBy = ({ element, box: own }: Dragged, dx: number): void => {
    if (!element || !own) return;
    const factor = Math.max(0.05, 1 + (2 * dx) / Math.max(0.5, own.right - own.left));
    if (element.kind === 'text')
      change(patchElement(element.id, { heightMm: tidy(element.heightMm * factor) }));
    else if (element.kind === 'shape')
      change(
        patchElement(element.id, {
          outline: {
            widthMm: tidy(element.outline.widthMm * factor),
            heightMm: tidy(element.outline.heightMm * factor),
          },
        }),
      );
    else if (element.kind === 'hole')
      change(
        patchElement(element.id, {
          diameterMm: tidy(element.diameterMm * factor),
          lengthMm: tidy(element.lengthMm * factor),
        }),
      );
    else if (element.kind === 'loop')
      change(patchElement(element.id, { diameterMm: tidy(element.diameterMm * factor) }));
  };

  const onKeyDown = (event: KeyboardEvent): void => {
    const hand = selected.filter((id) => id !== PLATE);
    const step = event.shiftKey ? 10 * ARROW_MM : ARROW_MM;
    const moves: Readonly<Record<string, readonly [number, number]>> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
    };
    const move = moves[event.key];
    if (move && hand.length > 0) {
      const places = tag.elements.flatMap((element) =>
        hand.includes(element.id) && isPlaced(element)
          ? [[element.id, { xMm: tidy(element.xMm + move[0]), yMm: tidy(element.yMm + move[1]) }]]
          : [],
      );
      change(
        placeElements(Object.fromEntries(places) as Parameters<typeof placeElements>[0], side),
        joinsWhen(event.repeat),
      );
    } else if ((event.key === 'Delete' || event.key === 'Backspace') && hand.length > 0) {
      change(removeElements(hand));
      selectElements(views, []);
      document.querySelector<HTMLElement>('#stage')?.focus();
    } else if (event.key === 'd' && (event.ctrlKey || event.metaKey) && hand.length > 0) {
      change(duplicateElements(hand, 2));
    } else if (event.key === 'Escape' && selected.length > 0) selectElements(views, []);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  const inHand = boxAround(planned, tag, selected);
  const one = selected.length === 1 ? tag.elements.find(({ id }) => id === selected[0]) : undefined;
  // Elements by their height, so that what is seen from above lies above.
  const order = tag.elements
    .map((element, i) => ({
      element,
      i,
      top: isColoured(element) ? topOf(element, tag.plate.layers) : 0,
    }))
    .sort((a, b) => a.top - b.top || a.i - b.i);
  const painted = view === 'print';
  // Masks are dear to draw: only where something is to be cut off.
  const hasHoles = tag.elements.some(({ kind }) => kind === 'hole' || kind === 'loop');
  const reachesOut =
    reachesBeyond(planned) || checked?.problems.some(({ code }) => code === 'outside');
  const frameMm = { x: -1, y: -1, width: shown.widthMm + 2, height: shown.heightMm + 2 };
  return (
    <div className={styles.over} data-testid="tag-overlay">
      <svg
        className={styles.drawing}
        viewBox={`0 0 ${shown.widthMm} ${shown.heightMm}`}
        style={{ width, height }}
        role="group"
        aria-label="Elements of the tag"
      >
        <defs>
          <mask id="tag-holes" maskUnits="userSpaceOnUse" {...frameMm}>
            <rect {...frameMm} fill="#fff" />
            {planned.shapes.map((shape, i) => {
              const { kind, id } = tag.elements[i] ?? {};
              const rings = kind === 'hole' ? shape.rings : (shape.hole ?? []);
              return <path key={id} d={pathOf(rings, box)} fill="#000" />;
            })}
          </mask>
          <clipPath id="tag-outline">
            <path d={outlinePath} clipRule="evenodd" />
          </clipPath>
        </defs>
        {painted ? (
          <g {...(hasHoles ? { mask: 'url(#tag-holes)' } : {})} aria-hidden>
            {tag.elements.map((element, i) =>
              element.kind === 'loop' ? (
                <path
                  key={element.id}
                  d={pathOf(planned.shapes[i]?.rings ?? [], box)}
                  fill={plateColour}
                />
              ) : null,
            )}
            <path d={outlinePath} fillRule="evenodd" fill={plateColour} />
            <g {...(reachesOut ? { clipPath: 'url(#tag-outline)' } : {})}>
              {order.map(({ element, i, top }) =>
                isColoured(element) ? (
                  <path
                    key={element.id}
                    {...paths[i]}
                    fillRule="evenodd"
                    fill={colourOf(element, top)}
                  />
                ) : null,
              )}
            </g>
          </g>
        ) : null}
        <path
          className={styles.plate}
          d={outlinePath}
          fillRule="evenodd"
          fill="none"
          data-selected={selected.includes(PLATE)}
          aria-hidden
        />
        {order.map(({ element, i }) => (
          <g
            key={element.id}
            role="button"
            tabIndex={0}
            aria-label={`${nameOfElement(element)}. Arrow keys move it, Delete removes it.`}
            aria-pressed={selected.includes(element.id)}
            className={styles.element}
            data-kind={element.kind}
            data-testid="tag-element"
            data-id={element.id}
            data-selected={selected.includes(element.id)}
            onFocus={(event) => {
              // What the keyboard comes to is in hand; a press decides by itself.
              if (event.currentTarget.matches(':focus-visible') && !selected.includes(element.id))
                selectElements(views, groupedWith(tag.elements, [element.id]));
            }}
            onKeyDown={onKeyDown}
            {...(gesture.on({ kind: 'move', id: element.id }) as unknown as Record<
              string,
              (event: PointerEvent<SVGGElement>) => void
            >)}
          >
            <Grip element={element} rings={planned.shapes[i]?.rings ?? []} box={box} />
            {element.kind === 'text' ? null : (
              <path {...paths[i]} fillRule="evenodd" fill="transparent" />
            )}
          </g>
        ))}
      </svg>
      {guides.map(({ way, atMm }) => (
        <span
          key={`${way}${atMm}`}
          className={styles.guide}
          data-way={way}
          style={way === 'down' ? { left: toX(atMm) } : { top: toY(atMm) }}
        />
      ))}
      {inHand ? (
        <div
          className={styles.hand}
          style={{
            left: toX(inHand.left),
            top: toY(inHand.top),
            width: (inHand.right - inHand.left) * pxPerMm,
            height: (inHand.top - inHand.bottom) * pxPerMm,
          }}
        >
          {one && one.kind !== 'rim' ? (
            <span
              className={styles.corner}
              title="Drag to size it"
              data-testid="tag-corner"
              {...gesture.on({ kind: 'size' })}
            />
          ) : null}
        </div>
      ) : null}
      <ProblemMarks
        width={width}
        problems={
          checked?.of.elements === whole.elements
            ? checked.problems.filter(({ element }) => isSeen(whole.elements[element], side))
            : []
        }
        place={({ xMm, yMm }, problem) => {
          const own = whole.elements[problem.element];
          const at = own ? placeFromSide(own, side, { xMm }) : { xMm };
          return { left: toX(at.xMm), top: toY(yMm) };
        }}
        words={(problem) => shortProblem(problem, lineMm)}
      />
      <div className={styles.measure} style={{ top: height + 14, width }} aria-hidden>
        <span className="figures">{mm(box.right - box.left, 1)}</span>
      </div>
    </div>
  );
}

/** Is an element, or the outline, to be seen from a side? */
function isSeen(element: KeptElement | undefined, side: ElementSide): boolean {
  return !element || !isColoured(element) || element.side === side;
}

/** Does the box of an element go over that of the outline? */
function reachesBeyond({ outline, shapes }: PlannedTag): boolean {
  const frame = boxOf(outline.rings);
  return shapes.some(({ rings }) => {
    const own = boxOf(rings);
    return (
      own !== undefined &&
      frame !== undefined &&
      (own.left < frame.left ||
        own.right > frame.right ||
        own.bottom < frame.bottom ||
        own.top > frame.top)
    );
  });
}

const tidy = (value: number): number => Math.round(value * 100) / 100;
