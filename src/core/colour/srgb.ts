import { clamp } from '../base/numbers.ts';

/** Three numbers of one colour. What they are (linear light, Lab ...) is said where the type is used. */
export type Triple = readonly [number, number, number];

/** A triple made number by number. */
export function mapTriple(
  [a, b, c]: Triple,
  make: (value: number, channel: number) => number,
): Triple {
  return [make(a, 0), make(b, 1), make(c, 2)];
}

/**
 * sRGB code value (0..1) to linear light (0..1).
 * Source: IEC 61966-2-1:1999, section 5.2.
 */
export function decodeSrgb(code: number): number {
  return code <= 0.04045 ? code / 12.92 : ((code + 0.055) / 1.055) ** 2.4;
}

/** Linear light (0..1) to sRGB code value (0..1). Source: IEC 61966-2-1:1999, section 5.2. */
export function encodeSrgb(linear: number): number {
  return linear <= 0.0031308 ? linear * 12.92 : 1.055 * linear ** (1 / 2.4) - 0.055;
}

/** Linear light of each of the 256 sRGB bytes. */
export const LINEAR_OF_BYTE: Float64Array = Float64Array.from({ length: 256 }, (_, byte) =>
  decodeSrgb(byte / 255),
);

/** Linear light (any number; clipped to 0..1) to the nearest sRGB byte (0..255). */
export function byteOfLinear(linear: number): number {
  return Math.round(encodeSrgb(clamp(linear, 0, 1)) * 255);
}

/** Reads `#rrggbb` (either case) as three bytes 0..255, or undefined when it is not of that form. */
export function parseHex(text: string): Triple | undefined {
  if (!/^#[0-9a-f]{6}$/i.test(text)) return undefined;
  const value = Number.parseInt(text.slice(1), 16);
  return [value >> 16, (value >> 8) & 255, value & 255];
}

/** Three bytes 0..255 as `#rrggbb` in lower case. */
export function formatHex([red, green, blue]: Triple): string {
  return `#${((1 << 24) | (red << 16) | (green << 8) | blue).toString(16).slice(1)}`;
}

/** sRGB bytes 0..255 to linear light 0..1. */
export function linearOfBytes([red, green, blue]: Triple): Triple {
  return [decodeSrgb(red / 255), decodeSrgb(green / 255), decodeSrgb(blue / 255)];
}

/** Linear light to the nearest sRGB bytes; what lies outside sRGB is clipped. */
export function bytesOfLinear([red, green, blue]: Triple): Triple {
  return [byteOfLinear(red), byteOfLinear(green), byteOfLinear(blue)];
}
