import { Layers, Trash2 } from 'lucide-react';
import { MOST_BATCHES } from '#core/schedule/pieces.ts';
import { GREATEST_LAYER_MM, LEAST_LAYER_MM } from '#core/stack/layer-grid.ts';
import { tidyMm } from '#core/base/numbers.ts';
import { joinsWhen } from '../../state/document-store.ts';
import { setOwnLayers } from '../../state/edits/print-edits.ts';
import { useDocument } from '../../state/project-context.ts';
import type { BatchAtHand } from '../../state/use-batch.ts';
import { Button } from '../../ui/Button.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { Note } from '../../ui/Note.tsx';
import { SelectIfSeveral } from '../../ui/SelectIfSeveral.tsx';
import styles from './SheetPage.module.css';

/** Step of a layer height, mm: what printers of the trade can set. Common practice, no source. */
const STEP_MM = 0.02;

/** Pieces that are printed one by one in layers of another height, and which of all the sheet is of. */
export function OwnLayersFields({ batch }: { readonly batch: BatchAtHand }) {
  const { copies, own } = useDocument((state) => state.document.print.pieces);
  const { layerMm } = useDocument((state) => state.document.stack.grid);
  const change = useDocument((state) => state.change);
  const { batches } = batch;
  const taken = own.reduce((sum, one) => sum + one.copies, 0);
  const tooFine = batches.find(({ document }) => document === null);
  // Half of the project's own, on a whole step.
  const finerMm = tidyMm(
    Math.max(LEAST_LAYER_MM, STEP_MM * Math.max(1, Math.round(layerMm / 2 / STEP_MM))),
  );
  return (
    <>
      {own.map((one, i) => (
        // What an entry is, is its place in the list.
        <div key={i} className={styles.own} role="group" aria-label={`Own layers ${i + 1}`}>
          <NumberField
            label="Of them"
            value={one.copies}
            least={1}
            greatest={copies - 1}
            step={1}
            decimals={0}
            testId={`own-copies-${i}`}
            onChange={(value, repeats) => {
              change(setOwnLayers(i, { ...one, copies: value }), joinsWhen(repeats));
            }}
          />
          <NumberField
            label="Layers"
            unit="mm"
            value={one.layerMm}
            least={LEAST_LAYER_MM}
            greatest={GREATEST_LAYER_MM}
            step={STEP_MM}
            testId={`own-layer-mm-${i}`}
            onChange={(value, repeats) => {
              change(setOwnLayers(i, { ...one, layerMm: value }), joinsWhen(repeats));
            }}
          />
          <Button
            look="quiet"
            icon={<Trash2 size={15} aria-hidden />}
            aria-label={`All pieces as the project again: take ${one.layerMm} mm away`}
            onClick={() => {
              change(setOwnLayers(i, null));
            }}
          />
        </div>
      ))}
      {taken < copies - 1 && own.length < MOST_BATCHES ? (
        <div className={styles.pair}>
          <Button
            look="quiet"
            icon={<Layers size={15} aria-hidden />}
            onClick={() => {
              change(setOwnLayers(own.length, { copies: 1, layerMm: finerMm }));
            }}
          >
            Some in other layers
          </Button>
        </div>
      ) : null}
      {tooFine ? (
        <Note tone="attention" role="alert" data-testid="batch-too-fine">
          In layers of {tooFine.batch.layerMm} mm the piece would have more than can be printed.
          Take thicker ones.
        </Note>
      ) : null}
      <SelectIfSeveral label="This sheet" testId="batch" of={batch} />
    </>
  );
}
