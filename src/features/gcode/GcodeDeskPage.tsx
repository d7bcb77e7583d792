import { FileUp, FolderInput } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { auditGcode, wholeness } from '#core/gcode/audit.ts';
import { formatDuration } from '#core/schedule/words.ts';
import type { GcodeDesk } from '../../state/gcode-desk.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { SelectField } from '../../ui/Fields.tsx';
import { Facts } from '../../ui/Facts.tsx';
import { FileDrop } from '../../ui/FileDrop.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { Progress } from '../../ui/Progress.tsx';
import { bytesText, deskBands, layerNotes, strandText } from './desk-words.ts';
import { bandOfLayers } from '#core/gcode/print-plan.ts';
import { FindingList } from './FindingList.tsx';
import { LayerTable } from './LayerTable.tsx';
import { LayerView } from './LayerView.tsx';
import { StrandPanel } from './StrandPanel.tsx';
import { ToolsPanel } from './ToolsPanel.tsx';
import { WeavePanel } from './WeavePanel.tsx';
import styles from './GcodeDesk.module.css';

/** Weight of a strand, g/cm3: common practice, no source. What it is of, a sliced file does not say. */
const USUAL_DENSITY = 1.24;

type Side = 'check' | 'strand' | 'tools';

interface DeskPageProps {
  readonly desk: GcodeDesk;
  /** Projects whose plan a file can be compared with. */
  readonly projects: readonly { readonly id: string; readonly name: string }[];
  readonly planning: boolean;
  /** Takes a plan from a project; null: from none. */
  readonly onProject: (id: string | null) => void;
  /** Takes a sliced file, or a file of swaps. */
  readonly onFile: (file: File) => void;
}

/** Any sliced file: what is in it, what is wrong with it, and its swaps put in. */
export function GcodeDeskPage({ desk, projects, planning, onProject, onFile }: DeskPageProps) {
  const { file, reading, trouble, read, plan, accelerationMmS2 } = useStore(desk.store);
  const [side, setSide] = useState<Side>('check');
  const [layer, setLayer] = useState(1);
  const [line, setLine] = useState<number | null>(null);
  const report = read?.report ?? null;
  useEffect(() => {
    setLayer(1);
    setLine(null);
  }, [file]);
  const findings = useMemo(
    () =>
      read ? (plan ? auditGcode(read.report, plan.plan, read.own) : wholeness(read.report)) : [],
    [read, plan],
  );
  const bands = useMemo(() => (plan ? deskBands(plan.plan) : []), [plan]);
  const bandOf = useMemo(
    () => (report && plan ? bandOfLayers(report, plan.plan) : null),
    [report, plan],
  );
  const notes = useMemo(
    () => (report ? layerNotes(report, findings) : new Map<number, never>()),
    [report, findings],
  );
  const show = (at: { readonly layer: number | null; readonly line: number | null }): void => {
    if (at.layer !== null && at.layer > 0) setLayer(at.layer);
    setLine(at.line);
  };
  const reader =
    reading === null ? null : (
      <Progress
        label="Reading"
        fraction={reading}
        onCancel={() => {
          desk.cancel();
        }}
      />
    );

  if (!file || !read || !report)
    return (
      <main className={styles.empty} data-testid="desk-empty">
        <h1>G-code desk</h1>
        <p>
          Drop a sliced file here: it is read, compared with its swap sheet, and the swaps are put
          in. Nothing leaves this computer.
        </p>
        <FileChoice onFile={onFile} />
        {reader}
        {trouble ? <p role="alert">{trouble}</p> : null}
        <PlanChoice {...{ plan, projects, planning, onProject, onFile }} />
      </main>
    );
  const several = report.tools.length > 1 || report.events.some(({ kind }) => kind === 'tool');
  const sides = [
    { value: 'check' as const, text: 'Check' },
    { value: 'strand' as const, text: 'Strand' },
    ...(several ? [{ value: 'tools' as const, text: 'Tools' }] : []),
  ];
  return (
    <main className={styles.desk} data-testid="desk">
      <section className={styles.left} aria-label="The file">
        <div className={styles.file}>
          <div className={styles.title}>
            <h1 title={file.name}>{file.name}</h1>
            <FileChoice onFile={onFile} small />
          </div>
          <p className="figures" data-testid="desk-facts">
            {bytesText(report.bytes)}, {report.lines.toLocaleString('en')} lines,{' '}
            {report.layers.length} layers
            {report.objects > 1
              ? plan?.plan.flush?.print === 'first'
                ? ', inlays first'
                : ` in ${report.objects} pieces, one by one`
              : ''}
            <br />
            {formatDuration(report.seconds)}, {strandText(report.filamentMm)},{' '}
            {gramsText(report.filamentMm, plan?.plan.filamentMm)}
            {report.tools.length > 1 ? `, tools ${report.tools.join(', ')}` : ''}
            {report.pauses.length > 0
              ? `, ${report.pauses.length} ${report.pauses.length === 1 ? 'pause' : 'pauses'}`
              : ''}
            <br />
            {sizeText(report.layers)}
          </p>
          <NumberField
            label="Acceleration, for the times"
            unit="mm/s²"
            value={accelerationMmS2}
            least={50}
            greatest={100_000}
            step={100}
            decimals={0}
            testId="desk-acceleration"
            onChange={(value) => void desk.setAcceleration(value)}
          />
          {reader}
          {trouble ? <p role="alert">{trouble}</p> : null}
        </div>
        <PlanChoice {...{ plan, projects, planning, onProject, onFile }} />
        <div className={styles.sides}>
          <Choice label="About the file" value={side} options={sides} onChange={setSide} />
        </div>
        <div className={styles.side}>
          {side === 'tools' && several ? (
            <ToolsPanel file={file} report={read.bare} own={read.own} plan={plan} />
          ) : side === 'strand' ? (
            <StrandPanel report={report} plan={plan?.plan ?? null} bands={bands} />
          ) : (
            <>
              <FindingList
                findings={findings}
                plan={plan?.plan ?? null}
                report={report}
                onShow={show}
              />
              <SettingList settings={report.settings} />
            </>
          )}
        </div>
        {side === 'check' && plan ? (
          <WeavePanel
            file={file}
            report={read.bare}
            own={read.own}
            plan={plan}
            findings={findings}
          />
        ) : null}
      </section>
      <LayerView
        desk={desk}
        report={report}
        layer={layer}
        line={line}
        bands={bands}
        bandOf={bandOf}
        notes={notes}
        onLayer={(next) => {
          setLayer(next);
          setLine(null);
        }}
      />
      <LayerTable
        report={report}
        plan={plan?.plan ?? null}
        layer={layer}
        bands={bands}
        bandOf={bandOf}
        notes={notes}
        onShow={show}
      />
    </main>
  );
}

