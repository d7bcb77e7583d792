import { useState } from 'react';
import { transmissionByEye } from '#core/optics/fit-wedge.ts';
import { EYE_BASES } from '#core/wedge/wedge-plan.ts';
import { Button } from '../../ui/Button.tsx';
import { Facts } from '../../ui/Facts.tsx';
import { Note } from '../../ui/Note.tsx';
import { Row } from '../../ui/Row.tsx';
import styles from './Wedge.module.css';
import { WedgeDrawing } from './WedgeDrawing.tsx';
import { describeWedgeFault, today, type WedgePartProps } from './wedge-parts.ts';

/** Reads the wedge by looking at it. */
export function ByEye({ filament, settings, plan, white, black, onSave }: WedgePartProps) {
  /** First step that met the question; 0 while nothing is said, one more than there are when none did. */
  const [step, setStep] = useState(0);
  if (!plan.ok) return <p role="alert">{describeWedgeFault(plan.fault)}</p>;
  const { stepsMm } = plan.value;
  const light = settings.method === 'light';
  const basis = light ? EYE_BASES.light : EYE_BASES.ground;
  const metMm = stepsMm[step - 1];
  const notMetMm = stepsMm[step - 2] ?? 0;
  const value = metMm === undefined ? null : transmissionByEye(notMetMm, metMm);
  return (
    <div className={styles.split}>
      <section className={styles.side} aria-label="What to look at">
        <p>
          {light
            ? 'Hold the wedge before a bright lamp in a dark room. Which is the first step through which no light comes any more?'
            : 'Lay the wedge in good light. Compare each step over black with the same step over white. Which is the first at which you cannot tell them apart any more?'}
        </p>
        <Note>
          {light
            ? 'This gives a light-through value of about 1 %: eyes give up there. It is common practice, not a standard.'
            : 'This gives a hiding value: the thickness over which black and white grounds look the same.'}
        </Note>
        {settings.method === 'photo' ? (
          <p role="note">
            This wedge is planned for a photo: its steps end at half the expected transmission,
            where the ground is still seen. For the eye, choose Eye under &quot;Print it&quot;.
          </p>
        ) : null}
        <div className={styles.steps} role="group" aria-label="First step">
          {stepsMm.map((mm, i) => (
            <Button
              key={mm}
              aria-pressed={step === i + 1}
              data-testid={`eye-step-${i + 1}`}
              onClick={() => {
                setStep(i + 1);
              }}
            >
              {i + 1}: {mm} mm
            </Button>
          ))}
          <Button
            aria-pressed={step === stepsMm.length + 1}
            onClick={() => {
              setStep(stepsMm.length + 1);
            }}
          >
            None of them
          </Button>
        </div>
      </section>
      <section className={styles.view} aria-label="Result">
        <WedgeDrawing
          plan={plan.value}
          tested={filament}
          white={white}
          black={black}
          marked={step}
          onStep={setStep}
        />
        {step > stepsMm.length ? (
          <p role="status">
            Then the transmission is more than {stepsMm.at(-1)} mm. Print a wedge with a taller
            step: expect about {((stepsMm.at(-1) ?? 1) * 1.5).toFixed(1)} mm.
          </p>
        ) : null}
        {value && metMm !== undefined ? (
          <>
            <Facts
              rows={[
                ['Transmission', `${value.transmissionMm.toFixed(2)} mm`],
                ['What it says', light ? 'light through, 1 %' : 'hiding'],
                [
                  'May be off by',
                  `half a step, ±${Math.round(value.uncertainty * 100)} % (between ${notMetMm} and ${metMm} mm)`,
                ],
                ['So far', `${filament.transmissionMm} mm`],
              ]}
            />
            <Row>
              <Button
                look="main"
                onClick={() => {
                  const { scatterSlope: _slope, ...rest } = filament;
                  onSave({
                    ...rest,
                    transmissionMm: Number(value.transmissionMm.toFixed(3)),
                    basis,
                    found: 'eye',
                    uncertainty: Number(value.uncertainty.toFixed(4)),
                    reading: { kind: 'eye', date: today(), basis, metMm, notMetMm },
                  });
                }}
              >
                Keep this value
              </Button>
            </Row>
          </>
        ) : null}
      </section>
    </div>
  );
}
