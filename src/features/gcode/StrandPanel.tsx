import { useMemo, useState } from 'react';
import type { PrintPlan } from '#core/gcode/print-plan.ts';
import type { GcodeReport } from '#core/gcode/report.ts';
import { bandStrands, strandUpTo } from '#core/gcode/strand.ts';
import { formatDuration } from '#core/schedule/words.ts';
import { Note } from '../../ui/Note.tsx';
import { RangeSlider } from '../../ui/RangeSlider.tsx';
import { strandText, type DeskBand } from './desk-words.ts';
import styles from './GcodeDesk.module.css';

/** Lengths of strand as they are laid: for joining filaments outside the printer, or marking the strand. */
export function StrandPanel({
  report,
  plan,
  bands,
}: {
  readonly report: GcodeReport;
  readonly plan: PrintPlan | null;
  readonly bands: readonly DeskBand[];
}) {
  const [share, setShare] = useState(25);
  const top = Math.max(...report.layers.map(({ topMm }) => topMm));
  const upTo = strandUpTo(report, (top * share) / 100);
  const strands = useMemo(() => (plan ? bandStrands(report, plan) : []), [report, plan]);
  return (
    <div className={styles.strand} data-testid="strand">
      <RangeSlider
        labels={['How far up, percent']}
        values={[share]}
        least={0}
        greatest={100}
        step={1}
        onChange={([value = 0]) => {
          setShare(value);
        }}
      />
      <p data-testid="strand-share">
        {share} % of the way up, at {((top * share) / 100).toFixed(2)} mm:{' '}
        <strong className="figures">{strandText(upTo)}</strong> of{' '}
        <span className="figures">{strandText(report.filamentMm)}</span>
      </p>
      {strands.length === 0 ? (
        <Note>Choose what the file is compared with, and the length of each band is told.</Note>
      ) : (
        <>
          <table className={styles.strands}>
            <caption>Pieces of strand to join, from the beginning</caption>
            <thead>
              <tr>
                <th scope="col">Band</th>
                <th scope="col">Length</th>
                <th scope="col">Join at</th>
                <th scope="col">After</th>
              </tr>
            </thead>
            <tbody>
              {strands.map((strand, n) => {
                const band =
                  bands[strands.slice(0, n).filter((one) => one.object === strand.object).length];
                return (
                  <tr key={n}>
                    <th scope="row">
                      {report.objects > 1 ? `${strand.object} ` : ''}
                      {band?.letter} {band?.name}
                    </th>
                    <td className="figures">{strandText(strand.strandMm)}</td>
                    <td className="figures">{strandText(strand.markMm)}</td>
                    <td className="figures">{formatDuration(strand.markS)}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          <Note>
            As it is laid in this file, without purging. A join takes some strand to come clean:
            join a little earlier, and let the first of a band be where it does not show.
          </Note>
        </>
      )}
    </div>
  );
}
