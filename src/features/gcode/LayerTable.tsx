import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, useState } from 'react';
import type { PrintPlan } from '#core/gcode/print-plan.ts';
import type { GcodeReport } from '#core/gcode/report.ts';
import { Choice } from '../../ui/Choice.tsx';
import { hatchInk, HatchSwatch } from '../../ui/Hatch.tsx';
import { clockText, objectWords, strandText, type DeskBand, type LayerNote } from './desk-words.ts';
import styles from './GcodeDesk.module.css';

interface LayerTableProps {
  readonly report: GcodeReport;
  /** What the file should be; null where that is not known. */
  readonly plan: PrintPlan | null;
  readonly layer: number;
  readonly bands: readonly DeskBand[];
  readonly bandOf: readonly number[] | null;
  readonly notes: ReadonlyMap<number, readonly LayerNote[]>;
  readonly onShow: (at: { readonly layer: number; readonly line: number | null }) => void;
}

const ROW_PX = 46;
const NOTE_PX = 18;

/** All layers of the file; arrow keys go from one to the next, Enter to the line of what stands there. */
export function LayerTable({ report, plan, layer, bands, bandOf, notes, onShow }: LayerTableProps) {
  const [from, setFrom] = useState<'1' | '0'>('1');
  const scroller = useRef<HTMLDivElement>(null);
  const { layers } = report;
  const virtual = useVirtualizer({
    count: layers.length,
    getScrollElement: () => scroller.current,
    estimateSize: (n) => ROW_PX + NOTE_PX * (notes.get(n + 1)?.length ?? 0),
    overscan: 12,
  });
  useEffect(() => {
    virtual.measure();
  }, [virtual, notes]);
  useEffect(() => {
    virtual.scrollToIndex(layer - 1);
  }, [virtual, layer]);
  const severalTools = report.tools.length > 1;
  return (
    <section className={styles.right} aria-label="Layers">
      <div className={styles.head}>
        <h2>Layers</h2>
        <Choice
          label="Count layers"
          value={from}
          options={[
            { value: '1', text: 'from 1' },
            { value: '0', text: 'from 0' },
          ]}
          onChange={setFrom}
        />
      </div>
      <div
        ref={scroller}
        className={styles.layers}
        role="listbox"
        tabIndex={0}
        aria-label="Layers of the file"
        aria-activedescendant={`layer-${layer}`}
        data-testid="layer-list"
        onKeyDown={(event) => {
          const steps: Readonly<Record<string, number>> = {
            ArrowDown: 1,
            ArrowUp: -1,
            PageDown: 10,
            PageUp: -10,
            Home: -layers.length,
            End: layers.length,
          };
          const step = steps[event.key];
          if (event.key === 'Enter') {
            const [note] = notes.get(layer) ?? [];
            if (note) onShow({ layer, line: note.line });
          }
          if (step === undefined) return;
          event.preventDefault();
          onShow({ layer: Math.min(layers.length, Math.max(1, layer + step)), line: null });
        }}
      >
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map(({ index, start, size }) => {
            const own = layers[index];
            if (!own) return null;
            const band = bandOf ? bands[bandOf[index] ?? 0] : undefined;
            const number = own.layerOfObject - (from === '0' ? 1 : 0);
            return (
              <div
                key={index}
                id={`layer-${own.layer}`}
                role="option"
                aria-selected={own.layer === layer}
                className={styles.layer}
                style={{ transform: `translateY(${start}px)`, height: size }}
                data-testid={`layer-${own.layer}`}
                onClick={({ target }) => {
                  const note = target instanceof Element && target.closest('[data-line]');
                  const line = note ? note.getAttribute('data-line') : null;
                  onShow({ layer: own.layer, line: line === null ? null : Number(line) });
                }}
              >
                <div className={styles.layerFacts}>
                  <strong className="figures">{number}</strong>
                  <span className="figures">{own.topMm.toFixed(2)} mm</span>
                  {band ? (
                    <span className={styles.band} title={band.name}>
                      <HatchSwatch
                        id={`desk-${own.layer}`}
                        index={band.index}
                        colour={band.colour}
                        ink={hatchInk(band.colour)}
                        size={14}
                      />
                      <strong>{band.letter}</strong> {band.name}
                    </span>
                  ) : (
                    <span />
                  )}
                  <span className={`figures ${styles.time ?? ''}`}>{clockText(own.seconds)}</span>
                </div>
                <div className={styles.layerMore}>
                  <span className="figures">{own.heightMm.toFixed(3)} high</span>
                  <span className="figures">{strandText(own.filamentMm)}</span>
                  {report.objects > 1 ? <span>{objectWords(own.object, plan)}</span> : null}
                  {severalTools ? (
                    <span className="figures">{own.tools.map((tool) => `T${tool}`).join(' ')}</span>
                  ) : null}
                </div>
                {(notes.get(own.layer) ?? []).map((note, n) => (
                  <span
                    key={n}
                    className={styles.note}
                    data-wrong={note.wrong}
                    data-line={note.line ?? undefined}
                  >
                    {note.wrong ? '! ' : ''}
                    {note.text}
                  </span>
                ))}
              </div>
            );
          })}
        </div>
      </div>
    </section>
  );
}
