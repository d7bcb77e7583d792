import { produce } from 'immer';
import { Lock, LockOpen, Plus, Wand2 } from 'lucide-react';
import { memo, useCallback, useMemo, useState } from 'react';
import type { Filament } from '#core/stack/filament.ts';
import { MAX_LAYERS } from '#core/base/raster.ts';
import {
  bandLetter,
  insertBand,
  replaceFilament,
  scaleStack,
  totalLayers,
} from '#core/stack/stack.ts';
import { changedInRack, plannedFilament } from '../../state/document-facts.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { FilamentPicker } from './FilamentPicker.tsx';
import { putBands } from './edit-bands.ts';
import { Section } from './Section.tsx';
import styles from './StackPanel.module.css';
import { RulePanel } from './RulePanel.tsx';

/** Layers of a band that is just being added. */
const NEW_BAND_LAYERS = 4;

interface Picking {
  readonly bandIndex: number;
  readonly mode: 'replace' | 'above';
}

/** The document with a filament put into a band, or into a new band above it. */
function withFilament(
  document: ProjectDocument,
  { bandIndex, mode }: Picking,
  filament: Filament,
): ProjectDocument {
  const at = mode === 'replace' ? bandIndex : bandIndex + 1;
  const bands =
    mode === 'replace'
      ? replaceFilament(document.bands, bandIndex, filament.id)
      : insertBand(document.bands, at, {
          id: crypto.randomUUID(),
          filamentId: filament.id,
          layers: NEW_BAND_LAYERS,
        });
  return produce(document, (draft) => {
    draft.filaments[filament.id] = plannedFilament(filament);
    putBands(draft, bands, at);
  });
}

/** It follows the rules, not the bands that are being dragged. */
const QuietRulePanel = memo(RulePanel);

/** Stop 2: how heights follow the picture, and the section. */
export function StackPanel({ onFind }: { readonly onFind: () => void }) {
  const { rack, live, documents } = useProject();
  const bands = useDocument((state) => state.document.bands);
  const holdTotal = useDocument((state) => state.document.holdTotal);
  const change = useDocument((state) => state.change);
  const [picking, setPicking] = useState<Picking | null>(null);
  const title =
    picking?.mode === 'replace'
      ? `Filament of band ${bandLetter(picking.bandIndex)}`
      : `New band above ${bandLetter(picking?.bandIndex ?? 0)}`;

  const pick = useCallback((bandIndex: number, mode: Picking['mode']) => {
    setPicking({ bandIndex, mode });
  }, []);
  const layers = totalLayers(bands);
  const filaments = useDocument((state) => state.document.filaments);
  const newer = useMemo(() => changedInRack({ filaments }, rack), [filaments, rack]);

  return (
    <div className={styles.panel}>
      {newer.length > 0 ? (
        <div className={styles.newer} role="status" data-testid="rack-news">
          <p>
            The rack has other values for {newer.map(({ name }) => name).join(', ')} than this
            project, which keeps those it was made with.
          </p>
          <Button
            onClick={() => {
              change((draft) => {
                for (const filament of newer)
                  draft.filaments[filament.id] = plannedFilament(filament);
              });
            }}
          >
            Use the rack&apos;s
          </Button>
        </div>
      ) : null}
      <QuietRulePanel />
      <div className={styles.sectionHead}>
        <h2 className={styles.heading}>Section</h2>
        <NumberField
          label="Layers"
          value={layers}
          least={holdTotal ? layers : bands.length}
          greatest={holdTotal ? layers : MAX_LAYERS}
          step={1}
          decimals={0}
          testId="total-layers"
          onChange={(wanted) => {
            change((draft) => {
              draft.bands = [...scaleStack(draft.bands, wanted)];
            });
          }}
        />
        <Button
          look="quiet"
          icon={holdTotal ? <Lock size={15} aria-hidden /> : <LockOpen size={15} aria-hidden />}
          aria-label="Hold the total height"
          aria-pressed={holdTotal}
          title="Hold the total height: bands trade layers (H)"
          onClick={() => {
            change((draft) => {
              draft.holdTotal = !draft.holdTotal;
            });
          }}
        />
        <Button
          look="main"
          icon={<Wand2 size={15} aria-hidden />}
          title="Find a stack (S)"
          onClick={onFind}
        >
          Find a stack
        </Button>
      </div>
      <div className={styles.columns}>
        <span className="figures" aria-hidden>
          mm
        </span>
        <span className="figures" aria-hidden>
          area
        </span>
        <span className="figures" aria-hidden>
          seen
        </span>
        <Button
          look="quiet"
          icon={<Plus size={15} aria-hidden />}
          onClick={() => {
            setPicking({ bandIndex: bands.length - 1, mode: 'above' });
          }}
        >
          Add filament on top
        </Button>
      </div>
      <Section onPick={pick} />
      <p className={styles.plate}>plate</p>
      {picking ? (
        <FilamentPicker
          title={title}
          rack={rack}
          chosenId={picking.mode === 'replace' ? bands[picking.bandIndex]?.filamentId : undefined}
          onTry={(filament) => {
            live.preview(
              filament ? withFilament(documents.getState().document, picking, filament) : null,
            );
          }}
          onPick={(filament) => {
            live.preview(null);
            change((draft) => {
              const next = withFilament(documents.getState().document, picking, filament);
              draft.bands = next.bands;
              draft.filaments = next.filaments;
            });
            setPicking(null);
          }}
          onClose={() => {
            setPicking(null);
          }}
        />
      ) : null}
    </div>
  );
}
