import { useState } from 'react';
import { MAX_LAYERS } from '#core/base/raster.ts';
import {
  baseTopMm,
  GREATEST_LAYER_MM,
  layerTopMm,
  type LayerGrid,
  LEAST_LAYER_MM,
  withThickBase,
} from '#core/stack/layer-grid.ts';
import { totalLayers } from '#core/stack/stack.ts';
import { withGrid } from '../../state/regrid.ts';
import { useDocument } from '../../state/project-context.ts';
import { joinsWhen } from '../../state/document-store.ts';
import { setGrid, setLayerHeight, setLeastLayers } from '../../state/edits/piece-edits.ts';
import { Button } from '../../ui/Button.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { Note } from '../../ui/Note.tsx';
import { PanelHeading } from '../../ui/Panel.tsx';
import styles from './ReliefPanel.module.css';

/** The heights of the layer grid: where they stand in it, and what they are called. */
const LAYER_FIELDS = [
  ['firstLayerMm', 'First layer', 'first-layer-mm'],
  ['layerMm', 'Layer height', 'layer-mm'],
] as const;

/** Layer heights, the thicker base, the least height. */
export function GridSection() {
  const document = useDocument((state) => state.document);
  const change = useDocument((state) => state.change);
  const {
    stack: { grid, bands },
  } = document;
  const present = baseTopMm(grid);
  const [untilMm, setUntilMm] = useState(
    present ?? layerTopMm(grid, Math.max(2, document.heights.leastLayers)),
  );
  const [thickMm, setThickMm] = useState(grid.baseLayerMm ?? Number((grid.layerMm * 2).toFixed(3)));
  const [trouble, setTrouble] = useState<string | null>(null);
  const applyGrid = (next: LayerGrid): void => {
    const moved = withGrid(document, next);
    setTrouble(
      moved.ok
        ? null
        : `At the same height the piece would have ${moved.fault.detail ?? ''} layers; it can have ${MAX_LAYERS}. Make it lower at the Stack stop, or take thicker layers.`,
    );
    change(setGrid(next));
  };
  const applyBase = (): void => {
    const next = withThickBase(grid, untilMm, thickMm);
    if (next.ok) {
      applyGrid(next.value);
      return;
    }
    const { code, detail = '' } = next.fault;
    const nearest = detail.split(' ').join(' or ');
    setTrouble(
      code === 'below-first-layer'
        ? `The base must be higher than the first layer. The lowest one is ${nearest} mm.`
        : code === 'too-many-layers'
          ? `A base up to ${untilMm} mm in layers of ${thickMm} mm has ${detail} of them; a piece can have ${MAX_LAYERS}. Take thicker layers, or a lower base.`
          : `${untilMm} mm cannot be divided into layers of ${thickMm} mm above the first layer. ${nearest} mm can.`,
    );
  };
  return (
    <>
      <PanelHeading>Layer grid</PanelHeading>
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
          onChange={(value, repeats) => {
            change(setLayerHeight(key, value), joinsWhen(repeats));
          }}
        />
      ))}
      <NumberField
        label="Least height"
        unit="layers"
        value={document.heights.leastLayers}
        least={1}
        greatest={totalLayers(bands)}
        step={1}
        decimals={0}
        testId="least-layers"
        onChange={(value, repeats) => {
          change(setLeastLayers(value), joinsWhen(repeats));
        }}
      />
      <details className={styles.fold} data-testid="base-section">
        <summary>
          Thicker base{' '}
          <span className={styles.soft}>
            {present === undefined
              ? 'none'
              : `${grid.baseLayerMm ?? 0} mm layers up to ${present} mm`}
          </span>
        </summary>
        <NumberField
          label="Up to"
          unit="mm"
          value={untilMm}
          least={LEAST_LAYER_MM}
          greatest={20}
          step={0.08}
          decimals={3}
          testId="base-until"
          onChange={setUntilMm}
        />
        <NumberField
          label="In layers of"
          unit="mm"
          value={thickMm}
          least={LEAST_LAYER_MM}
          greatest={GREATEST_LAYER_MM}
          step={0.08}
          decimals={3}
          testId="base-layer"
          onChange={setThickMm}
        />
        <div className={styles.row}>
          <Button onClick={applyBase}>Print the base in these</Button>
          {present === undefined ? null : (
            <Button
              look="quiet"
              onClick={() => {
                const { firstLayerMm, layerMm } = grid;
                applyGrid({ firstLayerMm, layerMm });
              }}
            >
              No thicker base
            </Button>
          )}
        </div>
        {trouble ? (
          <Note tone="attention" role="alert" data-testid="base-trouble">
            {trouble}
          </Note>
        ) : null}
      </details>
    </>
  );
}
