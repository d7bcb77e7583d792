import {
  GREATEST_SAMPLE_MM,
  GREATEST_SIDE_MM,
  LEAST_SAMPLE_MM,
  LEAST_SIDE_MM,
  MOST_SAMPLES,
  type SampleGrid,
} from '#core/relief/sampling.ts';
import { BadInput, numberOption } from '../platform/bad-input.ts';

/** Width of a picture and side of a sample, mm, as options; `--detail-mm` is the older name of `--sample-mm`. */
export function sampleOptions(
  values: Readonly<Partial<Record<'width-mm' | 'sample-mm' | 'detail-mm', string | undefined>>>,
): { readonly widthMm: number; readonly sampleMm: number } {
  if (values['sample-mm'] !== undefined && values['detail-mm'] !== undefined)
    throw new BadInput('--sample-mm and --detail-mm are the same. Give one of them.');
  const widthMm = numberOption(
    values['width-mm'],
    'width-mm',
    100,
    LEAST_SIDE_MM,
    GREATEST_SIDE_MM,
  );
  const sampleMm = numberOption(
    values['sample-mm'] ?? values['detail-mm'],
    values['detail-mm'] === undefined ? 'sample-mm' : 'detail-mm',
    0.2,
    LEAST_SAMPLE_MM,
    GREATEST_SAMPLE_MM,
  );
  return { widthMm, sampleMm };
}

/** @throws BadInput where a relief would have more samples than can be worked out */
export function checkSamples({ columns, rows }: SampleGrid): void {
  if (columns * rows > MOST_SAMPLES)
    throw new BadInput(
      `${columns} x ${rows} samples are more than ${MOST_SAMPLES}. Make --sample-mm larger or --width-mm smaller.`,
    );
}
