import { Download } from 'lucide-react';
import { useMemo, useState } from 'react';
import { swapSheetText } from '#core/formats/sheet/swap-sheet-text.ts';
import { printPlanOf, swapsJson } from '#core/formats/sheet/swaps-json.ts';
import { USUAL_PRINTER } from '#core/printer/printer.ts';
import { formatDuration, formatMm } from '#core/schedule/words.ts';
import { LEAST_LAYER_MM, GREATEST_LAYER_MM } from '#core/stack/layer-grid.ts';
import { GREATEST_STEPS, GREATEST_TOP_MM, LEAST_STEPS } from '#core/wedge/wedge-plan.ts';
import { describeOwnGcodeFault } from '../../platform/slicing-words.ts';
import { wedgePrint, wedgeTopMm, type WedgeMethod } from '../../state/wedge-project.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { Facts } from '../../ui/Facts.tsx';
import { SelectField } from '../../ui/Fields.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { Note } from '../../ui/Note.tsx';
import { Row } from '../../ui/Row.tsx';
import styles from './Wedge.module.css';
import { WedgeDrawing } from './WedgeDrawing.tsx';
import { describeWedgeFault, type WedgePartProps } from './wedge-parts.ts';

const METHODS: readonly { value: WedgeMethod; text: string }[] = [
  { value: 'photo', text: 'Photo' },
  { value: 'eye', text: 'Eye' },
  { value: 'light', text: 'Against light' },
];

const METHOD_WORDS: Readonly<Record<WedgeMethod, string>> = {
  photo:
    'Steps up to half the expected transmission, over black and white: a photo finds colour and transmission.',
  eye: 'Steps beyond the expected transmission, over black and white: you say from which step on the ground is gone.',
  light:
    'The filament alone, without a ground: you hold it before a lamp and say from which step on it is dark.',
};

