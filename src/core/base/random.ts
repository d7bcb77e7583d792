/** Numbers that look random and are the same for the same seed, 0 up to but not including 1. */
export interface Random {
  next(): number;
  /** A whole number from 0 up to but not including `below`. */
  below(limit: number): number;
}

/** Source: the generator sfc32 of C. Doty-Humphrey's PractRand, in its usual 32-bit form; typed in from memory. */
export function makeRandom(seed: number): Random {
  let a = seed | 0;
  let b = (seed ^ 0x9e3779b9) | 0;
  let c = 0x243f6a88;
  let counter = 1;
  const bits = (): number => {
    const t = (((a + b) | 0) + counter) | 0;
    counter = (counter + 1) | 0;
    a = b ^ (b >>> 9);
    b = (c + (c << 3)) | 0;
    c = ((c << 21) | (c >>> 11)) + t;
    c |= 0;
    return t >>> 0;
  };
  for (let i = 0; i < 15; i += 1) bits();
  return {
    next: () => bits() / 4294967296,
    below: (limit) => Math.floor((bits() / 4294967296) * limit),
  };
}