/** What the slicing program wrote into the file about itself, as it wrote it. */
function SettingList({ settings }: { readonly settings: Readonly<Record<string, string>> }) {
  const rows = Object.entries(settings);
  return rows.length === 0 ? null : (
    <details className={styles.settings} data-testid="desk-settings">
      <summary>{rows.length} settings that the file tells</summary>
      <Facts rows={rows} />
    </details>
  );
}

/** Chooses a sliced file, or a list of swaps, by name. */
function FileChoice({
  onFile,
  small = false,
}: {
  readonly onFile: (file: File) => void;
  readonly small?: boolean;
}) {
  return (
    <FileDrop
      onFile={onFile}
      field={{ label: 'Sliced file', testId: 'gcode-file', accept: '.gcode,.gco,.g,.nc,.txt' }}
    >
      {(_, choose) => (
        <Button
          look={small ? 'plain' : 'main'}
          icon={<FileUp size={16} aria-hidden />}
          onClick={choose}
          {...(small
            ? { 'aria-label': 'Open another sliced file', title: 'Open another file' }
            : {})}
        >
          {small ? null : 'Open a sliced file'}
        </Button>
      )}
    </FileDrop>
  );
}

const NO_PLAN = '';
const FROM_FILE = 'file';

/** What the file is compared with. */
function PlanChoice({
  plan,
  projects,
  planning,
  onProject,
  onFile,
}: Pick<DeskPageProps, 'projects' | 'planning' | 'onProject' | 'onFile'> & {
  readonly plan: ReturnType<GcodeDesk['store']['getState']>['plan'];
}) {
  const fromFile = plan?.projectId === null;
  return (
    <div className={styles.plan}>
      <span>against</span>
      <SelectField
        compact
        label="Compared with"
        value={plan ? (plan.projectId ?? FROM_FILE) : NO_PLAN}
        testId="desk-plan"
        options={[
          { value: NO_PLAN, text: planning ? 'working the sheet out ...' : 'nothing yet' },
          ...(fromFile ? [{ value: FROM_FILE, text: plan.title }] : []),
          ...projects.map(({ id, name }) => ({ value: id, text: name })),
        ]}
        onChange={(value) => {
          if (value !== FROM_FILE) onProject(value === NO_PLAN ? null : value);
        }}
      />
      <FileDrop
        onFile={onFile}
        field={{ label: 'Swaps as JSON', testId: 'swaps-file', accept: '.json' }}
      >
        {(_, choose) => (
          <Button
            icon={<FolderInput size={16} aria-hidden />}
            aria-label="Compare with a swaps.json file"
            title="Compare with a swaps.json file"
            onClick={choose}
          />
        )}
      </FileDrop>
      {plan ? (
        <span className="figures" data-testid="desk-stamp">
          {plan.plan.stamp}
        </span>
      ) : null}
    </div>
  );
}

function gramsText(strandMm: number, filamentMm = 1.75): string {
  const cubicMm = strandMm * (Math.PI / 4) * filamentMm ** 2;
  return `about ${((cubicMm / 1000) * USUAL_DENSITY).toFixed(1)} g`;
}

function sizeText(
  layers: readonly { readonly box: readonly number[]; readonly topMm: number }[],
): string {
  const least = (side: number): number => Math.min(...layers.map(({ box }) => box[side] ?? 0));
  const most = (side: number): number => Math.max(...layers.map(({ box }) => box[side] ?? 0));
  const top = Math.max(...layers.map(({ topMm }) => topMm));
  const first = layers[0]?.topMm ?? 0;
  const second = layers[1]?.topMm ?? first;
  return `${(most(2) - least(0)).toFixed(1)} x ${(most(3) - least(1)).toFixed(1)} x ${top.toFixed(2)} mm; first layer ${first.toFixed(2)}, then ${(second - first).toFixed(2)}`;
}
