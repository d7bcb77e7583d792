import { Download } from 'lucide-react';
import { useRef, useState } from 'react';
import { toast } from 'sonner';
import { Cancelled } from '#core/base/checkpoint.ts';
import {
  GREATEST_DETAIL_MM,
  GREATEST_SIDE_MM,
  LEAST_DETAIL_MM,
  LEAST_SIDE_MM,
  MOST_SAMPLES,
} from '#core/relief/sampling.ts';
import { GREATEST_LAYER_MM, layerTopMm, LEAST_LAYER_MM } from '#core/stack/layer-grid.ts';
import { totalLayers } from '#core/stack/stack.ts';
import { downloadFile, fileStem } from '../../platform/browser/files.ts';
import { heightMmOf, heightRequest, samplesOf, stackOf } from '../../state/project-document.ts';
import { stampOfDocument } from '../../state/project-export.ts';
import { useDocument, useLive, useProject } from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { Facts } from '../../ui/Facts.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { Progress } from '../../ui/Progress.tsx';
import styles from './ReliefPanel.module.css';

/** The heights of the layer grid: where they stand in it, and what they are called. */
const LAYER_FIELDS = [
  ['firstLayerMm', 'First layer', 'first-layer-mm'],
  ['layerMm', 'Layer height', 'layer-mm'],
] as const;

/** Stop 3: how large, how fine, on which layers, and the file. */
export function ReliefPanel() {
  const { worker } = useProject();
  const document = useDocument((state) => state.document);
  const change = useDocument((state) => state.change);
  const counts = useLive((state) => state.counts);
  const shown = useLive((state) => state.shown);
  const [fraction, setFraction] = useState<number | null>(null);
  const [made, setMade] = useState<string | null>(null);
  const abort = useRef<AbortController | null>(null);

  const { grid, bands, artwork } = document;
  const samples = samplesOf(document);
  const layers = totalLayers(bands);
  const tooMany = samples.columns * samples.rows > MOST_SAMPLES;
  const heightRatio = artwork.height / artwork.width;
  const shownSamples = shown.columns * shown.rows;
  const printedShare = counts ? 1 - (counts[0] ?? 0) / shownSamples : 1;
  const coarser = shown.columns < samples.columns;
  const stamp = stampOfDocument(document);

  const exportStl = async (): Promise<void> => {
    const controller = new AbortController();
    abort.current = controller;
    setFraction(0);
    setMade(null);
    try {
      const { bytes, triangles } = await worker.run(
        'stl',
        {
          request: heightRequest(document, samples),
          stack: stackOf(document),
          filaments: document.filaments,
          title: document.name,
          stamp,
        },
        { signal: controller.signal, onProgress: setFraction },
      );
      downloadFile(`${fileStem(document.name)}-${stamp}-relief.stl`, bytes, 'model/stl');
      setMade(`${triangles.toLocaleString('en')} triangles, ${(bytes.length / 1e6).toFixed(1)} MB`);
    } catch (error) {
      if (!(error instanceof Cancelled))
        toast.error(
          `The STL could not be made: ${error instanceof Error ? error.message : String(error)}`,
        );
    } finally {
      setFraction(null);
    }
  };

  return (
    <div className={styles.panel}>
      <h2 className={styles.heading}>Size</h2>
      <NumberField
        label="Width"
        unit="mm"
        value={document.widthMm}
        least={LEAST_SIDE_MM}
        greatest={GREATEST_SIDE_MM}
        step={1}
        testId="width-mm"
        onChange={(value) => {
          change((draft) => {
            draft.widthMm = value;
          });
        }}
      />
      <NumberField
        label="Height"
        unit="mm"
        value={heightMmOf(document)}
        least={LEAST_SIDE_MM * heightRatio}
        greatest={GREATEST_SIDE_MM * heightRatio}
        step={1}
        testId="height-mm"
        onChange={(value) => {
          change((draft) => {
            draft.widthMm = value / heightRatio;
          });
        }}
      />
      <p className={styles.soft}>Width and height keep the picture&apos;s proportions.</p>
      <NumberField
        label="Detail, per sample"
        unit="mm"
        value={document.detailMm}
        least={LEAST_DETAIL_MM}
        greatest={GREATEST_DETAIL_MM}
        step={0.05}
        testId="detail-mm"
        onChange={(value) => {
          change((draft) => {
            draft.detailMm = value;
          });
        }}
      />
      <h2 className={styles.heading}>Layer grid</h2>
      {LAYER_FIELDS.map(([key, label, testId]) => (
        <NumberField
          key={key}
          label={label}
          unit="mm"
          value={grid[key]}
          least={LEAST_LAYER_MM}
          greatest={GREATEST_LAYER_MM}
          step={0.02}
          decimals={3}
          testId={testId}
          onChange={(value) => {
            change((draft) => {
              draft.grid[key] = value;
            });
          }}
        />
      ))}
      <NumberField
        label="Least height"
        unit="layers"
        value={document.leastLayers}
        least={1}
        greatest={layers}
        step={1}
        decimals={0}
        testId="least-layers"
        onChange={(value) => {
          change((draft) => {
            draft.leastLayers = Math.round(value);
          });
        }}
      />
      <h2 className={styles.heading}>Result</h2>
      <div data-testid="relief-facts">
        <Facts
          rows={[
            ['Samples', `${samples.columns} x ${samples.rows}`],
            ['Real size', `${samples.widthMm} x ${samples.heightMm} mm`],
            ['Layers', layers],
            ['Thickness', `${layerTopMm(grid, layers).toFixed(2)} mm`],
            ['Printed', printedShare === 1 ? 'all of it' : `${(printedShare * 100).toFixed(1)} %`],
            ['Stamp', stamp],
          ]}
        />
      </div>
      {coarser ? (
        <p className={styles.note}>
          The stage shows {shown.columns} x {shown.rows} of these samples; the file has them all.
        </p>
      ) : null}
      {tooMany ? (
        <p className={styles.note} role="alert">
          More than {MOST_SAMPLES / 1e6} million samples cannot be made into a file. Make the detail
          coarser or the piece smaller.
        </p>
      ) : null}
      {fraction === null ? (
        <Button
          look="main"
          icon={<Download size={16} aria-hidden />}
          disabled={tooMany || printedShare === 0}
          onClick={() => {
            void exportStl();
          }}
        >
          Download STL
        </Button>
      ) : (
        <Progress
          label="Making the STL"
          fraction={fraction}
          onCancel={() => abort.current?.abort()}
        />
      )}
      {made ? (
        <p className={styles.soft} role="status">
          Saved: {made}. Scale it in X and Y only.
        </p>
      ) : null}
    </div>
  );
}
