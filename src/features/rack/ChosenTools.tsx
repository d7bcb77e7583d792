import { Button } from '../../ui/Button.tsx';
import styles from './Rack.module.css';

interface ChosenToolsProps {
  readonly count: number;
  readonly onHand: (onHand: boolean) => void;
  readonly onDuplicate: () => void;
  readonly onExport: () => void;
  readonly onDelete: () => void;
}

/** What can be done with the selected filaments together. */
export function ChosenTools({ count, onHand, onDuplicate, onExport, onDelete }: ChosenToolsProps) {
  return (
    <div className={styles.chosen} role="group" aria-label="Selected filaments">
      <span data-testid="chosen-count">{count} selected</span>
      <Button
        onClick={() => {
          onHand(true);
        }}
      >
        On hand
      </Button>
      <Button
        onClick={() => {
          onHand(false);
        }}
      >
        Not on hand
      </Button>
      <Button onClick={onDuplicate}>Duplicate</Button>
      <Button onClick={onExport}>Export as CSV</Button>
      <Button onClick={onDelete}>Delete</Button>
    </div>
  );
}
