import { useEffect, useRef, useState } from 'react';
import type { RgbaRaster } from '#core/base/raster.ts';
import type { PatchFit, WedgeFit } from '#core/optics/fit-wedge.ts';
import type { Filament } from '#core/stack/filament.ts';
import { LEAST_TOLD_MM, type EdgeSpread } from '#core/wedge/edge-spread.ts';
import { innerRect, shiftRect, type Slant } from '#core/wedge/slant.ts';
import type { WedgePlan } from '#core/wedge/wedge-plan.ts';
import { Button } from '../../ui/Button.tsx';
import { Facts } from '../../ui/Facts.tsx';
import { Swatch } from '../../ui/Swatch.tsx';
import { Row, Spacer } from '../../ui/Row.tsx';
import styles from './Wedge.module.css';

interface FitReportProps {
  readonly filament: Filament;
  readonly plan: WedgePlan;
  readonly fit: WedgeFit;
  readonly doubts: readonly string[];
  readonly straight: RgbaRaster;
  readonly slant: Slant;
  /** How far light goes sideways, where the photo tells. */
  readonly spread: EdgeSpread | undefined;
  readonly onKeep: (withColour: boolean) => void;
}

/** Uncertainty up to which a value is good, and up to which it is fair. */
const GOOD = 0.12;
const FAIR = 0.2;

function describeCertainty(uncertainty: number): string {
  if (uncertainty <= GOOD) return 'good enough to plan with';
  if (uncertainty <= FAIR) return 'fair: plans will be a little off';
  return 'poor: print taller steps, or take the photo in better light';
}

const cssColour = (code: readonly number[]): string =>
  `rgb(${code.map((value) => Math.round(value)).join(' ')})`;

/** What a photo gave: the straightened print, patch by patch what was seen and what the fit says, and the value. */
export function FitReport({
  filament,
  plan,
  fit,
  doubts,
  straight,
  slant,
  spread,
  onKeep,
}: FitReportProps) {
  const [withColour, setWithColour] = useState(true);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    const image = context.createImageData(straight.width, straight.height);
    image.data.set(straight.data);
    context.putImageData(image, 0, 0);
  }, [straight]);
  const percent = Math.max(1, Math.round(fit.uncertainty * 100));
  return (
    <>
      <div className={styles.straight}>
        <canvas
          ref={canvas}
          width={straight.width}
          height={straight.height}
          role="img"
          aria-label="The print, straightened"
        />
        <svg viewBox={`0 0 ${plan.widthMm} ${plan.heightMm}`} aria-hidden>
          {plan.patches.map((patch, i) => (
            <rect
              key={i}
              {...shiftRect(innerRect(patch.rect), patch, slant, plan)}
              data-bare={patch.step === 0}
            />
          ))}
        </svg>
      </div>
      <p className={styles.value} data-testid="fit-value">
        <strong className="figures">{fit.transmissionMm.toFixed(2)} mm</strong> hiding, ±{percent}{' '}
        %, so most likely {(fit.transmissionMm / (1 + fit.uncertainty)).toFixed(2)} to{' '}
        {(fit.transmissionMm * (1 + fit.uncertainty)).toFixed(2)} mm:{' '}
        {describeCertainty(fit.uncertainty)}
      </p>
      <Facts
        rows={[
          ['So far', `${filament.transmissionMm} mm`],
          [
            'Colour when opaque',
            <span key="colour" className={styles.chips}>
              <Swatch colour={fit.colour} widthPx={34} heightPx={18} /> {fit.colour}
            </span>,
          ],
          ['Difference of measured and fitted', `${fit.meanDeltaE.toFixed(2)} on average`],
          ['Slope of scattering over wavelength', fit.scatterSlope.toFixed(2)],
          [
            'Light spreads sideways',
            spread
              ? spread.spreadMm < LEAST_TOLD_MM
                ? `less than ${LEAST_TOLD_MM} mm, counted as 0`
                : `${spread.spreadMm.toFixed(2)} ± ${spread.uncertaintyMm.toFixed(2)} mm`
              : 'not to be told from this photo',
          ],
        ]}
      />
      {doubts.length > 0 ? (
        <ul className={styles.doubts}>
          {doubts.map((doubt) => (
            <li key={doubt}>{doubt}</li>
          ))}
        </ul>
      ) : null}
      <Row>
        <label className={styles.check}>
          <input
            type="checkbox"
            checked={withColour}
            onChange={(event) => {
              setWithColour(event.target.checked);
            }}
          />
          take the colour too
        </label>
        <Spacer />
        <Button
          look="main"
          onClick={() => {
            onKeep(withColour);
          }}
        >
          Keep this value
        </Button>
      </Row>
      <PatchTable patches={fit.patches} />
    </>
  );
}

function PatchTable({ patches }: { readonly patches: readonly PatchFit[] }) {
  const steps = [...new Set(patches.map(({ thicknessMm }) => thicknessMm))].sort((a, b) => a - b);
  const grounds = (['white', 'black'] as const).filter((ground) =>
    patches.some((patch) => patch.ground === ground),
  );
  return (
    <table className={styles.patches} data-testid="patch-table">
      <caption>Measured and fitted colour of each step, with their difference</caption>
      <thead>
        <tr>
          <th scope="col">Step, mm</th>
          {grounds.map((ground) => (
            <th key={ground} scope="col" colSpan={2}>
              Over {ground}
            </th>
          ))}
        </tr>
      </thead>
      <tbody className="figures">
        {steps.map((step) => (
          <tr key={step}>
            <th scope="row">{step.toFixed(2)}</th>
            {grounds.map((ground) => (
              <PatchCells
                key={ground}
                patch={patches.find(
                  (patch) => patch.ground === ground && patch.thicknessMm === step,
                )}
              />
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function PatchCells({ patch }: { readonly patch: PatchFit | undefined }) {
  if (!patch) return <td colSpan={2} />;
  return (
    <>
      <td className={styles.pairCell} data-testid="patch">
        <Swatch colour={cssColour(patch.measured)} widthPx={34} heightPx={18} />
        <Swatch colour={cssColour(patch.fitted)} widthPx={34} heightPx={18} />
      </td>
      <td>{patch.deltaE.toFixed(2)}</td>
    </>
  );
}
