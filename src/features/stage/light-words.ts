import { LED_KELVIN, LIGHT_KINDS, type LightKind } from '#core/optics/lights.ts';

/** Names of lights. */
export const LIGHT_NAMES: Readonly<Record<LightKind, string>> = {
  d65: 'Daylight, 6500 K',
  d50: 'Warm daylight, 5000 K',
  led: `White LED, ${LED_KELVIN} K`,
  a: 'Warm bulb, 2856 K',
};

/** Lights to choose from. */
export const LIGHT_OPTIONS: readonly { readonly value: LightKind; readonly text: string }[] =
  LIGHT_KINDS.map((value) => ({ value, text: LIGHT_NAMES[value] }));
