import type { LineScanner } from './scanner.ts';

const CODE_G = 71;
const CODE_M = 77;
const CODE_T = 84;
const P = 15;
const S = 18;

/**
 * Seconds that a printer stands still at a line of words: 0 where it only comes to rest (M words, tools, homing), the time of a dwell
 * (G4, S in seconds or P in milliseconds; RS-274/NGC, section 3.5.4, has it in seconds, printers in milliseconds: common practice);
 * null where it does not stop.
 */
export function restSeconds({ letter, command, mask, values }: LineScanner): number | null {
  if (letter === CODE_M || letter === CODE_T) return 0;
  if (letter !== CODE_G) return null;
  if (command === 28) return 0;
  if (command !== 4) return null;
  if ((mask & (1 << S)) !== 0) return values[S] as number;
  return (mask & (1 << P)) !== 0 ? (values[P] as number) / 1000 : 0;
}
