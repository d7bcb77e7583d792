import { Layers, Undo2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import type { Finding } from '#core/gcode/finding.ts';
import type { GcodeReport } from '#core/gcode/report.ts';
import { pauseOfPlan } from '#core/gcode/print-plan.ts';
import type { OwnLines } from '#core/gcode/take-out.ts';
import { changesOf, planWeave } from '#core/gcode/weave.ts';
import { checkPauseText, type Pause } from '#core/printer/pause.ts';
import { describePauseTrouble } from '../../platform/gcode-words.ts';
import type { DeskPlan } from '../../state/gcode-desk.ts';
import { Button } from '../../ui/Button.tsx';
import { CheckField } from '../../ui/Fields.tsx';
import { Note } from '../../ui/Note.tsx';
import { Row } from '../../ui/Row.tsx';
import { PauseChoice } from './PauseChoice.tsx';
import { saveChanged } from './save-changed.ts';
import { WovenLines } from './WovenLines.tsx';
import styles from './GcodeDesk.module.css';
import { toast } from '../../ui/toast.ts';

interface WeavePanelProps {
  readonly file: File;
  /** The file without lines of ours. */
  readonly report: GcodeReport;
  readonly own: OwnLines;
  readonly plan: DeskPlan;
  readonly findings: readonly Finding[];
}

/** Puts the swaps of the plan in, or takes them out again. */
export function WeavePanel({ file, report, own, plan, findings }: WeavePanelProps) {
  const [chosen, setChosen] = useState<Pause | null>(null);
  const pause = useMemo(() => chosen ?? pauseOfPlan(plan.plan), [chosen, plan]);
  const [switchOff, setSwitchOff] = useState(true);
  const [shown, setShown] = useState(false);
  const weaving = useMemo(
    () => planWeave(report, plan.plan, { pause, switchOff }),
    [report, plan, pause, switchOff],
  );
  const { blocks, off, kept, unplaced, numbered, troubles } = weaving;
  const text = checkPauseText(pause.command === 'custom' ? pause.text : '');
  const foreign = report.pauses.filter(({ layer }) => layer > 0).length;
  const added = blocks.reduce((sum, { lines }) => sum + lines.length, 0);
  const other = own.stamps.some((stamp) => stamp !== plan.plan.stamp);
  const wrongHeights = findings.some(
    ({ code, severity }) => severity === 'wrong' && HEIGHTS.has(code),
  );
  const ready = blocks.length > 0 && text.ok && troubles.length === 0 && numbered.length === 0;
  const words = `${added} lines are added${off.length > 0 ? ` and ${off.length} of the file’s pauses switched off` : ''}; taking out gives the file back to the byte.`;
  return (
    <section className={styles.weave} aria-label="Swaps" data-testid="weave">
      <Row>
        <Button
          look="main"
          icon={<Layers size={16} aria-hidden />}
          disabled={!ready}
          onClick={() => {
            setShown(true);
          }}
        >
          {own.blocks > 0 ? 'Weave in anew' : 'Weave in'} {blocks.length}{' '}
          {blocks.length === 1 ? 'swap' : 'swaps'}
        </Button>
        {own.blocks > 0 ? (
          <Button
            icon={<Undo2 size={16} aria-hidden />}
            onClick={() => {
              saveChanged(file, own.cuts, [], 'plain');
              toast(`${own.blocks} swaps taken out: the saved file is as it was sliced`);
            }}
          >
            Take out
          </Button>
        ) : null}
      </Row>
      <PauseChoice pause={pause} onChange={setChosen} />
      {text.ok ? null : <p role="alert">{text.fault.detail} is no word that is replaced.</p>}
      {troubles.map((trouble, n) => (
        <p key={n} role="alert">
          {describePauseTrouble(trouble)}
        </p>
      ))}
      {foreign > kept.length ? (
        <CheckField
          label={
            foreign - kept.length === 1
              ? 'Switch off the pause that the sheet does not have'
              : `Switch off ${foreign - kept.length} pauses that the sheet does not have`
          }
          checked={switchOff}
          onChange={setSwitchOff}
        />
      ) : null}
      {numbered.length > 0 ? (
        <p role="alert">
          Line {numbered[0]?.line} has a number and a checksum, so its pause cannot be switched off.
          Slice without line numbers, or leave the pauses on.
        </p>
      ) : null}
      {unplaced.length > 0 ? (
        <p role="alert">
          Nothing is laid above {unplaced[0]?.stopAfterMm} mm, where swap {unplaced[0]?.swap}{' '}
          belongs. Is it the file of this relief?
        </p>
      ) : null}
      {kept.length > 0 ? (
        <Note>
          {kept.length} {kept.length === 1 ? 'pause stands' : 'pauses stand'} in the right place
          already and {kept.length === 1 ? 'is' : 'are'} left.
        </Note>
      ) : null}
      {other ? (
        <Note tone="attention">
          The swaps in this file belong to {own.stamps.join(', ')}; the sheet is {plan.plan.stamp}.
        </Note>
      ) : null}
      {wrongHeights && blocks.length > 0 ? (
        <Note tone="attention">
          Heights are not as planned: swaps go in by height, but the colours will be off. Slice
          again first.
        </Note>
      ) : null}
      {shown ? (
        <WovenLines
          title={`${blocks.length} swaps into ${file.name}`}
          weaving={weaving}
          words={words}
          onClose={() => {
            setShown(false);
          }}
          onSave={() => {
            saveChanged(file, own.cuts, changesOf(weaving, report.crlf), 'swaps');
            setShown(false);
            toast(`Saved with ${blocks.length} swaps. Print that file.`);
          }}
        />
      ) : null}
    </section>
  );
}

const HEIGHTS: ReadonlySet<string> = new Set([
  'z-scaled',
  'first-layer',
  'layer-height',
  'layer-uneven',
  'layer-count',
]);
