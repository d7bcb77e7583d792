import { memo, useMemo } from 'react';
import { changedInRack } from '../../state/document-facts.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { takeRackValues } from '../../state/edits/band-edits.ts';
import { Button } from '../../ui/Button.tsx';
import styles from './StackPanel.module.css';

/** Says when the rack has other values than the project was made with, and takes them over. */
export const RackNews = memo(function RackNews() {
  const { rack } = useProject();
  const stack = useDocument((state) => state.document.stack);
  const change = useDocument((state) => state.change);
  const newer = useMemo(() => changedInRack({ stack }, rack), [stack, rack]);
  if (newer.length === 0) return null;
  return (
    <div className={styles.newer} role="status" data-testid="rack-news">
      <p>
        The rack has other values for {newer.map(({ name }) => name).join(', ')} than this project,
        which keeps those it was made with.
      </p>
      <Button
        onClick={() => {
          change(takeRackValues(newer));
        }}
      >
        Use the rack&apos;s
      </Button>
    </div>
  );
});
