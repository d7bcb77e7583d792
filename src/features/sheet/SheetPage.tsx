import { Download, FileJson, Printer } from 'lucide-react';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { Cancelled } from '#core/base/checkpoint.ts';
import { swapSheetText } from '#core/formats/swap-sheet-text.ts';
import { swapsJson } from '#core/formats/swaps-json.ts';
import { MOST_SAMPLES } from '#core/relief/sampling.ts';
import {
  formatDuration,
  formatMm,
  printSettings,
  type SheetBand,
  type SwapSheet,
} from '#core/schedule/swap-sheet.ts';
import { downloadFile, fileStem } from '../../platform/browser/files.ts';
import { heightRequest, samplesOf } from '../../state/project-document.ts';
import { sheetOfDocument } from '../../state/project-export.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { hatchInk, HatchSwatch } from '../../ui/Hatch.tsx';
import { Progress } from '../../ui/Progress.tsx';
import styles from './SheetPage.module.css';

/** Counts the finished relief's samples, as often as the document changes. */
function useSheet(): {
  readonly sheet: SwapSheet | null;
  readonly fraction: number;
  readonly tooMany: boolean;
} {
  const { worker } = useProject();
  const document = useDocument((state) => state.document);
  const [sheet, setSheet] = useState<SwapSheet | null>(null);
  const [fraction, setFraction] = useState(0);
  const { columns, rows } = samplesOf(document);
  const tooMany = columns * rows > MOST_SAMPLES;
  useEffect(() => {
    const abort = new AbortController();
    setSheet(null);
    setFraction(0);
    if (tooMany) return;
    worker
      .run('counts', heightRequest(document), { signal: abort.signal, onProgress: setFraction })
      .then(({ counts }) => {
        setSheet(sheetOfDocument(document, counts));
      })
      .catch((error: unknown) => {
        if (!(error instanceof Cancelled))
          toast.error(
            `The swap sheet could not be made: ${error instanceof Error ? error.message : String(error)}`,
          );
      });
    return () => {
      abort.abort();
    };
  }, [document, worker, tooMany]);
  return { sheet, fraction, tooMany };
}

function BandMark({ band, index }: { readonly band: SheetBand; readonly index: number }) {
  const { colour } = band.filament;
  return (
    <span className={styles.band}>
      <HatchSwatch
        id={`sheet-${index}-${band.letter}`}
        index={index}
        colour={colour}
        ink={hatchInk(colour)}
      />
      <strong>{band.letter}</strong> {band.filament.name}
    </span>
  );
}

/** Stop 4: the paper that stands beside the printer. */
export function SheetPage({ onBack }: { readonly onBack: () => void }) {
  const { sheet, fraction, tooMany } = useSheet();
  if (!sheet)
    return (
      <main className={styles.desk}>
        {tooMany ? (
          <p role="alert">
            The relief has more than {MOST_SAMPLES / 1e6} million samples. Make the detail coarser
            or the piece smaller at stop 3.
          </p>
        ) : (
          <Progress label="Counting layers" fraction={fraction} onCancel={onBack} />
        )}
      </main>
    );
  if (sheet.layers === 0)
    return (
      <main className={styles.desk}>
        <p role="alert">
          Every part of the picture is transparent, so there is nothing to print. Use another
          picture.
        </p>
      </main>
    );
  return <Sheet sheet={sheet} />;
}

