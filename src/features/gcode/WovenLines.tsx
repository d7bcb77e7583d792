import { Download } from 'lucide-react';
import type { Weaving } from '#core/gcode/weave.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import styles from './GcodeDesk.module.css';

interface WovenLinesProps {
  readonly title: string;
  readonly weaving: Pick<Weaving, 'blocks' | 'off'>;
  /** Of other changes: what else is to be known before it is saved. */
  readonly words: string;
  readonly onSave: () => void;
  readonly onClose: () => void;
}

/** Everything that would change in a file, shown before it is written. */
export function WovenLines({
  title,
  weaving: { blocks, off },
  words,
  onSave,
  onClose,
}: WovenLinesProps) {
  return (
    <Dialog
      open
      onOpenChange={(open) => {
        if (!open) onClose();
      }}
      title={title}
      description={words}
      place="large"
    >
      <div
        className={styles.woven}
        data-testid="woven"
        tabIndex={0}
        role="region"
        aria-label="Lines"
      >
        {blocks.map((block) => (
          <div key={`${block.kind}-${block.number}`}>
            <h3>
              Before line {block.line.toLocaleString('en')}, layer {block.layer.layer} (
              {block.layer.topMm.toFixed(2)} mm)
            </h3>
            <pre>{block.lines.join('\n')}</pre>
          </div>
        ))}
        {off.length > 0 ? (
          <div>
            <h3>Switched off, not deleted</h3>
            <pre>{off.map(({ line, text }) => `${line}: ${text}`).join('\n')}</pre>
          </div>
        ) : null}
      </div>
      <div className={styles.save}>
        <Button look="main" icon={<Download size={16} aria-hidden />} onClick={onSave}>
          Save the file
        </Button>
        <Button onClick={onClose}>Leave it</Button>
      </div>
    </Dialog>
  );
}
