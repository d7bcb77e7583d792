import { computeRamp, COVERED, type RampStep } from '../optics/ramp.ts';
import { opticsOf, type Filament } from './filament.ts';

/** What a swatch lies on. */
export interface SwatchGround {
  readonly filament: Pick<Filament, 'colour' | 'transmissionMm' | 'basis' | 'scatterSlope'>;
  readonly thicknessMm: number;
}

/** Thickness of the grounds on a swatch card, mm: black hides at once, white lets a lamp shine through. */
export const CARD_BLACK_MM = 0.4;
export const CARD_WHITE_MM = 0.8;

/** What 1, 2 ... `layers` layers of a filament look like over a ground: element 0 is one layer. */
export function swatchesOver(
  filament: SwatchGround['filament'],
  ground: SwatchGround,
  layerMm: number,
  layers: number,
): readonly RampStep[] {
  const optics = opticsOf(filament);
  const [, ...steps] = computeRamp([
    { optics: opticsOf(ground.filament), thicknessMm: ground.thicknessMm, bandIndex: 0 },
    ...Array.from({ length: layers }, () => ({ optics, thicknessMm: layerMm, bandIndex: 1 })),
  ]);
  return steps;
}

/** Layers after which a band counts as having covered its ground; undefined when the steps end before that. */
export function coversIn(steps: readonly RampStep[]): number | undefined {
  const index = steps.findIndex(({ cover }) => cover >= COVERED);
  return index < 0 ? undefined : index + 1;
}