function Sheet({ sheet }: { readonly sheet: SwapSheet }) {
  const stem = `${fileStem(sheet.title)}-${sheet.stamp}`;
  const bandOf = (letter: string): readonly [SheetBand, number] | undefined => {
    const index = sheet.bands.findIndex((band) => band.letter === letter);
    const band = sheet.bands[index];
    return band ? [band, band.bandIndex] : undefined;
  };
  const mark = (letter: string) => {
    const found = bandOf(letter);
    return found ? <BandMark band={found[0]} index={found[1]} /> : letter;
  };
  const nameOf = (letter: string): string => bandOf(letter)?.[0].filament.name ?? letter;
  return (
    <main className={styles.desk}>
      <div className={styles.tools}>
        <Button
          icon={<Download size={16} aria-hidden />}
          onClick={() => {
            downloadFile(`${stem}-swap-sheet.txt`, swapSheetText(sheet), 'text/plain');
          }}
        >
          Download text
        </Button>
        <Button
          icon={<FileJson size={16} aria-hidden />}
          onClick={() => {
            downloadFile(`${stem}-swaps.json`, swapsJson(sheet), 'application/json');
          }}
        >
          Download JSON
        </Button>
        <Button
          icon={<Printer size={16} aria-hidden />}
          onClick={() => {
            window.print();
          }}
        >
          Print
        </Button>
      </div>
      <article className={styles.paper} data-testid="swap-sheet">
        <header className={styles.head}>
          <div>
            <h1>{sheet.title}</h1>
            <p>Swap sheet</p>
          </div>
          <p className={`${styles.stamp} figures`}>
            <span>stamp</span> {sheet.stamp}
          </p>
        </header>
        <ul className={`${styles.summary} figures`}>
          <li>
            {sheet.widthMm} x {sheet.heightMm} mm
          </li>
          <li>
            {sheet.layers} layers, {formatMm(sheet.thicknessMm)}
          </li>
          <li>
            {sheet.swaps.length} {sheet.swaps.length === 1 ? 'swap' : 'swaps'}
          </li>
          <li>about {formatDuration(sheet.totalS)}</li>
        </ul>

        <h2>Swaps</h2>
        {sheet.swaps.length === 0 ? <p>None: the whole print is one filament.</p> : null}
        <ol className={styles.swaps}>
          {sheet.swaps.map((swap) => (
            <li key={swap.swapNumber} data-swap={swap.swapNumber}>
              <span className={`${styles.number} figures`}>{swap.swapNumber}</span>
              <div className={styles.swap}>
                <p className={styles.change}>
                  {mark(swap.fromLetter)} <span aria-label="to">→</span> {mark(swap.toLetter)}
                </p>
                <p className={styles.stop}>
                  The printer stops when <b className="figures">{formatMm(swap.stopAfterMm)}</b> is
                  finished. <b className="figures">Layer {swap.layerNumber}</b> is the first one in{' '}
                  {nameOf(swap.toLetter)}.
                </p>
                <p className={`${styles.also} figures`}>
                  layer viewer: {formatMm(swap.layerTopMm)} · counted from 0: layer{' '}
                  {swap.layerNumber - 1}
                </p>
              </div>
            </li>
          ))}
        </ol>

        <h2>Filaments, from the plate up</h2>
        <table className={styles.table}>
          <thead>
            <tr>
              <th scope="col">Band</th>
              <th scope="col">Filament</th>
              <th scope="col">Layers</th>
              <th scope="col">Up to</th>
              <th scope="col">Grams</th>
              <th scope="col">Metres</th>
            </tr>
          </thead>
          <tbody className="figures">
            {sheet.bands.map((band) => (
              <tr key={band.letter}>
                <td>
                  <BandMark band={band} index={band.bandIndex} />
                </td>
                <td>
                  {band.filament.maker}, {band.filament.material}
                </td>
                <td>
                  {band.firstLayer} to {band.lastLayer}
                </td>
                <td>{formatMm(band.endMm)}</td>
                <td>{band.grams.toFixed(1)}</td>
                <td>{band.metres.toFixed(2)}</td>
              </tr>
            ))}
          </tbody>
        </table>

        <h2>Print settings</h2>
        <table className={styles.table}>
          <thead>
            <tr>
              <th scope="col">Setting</th>
              <th scope="col">Value</th>
              <th scope="col">Why</th>
            </tr>
          </thead>
          <tbody>
            {printSettings(sheet).map(({ setting, value, reason }) => (
              <tr key={setting}>
                <td>{setting}</td>
                <td className="figures">{value}</td>
                <td>{reason}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className={styles.foot}>
          Layers are counted from 1. Heights are the safe way to place a swap. Time counts solid
          lines 0.42 mm wide at 80 mm/s (30 on the first layer), 6 s a layer and 3 min a swap.
        </p>
      </article>
    </main>
  );
}
