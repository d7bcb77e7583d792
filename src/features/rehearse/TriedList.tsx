import type { TriedFault } from '#core/rehearse/rehearsal.ts';
import { describeCase } from '../../platform/rehearse-words.ts';
import { Button } from '../../ui/Button.tsx';
import { Progress } from '../../ui/Progress.tsx';
import styles from './Rehearse.module.css';

/** Score from which on a print is taken for right. */
const RIGHT = 0.9995;

interface TriedListProps {
  readonly trying: number | null;
  readonly tried: readonly TriedFault[] | null;
  readonly onCancel: () => void;
  readonly onClose: () => void;
}

/** Every fault that was tried, the worst case of each: which of them the plan bears. */
export function TriedList({ trying, tried, onCancel, onClose }: TriedListProps) {
  if (trying !== null)
    return (
      <div className={styles.tried}>
        <Progress label="Trying" fraction={trying} onCancel={onCancel} />
      </div>
    );
  if (!tried) return null;
  const wrong = tried.filter(({ what }) => what.trial !== 'nothing');
  const borne = wrong.filter(({ score }) => score.score >= RIGHT).length;
  const worst = [...wrong].sort((a, b) => a.score.score - b.score.score)[0];
  return (
    <div className={styles.tried} data-testid="tried">
      <div className={styles.triedHead}>
        <p>
          {worst && worst.score.score < RIGHT
            ? `Of ${wrong.length} things that may go wrong, ${borne} ${borne === 1 ? 'leaves' : 'leave'} the print as it is. The worst: ${describeCase(worst).toLowerCase()}.`
            : 'Whatever of these goes wrong, the print stays as it is.'}
        </p>
        <Button onClick={onClose}>Close</Button>
      </div>
      <table>
        <thead>
          <tr>
            <th scope="col">What goes wrong, at its worst</th>
            <th scope="col">Score</th>
            <th scope="col">First wrong layer</th>
          </tr>
        </thead>
        <tbody>
          {tried.map((one) => (
            <tr key={one.what.trial} data-trial={one.what.trial}>
              <td>{describeCase(one)}</td>
              <td className="figures">{one.score.score.toFixed(3)}</td>
              <td className="figures">{one.score.firstWrongLayer ?? 'none'}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
