import { Layers } from 'lucide-react';
import { useMemo, useState } from 'react';
import type { GcodeReport } from '#core/gcode/report.ts';
import type { OwnLines } from '#core/gcode/take-out.ts';
import { planToolsToPauses, USUAL_SWAPS_A_LAYER } from '#core/gcode/tools.ts';
import { changesOf } from '#core/gcode/weave.ts';
import { isPauseCommand, type Pause } from '#core/printer/pause.ts';
import type { DeskPlan } from '../../state/gcode-desk.ts';
import { Button } from '../../ui/Button.tsx';
import { CheckField } from '../../ui/Fields.tsx';
import { Note } from '../../ui/Note.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { PauseChoice } from './PauseChoice.tsx';
import { saveChanged } from './save-changed.ts';
import { WovenLines } from './WovenLines.tsx';
import styles from './GcodeDesk.module.css';
import { toast } from '../../ui/toast.ts';

/** Layers in which filament is changed, where only the first ones are wanted: as for a flush front face. */
const FEW_LAYERS = 2;

/** Makes a file for several tools one for a single nozzle. */
export function ToolsPanel({
  file,
  report,
  own,
  plan,
}: {
  readonly file: File;
  readonly report: GcodeReport;
  readonly own: OwnLines;
  readonly plan: DeskPlan | null;
}) {
  const usual = plan?.plan.pauses?.find((one) => isPauseCommand(one) && !/^T\d/.test(one));
  const [chosen, setChosen] = useState<Pause | null>(null);
  const command = usual !== undefined && isPauseCommand(usual) ? usual : 'M600';
  const pause = useMemo(() => chosen ?? { command, text: '' }, [chosen, command]);
  const [few, setFew] = useState(false);
  const [layers, setLayers] = useState(FEW_LAYERS);
  const [dropPriming, setDropPriming] = useState(false);
  const [meant, setMeant] = useState(false);
  const [shown, setShown] = useState(false);
  const made = useMemo(
    () => planToolsToPauses(report, { pause, onlyLayers: few ? layers : null, dropPriming }),
    [report, pause, few, layers, dropPriming],
  );
  const swaps = made.blocks.filter(({ kind }) => kind === 'tool').length;
  const many = made.mostPerLayer > USUAL_SWAPS_A_LAYER;
  const [numbered] = made.numbered;
  const words = `${swaps} swaps, at most ${made.mostPerLayer} in one layer; ${made.off.length} lines switched off.`;
  return (
    <div className={styles.tools} data-testid="tools">
      <p>
        The file is sliced for tools {report.tools.join(', ')}. With one nozzle each change of tool
        becomes a swap: <strong data-testid="tools-words">{words}</strong>
      </p>
      {made.inside.length > 0 ? (
        <Note tone="attention">
          In {made.inside.length} layers the filament changes inside the layer. For a flush front
          face keep that to the first layers.
        </Note>
      ) : null}
      <CheckField label="Change only in the first layers" checked={few} onChange={setFew} />
      {few ? (
        <NumberField
          label="Layers with changes"
          value={layers}
          least={0}
          greatest={report.layers.length}
          step={1}
          decimals={0}
          testId="tools-layers"
          onChange={setLayers}
        />
      ) : null}
      {made.priming > 0 && report.relative ? (
        <CheckField
          label={`Leave out ${made.priming} lines that prime beside the piece`}
          checked={dropPriming}
          onChange={setDropPriming}
        />
      ) : null}
      <PauseChoice pause={pause} onChange={setChosen} />
      {many ? (
        <CheckField
          label={`I mean it: ${swaps} swaps, up to ${made.mostPerLayer} in a layer`}
          checked={meant}
          onChange={setMeant}
        />
      ) : null}
      {numbered ? (
        <p role="alert">
          Line {numbered.line} has a number and a checksum, so it cannot be switched off. Slice
          without line numbers.
        </p>
      ) : null}
      <Button
        look="main"
        icon={<Layers size={16} aria-hidden />}
        disabled={swaps === 0 || (many && !meant) || numbered !== undefined}
        onClick={() => {
          setShown(true);
        }}
      >
        Make {swaps} swaps of the tool changes
      </Button>
      {shown ? (
        <WovenLines
          title="Tool changes become swaps"
          weaving={made}
          words={words}
          onClose={() => {
            setShown(false);
          }}
          onSave={() => {
            saveChanged(file, own.cuts, changesOf(made, report.crlf), 'one-nozzle');
            setShown(false);
            toast(`Saved with ${swaps} swaps for one nozzle.`);
          }}
        />
      ) : null}
    </div>
  );
}
