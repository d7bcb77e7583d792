import { useDeferredValue, useMemo, useState } from 'react';
import { formatBasis } from '#core/formats/rack/rack-csv.ts';
import { hasWords, wordsOf } from '#core/stack/filament-words.ts';
import { hueOf, type Filament, type Hue } from '#core/stack/filament.ts';
import { FINDING_WORDS } from './rack-words.ts';

export const ANY = 'any';

/** Which filaments of the rack are looked at. */
export interface RackFilter {
  readonly query: string;
  readonly hue: Hue | typeof ANY;
  readonly material: string;
  readonly onHandOnly: boolean;
}

const ALL: RackFilter = { query: '', hue: ANY, material: ANY, onHandOnly: false };

/** A filter, how it is changed, and the filaments that it lets through. */
export interface FilteredRack {
  readonly filter: RackFilter;
  readonly onFilter: (change: Partial<RackFilter>) => void;
  readonly shown: readonly Filament[];
}

/** Filters the rack. */
export function useRackFilter(filaments: readonly Filament[]): FilteredRack {
  const [filter, setFilter] = useState(ALL);
  // Letters appear at once; the rows follow when there is time.
  const query = useDeferredValue(filter.query);
  const { hue, material, onHandOnly } = filter;
  const shown = useMemo(() => {
    const words = wordsOf(query);
    return filaments.filter((filament) => {
      if (onHandOnly && !filament.onHand) return false;
      if (material !== ANY && filament.material !== material) return false;
      if (hue !== ANY && hueOf(filament) !== hue) return false;
      const { basis, found } = filament;
      return hasWords(filament, words, formatBasis(basis), FINDING_WORDS[found]);
    });
  }, [filaments, query, hue, material, onHandOnly]);
  const onFilter = (change: Partial<RackFilter>): void => {
    setFilter((before) => ({ ...before, ...change }));
  };
  return { filter, onFilter, shown };
}
