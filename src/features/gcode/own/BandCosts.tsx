import { partFilaments, type PrintPlan } from '#core/gcode/print-plan.ts';
import type { GcodeReport } from '#core/gcode/report.ts';
import { formatDuration } from '#core/schedule/words.ts';
import { useDocument } from '../../../state/project-context.ts';
import { hatchInk, HatchSwatch } from '../../../ui/Hatch.tsx';
import type { DeskBand } from '../desk-words.ts';
import styles from './OwnGcode.module.css';

interface BandCostsProps {
  readonly report: GcodeReport;
  readonly plan: PrintPlan;
  readonly bands: readonly DeskBand[];
  readonly bandOf: readonly number[];
}

/** Grams, metres and minutes of each band, measured in the file. */
export function BandCosts({ report, plan, bands, bandOf }: BandCostsProps) {
  const filaments = useDocument((state) => state.document.stack.filaments);
  const ids = partFilaments(plan);
  const section = (Math.PI / 4) * (plan.filamentMm ?? 1.75) ** 2;
  // Where filaments are changed within layers, inlays have none of their own.
  const rows = bands
    .filter(({ index }) => index === 0 || bandOf.includes(index))
    .map((band) => {
      const own = report.layers.filter(({ layer }) => bandOf[layer - 1] === band.index);
      const strandMm = own.reduce((sum, { filamentMm }) => sum + filamentMm, 0);
      const density = filaments[ids[band.index] ?? '']?.densityGCm3 ?? 1.24;
      return {
        band,
        layers: own.length,
        strandMm,
        grams: ((strandMm * section) / 1000) * density,
        seconds: own.reduce((sum, { seconds }) => sum + seconds, 0),
      };
    });
  return (
    <table className={styles.bands} data-testid="own-bands">
      <thead>
        <tr>
          <th scope="col">Band</th>
          <th scope="col">Layers</th>
          <th scope="col">Grams</th>
          <th scope="col">Metres</th>
          <th scope="col">Time</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ band, layers, strandMm, grams, seconds }) => (
          <tr key={band.index}>
            <th scope="row">
              <HatchSwatch
                id={`own-${band.index}`}
                size={16}
                index={band.index}
                colour={band.colour}
                ink={hatchInk(band.colour)}
              />{' '}
              {band.letter} {band.name}
            </th>
            <td className="figures">{layers}</td>
            <td className="figures">{grams.toFixed(1)}</td>
            <td className="figures">{(strandMm / 1000).toFixed(2)}</td>
            <td className="figures">{formatDuration(seconds)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
