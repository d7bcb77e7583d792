import { zodResolver } from '@hookform/resolvers/zod';
import { useEffect } from 'react';
import { Controller, useForm } from 'react-hook-form';
import { z } from 'zod';
import { formatBasis, parseBasis } from '#core/formats/rack/rack-csv.ts';
import { transmissionIn, type TransmissionBasis } from '#core/optics/filament-optics.ts';
import {
  FINDINGS,
  GREATEST_SPREAD_MM,
  GREATEST_TRANSMISSION_MM,
  LEAST_TRANSMISSION_MM,
  opticsOf,
  type Filament,
  withoutMeasurement,
} from '#core/stack/filament.ts';
import { PRINTER_LIMITS } from '#core/printer/printer.ts';
import { Button } from '../../ui/Button.tsx';
import { ColourField } from '../../ui/ColourField.tsx';
import { SelectField, TextField } from '../../ui/Fields.tsx';
import { Note } from '../../ui/Note.tsx';
import styles from './Rack.module.css';
import { basisOption, FINDING_WORDS, formatTransmission, USUAL_BASES } from './rack-words.ts';

/** A number as typed: a decimal comma is understood, anything else is told. */
function numberText(least: number, greatest: number, unit: string) {
  return z.string().refine((text) => {
    const value = Number(text.replace(',', '.'));
    return text.trim() !== '' && value >= least && value <= greatest;
  }, `A number from ${least} to ${greatest} ${unit}`);
}

const text = z.string().max(200, 'At most 200 signs');

/** A number that may be left open. */
const openNumberText = z
  .string()
  .refine(
    (value) =>
      value.trim() === '' ||
      (Number(value.replace(',', '.')) >= 0 && Number(value.replace(',', '.')) <= 100_000),
    'A number from 0 to 100000, or nothing',
  );

/** A spread that may be left to the rack. */
const openSpreadText = z
  .string()
  .refine(
    (value) =>
      value.trim() === '' ||
      (Number(value.replace(',', '.')) >= 0 &&
        Number(value.replace(',', '.')) <= GREATEST_SPREAD_MM),
    `A number from 0 to ${GREATEST_SPREAD_MM}, or nothing`,
  );

/** Heat that may be left to the printer. */
const openHeatText = ([least, greatest]: readonly [number, number]) =>
  z
    .string()
    .refine(
      (value) =>
        value.trim() === '' ||
        (Number(value.replace(',', '.')) >= least && Number(value.replace(',', '.')) <= greatest),
      `A number from ${least} to ${greatest}, or nothing`,
    );

/** Usual heat by material, degrees Celsius: nozzle and bed. Common practice, no source. */
const USUAL_HEAT: Readonly<Record<string, readonly [nozzle: string, bed: string]>> = {
  PLA: ['190 to 230', '50 to 65'],
  PETG: ['220 to 250', '70 to 85'],
  ABS: ['235 to 260', '90 to 110'],
  ASA: ['235 to 260', '90 to 110'],
  TPU: ['210 to 235', '30 to 60'],
};

