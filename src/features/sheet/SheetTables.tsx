import { liesOnBed, describeBed } from '#core/printer/printer.ts';
import { printSettings } from '#core/schedule/print-settings.ts';
import type { SplicePiece } from '#core/schedule/splice.ts';
import type { SwapSheet } from '#core/schedule/swap-sheet.ts';
import { formatDuration, formatMm, formatStrand } from '#core/schedule/words.ts';
import { BandMark } from './BandMark.tsx';
import styles from './SheetPaper.module.css';

/** The names of columns. */
export function Head({ columns }: { readonly columns: readonly string[] }) {
  return (
    <thead>
      <tr>
        {columns.map((column) => (
          <th key={column} scope="col">
            {column}
          </th>
        ))}
      </tr>
    </thead>
  );
}

/** The bands with what they take, and below what is to buy. */
export function FilamentTable({ sheet }: { readonly sheet: SwapSheet }) {
  const { copies, way } = sheet.pieces;
  const together = way === 'together' ? copies : 1;
  const buy = sheet.needs.filter(({ filament }) => !filament.onHand);
  const short = sheet.needs.filter(({ restG = 0 }) => restG < 0);
  const left = sheet.needs.filter(({ restG = -1 }) => restG >= 0);
  const list = (needs: SwapSheet['needs']): string =>
    needs
      .map(({ filament, grams }) => `${filament.maker} ${filament.name} (${grams.toFixed(0)} g)`)
      .join(', ');
  return (
    <>
      <table className={styles.table} data-testid="filament-table">
        <Head
          columns={[
            'Band',
            'Filament',
            'Layers',
            'Up to',
            'Grams',
            'Metres',
            ...(copies > 1 && together === 1 ? ['for'] : []),
          ]}
        />
        <tbody className="figures">
          {sheet.bands.map((band) => (
            <tr key={band.letter}>
              <td>
                <BandMark band={band} place="table" size={18} />
              </td>
              <td>
                {band.filament.maker}, {band.filament.material}
              </td>
              <td>
                {band.firstLayer} to {band.lastLayer}
              </td>
              <td>{formatMm(band.endMm)}</td>
              <td>{(band.grams * together).toFixed(1)}</td>
              <td>{(band.metres * together).toFixed(2)}</td>
              {copies > 1 && together === 1 ? <td>one piece</td> : null}
            </tr>
          ))}
        </tbody>
      </table>
      {buy.length > 0 ? (
        <p className={styles.shopping} data-testid="shopping">
          <strong>Not on hand:</strong> {list(buy)}.
        </p>
      ) : null}
      {short.length > 0 ? (
        <p className={styles.shopping} data-testid="short">
          <strong>Does not last:</strong>{' '}
          {short
            .map(
              ({ filament, restG = 0, grams }) =>
                `${filament.name} needs ${grams.toFixed(0)} g with purging, ${(-restG).toFixed(0)} g more than is left`,
            )
            .join('; ')}
          .
        </p>
      ) : null}
      {left.length > 0 ? (
        <p className={styles.shopping} data-testid="left-over">
          Left on the spool afterwards:{' '}
          {left
            .map(({ filament, restG = 0 }) => `${filament.name} ${restG.toFixed(0)} g`)
            .join(', ')}
          .
        </p>
      ) : null}
    </>
  );
}

/** Both ways of printing several pieces, and whether they fit. */
export function PiecesTable({ sheet }: { readonly sheet: SwapSheet }) {
  const { ways, pieces, arrangement, printer } = sheet;
  const row = (name: string, { swaps, totalS, way }: SwapSheet['ways']['together']) => (
    <tr data-chosen={way === pieces.way}>
      <td>
        {name}
        {way === pieces.way ? ' (this sheet)' : ''}
      </td>
      <td className="figures">{swaps}</td>
      <td className="figures">{formatDuration(totalS)}</td>
      <td className="figures">
        {way === 'together'
          ? `${arrangement.columns} x ${arrangement.rows}, ${arrangement.widthMm.toFixed(0)} x ${arrangement.depthMm.toFixed(0)} mm${arrangement.turned ? ', turned' : ''}: ${arrangement.fits ? 'fits' : `does not fit, room for ${arrangement.room}`}`
          : liesOnBed(printer.bed, sheet.widthMm, sheet.heightMm) ||
              liesOnBed(printer.bed, sheet.heightMm, sheet.widthMm)
            ? 'one fits'
            : 'does not fit'}
      </td>
    </tr>
  );
  return (
    <>
      <table className={styles.table} data-testid="pieces-table">
        <Head columns={['Printed', 'Swaps', 'Time', `On ${describeBed(printer.bed)}`]} />
        <tbody>
          {row('together', ways.together)}
          {row('one after the other', ways.apart)}
        </tbody>
      </table>
      <p className={styles.shopping} data-testid="advice">
        <strong>{ways.advice === 'together' ? 'Together' : 'One after the other'}:</strong>{' '}
        {ways.reason}.
      </p>
    </>
  );
}

/** What to cut and mark when filaments are joined outside the printer. */
export function SpliceTable({
  sheet,
  plan,
  marginMm,
}: {
  readonly sheet: SwapSheet;
  readonly plan: readonly SplicePiece[];
  readonly marginMm: number;
}) {
  return (
    <>
      <table className={styles.table} data-testid="splice-table">
        <Head columns={['Band', 'Filament', 'Print', 'Purge', 'Put by', 'Length', 'Mark at']} />
        <tbody className="figures">
          {plan.map((piece) => (
            <tr key={piece.letter}>
              <td>{piece.letter}</td>
              <td>
                {
                  sheet.bands.find(({ filamentId }) => filamentId === piece.filamentId)?.filament
                    .name
                }
              </td>
              <td>{formatStrand(piece.printMm)}</td>
              <td>{formatStrand(piece.purgeMm)}</td>
              <td>{formatStrand(piece.marginMm)}</td>
              <td>{formatStrand(piece.lengthMm)}</td>
              <td>{Math.round(piece.markMm)} mm</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className={styles.shopping}>
        Strand of {sheet.bands[0]?.filament.diameterMm} mm
        {sheet.pieces.copies > 1 && sheet.pieces.way === 'apart'
          ? ', for all pieces one after the other: 2A is band A of the second one'
          : ''}
        . Join the pieces in this order, or mark one strand at these lengths from its beginning;{' '}
        {formatStrand(marginMm)} are put by at the end. What the printer primes with before the
        first layer comes on top: feed it from another spool.
      </p>
    </>
  );
}

/** What to set in the slicing program, and why. */
export function SettingsTable({ sheet }: { readonly sheet: SwapSheet }) {
  return (
    <table className={styles.table} data-testid="settings-table">
      <Head columns={['Setting', 'Value', 'Why']} />
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
  );
}
