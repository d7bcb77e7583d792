import { formatDuration } from '#core/schedule/words.ts';
import type { OwnGcode } from '#core/slicing/own-gcode.ts';
import { Facts } from '../../../ui/Facts.tsx';
import { Note } from '../../../ui/Note.tsx';
import { bytesText, strandText } from '../desk-words.ts';
import styles from './OwnGcode.module.css';

/** What the whole print takes, and what of its time are acceleration and corners. */
export function SliceFacts({ made }: { readonly made: OwnGcode }) {
  const { report, written, plainS, cornerlessS } = made;
  return (
    <div className={styles.facts} data-testid="own-facts">
      <Facts
        rows={[
          ['Printing', formatDuration(report.seconds)],
          ['of it, getting up to speed', formatDuration(cornerlessS - plainS)],
          ['of it, slowing down for corners', formatDuration(report.seconds - cornerlessS)],
          [
            'Layers, swaps',
            `${report.layers.length}, ${report.pauses.filter(({ layer }) => layer > 0).length}`,
          ],
          ['Filament', strandText(written.strandMm)],
          ['Travels', `${(written.travelMm / 1000).toFixed(1)} m`],
          ['Drawn back', `${written.retracts.toLocaleString('en')} times`],
          ...(written.lifts > 0
            ? [['Lifted', `${written.lifts.toLocaleString('en')} times`] as const]
            : []),
          ['File', bytesText(report.bytes)],
        ]}
      />
      {made.turned ? <Note>It lies on the bed turned by a quarter: only so it fits.</Note> : null}
      {made.noPurge ? (
        <Note tone="attention">No room on the bed for the line that fills the nozzle.</Note>
      ) : null}
    </div>
  );
}
