import { createStore, type StoreApi } from 'zustand/vanilla';
import { z } from 'zod';
import { filamentSchema } from '#core/formats/rack/rack-json.ts';
import {
  brightnessOf,
  GREATEST_SPREAD_MM,
  hueOf,
  PLA_DENSITY_G_CM3,
  tuneFilament,
  USUAL_DIAMETER_MM,
  type Filament,
} from '#core/stack/filament.ts';

/** The maker's filaments, and the factor that label values are multiplied with when planning. */
export interface Rack {
  readonly filaments: readonly Filament[];
  readonly tuning: number;
  /** How far light goes sideways in filaments that have no value of their own, mm; nobody knows that before it is measured. */
  readonly spreadMm?: number | undefined;
}

export const LEAST_TUNING = 0.2;
export const GREATEST_TUNING = 5;

const spreadSchema = z.number().gt(0).max(GREATEST_SPREAD_MM);
const tuningSchema = z.number().min(LEAST_TUNING).max(GREATEST_TUNING);

/**
 * Reads a rack out of storage: its present form, or the bare list of the first version. Filaments that cannot be read are
 * left out; undefined when there is no rack at all.
 */
export function readStoredRack(data: unknown): Rack | undefined {
  const list: unknown = Array.isArray(data)
    ? data
    : (data as { filaments?: unknown } | null | undefined)?.filaments;
  if (!Array.isArray(list)) return undefined;
  const { tuning: factor, spreadMm } = data as { tuning?: unknown; spreadMm?: unknown };
  const tuning = tuningSchema.safeParse(factor);
  const spread = spreadSchema.safeParse(spreadMm);
  return {
    filaments: list.flatMap((entry: unknown) => {
      const parsed = filamentSchema.safeParse(entry);
      return parsed.success ? [parsed.data] : [];
    }),
    tuning: tuning.success ? tuning.data : 1,
    ...(spread.success ? { spreadMm: spread.data } : {}),
  };
}

/** The filaments as they are planned with: label values tuned, and the rack's spread where a filament has none of its own. */
export function planningFilaments({ filaments, tuning, spreadMm }: Rack): Filament[] {
  return filaments.map((filament) => {
    const tuned = tuneFilament(filament, tuning);
    return spreadMm && tuned.spreadMm === undefined ? { ...tuned, spreadMm } : tuned;
  });
}

export interface RackState extends Rack {
  /** Earlier and undone racks, nearest last. */
  readonly past: readonly Rack[];
  readonly future: readonly Rack[];
}

export interface RackActions {
  /** One change that can be taken back; nothing happens when it changes nothing. */
  readonly change: (make: (rack: Rack) => Rack) => void;
  /** Changes one filament. */
  readonly edit: (id: string, make: (filament: Filament) => Filament) => void;
  readonly undo: () => void;
  readonly redo: () => void;
  /** Another tab changed the rack: what it has counts, and this tab's history goes on from there. */
  readonly adopt: (rack: Rack) => void;
}

export type RackStore = StoreApi<RackState & RackActions>;

const MOST_STEPS = 100;

function rackOf({ filaments, tuning, spreadMm }: Rack): Rack {
  return { filaments, tuning, ...(spreadMm ? { spreadMm } : {}) };
}

/** A store that keeps the rack and its history, and tells `save` of every change. */
export function createRackStore(initial: Rack, save: (rack: Rack) => void): RackStore {
  const store: RackStore = createStore((set, get) => ({
    ...initial,
    past: [],
    future: [],
    change: (make) => {
      const before = rackOf(get());
      const after = make(before);
      if (
        after.filaments === before.filaments &&
        after.tuning === before.tuning &&
        after.spreadMm === before.spreadMm
      )
        return;
      set({
        spreadMm: undefined,
        ...rackOf(after),
        past: [...get().past, before].slice(-MOST_STEPS),
        future: [],
      });
      save(after);
    },
    edit: (id, make) => {
      get().change((rack) => ({
        ...rack,
        filaments: rack.filaments.map((filament) =>
          filament.id === id ? make(filament) : filament,
        ),
      }));
    },
    undo: () => {
      const { past, future } = get();
      const before = past.at(-1);
      if (!before) return;
      set({
        spreadMm: undefined,
        ...before,
        past: past.slice(0, -1),
        future: [...future, rackOf(get())],
      });
      save(before);
    },
    redo: () => {
      const { past, future } = get();
      const after = future.at(-1);
      if (!after) return;
      set({
        spreadMm: undefined,
        ...after,
        past: [...past, rackOf(get())],
        future: future.slice(0, -1),
      });
      save(after);
    },
    adopt: (rack) => {
      set({
        spreadMm: undefined,
        ...rackOf(rack),
        past: [...get().past, rackOf(get())].slice(-MOST_STEPS),
        future: [],
      });
    },
  }));
  return store;
}

/** A copy of a filament under an id of its own, `rust-2` for `rust`. */
export function copyOf(filament: Filament, taken: ReadonlySet<string>): Filament {
  return {
    ...filament,
    id: freeId(filament.id.replace(/-\d+$/, ''), taken),
    name: `${filament.name} copy`.slice(0, 200),
  };
}

/** An id that no filament has yet, made from a name. */
export function freeId(name: string, taken: ReadonlySet<string>): string {
  const stem =
    name
      .normalize('NFKD')
      .replace(/[\u0300-\u036f]/g, '')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 60) || 'filament';
  let id = stem;
  for (let n = 2; taken.has(id); n += 1) id = `${stem}-${n}`;
  return id;
}

/** Stand-ins where the rack has nothing black or white. */
const PLAIN: Omit<Filament, 'id' | 'name' | 'colour' | 'transmissionMm'> = {
  maker: '',
  material: 'PLA',
  basis: { kind: 'hiding' },
  found: 'typed',
  densityGCm3: PLA_DENSITY_G_CM3,
  diameterMm: USUAL_DIAMETER_MM,
  onHand: true,
  note: '',
};
const PLAIN_BLACK: Filament = {
  ...PLAIN,
  id: 'plain-black',
  name: 'plain black',
  colour: '#161616',
  transmissionMm: 0.4,
};
const PLAIN_WHITE: Filament = {
  ...PLAIN,
  id: 'plain-white',
  name: 'plain white',
  colour: '#f0f0ee',
  transmissionMm: 3,
};

/** A new filament before anything is said of it. */
export const BLANK_FILAMENT: Filament = {
  ...PLAIN,
  id: '',
  name: '',
  colour: '#808080',
  transmissionMm: 2,
};

/**
 * The black and the white to lay others over: of what is on hand (or of all, when that is too little), what is nearest to
 * black, and to white, and hides best.
 */
export function groundsOf(filaments: readonly Filament[]): {
  readonly black: Filament;
  readonly white: Filament;
} {
  const onHand = filaments.filter((filament) => filament.onHand);
  const best = (wanted: number, fallback: Filament): Filament => {
    const price = (filament: Filament): number =>
      Math.abs(brightnessOf(filament) - wanted) +
      (hueOf(filament) === 'grey' ? 0 : 30) +
      filament.transmissionMm;
    const [first] = [...(onHand.length > 1 ? onHand : filaments)].sort(
      (a, b) => price(a) - price(b),
    );
    return first && Math.abs(brightnessOf(first) - wanted) < 30 ? first : fallback;
  };
  return { black: best(0, PLAIN_BLACK), white: best(100, PLAIN_WHITE) };
}
