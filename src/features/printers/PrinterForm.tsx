import { useEffect, useState } from 'react';
import { Controller, useForm, type UseFormRegisterReturn } from 'react-hook-form';
import {
  LONGEST_PAUSE_TEXT,
  PAUSE_COMMANDS,
  PAUSE_WORDS,
  PLACEHOLDERS,
} from '#core/printer/pause.ts';
import { LONGEST_PRINT_TEXT, PRINT_WORDS } from '#core/printer/print-texts.ts';
import { checkPrinter, type Printer, type PrinterNumber } from '#core/printer/printer.ts';
import { Button } from '../../ui/Button.tsx';
import { SelectField, TextField } from '../../ui/Fields.tsx';
import {
  printerOf,
  troublesOf,
  valuesOf,
  type FormValues,
  type MostHeat,
} from './printer-values.ts';
import { FIELD_WORDS } from './printer-words.ts';
import { Note } from '../../ui/Note.tsx';
import styles from './Printers.module.css';

interface PrinterFormProps {
  readonly printer: Printer;
  readonly onSubmit: (printer: Printer) => void;
}

/** Everything that can be said of a printer. */
export function PrinterForm({ printer, onSubmit }: PrinterFormProps) {
  const { register, control, handleSubmit, reset, watch, formState } = useForm<FormValues>({
    resolver: (values) => {
      const errors = troublesOf(values);
      return Object.keys(errors).length === 0 ? { values, errors: {} } : { values: {}, errors };
    },
    defaultValues: valuesOf(printer),
    mode: 'onTouched',
  });
  const { errors, isDirty } = formState;
  useEffect(() => {
    reset(valuesOf(printer));
  }, [printer, reset]);
  const shape = watch('shape');
  const command = watch('command');
  const number = (
    field: PrinterNumber | MostHeat | 'widthMm' | 'depthMm' | 'diameterMm',
    label: string,
  ) => (
    <TextField
      key={field}
      label={label}
      inputMode="decimal"
      trouble={errors[field]?.message}
      data-testid={`printer-${field}`}
      {...register(field)}
    />
  );
  const numbers = (...fields: readonly PrinterNumber[]) =>
    fields.map((field) => number(field, `${FIELD_WORDS[field].label}, ${FIELD_WORDS[field].unit}`));

  return (
    <form
      className={styles.form}
      noValidate
      aria-label="Printer"
      onSubmit={(event) => {
        void handleSubmit((values) => {
          onSubmit(printerOf(printer.id, values));
        })(event);
      }}
    >
      <div className={styles.wide}>
        <TextField
          label="Name"
          trouble={errors.name?.message}
          data-testid="printer-name"
          {...register('name')}
        />
      </div>
      <fieldset className={styles.group}>
        <legend>Bed and nozzle</legend>
        <Controller
          control={control}
          name="shape"
          render={({ field }) => (
            <SelectField
              label="Bed"
              value={field.value}
              testId="printer-shape"
              options={[
                { value: 'rectangle', text: 'rectangular' },
                { value: 'round', text: 'round' },
              ]}
              onChange={field.onChange}
            />
          )}
        />
        {shape === 'round'
          ? number('diameterMm', 'Diameter, mm')
          : [number('widthMm', 'Width, mm'), number('depthMm', 'Depth, mm')]}
        {numbers('heightMm', 'nozzleMm', 'lineMm', 'firstLayerMm', 'layerMm')}
      </fieldset>
      <fieldset className={styles.group}>
        <legend>Speeds</legend>
        {numbers('firstLayerMmS', 'solidMmS', 'outlineMmS', 'travelMmS')}
        {numbers('accelerationMmS2', 'cornerMmS')}
        <PaceNote printer={printerOf(printer.id, watch())} />
      </fieldset>
      <fieldset className={styles.group}>
        <legend>Heat and strand</legend>
        {numbers('nozzleC', 'bedC')}
        {number('mostNozzleC', 'Nozzle at most, °C')}
        {number('mostBedC', 'Bed at most, °C')}
        {numbers('fanPercent', 'retractMm', 'retractMmS', 'liftMm')}
        <Controller
          control={control}
          name="purgeLine"
          render={({ field }) => (
            <SelectField
              label="Before the piece"
              value={field.value ? 'line' : 'none'}
              testId="printer-purgeLine"
              options={[
                { value: 'line', text: 'a line fills the nozzle' },
                { value: 'none', text: 'nothing' },
              ]}
              onChange={(value) => {
                field.onChange(value === 'line');
              }}
            />
          )}
        />
        <Note className={styles.hint}>
          These count for filaments that say nothing of heat in the rack. Usual: PLA 190 to 230 and
          50 to 65, PETG 220 to 250 and 70 to 85, ABS and ASA 235 to 260 and 90 to 110.
        </Note>
      </fieldset>
      <fieldset className={styles.group}>
        <legend>Swaps</legend>
        <Controller
          control={control}
          name="feeder"
          render={({ field }) => (
            <SelectField
              label="Filament is changed"
              value={field.value ? 'feeder' : 'hand'}
              testId="printer-feeder"
              options={[
                { value: 'hand', text: 'by hand' },
                { value: 'feeder', text: 'by a spool feeder' },
              ]}
              onChange={(value) => {
                field.onChange(value === 'feeder');
              }}
            />
          )}
        />
        {numbers('swapS', 'timeFactor', 'purgeToLightMm', 'purgeToDarkMm', 'filamentMm')}
      </fieldset>
      <fieldset className={styles.group}>
        <legend>How it pauses</legend>
        <Controller
          control={control}
          name="command"
          render={({ field }) => (
            <SelectField
              label="Command"
              value={field.value}
              testId="printer-command"
              options={PAUSE_COMMANDS.map((value) => ({
                value,
                text: value === 'custom' ? 'lines of your own' : value,
              }))}
              onChange={field.onChange}
            />
          )}
        />
        <Note className={styles.does} data-testid="pause-words">
          {PAUSE_WORDS[command].does} <em>{PAUSE_WORDS[command].caution}</em>
        </Note>
        {command === 'custom' ? (
          <div className={styles.wide}>
            <label className={styles.area}>
              <span>Lines, with these words replaced</span>
              <textarea
                rows={4}
                maxLength={LONGEST_PAUSE_TEXT}
                spellCheck={false}
                data-testid="printer-text"
                aria-invalid={errors.text !== undefined}
                {...register('text')}
              />
            </label>
            {errors.text ? (
              <span className={styles.trouble} role="alert">
                {errors.text.message}
              </span>
            ) : null}
            <dl className={styles.words}>
              {Object.entries(PLACEHOLDERS).map(([word, meaning]) => (
                <div key={word}>
                  <dt className="figures">{word}</dt>
                  <dd>{meaning}</dd>
                </div>
              ))}
            </dl>
          </div>
        ) : null}
      </fieldset>
      <fieldset className={styles.group}>
        <legend>Before and after a print</legend>
        <div className={styles.texts}>
          <TextArea
            label="Start text"
            trouble={errors.startText?.message}
            registered={register('startText')}
          />
          <TextArea
            label="End text"
            trouble={errors.endText?.message}
            registered={register('endText')}
          />
        </div>
        <dl className={styles.words}>
          {Object.entries(PRINT_WORDS).map(([word, meaning]) => (
            <div key={word}>
              <dt className="figures">{word}</dt>
              <dd>{meaning}</dd>
            </div>
          ))}
        </dl>
      </fieldset>
      <div className={styles.actions}>
        <Button
          disabled={!isDirty}
          onClick={() => {
            reset(valuesOf(printer));
          }}
        >
          Put back
        </Button>
        <Button type="submit" look="main" disabled={!isDirty}>
          Save printer
        </Button>
      </div>
    </form>
  );
}

