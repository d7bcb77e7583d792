import { produce } from 'immer';
import { Plus } from 'lucide-react';
import { memo, useCallback, useState } from 'react';
import type { Filament } from '#core/stack/filament.ts';
import { bandLetter, insertBand, replaceFilament } from '#core/stack/stack.ts';
import { plannedFilament } from '../../state/document-facts.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { FilamentPicker } from './FilamentPicker.tsx';
import { putBands } from './edit-bands.ts';
import { RackNews } from './RackNews.tsx';
import { Section } from './Section.tsx';
import { SectionHead } from './SectionHead.tsx';
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
  const change = useDocument((state) => state.change);
  const [picking, setPicking] = useState<Picking | null>(null);
  const title =
    picking?.mode === 'replace'
      ? `Filament of band ${bandLetter(picking.bandIndex)}`
      : `New band above ${bandLetter(picking?.bandIndex ?? 0)}`;

  const pick = useCallback((bandIndex: number, mode: Picking['mode']) => {
    setPicking({ bandIndex, mode });
  }, []);

  return (
    <div className={styles.panel}>
      <RackNews />
      <QuietRulePanel />
      <SectionHead onFind={onFind} />
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
            setPicking({
              bandIndex: documents.getState().document.bands.length - 1,
              mode: 'above',
            });
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
          chosenId={
            picking.mode === 'replace'
              ? documents.getState().document.bands[picking.bandIndex]?.filamentId
              : undefined
          }
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
