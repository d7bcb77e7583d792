/** Something of a colour that stands over others, or lies deeper. */
export interface Leveled {
  readonly filamentId: string;
  /** How many layers of its own filament it wants. */
  readonly layers: number;
  /** Those that it lies on: it is finished after them. */
  readonly over: readonly number[];
}

/** A run of layers in one filament, and what is finished with it. */
export interface LevelBand {
  readonly filamentId: string;
  readonly layers: number;
}

export interface FoundLevels {
  /** How many layers each one lies above (or below) the plate. */
  readonly levels: readonly number[];
  /** From the plate outward. Of the plate's own filament is only what has things of it right on the plate. */
  readonly bands: readonly LevelBand[];
}

/** Most elements whose order is looked for; of more the levels are taken in the order of the list. */
const MOST_SEARCHED = 400;

/**
 * Levels with the fewest changes of filament: breadth first over what is finished. A run of a filament finishes everything that is
 * free in it, which is never worse than to leave some of it for later. Things of the same filament that lie on each other stand on
 * each other within one run.
 * @param plateId filament that one comes from: what is of it needs no change
 * @param given from below
 */
export function findLevels(plateId: string, given: readonly Leveled[]): FoundLevels {
  const levels = given.map(() => 0);
  const bands: LevelBand[] = [];
  const order = given.length > MOST_SEARCHED ? inOrder(given) : fewestRuns(plateId, given);
  const finished = new Set<number>();
  let below = 0;
  for (const filamentId of order) {
    let top = below;
    for (const i of freeIn(filamentId, given, finished)) {
      const { layers, over } = given[i] as Leveled;
      const under = over.reduce((most, j) => Math.max(most, levels[j] as number), below);
      levels[i] = Math.max(under, below) + layers;
      finished.add(i);
      top = Math.max(top, levels[i]);
    }
    if (top > below) bands.push({ filamentId, layers: top - below });
    below = top;
  }
  return { levels, bands };
}

/** Everything that a run of a filament finishes, in the order in which it becomes free. */
function freeIn(
  filamentId: string,
  given: readonly Leveled[],
  finished: ReadonlySet<number>,
): number[] {
  const done = new Set(finished);
  const own: number[] = [];
  for (let more = true; more;) {
    more = false;
    given.forEach((one, i) => {
      if (done.has(i) || one.filamentId !== filamentId || !one.over.every((j) => done.has(j)))
        return;
      done.add(i);
      own.push(i);
      more = true;
    });
  }
  return own;
}

function fewestRuns(plateId: string, given: readonly Leveled[]): string[] {
  interface State {
    readonly finished: ReadonlySet<number>;
    readonly runs: readonly string[];
  }
  const colours = [...new Set(given.map(({ filamentId }) => filamentId))];
  const begin = new Set(freeIn(plateId, given, new Set()));
  let front: State[] = [{ finished: begin, runs: [plateId] }];
  const seen = new Set<string>();
  for (;;) {
    const next: State[] = [];
    for (const { finished, runs } of front) {
      if (finished.size === given.length) return [...runs];
      for (const colour of colours) {
        if (colour === runs.at(-1)) continue;
        const own = freeIn(colour, given, finished);
        if (own.length === 0) continue;
        const all = new Set([...finished, ...own]);
        const key = [...all].sort((a, b) => a - b).join(' ');
        if (seen.has(key)) continue;
        seen.add(key);
        next.push({ finished: all, runs: [...runs, colour] });
      }
    }
    // Something always is free: what lies on others comes later in the list than they do.
    if (next.length === 0) return inOrder(given);
    front = next;
  }
}

function inOrder(given: readonly Leveled[]): string[] {
  return given.map(({ filamentId }) => filamentId);
}

/** A level of a filament: everything up to a layer, from the one below it. */
export interface Top {
  readonly layer: number;
  readonly filamentId: string;
  /** Whose it is: an element, or the plate as -1. */
  readonly element: number;
}

/** Two things that end in one layer and want different filaments in it. */
export interface LevelClash {
  readonly layer: number;
  readonly element: number;
  readonly other: number;
}

/** Bands that follow from tops: each layer is of the filament of the lowest top that lies at it or above it. */
export function bandsOfTops(tops: readonly Top[]): {
  readonly bands: readonly LevelBand[];
  readonly clashes: readonly LevelClash[];
} {
  const sorted = [...tops].sort((a, b) => a.layer - b.layer || a.element - b.element);
  const bands: { filamentId: string; layers: number }[] = [];
  const clashes: LevelClash[] = [];
  let below = 0;
  let first: Top | undefined;
  for (const top of sorted) {
    if (first?.layer === top.layer) {
      if (first.filamentId !== top.filamentId)
        clashes.push({ layer: top.layer, element: top.element, other: first.element });
      continue;
    }
    first = top;
    if (top.layer <= below) continue;
    const last = bands.at(-1);
    if (last?.filamentId === top.filamentId) last.layers += top.layer - below;
    else bands.push({ filamentId: top.filamentId, layers: top.layer - below });
    below = top.layer;
  }
  return { bands, clashes };
}
