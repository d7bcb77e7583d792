import { Check, CircleAlert, CircleHelp } from 'lucide-react';
import type { Finding } from '#core/gcode/finding.ts';
import type { PrintPlan } from '#core/gcode/print-plan.ts';
import type { GcodeReport } from '#core/gcode/report.ts';
import { describeFinding } from '../../platform/gcode-words.ts';
import { Note } from '../../ui/Note.tsx';
import styles from './GcodeDesk.module.css';

interface FindingListProps {
  /** Without a plan: what is wrong with the file by itself. */
  readonly findings: readonly Finding[];
  readonly plan: PrintPlan | null;
  readonly report: GcodeReport;
  readonly onShow: (at: { readonly layer: number | null; readonly line: number | null }) => void;
}

/** What is wrong with a file whatever was planned names nothing of a plan. */
const NO_PLAN: PrintPlan = { stamp: '', swaps: [] };

/** What is wrong in sentences, causes first; what follows from a cause is folded beneath it. */
export function FindingList({ findings, plan, report, onShow }: FindingListProps) {
  const choose = plan ? null : (
    <Note>
      Choose a project of the shelf, or the swaps.json that came with a relief: then every height,
      every swap and the size are compared with what was planned.
    </Note>
  );
  if (findings.length === 0 && choose) return choose;
  if (findings.length === 0)
    return (
      <p className={styles.sound} data-testid="desk-sound">
        <Check size={18} aria-hidden />
        <span>
          The file is as planned: {report.layers.length} layers, every height, every swap, the size
          and the place of each layer.
        </span>
      </p>
    );
  const causes = findings.filter(({ follows }) => follows === undefined);
  const list = (
    <ol className={styles.findings} data-testid="findings">
      {causes.map((finding, n) => {
        const following = findings.filter(({ follows }) => follows === finding.code);
        // Several findings of one code can be causes: what follows is told once.
        const first = causes.findIndex(({ code }) => code === finding.code) === n;
        return (
          <li key={n} data-code={finding.code} data-severity={finding.severity}>
            <FindingCard finding={finding} plan={plan ?? NO_PLAN} onShow={onShow} />
            {first && following.length > 0 ? (
              <details className={styles.following}>
                <summary>{following.length} more follow from it</summary>
                {following.map((one, k) => (
                  <FindingCard key={k} finding={one} plan={plan ?? NO_PLAN} onShow={onShow} />
                ))}
              </details>
            ) : null}
          </li>
        );
      })}
    </ol>
  );
  return (
    <>
      {list}
      {choose}
    </>
  );
}

function FindingCard({
  finding,
  plan,
  onShow,
}: {
  readonly finding: Finding;
  readonly plan: PrintPlan;
  readonly onShow: FindingListProps['onShow'];
}) {
  const { title, text } = describeFinding(finding, plan);
  const wrong = finding.severity === 'wrong';
  return (
    <div className={styles.finding} data-wrong={wrong}>
      {wrong ? (
        <CircleAlert size={17} aria-label="wrong" />
      ) : (
        <CircleHelp size={17} aria-label="worth a look" />
      )}
      <div>
        <h2>{title}</h2>
        <p>{text}</p>
        {finding.line === null ? null : (
          <button
            type="button"
            className={styles.link}
            onClick={() => {
              onShow(finding);
            }}
          >
            {finding.layer ? `layer ${finding.layer}, ` : ''}line{' '}
            {finding.line.toLocaleString('en')}
          </button>
        )}
      </div>
    </div>
  );
}
