import { ArrowDown, ArrowUp } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Cancelled } from '#core/base/checkpoint.ts';
import { GREATEST_FLAT_COLOURS, LEAST_FLAT_COLOURS } from '#core/heights/flat.ts';
import { layerTopMm } from '#core/stack/layer-grid.ts';
import { totalLayers } from '#core/stack/stack.ts';
import { shownRequestOf, stackOf } from '../../state/document-facts.ts';
import { useDocument, useLive, useProject } from '../../state/project-context.ts';
import { REPEATS } from '../../state/document-store.ts';
import { setFlatColours, setFlatLayers, swapFlatLayers } from '../../state/edits/height-edits.ts';
import { Button } from '../../ui/Button.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { Swatch } from '../../ui/Swatch.tsx';
import styles from './StackPanel.module.css';

/** The height rule *Flat areas*: the picture reduced to a few colours, each of one height. */
export function FlatPanel() {
  const { worker, documents } = useProject();
  const colours = useDocument((state) => state.document.heights.flat.colours);
  const bands = useDocument((state) => state.document.stack.bands);
  const grid = useDocument((state) => state.document.stack.grid);
  const { change, complete } = useDocument((state) => state);
  const ready = useLive((state) => state.heights !== null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const layers = totalLayers(bands);

  const reduce = async (count: number, byItself = false): Promise<void> => {
    const { document } = documents.getState();
    setTrouble(null);
    try {
      const reduced = await worker.run('flatColours', {
        samples: shownRequestOf(document),
        count,
        stack: stackOf(document),
        filaments: document.stack.filaments,
      });
      const edit = setFlatColours([...reduced.colours]);
      if (!byItself) change(edit);
      else {
        // Meanwhile the maker may have gone back to a state that has its colours, or to another rule.
        const {
          heights: { flat, rule: heightRule },
        } = documents.getState().document;
        if (heightRule === 'flat' && flat.colours.length === 0) complete(edit);
      }
    } catch (error) {
      if (!(error instanceof Cancelled))
        setTrouble(
          `The picture could not be reduced (${error instanceof Error ? error.message : String(error)}). Try again.`,
        );
    }
  };

  // The rule means nothing before the picture is reduced, so the first visit does that: one colour a band.
  useEffect(() => {
    if (ready && colours.length === 0) void reduce(bands.length, true);
    // As soon as there are heights to begin from, and again where undo has come to a state before the first reduction.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [ready, colours.length]);

  const rows = colours.map((colour, i) => ({ ...colour, i })).sort((a, b) => b.layers - a.layers);
  const setLayers = (i: number, next: number): void => {
    change(setFlatLayers(i, next), REPEATS);
  };
  const swap = (first: number, second: number | undefined): void => {
    if (second !== undefined) change(swapFlatLayers(first, second));
  };

  return (
    <>
      <NumberField
        label="Colours"
        value={colours.length}
        least={LEAST_FLAT_COLOURS}
        greatest={GREATEST_FLAT_COLOURS}
        step={1}
        decimals={0}
        beginsWork
        testId="flat-count"
        onChange={(count) => void reduce(Math.round(count))}
      />
      {trouble ? <p role="alert">{trouble}</p> : null}
      <ul className={styles.flat} data-testid="flat-colours">
        {rows.map(({ colour, layers: height, i }, place) => (
          <li key={i}>
            <Swatch colour={colour} widthPx={26} heightPx={20} />
            <span className="figures">{colour}</span>
            <input
              className={`${styles.layerInput} figures`}
              type="number"
              aria-label={`Height of ${colour} in layers`}
              min={1}
              max={layers}
              value={height}
              onChange={(event) => {
                const next = Math.round(Number(event.target.value));
                if (next >= 1 && next <= layers) setLayers(i, next);
              }}
            />
            <span className="figures">
              {layerTopMm(grid, Math.min(height, layers)).toFixed(2)} mm
            </span>
            <Button
              look="quiet"
              icon={<ArrowUp size={14} aria-hidden />}
              aria-label={`${colour} higher`}
              disabled={place === 0}
              onClick={() => {
                swap(i, rows[place - 1]?.i);
              }}
            />
            <Button
              look="quiet"
              icon={<ArrowDown size={14} aria-hidden />}
              aria-label={`${colour} lower`}
              disabled={place === rows.length - 1}
              onClick={() => {
                swap(i, rows[place + 1]?.i);
              }}
            />
          </li>
        ))}
      </ul>
    </>
  );
}
