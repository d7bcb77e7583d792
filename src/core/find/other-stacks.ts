import type { FoundStack } from './request.ts';

/** Suggestions of other filaments at most. */
const MOST_OTHERS = 3;

/** Stacks of other filaments than `best`, best first, each set of filaments once. */
export function otherStacks<Stack extends FoundStack>(
  best: Stack | undefined,
  all: readonly Stack[],
): Stack[] {
  const kinds = ({ bands }: Stack): string =>
    [...new Set(bands.map(({ filamentId }) => filamentId))].sort().join(' ');
  const seen = new Set(best ? [kinds(best)] : []);
  return [...all]
    .sort((a, b) => a.price - b.price)
    .filter((stack) => {
      const own = kinds(stack);
      if (seen.has(own)) return false;
      seen.add(own);
      return true;
    })
    .slice(0, MOST_OTHERS);
}
