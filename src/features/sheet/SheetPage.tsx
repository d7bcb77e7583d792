import { useState } from 'react';
import { MOST_SAMPLES } from '#core/relief/sampling.ts';
import { useBatch } from '../../state/use-batch.ts';
import { Progress } from '../../ui/Progress.tsx';
import { AtPrinter } from './AtPrinter.tsx';
import { SheetControls } from './SheetControls.tsx';
import { SheetPaper } from './SheetPaper.tsx';
import { SheetTools } from './SheetTools.tsx';
import styles from './SheetPage.module.css';
import { useBatchSum } from './use-batch-sum.ts';
import { useSheet } from './use-sheet.ts';
import type { WatchKeeper } from './watch-keeper.ts';

interface SheetPageProps {
  readonly watches: WatchKeeper;
  readonly onBack: () => void;
  readonly onPrinters: () => void;
  /** To the G-code desk, with this sheet. */
  readonly onDesk: () => void;
  /** To G-code of our own. */
  readonly onGcode: () => void;
}

/** In the address, so that a phone that reloads the page comes back to what it stood at. */
const AT_PRINTER = '#at-printer';

/** Stop 4: the paper that stands beside the printer, and the screen that does. */
export function SheetPage({ watches, onBack, onPrinters, onDesk, onGcode }: SheetPageProps) {
  const batch = useBatch();
  const { sheet, fraction, tooMany } = useSheet(batch.document);
  const sum = useBatchSum(batch.batches);
  const several = batch.options.length > 1 && {
    sum,
    at: batch.batches[batch.index]?.batch,
    leftOut: batch.batches.reduce((count, one) => count + (one.document ? 0 : one.batch.copies), 0),
  };
  const [watching, setWatching] = useState(window.location.hash === AT_PRINTER);
  const [contrast, setContrast] = useState(false);
  const [splices, setSplices] = useState(false);
  const watch = (on: boolean): void => {
    setWatching(on);
    window.history.replaceState(null, '', on ? AT_PRINTER : window.location.pathname);
  };
  if (!sheet)
    return (
      <main className={styles.wait}>
        {tooMany ? (
          <p role="alert">
            The relief has more than {MOST_SAMPLES / 1e6} million samples. Make the samples larger
            or the piece smaller at stop 3.
          </p>
        ) : (
          <Progress label="Counting layers" fraction={fraction} onCancel={onBack} />
        )}
      </main>
    );
  if (sheet.layers === 0)
    return (
      <main className={styles.wait}>
        <p role="alert">
          Every part of the picture is transparent, so there is nothing to print. Use another
          picture.
        </p>
      </main>
    );
  if (watching)
    return (
      <AtPrinter
        sheet={sheet}
        watches={watches}
        onBack={() => {
          watch(false);
        }}
      />
    );
  return (
    <main className={styles.desk} tabIndex={-1}>
      <aside className={styles.controls} aria-label="What the sheet is told">
        <SheetControls
          sheet={sheet}
          splices={splices}
          onSplices={setSplices}
          contrast={contrast}
          onContrast={setContrast}
          onPrinters={onPrinters}
          batch={batch}
        />
      </aside>
      <div
        className={styles.reading}
        id="sheet"
        role="region"
        aria-label="The sheet"
        // So that the arrow keys scroll it.
        tabIndex={0}
      >
        <SheetTools
          sheet={sheet}
          onDesk={onDesk}
          onGcode={onGcode}
          onWatch={() => {
            watch(true);
          }}
        />
        <SheetPaper sheet={sheet} splices={splices} contrast={contrast} batches={several || null} />
      </div>
    </main>
  );
}
