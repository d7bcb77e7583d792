/** How tops are smoothed: the nozzle goes over them once more, close, slowly, and with little filament. */
export interface Ironing {
  /** Bands whose tops are ironed, counted from 0. */
  readonly bands: readonly number[];
  readonly spacingMm: number;
  /** Share of the filament that a line of that spacing takes. */
  readonly flow: number;
  readonly speedMmS: number;
}

/** 0.12 mm, a tenth of the filament, 20 mm/s: common practice, no source. */
export const USUAL_IRONING: Omit<Ironing, 'bands'> = { spacingMm: 0.12, flow: 0.1, speedMmS: 20 };

/** What may be set. */
export const IRONING_LIMITS = {
  spacingMm: [0.05, 0.5],
  flow: [0, 0.5],
  speedMmS: [1, 200],
} as const;
