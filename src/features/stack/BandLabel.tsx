import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import {
  ArrowDown,
  ArrowUp,
  Ellipsis,
  Merge,
  Plus,
  Repeat,
  Scissors,
  SquareSplitVertical,
  Trash2,
} from 'lucide-react';
import { layerTopMm } from '#core/stack/layer-grid.ts';
import {
  bandEnds,
  bandLetter,
  joinWithBelow,
  removeBand,
  reorderBand,
  splitBand,
} from '#core/stack/stack.ts';
import { useDocument } from '../../state/project-context.ts';
import { Menu } from '../../ui/Menu.tsx';
import styles from './Section.module.css';

interface BandLabelProps {
  readonly bandIndex: number;
  readonly top: number;
  readonly left: number;
  /** Room for all three lines, or only for one. */
  readonly full: boolean;
  /** Cover of the whole band, 0..1. */
  readonly cover: number;
  /** Layers that change nothing to be seen. */
  readonly idle: number;
  readonly coveredAt: number | undefined;
  readonly onPick: (bandIndex: number, mode: 'replace' | 'above') => void;
}

/** Letter, filament, layers and cover of a band. Dragged to change the order. */
export function BandLabel({
  bandIndex,
  top,
  left,
  full,
  cover,
  idle,
  coveredAt,
  onPick,
}: BandLabelProps) {
  const document = useDocument((state) => state.document);
  const change = useDocument((state) => state.change);
  const { bands, filaments, grid } = document;
  const band = bands[bandIndex];
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, isDragging } =
    useSortable({
      id: band?.id ?? '',
      attributes: { roleDescription: 'band to be moved' },
    });
  if (!band) return null;
  const letter = bandLetter(bandIndex);
  const name = filaments[band.filamentId]?.name ?? band.filamentId;
  const end = bandEnds(bands)[bandIndex] ?? 0;
  const first = end - band.layers + 1;
  const mm = layerTopMm(grid, end) - layerTopMm(grid, first - 1);
  const range = first === end ? `${end}` : `${first}-${end}`;
  const move = (to: number): void => {
    change((draft) => {
      draft.bands = [...reorderBand(draft.bands, bandIndex, to)];
    });
  };
  const canTrim = idle > 0 && band.layers > idle;
  const trimText = idle === 1 ? '1 layer does nothing, trim' : `${idle} layers do nothing, trim`;
  const trim = (): void => {
    change((draft) => {
      // The band itself loses the layers; what lies above keeps its own and sinks.
      draft.bands[bandIndex] = { ...band, layers: band.layers - idle };
    });
  };
  const items = [
    {
      text: 'Change filament',
      icon: <Repeat size={15} aria-hidden />,
      onSelect: () => {
        onPick(bandIndex, 'replace');
      },
    },
    {
      text: 'Add band above',
      icon: <Plus size={15} aria-hidden />,
      onSelect: () => {
        onPick(bandIndex, 'above');
      },
    },
    ...(canTrim
      ? [{ text: trimText, icon: <Scissors size={15} aria-hidden />, onSelect: trim }]
      : []),
    ...(band.layers > 1
      ? [
          {
            text: 'Split in two',
            icon: <SquareSplitVertical size={15} aria-hidden />,
            onSelect: () => {
              change((draft) => {
                draft.bands = [
                  ...splitBand(draft.bands, bandIndex, (one) => ({
                    ...one,
                    id: crypto.randomUUID(),
                  })),
                ];
              });
            },
          },
        ]
      : []),
    ...(bandIndex > 0
      ? [
          {
            text: 'Join with the band below',
            icon: <Merge size={15} aria-hidden />,
            onSelect: () => {
              change((draft) => {
                draft.bands = [...joinWithBelow(draft.bands, bandIndex)];
              });
            },
          },
        ]
      : []),
    ...(bandIndex < bands.length - 1
      ? [
          {
            text: 'Move up',
            icon: <ArrowUp size={15} aria-hidden />,
            onSelect: () => {
              move(bandIndex + 1);
            },
          },
        ]
      : []),
    ...(bandIndex > 0
      ? [
          {
            text: 'Move down',
            icon: <ArrowDown size={15} aria-hidden />,
            onSelect: () => {
              move(bandIndex - 1);
            },
          },
        ]
      : []),
    ...(bands.length > 1
      ? [
          {
            text: 'Remove band',
            icon: <Trash2 size={15} aria-hidden />,
            onSelect: () => {
              change((draft) => {
                draft.bands = [...removeBand(draft.bands, bandIndex)];
              });
            },
          },
        ]
      : []),
  ];

  return (
    <div
      ref={setNodeRef}
      className={styles.label}
      style={{
        top,
        left,
        ...(transform ? { transform: CSS.Translate.toString(transform) ?? '' } : {}),
      }}
      data-dragging={isDragging}
      data-full={full}
      data-testid={`band-${letter}`}
    >
      <button
        ref={setActivatorNodeRef}
        type="button"
        className={styles.letter}
        {...attributes}
        {...listeners}
        aria-label={`Move band ${letter}, ${name}`}
        title="Drag to change the order"
      >
        {letter}
      </button>
      <button
        type="button"
        className={styles.name}
        title={`${name}: change filament`}
        onClick={() => {
          onPick(bandIndex, 'replace');
        }}
      >
        {name}
      </button>
      {full ? null : <span className={`${styles.short} figures`}>{range}</span>}
      <Menu label={`Band ${letter}`} trigger={<Ellipsis size={16} aria-hidden />} items={items} />
      {full ? (
        <span className={`${styles.facts} figures`}>
          {first === end ? `layer ${end}` : `layers ${range}`}
          <br />
          {`${mm.toFixed(2)} mm, covers ${Math.round(cover * 100)} %`}
          {canTrim ? (
            <button
              type="button"
              className={styles.trim}
              onClick={trim}
              title={`covered at layer ${coveredAt ?? end}`}
            >
              {trimText}
            </button>
          ) : null}
        </span>
      ) : null}
    </div>
  );
}
