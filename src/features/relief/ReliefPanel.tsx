import { formatSize } from '#core/schedule/words.ts';
import { MOST_SAMPLES } from '#core/relief/sampling.ts';
import { samplesOf } from '../../state/document-facts.ts';
import { plannedTagOf } from '../../state/tag-plan.ts';
import { stampOfDocument } from '../../state/project-export.ts';
import {
  useDocument,
  useLive,
  usePieceSize,
  usePrintedTop,
  useProject,
  useView,
} from '../../state/project-context.ts';
import { joinsWhen } from '../../state/document-store.ts';
import { GREATEST_LINE_MM, LEAST_LINE_MM, setLineWidth } from '../../state/edits/piece-edits.ts';
import { CheckField } from '../../ui/Fields.tsx';
import { Facts } from '../../ui/Facts.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { FilesSection } from './FilesSection.tsx';
import { GridSection } from './GridSection.tsx';
import { Note } from '../../ui/Note.tsx';
import { Panel, PanelHeading } from '../../ui/Panel.tsx';
import styles from './ReliefPanel.module.css';
import { ShapeSection } from './ShapeSection.tsx';
import { SizeSection } from './SizeSection.tsx';

/** Stop 3: how large, how fine, of which outline, on which layers, and the files. */
export function ReliefPanel() {
  const document = useDocument((state) => state.document);
  const counts = useLive((state) => state.counts);
  const shown = useLive((state) => state.shown);
  const samples = samplesOf(document);
  const size = usePieceSize();
  const { layers, mm: topMm } = usePrintedTop();
  const tooMany = samples.columns * samples.rows > MOST_SAMPLES;
  const planned = plannedTagOf(document);
  const unprintable =
    planned !== undefined &&
    planned.clashes.length + planned.badLevels.length + planned.wayFaults.length > 0;
  const printedShare = counts ? 1 - (counts[0] ?? 0) / (shown.columns * shown.rows) : 1;
  return (
    <Panel>
      <div className={styles.settings}>
        {document.tag ? null : (
          <>
            <SizeSection />
            <ShapeSection />
          </>
        )}
        <GridSection />
        <FinenessSection />
        <PanelHeading>Result</PanelHeading>
        <div data-testid="relief-facts">
          <Facts
            rows={[
              ['Samples', `${samples.columns} x ${samples.rows}`],
              ['Real size', formatSize(size)],
              ['Layers', layers],
              ['Thickness', `${topMm.toFixed(2)} mm`],
              [
                'Printed',
                printedShare === 1 ? 'all of it' : `${(printedShare * 100).toFixed(1)} %`,
              ],
              ['Stamp', stampOfDocument(document)],
            ]}
          />
        </div>
        {shown.columns < samples.columns ? (
          <Note tone="attention">
            The stage shows {shown.columns} x {shown.rows} of these samples; the file has them all.
          </Note>
        ) : null}
      </div>
      <FilesSection
        trouble={
          tooMany
            ? `More than ${MOST_SAMPLES / 1e6} million samples cannot be made into a file. Make the samples larger or the piece smaller.`
            : unprintable
              ? 'Two elements want different filaments in one layer, or one goes through the plate. The Tag stop says what to do.'
              : printedShare === 0
                ? document.tag
                  ? 'Nothing of the tag is printed: its holes take all of it.'
                  : 'Nothing of the artwork is printed: it is fully transparent.'
                : null
        }
      />
    </Panel>
  );
}

/** Width of a line, and what is finer than one. */
function FinenessSection() {
  const { views } = useProject();
  const lineMm = useDocument((state) => state.document.print.lineMm);
  const sampleMm = useDocument((state) => state.document.piece.sampleMm);
  const change = useDocument((state) => state.change);
  const showFine = useView((state) => state.showFine);
  const share = useLive((state) => state.fine?.share ?? null);
  return (
    <>
      <NumberField
        label="Width of a line"
        unit="mm"
        value={lineMm}
        least={LEAST_LINE_MM}
        greatest={GREATEST_LINE_MM}
        step={0.02}
        testId="line-mm"
        onChange={(value, repeats) => {
          change(setLineWidth(value), joinsWhen(repeats));
        }}
      />
      <CheckField
        label="Mark on the stage what is finer than one line"
        checked={showFine}
        testId="show-fine"
        onChange={(checked) => {
          views.setState({ showFine: checked });
        }}
      />
      {showFine && share !== null ? (
        <Note tone="attention" role="status" data-testid="fine-share">
          {share === 0
            ? sampleMm >= lineMm
              ? 'A sample is as wide as a line: nothing is finer.'
              : 'Nothing is finer than one line.'
            : `${(100 * share).toFixed(1)} % is finer than one line and may come out as blobs or not at all. More calm, a larger smallest island or a larger piece helps.`}
        </Note>
      ) : null}
    </>
  );
}
