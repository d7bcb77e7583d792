import { Lock, LockOpen, Wand2 } from 'lucide-react';
import { memo } from 'react';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { totalLayers } from '#core/stack/stack.ts';
import { useDocument } from '../../state/project-context.ts';
import { joinsWhen } from '../../state/document-store.ts';
import { holdTotalHeight, scaleLayers } from '../../state/edits/band-edits.ts';
import { Button } from '../../ui/Button.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { MoodMenu } from './MoodMenu.tsx';
import styles from './StackPanel.module.css';

/** Above the section: its layers, and what is done to the whole stack. Follows the total, not every moved edge. */
export const SectionHead = memo(function SectionHead({ onFind }: { readonly onFind: () => void }) {
  const layers = useDocument((state) => totalLayers(state.document.stack.bands));
  const bandCount = useDocument((state) => state.document.stack.bands.length);
  const holdTotal = useDocument((state) => state.document.stack.holdTotal);
  const change = useDocument((state) => state.change);
  return (
    <div className={styles.sectionHead}>
      <h2 className={styles.heading}>Section</h2>
      <NumberField
        label="Layers"
        value={layers}
        least={holdTotal ? layers : bandCount}
        greatest={holdTotal ? layers : MAX_LAYERS}
        step={1}
        decimals={0}
        testId="total-layers"
        onChange={(wanted, repeats) => {
          change(scaleLayers(wanted), joinsWhen(repeats));
        }}
      />
      <Button
        look="quiet"
        icon={holdTotal ? <Lock size={15} aria-hidden /> : <LockOpen size={15} aria-hidden />}
        aria-label="Hold the total height"
        aria-pressed={holdTotal}
        title="Hold the total height: bands trade layers (H)"
        onClick={() => {
          change(holdTotalHeight(!holdTotal));
        }}
      />
      <MoodMenu />
      <Button
        look="main"
        icon={<Wand2 size={15} aria-hidden />}
        title="Find a stack (S)"
        onClick={onFind}
      >
        Find a stack
      </Button>
    </div>
  );
});
