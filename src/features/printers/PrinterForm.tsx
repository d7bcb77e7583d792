import { useEffect } from 'react';
import { Controller, useForm, type FieldErrors } from 'react-hook-form';
import {
  checkPauseText,
  LONGEST_PAUSE_TEXT,
  PAUSE_COMMANDS,
  PAUSE_WORDS,
  PLACEHOLDERS,
  type PauseCommand,
} from '#core/printer/pause.ts';
import {
  checkPrinter,
  PRINTER_LIMITS,
  type Printer,
  type PrinterNumber,
} from '#core/printer/printer.ts';
import { Button } from '../../ui/Button.tsx';
import { SelectField, TextField } from '../../ui/Fields.tsx';
import { describePrinterFault, FIELD_WORDS } from './printer-words.ts';
import { Note } from '../../ui/Note.tsx';
import styles from './Printers.module.css';

type FormValues = Record<PrinterNumber | 'name' | 'widthMm' | 'depthMm' | 'diameterMm', string> & {
  shape: 'rectangle' | 'round';
  feeder: boolean;
  command: PauseCommand;
  text: string;
};

const NUMBERS = Object.keys(PRINTER_LIMITS) as PrinterNumber[];

/** A number as typed, with a comma or a point; nothing typed is no number. */
function numberOf(text: string): number {
  return text.trim() === '' ? Number.NaN : Number(text.replace(',', '.'));
}

function valuesOf(printer: Printer): FormValues {
  const { bed, pause } = printer;
  const numbers = Object.fromEntries(NUMBERS.map((field) => [field, String(printer[field])]));
  return {
    ...(numbers as Record<PrinterNumber, string>),
    name: printer.name,
    shape: bed.shape,
    widthMm: bed.shape === 'rectangle' ? String(bed.widthMm) : '220',
    depthMm: bed.shape === 'rectangle' ? String(bed.depthMm) : '220',
    diameterMm: bed.shape === 'round' ? String(bed.diameterMm) : '200',
    feeder: printer.feeder,
    command: pause.command,
    text: pause.text,
  };
}

function printerOf(id: string, values: FormValues): Printer {
  const numbers = Object.fromEntries(NUMBERS.map((field) => [field, numberOf(values[field])]));
  return {
    ...(numbers as Record<PrinterNumber, number>),
    id,
    name: values.name.trim(),
    bed:
      values.shape === 'round'
        ? { shape: 'round', diameterMm: numberOf(values.diameterMm) }
        : {
            shape: 'rectangle',
            widthMm: numberOf(values.widthMm),
            depthMm: numberOf(values.depthMm),
          },
    feeder: values.feeder,
    pause: { command: values.command, text: values.command === 'custom' ? values.text : '' },
  };
}

/** All that is wrong with what was typed, at its field. */
function troublesOf(values: FormValues): FieldErrors<FormValues> {
  const errors: FieldErrors<FormValues> = {};
  for (const fault of checkPrinter(printerOf('new', values))) {
    const field = fault.field === 'pause' ? 'text' : fault.field;
    errors[field] ??= { type: fault.code, message: describePrinterFault(fault) };
  }
  if (values.command === 'custom') {
    const checked = checkPauseText(values.text);
    if (!checked.ok)
      errors.text ??= {
        type: checked.fault.code,
        message: `${checked.fault.detail ?? ''} is not a word that is replaced. See the list below.`,
      };
  }
  return errors;
}

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
  const number = (field: PrinterNumber | 'widthMm' | 'depthMm' | 'diameterMm', label: string) => (
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
        {numbers('swapS', 'purgeToLightMm', 'purgeToDarkMm', 'filamentMm')}
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
