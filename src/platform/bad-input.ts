/** Input that cannot be used: the message says what, where and what to do. The command line ends with status 2 then. */
export class BadInput extends Error {
  override readonly name = 'BadInput';
}

/** The value of an option that must be there. */
export function required(value: string | undefined, option: string): string {
  if (value === undefined) throw new BadInput(`--${option} is missing. Give it a value.`);
  return value;
}

/** A number within limits, written with a decimal point. */
export function numberOption(
  text: string | undefined,
  option: string,
  fallback: number,
  low: number,
  high: number,
): number {
  if (text === undefined) return fallback;
  const value = text.trim() === '' ? Number.NaN : Number(text);
  if (!(value >= low && value <= high))
    throw new BadInput(`--${option} is "${text}". Give a number from ${low} to ${high}.`);
  return value;
}