/** Plans the wedge and hands out its files. */
export function MakeWedge({
  filament,
  filaments,
  settings,
  printers,
  plan,
  white,
  black,
  worker,
  onSettings,
  onDownload,
}: WedgePartProps) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const [printerId, setPrinterId] = useState('');
  const printer = printers.find(({ id }) => id === printerId) ?? printers[0] ?? USUAL_PRINTER;
  const print = useMemo(
    () => (plan.ok ? wedgePrint(plan.value, { tested: filament, white, black }, printer) : null),
    [plan, filament, white, black, printer],
  );
  const topMm = wedgeTopMm(settings);
  const grounds = filaments.map(({ id, name, maker }) => ({
    value: id,
    text: `${name}, ${maker}`,
  }));
  const fileName = (ending: string): string =>
    `wedge-${filament.id}-${print?.stamp ?? ''}${ending}`;

  const downloadShape = async (format: 'stl' | '3mf'): Promise<void> => {
    if (!plan.ok || !print) return;
    setTrouble(null);
    try {
      const { pieces } = await worker.run('wedgeFile', {
        format,
        plan: plan.value,
        stack: print.stack,
        filaments: print.filaments,
        title: print.title,
        stamp: print.stamp,
      });
      onDownload(fileName(`.${format}`), pieces, format === 'stl' ? 'model/stl' : 'model/3mf');
    } catch (error) {
      setTrouble(
        `The file could not be made (${error instanceof Error ? error.message : String(error)}). Try again.`,
      );
    }
  };

  const downloadGcode = async (): Promise<void> => {
    if (!plan.ok || !print) return;
    setTrouble(null);
    try {
      const { stack, filaments: used, title, sheet } = print;
      const swaps = printPlanOf(sheet);
      const input = { plan: plan.value, stack, filaments: used, title, printer, swaps };
      const made = await worker.run('wedgeGcode', input);
      if (made.ok) onDownload(fileName('.gcode'), made.value.pieces, 'text/plain');
      else setTrouble(describeOwnGcodeFault(made.fault));
    } catch (error) {
      setTrouble(
        `The G-code could not be made (${error instanceof Error ? error.message : String(error)}). Try again.`,
      );
    }
  };

  return (
    <div className={styles.split}>
      <section className={styles.side} aria-label="Wedge">
        <Choice
          label="Read by"
          value={settings.method}
          options={METHODS}
          onChange={(method) => {
            onSettings({ ...settings, method, topMm: null });
          }}
        />
        <Note>{METHOD_WORDS[settings.method]}</Note>
        <NumberField
          label="Expected transmission"
          unit="mm"
          value={settings.expectedMm}
          least={0.01}
          greatest={1000}
          step={0.1}
          onChange={(expectedMm) => {
            onSettings({ ...settings, expectedMm, topMm: null });
          }}
        />
        <NumberField
          label="Steps"
          value={settings.steps}
          least={LEAST_STEPS}
          greatest={GREATEST_STEPS}
          step={1}
          decimals={0}
          onChange={(steps) => {
            onSettings({ ...settings, steps: Math.round(steps) });
          }}
        />
        <NumberField
          label={settings.topMm === null ? 'Tallest step (suggested)' : 'Tallest step'}
          unit="mm"
          value={topMm}
          least={settings.grid.layerMm}
          greatest={GREATEST_TOP_MM}
          step={settings.grid.layerMm}
          testId="wedge-top"
          onChange={(mm) => {
            onSettings({ ...settings, topMm: mm });
          }}
        />
        <NumberField
          label="First layer"
          unit="mm"
          value={settings.grid.firstLayerMm}
          least={LEAST_LAYER_MM}
          greatest={GREATEST_LAYER_MM}
          step={0.02}
          decimals={3}
          onChange={(firstLayerMm) => {
            onSettings({ ...settings, grid: { ...settings.grid, firstLayerMm } });
          }}
        />
        <NumberField
          label="Layer height"
          unit="mm"
          value={settings.grid.layerMm}
          least={LEAST_LAYER_MM}
          greatest={GREATEST_LAYER_MM}
          step={0.02}
          decimals={3}
          onChange={(layerMm) => {
            onSettings({ ...settings, grid: { ...settings.grid, layerMm }, topMm: null });
          }}
        />
        <SelectField
          label="Printer"
          value={printer.id}
          testId="wedge-printer"
          options={(printers.length > 0 ? printers : [USUAL_PRINTER]).map(({ id, name }) => ({
            value: id,
            text: name,
          }))}
          onChange={setPrinterId}
        />
        {settings.method === 'light' ? null : (
          <>
            <SelectField
              label="White ground"
              value={white.id}
              options={
                grounds.some(({ value }) => value === white.id)
                  ? grounds
                  : [{ value: white.id, text: white.name }, ...grounds]
              }
              onChange={(whiteId) => {
                onSettings({ ...settings, whiteId });
              }}
            />
            <SelectField
              label="Black ground"
              value={black.id}
              options={
                grounds.some(({ value }) => value === black.id)
                  ? grounds
                  : [{ value: black.id, text: black.name }, ...grounds]
              }
              onChange={(blackId) => {
                onSettings({ ...settings, blackId });
              }}
            />
          </>
        )}
      </section>
      <section className={styles.view} aria-label="Print">
        {plan.ok && print ? (
          <>
            <WedgeDrawing plan={plan.value} tested={filament} white={white} black={black} />
            <div className={styles.columns}>
              <Facts
                rows={[
                  ['Size', `${plan.value.widthMm} x ${plan.value.heightMm} mm`],
                  [
                    'Thickness',
                    `${formatMm(print.sheet.thicknessMm)}, ${print.sheet.layers} layers`,
                  ],
                  ['Swaps', String(print.sheet.swaps.length)],
                  [
                    'Filament',
                    `${print.sheet.bands.reduce((sum, { grams }) => sum + grams, 0).toFixed(1)} g`,
                  ],
                  ['Time, about', formatDuration(print.sheet.totalS)],
                  ['Stamp', print.stamp],
                ]}
              />
              <Facts
                rows={plan.value.stepsMm.map((mm, i) => [
                  `Step ${i + 1}`,
                  `${plan.value.stepLayers[i] ?? 0} ${plan.value.stepLayers[i] === 1 ? 'layer' : 'layers'}, ${formatMm(mm)}`,
                ])}
              />
            </div>
            <ol className={styles.swaps} data-testid="wedge-swaps">
              {print.sheet.swaps.map((swap) => (
                <li key={swap.swapNumber}>
                  Layer {swap.layerNumber} is the first one in{' '}
                  {print.filaments[swap.toFilamentId]?.name}. The printer stops when{' '}
                  {formatMm(swap.stopAfterMm)} is finished.
                </li>
              ))}
            </ol>
            <Row>
              <Button
                look="main"
                icon={<Download size={16} aria-hidden />}
                onClick={() => void downloadShape('3mf')}
              >
                3MF
              </Button>
              <Button
                icon={<Download size={16} aria-hidden />}
                onClick={() => void downloadShape('stl')}
              >
                STL
              </Button>
              <Button
                icon={<Download size={16} aria-hidden />}
                title={`For ${printer.name}, with the swaps in it`}
                onClick={() => void downloadGcode()}
              >
                G-code
              </Button>
              <Button
                onClick={() => {
                  onDownload(fileName('-swaps.txt'), swapSheetText(print.sheet), 'text/plain');
                }}
              >
                Swap sheet
              </Button>
              <Button
                onClick={() => {
                  onDownload(fileName('-swaps.json'), swapsJson(print.sheet), 'application/json');
                }}
              >
                swaps.json
              </Button>
            </Row>
            {trouble ? <p role="alert">{trouble}</p> : null}
          </>
        ) : (
          <p role="alert">{plan.ok ? '' : describeWedgeFault(plan.fault)}</p>
        )}
      </section>
    </div>
  );
}
