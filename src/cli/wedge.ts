import { parseArgs } from 'node:util';
import { fitWedge } from '#core/optics/fit-wedge.ts';
import { readWedgeCsv } from '#core/formats/rack/wedge-csv.ts';
import { describeWedgeCsvFault, describeWedgeFitFault } from '../platform/fault-words.ts';
import { BadInput } from '../platform/bad-input.ts';
import { readText } from './input.ts';

const round = (value: number, digits: number): number => Number(value.toFixed(digits));

/** `wedge fit READINGS.csv`: transmission, colour and residuals of a wedge whose patches were measured. */
export async function runWedge(args: string[]): Promise<object> {
  const { positionals } = parseArgs({ args, options: {}, allowPositionals: true });
  const [action, path, ...rest] = positionals;
  if (action !== 'fit' || path === undefined || rest.length > 0)
    throw new BadInput('Write: wedge fit READINGS.csv');
  const reading = readWedgeCsv(await readText(path), '');
  if (!reading.ok) throw new BadInput(`${path}: ${describeWedgeCsvFault(reading.fault)}`);
  const fit = fitWedge(reading.value);
  if (!fit.ok) throw new BadInput(`${path}: ${describeWedgeFitFault(fit.fault)}`);
  const { transmissionMm, uncertainty, colour, scatterSlope, patches, meanDeltaE } = fit.value;
  return {
    transmissionMm: round(transmissionMm, 4),
    basis: 'hiding',
    uncertainty: round(uncertainty, 4),
    colour,
    scatterSlope: round(scatterSlope, 4),
    meanDeltaE: round(meanDeltaE, 4),
    residuals: patches.map(({ ground, thicknessMm, measured, fitted, deltaE }) => ({
      ground,
      thicknessMm,
      measured: measured.map((value) => round(value, 2)),
      fitted: fitted.map((value) => round(value, 2)),
      deltaE: round(deltaE, 3),
    })),
  };
}
