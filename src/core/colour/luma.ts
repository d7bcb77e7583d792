/** Luma of a pixel in whole codes. Source: ITU-R BT.709-6, section 3. */
export function lumaOf(data: ArrayLike<number>, at: number): number {
  return Math.round(
    0.2126 * (data[at] as number) +
      0.7152 * (data[at + 1] as number) +
      0.0722 * (data[at + 2] as number),
  );
}
