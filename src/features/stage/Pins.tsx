import { X } from 'lucide-react';
import { layerTopMm } from '#core/stack/layer-grid.ts';
import { bandLetter } from '#core/stack/stack.ts';
import { useDocument, useLive, useProject, useView } from '../../state/project-context.ts';
import { useRampSeen } from '../../state/room-light.ts';
import { Swatch } from './Readout.tsx';
import { readSpot } from './spot-reading.ts';
import styles from './Stage.module.css';

/** The pinned spots on the picture. */
export function PinMarks() {
  const pins = useView((state) => state.pins);
  return pins.map(({ x, y }, i) => (
    <span
      key={i}
      className={styles.pinMark}
      style={{ left: `${100 * x}%`, top: `${100 * y}%` }}
      aria-hidden
    >
      {i + 1}
    </span>
  ));
}

/** Pinned spots as a small table that follows every change. */
export function Pins() {
  const { views } = useProject();
  const pins = useView((state) => state.pins);
  const live = useLive((state) => state);
  const grid = useDocument((state) => state.document.stack.grid);
  const ramp = useRampSeen();
  if (pins.length === 0) return null;
  return (
    <table className={`${styles.pins} figures`} data-testid="pins">
      <caption className="visually-hidden">Pinned spots</caption>
      <tbody>
        {pins.map((pin, i) => {
          const reading = readSpot(pin, { ...live, ramp });
          return (
            <tr key={i}>
              <th scope="row">{i + 1}</th>
              {reading ? (
                <>
                  <td>
                    <Swatch colour={reading.artwork} />
                    <Swatch colour={reading.print} />
                  </td>
                  <td>{reading.difference.toFixed(1)}</td>
                  <td>
                    {bandLetter(reading.bandIndex)} {reading.layerNumber},{' '}
                    {layerTopMm(grid, reading.layerNumber).toFixed(2)} mm
                  </td>
                </>
              ) : (
                <td colSpan={3}>nothing printed</td>
              )}
              <td>
                <button
                  type="button"
                  className={styles.unpin}
                  aria-label={`Take pin ${i + 1} away`}
                  onClick={() => {
                    views.setState({ pins: pins.filter((_, k) => k !== i) });
                  }}
                >
                  <X size={13} aria-hidden />
                </button>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
