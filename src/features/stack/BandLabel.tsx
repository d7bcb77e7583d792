import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Lock } from 'lucide-react';
import { memo } from 'react';
import { layerTopMm } from '#core/stack/layer-grid.ts';
import { bandLetter } from '#core/stack/stack.ts';
import { useDocument } from '../../state/project-context.ts';
import { trimBand } from '../../state/edits/band-edits.ts';
import { BandMenu, trimWords } from './BandMenu.tsx';
import styles from './Section.module.css';

interface BandLabelProps {
  readonly bandIndex: number;
  readonly top: number;
  readonly left: number;
  /** Room for all three lines, or only for one. */
  readonly full: boolean;
  /** Number of the band's last layer. */
  readonly end: number;
  /** Cover of the whole band, percent. */
  readonly coverPercent: number;
  /** Layers that change nothing to be seen. */
  readonly idle: number;
  readonly coveredAt: number | undefined;
  readonly onPick: (bandIndex: number, mode: 'replace' | 'above') => void;
}

/**
 * Letter, filament, layers and cover of a band. Dragged to change the order. Memoised: while an edge is dragged only the
 * labels beside it change.
 */
export const BandLabel = memo(function BandLabel({
  bandIndex,
  top,
  left,
  full,
  end,
  coverPercent,
  idle,
  coveredAt,
  onPick,
}: BandLabelProps) {
  const change = useDocument((state) => state.change);
  const grid = useDocument((state) => state.document.stack.grid);
  const band = useDocument((state) => state.document.stack.bands[bandIndex]);
  const filament = useDocument((state) => state.document.stack.filaments[band?.filamentId ?? '']);
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, isDragging } =
    useSortable({
      id: band?.id ?? '',
      attributes: { roleDescription: 'band to be moved' },
    });
  if (!band) return null;
  const letter = bandLetter(bandIndex);
  const name = filament?.name ?? band.filamentId;
  const first = end - band.layers + 1;
  const mm = layerTopMm(grid, end) - layerTopMm(grid, first - 1);
  const range = first === end ? `${end}` : `${first}-${end}`;
  const locked = band.locked === true;
  const canTrim = idle > 0 && band.layers > idle && !locked;

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
        title={locked ? `${name}, locked` : `${name}: change filament`}
        disabled={locked}
        onClick={() => {
          onPick(bandIndex, 'replace');
        }}
      >
        {name}
        {locked ? <Lock size={12} className={styles.lock} aria-label="locked" /> : null}
      </button>
      {full ? null : <span className={`${styles.short} figures`}>{range}</span>}
      <BandMenu bandIndex={bandIndex} idle={canTrim ? idle : 0} onPick={onPick} />
      {full ? (
        <span className={`${styles.facts} figures`}>
          {first === end ? `layer ${end}` : `layers ${range}`}
          <br />
          {`${mm.toFixed(2)} mm, covers ${coverPercent} %`}
          {canTrim ? (
            <button
              type="button"
              className={styles.trim}
              onClick={() => {
                change(trimBand(bandIndex, idle));
              }}
              title={`covered at layer ${coveredAt ?? end}`}
            >
              {trimWords(idle)}
            </button>
          ) : null}
        </span>
      ) : null}
    </div>
  );
});
