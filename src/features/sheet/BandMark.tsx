import type { SheetBand } from '#core/schedule/swap-sheet.ts';
import { hatchInk, HatchSwatch } from '../../ui/Hatch.tsx';
import styles from './SheetPaper.module.css';

/** A band by swatch, hatch, letter and name. */
export function BandMark({
  band,
  place,
  size,
}: {
  readonly band: SheetBand;
  /** Tells apart the places on one page where a band is shown. */
  readonly place: string;
  readonly size?: number;
}) {
  const { colour } = band.filament;
  return (
    <span className={styles.band}>
      <HatchSwatch
        id={`sheet-${place}-${band.letter}`}
        index={band.bandIndex}
        colour={colour}
        ink={hatchInk(colour)}
        {...(size === undefined ? {} : { size })}
      />
      <strong>{band.letter}</strong> {band.filament.name}
    </span>
  );
}
