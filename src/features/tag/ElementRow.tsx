import {
  ArrowDown,
  ArrowUp,
  CircleAlert,
  Copy,
  Ellipsis,
  FlipHorizontal2,
  Trash2,
} from 'lucide-react';
import type { TagProblem } from '#core/tags/check-tag.ts';
import { topOf } from '#core/tags/plan-tag.ts';
import { isColoured, isPlaced } from '#core/tags/tag.ts';
import { layerTopMm } from '#core/stack/layer-grid.ts';
import { bandLetter, bandOfLayer } from '#core/stack/stack.ts';
import {
  duplicateElements,
  moveElement,
  patchElement,
  removeElements,
} from '../../state/edits/tag-edits.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import type { KeptElement } from '../../state/project-document.ts';
import { PLATE, selectElements } from '../../state/view-store.ts';
import { Menu } from '../../ui/Menu.tsx';
import { useSortableRow } from '../../ui/Sortable.tsx';
import { Swatch } from '../../ui/Swatch.tsx';
import { ElementSettings } from './ElementSettings.tsx';
import { groupedWith } from './arrange.ts';
import { PlateSettings } from './PlateSettings.tsx';
import { describeProblem, FORM_NAMES, nameOfElement } from './tag-words.ts';
import styles from './TagPanel.module.css';
import { usePlannedTag, useTag } from './use-tag.ts';

interface ElementRowProps {
  readonly element: KeptElement;
  readonly open: boolean;
  readonly problems: readonly TagProblem[];
  readonly onChoose: (ids: readonly string[]) => void;
}

/** One element: the band that it ends in, how it lies, and its settings when it is in hand alone. */
export function ElementRow({ element, open, problems, onChoose }: ElementRowProps) {
  const { views } = useProject();
  const tag = useTag();
  const change = useDocument((state) => state.change);
  const stack = useDocument((state) => state.document.stack);
  const name = nameOfElement(element);
  const { ref, style, isDragging, grip } = useSortableRow(element.id, 'element', name, styles.grip);
  const at = tag.elements.indexOf(element);
  const coloured = isColoured(element) ? element : undefined;
  const top = coloured ? topOf(coloured, tag.plate.layers) : tag.plate.layers;
  const filament = coloured ? stack.filaments[coloured.filamentId] : undefined;
  const { face } = usePlannedTag();
  const flush = coloured?.way === 'flush';
  const heightMm = flush
    ? layerTopMm(stack.grid, tag.flush.layers)
    : coloured
      ? Math.abs(layerTopMm(stack.grid, top) - layerTopMm(stack.grid, tag.plate.layers))
      : 0;
  // Inlays have the letters after those of the bands; what is of the face itself is none.
  const inlay = flush ? (face?.inlays.filaments.indexOf(coloured.filamentId) ?? -1) : -1;
  const letter = flush
    ? bandLetter(inlay < 0 ? 0 : stack.bands.length + inlay)
    : bandLetter(bandOfLayer(stack.bands, Math.max(1, top)));
  return (
    <li
      ref={ref}
      className={styles.row}
      style={style}
      data-open={open}
      data-dragging={isDragging}
      data-kind={element.kind}
      data-testid="element-row"
    >
      <div className={styles.head}>
        {grip}
        <strong className={styles.letter}>{letter}</strong>
        <button
          type="button"
          className={styles.name}
          aria-expanded={open}
          onClick={(event) => {
            const own = groupedWith(tag.elements, [element.id]);
            if (event.shiftKey || event.ctrlKey)
              views.setState(({ tagDesk }) => ({
                tagDesk: { ...tagDesk, selected: [...new Set([...tagDesk.selected, ...own])] },
              }));
            else selectElements(views, open ? [] : [element.id]);
          }}
        >
          <span>{name}</span>
          {problems.length > 0 ? (
            <CircleAlert size={14} aria-label={`${problems.length} to look at`} />
          ) : null}
        </button>
        {coloured ? (
          <>
            <span className={styles.way}>{coloured.way}</span>
            <span className="figures">{heightMm.toFixed(1)}</span>
            <button
              type="button"
              className={styles.colour}
              aria-label={`Filament of ${name}: ${filament?.name ?? coloured.filamentId}`}
              title={filament?.name}
              onClick={() => {
                onChoose([element.id]);
              }}
            >
              <Swatch colour={filament?.colour ?? '#808080'} widthPx={16} />
            </button>
          </>
        ) : null}
        <Menu
          label={`More for ${name}`}
          trigger={<Ellipsis size={16} aria-hidden />}
          items={() => [
            {
              text: 'Duplicate',
              icon: <Copy size={15} aria-hidden />,
              onSelect: () => {
                change(duplicateElements([element.id], 2));
              },
            },
            ...(isPlaced(element)
              ? [
                  {
                    text: 'Mirror',
                    icon: <FlipHorizontal2 size={15} aria-hidden />,
                    onSelect: () => {
                      change(patchElement(element.id, { mirrored: !element.mirrored }));
                    },
                  },
                ]
              : []),
            ...(at < tag.elements.length - 1
              ? [
                  {
                    text: 'To the front by one',
                    icon: <ArrowUp size={15} aria-hidden />,
                    onSelect: () => {
                      change(moveElement(element.id, at + 1));
                    },
                  },
                ]
              : []),
            ...(at > 0
              ? [
                  {
                    text: 'Back by one',
                    icon: <ArrowDown size={15} aria-hidden />,
                    onSelect: () => {
                      change(moveElement(element.id, at - 1));
                    },
                  },
                ]
              : []),
            {
              text: 'Remove',
              icon: <Trash2 size={15} aria-hidden />,
              onSelect: () => {
                change(removeElements([element.id]));
              },
            },
          ]}
        />
      </div>
      {open ? (
        <>
          {problems.map((problem, i) => (
            <p key={i} className={styles.problem} role="status" data-testid="problem">
              {describeProblem(problem, tag)}
            </p>
          ))}
          <ElementSettings
            element={element}
            onChoose={() => {
              onChoose([element.id]);
            }}
          />
        </>
      ) : null}
    </li>
  );
}

/** The outline itself, behind all elements. */
export function PlateRow({
  open,
  onChoose,
}: {
  readonly open: boolean;
  readonly onChoose: () => void;
}) {
  const { views } = useProject();
  const tag = useTag();
  const stack = useDocument((state) => state.document.stack);
  const { layers, filamentId } = tag.plate;
  const filament = stack.filaments[filamentId];
  return (
    <li className={styles.row} data-open={open} data-kind="plate" data-testid="element-row">
      <div className={styles.head}>
        <span className={styles.noGrip} />
        <strong className={styles.letter}>{bandLetter(bandOfLayer(stack.bands, layers))}</strong>
        <button
          type="button"
          className={styles.name}
          aria-expanded={open}
          onClick={() => {
            selectElements(views, open ? [] : [PLATE]);
          }}
        >
          <span>Outline, {FORM_NAMES[tag.outline.kind].toLowerCase()}</span>
        </button>
        <span className={styles.way}>plate</span>
        <span className="figures">{layerTopMm(stack.grid, layers).toFixed(1)}</span>
        <button
          type="button"
          className={styles.colour}
          aria-label={`Filament of the plate: ${filament?.name ?? filamentId}`}
          title={filament?.name}
          onClick={onChoose}
        >
          <Swatch colour={filament?.colour ?? '#808080'} widthPx={16} />
        </button>
      </div>
      {open ? <PlateSettings onChoose={onChoose} /> : null}
    </li>
  );
}