/** Lines that the printer runs, with what is wrong with them. */
function TextArea({
  label,
  trouble,
  registered,
}: {
  readonly label: string;
  readonly trouble: string | undefined;
  readonly registered: UseFormRegisterReturn;
}) {
  return (
    <div>
      <label className={styles.area}>
        <span>{label}</span>
        <textarea
          rows={8}
          maxLength={LONGEST_PRINT_TEXT}
          spellCheck={false}
          data-testid={`printer-${registered.name}`}
          aria-invalid={trouble !== undefined}
          {...registered}
        />
      </label>
      {trouble ? (
        <span className={styles.trouble} role="alert">
          {trouble}
        </span>
      ) : null}
    </div>
  );
}

/** Typing settles for so long before the tile is sliced, ms. */
const PACE_REST_MS = 350;

/** What acceleration and corners cost, on the test tile. */
function PaceNote({ printer }: { readonly printer: Printer }) {
  const [times, setTimes] = useState<
    readonly [plain: number, rounded: number, whole: number] | null
  >(null);
  const key = JSON.stringify(printer);
  useEffect(() => {
    let stale = false;
    const timer = window.setTimeout(() => {
      const tried = JSON.parse(key) as Printer;
      // What slices is loaded when it is needed; the tile takes some hundredths of a second.
      void import('#core/slicing/pause-test.ts').then(async ({ makePauseTest }) => {
        const made = checkPrinter(tried).length === 0 ? await makePauseTest(tried) : null;
        if (stale) return;
        setTimes(
          made?.ok ? [made.value.plainS, made.value.cornerlessS, made.value.report.seconds] : null,
        );
      });
    }, PACE_REST_MS);
    return () => {
      stale = true;
      window.clearTimeout(timer);
    };
  }, [key]);
  if (!times) return null;
  const [plain, cornerless, whole] = times;
  return (
    <Note className={styles.does} data-testid="printer-pace">
      The test tile takes {Math.round(whole)} s: {Math.round(cornerless - plain)} s of it is getting
      up to speed, {Math.round(whole - cornerless)} s is slowing down for corners. Short lines cost
      more: a picture tells its own minutes when it is sliced.
    </Note>
  );
}