const formSchema = z.object({
  maker: text,
  name: text.refine((value) => value.trim() !== '', 'A name, please'),
  material: text,
  colour: z.string().regex(/^#[0-9a-f]{6}$/i, 'A colour of the form #rrggbb'),
  transmissionMm: numberText(LEAST_TRANSMISSION_MM, GREATEST_TRANSMISSION_MM, 'mm'),
  basis: z.string().refine((value) => parseBasis(value) !== undefined),
  found: z.enum(FINDINGS),
  densityGCm3: numberText(0.1, 25, 'g/cm3'),
  diameterMm: numberText(0.5, 10, 'mm'),
  spreadMm: openSpreadText,
  pricePerKg: openNumberText,
  leftG: openNumberText,
  nozzleC: openHeatText(PRINTER_LIMITS.nozzleC),
  bedC: openHeatText(PRINTER_LIMITS.bedC),
  onHand: z.boolean(),
  note: z.string().max(10_000, 'At most 10,000 signs'),
});

type FormValues = z.infer<typeof formSchema>;

function valuesOf(filament: Filament): FormValues {
  return {
    maker: filament.maker,
    name: filament.name,
    material: filament.material,
    colour: filament.colour,
    transmissionMm: String(filament.transmissionMm),
    basis: formatBasis(filament.basis),
    found: filament.found,
    densityGCm3: String(filament.densityGCm3),
    diameterMm: String(filament.diameterMm),
    spreadMm: filament.spreadMm === undefined ? '' : String(filament.spreadMm),
    pricePerKg: filament.pricePerKg === undefined ? '' : String(filament.pricePerKg),
    leftG: filament.leftG === undefined ? '' : String(filament.leftG),
    nozzleC: filament.nozzleC === undefined ? '' : String(filament.nozzleC),
    bedC: filament.bedC === undefined ? '' : String(filament.bedC),
    onHand: filament.onHand,
    note: filament.note,
  };
}

const numberOf = (value: string): number => Number(value.replace(',', '.'));

/** The filament with what the form says. What was measured stays only while the measured value does. */
function withValues(filament: Filament, values: FormValues): Filament {
  const basis: TransmissionBasis = parseBasis(values.basis) ?? { kind: 'hiding' };
  const transmissionMm = numberOf(values.transmissionMm);
  const kept =
    transmissionMm === filament.transmissionMm &&
    formatBasis(basis) === formatBasis(filament.basis);
  return {
    ...(kept ? filament : withoutMeasurement(filament)),
    maker: values.maker.trim(),
    name: values.name.trim(),
    material: values.material.trim() || 'PLA',
    colour: values.colour.toLowerCase(),
    transmissionMm,
    basis,
    // Someone who types another value without saying where it is from has typed it.
    found: !kept && values.found === filament.found ? 'typed' : values.found,
    densityGCm3: numberOf(values.densityGCm3),
    diameterMm: numberOf(values.diameterMm),
    spreadMm: values.spreadMm.trim() === '' ? undefined : numberOf(values.spreadMm),
    pricePerKg: values.pricePerKg.trim() === '' ? undefined : numberOf(values.pricePerKg),
    leftG: values.leftG.trim() === '' ? undefined : numberOf(values.leftG),
    nozzleC: values.nozzleC.trim() === '' ? undefined : numberOf(values.nozzleC),
    bedC: values.bedC.trim() === '' ? undefined : numberOf(values.bedC),
    onHand: values.onHand,
    note: values.note,
  };
}

interface FilamentFormProps {
  readonly filament: Filament;
  readonly submitText: string;
  readonly onSubmit: (filament: Filament) => void;
  readonly onCancel?: () => void;
}

/** Everything that can be said of a filament. */
export function FilamentForm({ filament, submitText, onSubmit, onCancel }: FilamentFormProps) {
  const { register, control, handleSubmit, reset, watch, formState } = useForm<FormValues>({
    resolver: zodResolver(formSchema),
    defaultValues: valuesOf(filament),
    mode: 'onTouched',
  });
  const { errors, isDirty } = formState;
  useEffect(() => {
    reset(valuesOf(filament));
  }, [filament, reset]);
  const values = watch();
  const usual = USUAL_HEAT[values.material.trim().toUpperCase()];
  const bases = [...new Set([...USUAL_BASES, formatBasis(filament.basis)])];

  return (
    <form
      className={styles.form}
      noValidate
      onSubmit={(event) => {
        void handleSubmit((given) => {
          onSubmit(withValues(filament, given));
        })(event);
      }}
    >
      <TextField label="Name" trouble={errors.name?.message} {...register('name')} />
      <TextField label="Maker" trouble={errors.maker?.message} {...register('maker')} />
      <TextField label="Material" trouble={errors.material?.message} {...register('material')} />
      <Controller
        control={control}
        name="colour"
        render={({ field }) => (
          <ColourField
            label="Colour when opaque"
            value={field.value}
            trouble={errors.colour?.message}
            onChange={field.onChange}
          />
        )}
      />
      <TextField
        label="Transmission, mm"
        inputMode="decimal"
        trouble={errors.transmissionMm?.message}
        {...register('transmissionMm')}
      />
      <Controller
        control={control}
        name="found"
        render={({ field }) => (
          <SelectField
            label="How it was found"
            value={field.value}
            options={FINDINGS.map((value) => ({ value, text: FINDING_WORDS[value] }))}
            onChange={field.onChange}
          />
        )}
      />
      <div className={styles.wide}>
        <Controller
          control={control}
          name="basis"
          render={({ field }) => (
            <SelectField
              label="What the value says"
              value={field.value}
              options={bases.map((value) => ({ value, text: basisOption(value) }))}
              onChange={field.onChange}
              testId="basis"
            />
          )}
        />
        <BasisWords values={values} slope={filament.scatterSlope} />
      </div>
      <TextField
        label="Density, g/cm3"
        inputMode="decimal"
        trouble={errors.densityGCm3?.message}
        {...register('densityGCm3')}
      />
      <TextField
        label="Diameter, mm"
        inputMode="decimal"
        trouble={errors.diameterMm?.message}
        {...register('diameterMm')}
      />
      <TextField
        label="Light spreads sideways, mm"
        inputMode="decimal"
        placeholder="as the rack"
        trouble={errors.spreadMm?.message}
        {...register('spreadMm')}
      />
      <TextField
        label="Price of a kilogram"
        inputMode="decimal"
        trouble={errors.pricePerKg?.message}
        {...register('pricePerKg')}
      />
      <TextField
        label="Left on the spool, g"
        inputMode="decimal"
        trouble={errors.leftG?.message}
        {...register('leftG')}
      />
      <TextField
        label="Nozzle, °C"
        inputMode="decimal"
        placeholder={usual?.[0] ?? 'as the printer'}
        trouble={errors.nozzleC?.message}
        {...register('nozzleC')}
      />
      <TextField
        label="Bed, °C"
        inputMode="decimal"
        placeholder={usual?.[1] ?? 'as the printer'}
        trouble={errors.bedC?.message}
        {...register('bedC')}
      />
      <div className={styles.wide}>
        <TextField label="Note" trouble={errors.note?.message} {...register('note')} />
      </div>
      <label className={styles.check}>
        <input type="checkbox" {...register('onHand')} />
        on hand
      </label>
      <div className={styles.actions}>
        {onCancel ? <Button onClick={onCancel}>Cancel</Button> : null}
        <Button type="submit" look="main" disabled={!isDirty && onCancel === undefined}>
          {submitText}
        </Button>
      </div>
    </form>
  );
}

/** What the chosen basis means, and the same filament's value in the others. */
function BasisWords({
  values,
  slope,
}: {
  readonly values: FormValues;
  readonly slope: number | undefined;
}) {
  const basis = parseBasis(values.basis);
  const transmissionMm = numberOf(values.transmissionMm);
  if (!basis || !(transmissionMm > 0) || !/^#[0-9a-f]{6}$/i.test(values.colour)) return null;
  const optics = opticsOf({
    colour: values.colour.toLowerCase(),
    transmissionMm,
    basis,
    scatterSlope: slope,
  });
  const hidingMm = transmissionIn(optics, { kind: 'hiding' });
  const throughMm = transmissionIn(optics, { kind: 'light-through', threshold: 0.01 });
  return (
    <Note data-testid="basis-words">
      {basis.kind === 'hiding'
        ? 'Hiding is the thickness over which black and white look the same. '
        : 'Light through is the thickness that lets this share of a light behind pass; things stop showing through long before, above all in white plastic. '}
      Hiding {formatTransmission(hidingMm)} mm is the same as 1 % light through{' '}
      {formatTransmission(throughMm)} mm.
    </Note>
  );
}
