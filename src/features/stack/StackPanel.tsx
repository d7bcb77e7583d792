import { Plus } from 'lucide-react';
import { memo, useCallback, useState } from 'react';
import { bandLetter } from '#core/stack/stack.ts';
import { putFilament, type FilamentPlace } from '../../state/edits/band-edits.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { FoundNote } from './FoundNote.tsx';
import { FilamentPicker } from './FilamentPicker.tsx';
import { RackNews } from './RackNews.tsx';
import { Section } from './Section.tsx';
import { SectionHead } from './SectionHead.tsx';
import { Panel } from '../../ui/Panel.tsx';
import styles from './StackPanel.module.css';
import { RulePanel } from './RulePanel.tsx';

/** It follows the rules, not the bands that are being dragged. */
const QuietRulePanel = memo(RulePanel);

/** Stop 2: how heights follow the picture, and the section. */
export function StackPanel({ onFind }: { readonly onFind: () => void }) {
  const { rack, live, documents } = useProject();
  const change = useDocument((state) => state.change);
  const [picking, setPicking] = useState<FilamentPlace | null>(null);
  const title =
    picking?.mode === 'replace'
      ? `Filament of band ${bandLetter(picking.bandIndex)}`
      : `New band above ${bandLetter(picking?.bandIndex ?? 0)}`;

  const pick = useCallback((bandIndex: number, mode: FilamentPlace['mode']) => {
    setPicking({ bandIndex, mode });
  }, []);

  return (
    <Panel>
      <RackNews />
      <QuietRulePanel />
      <FoundNote onFind={onFind} />
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
              bandIndex: documents.getState().document.stack.bands.length - 1,
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
              ? documents.getState().document.stack.bands[picking.bandIndex]?.filamentId
              : undefined
          }
          onTry={(filament) => {
            live.preview(
              filament ? putFilament(picking, filament)(documents.getState().document) : null,
            );
          }}
          onPick={(filament) => {
            live.preview(null);
            change(putFilament(picking, filament));
            setPicking(null);
          }}
          onClose={() => {
            setPicking(null);
          }}
        />
      ) : null}
    </Panel>
  );
}
